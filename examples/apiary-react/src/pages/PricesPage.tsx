import { useState } from 'react';

export default function PricesPage() {
  const [jars, setJars] = useState(1);

  return (
    <div className="page">
      <header className="page-header">
        <strong>Lindenau bee-keeping co-operative</strong>
        <nav aria-label="Pages">
          <a href="/">Apiaries</a>
          <a href="?page=keepers">Keepers</a>
          <a href="?page=prices" className="active" aria-current="page">
            Prices
          </a>
          <a href="?page=association">Association</a>
        </nav>
      </header>
      <main>
        <h1>Prices</h1>
        <p>A jar of 500 g is 7.25 €; members pay half.</p>
        <p>
          <label htmlFor="jars">Jars </label>
          <input
            id="jars"
            type="number"
            min={1}
            value={jars}
            onChange={(event) => setJars(Number(event.target.value))}
          />{' '}
          come to {(jars * 7.25).toFixed(2)} €
        </p>
      </main>
      <footer>
        <p>
          Lindenau bee-keeping co-operative, Mill lane 4. Write to <a href="mailto:bees@lindenau.example">the office</a>.
        </p>
        <p>
          <small>Made up for this demo; no bee was disturbed.</small>
        </p>
      </footer>
    </div>
  );
}
