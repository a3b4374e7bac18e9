import { useState } from 'react';

export function Yard({ keeper, onSignOut }) {
  const [open, setOpen] = useState(false);
  const [count, setCount] = useState(0);
  return (
    <main>
      <header className="yard">
        <h1>
          <a href="/">Co-operative</a>
        </h1>
        <p>{keeper}</p>
        <nav>
          <button onClick={() => setOpen(!open)}>Menu</button>
          <button onClick={() => setCount(count + 1)}>Count</button>
          <button onClick={() => setCount(0)}>Reset</button>
          <button onClick={onSignOut}>Sign out</button>
          {open && <a href="/help">Help</a>}
        </nav>
        <hr />
      </header>
      <p>{count} visits</p>
    </main>
  );
}
