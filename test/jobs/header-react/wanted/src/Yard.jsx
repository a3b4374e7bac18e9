import { useState } from 'react';
import { YardHeader } from './YardHeader';

export function Yard({ keeper, onSignOut }) {
  const [open, setOpen] = useState(false);
  const [count, setCount] = useState(0);
  return (
    <main>
      <YardHeader keeper={keeper}>
        <nav>
          <button onClick={() => setOpen(!open)}>Menu</button>
          <button onClick={() => setCount(count + 1)}>Count</button>
          <button onClick={() => setCount(0)}>Reset</button>
          <button onClick={onSignOut}>Sign out</button>
          {open && <a href="/help">Help</a>}
        </nav>
      </YardHeader>
      <p>{count} visits</p>
    </main>
  );
}
