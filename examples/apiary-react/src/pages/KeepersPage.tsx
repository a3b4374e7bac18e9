const KEEPERS = [
  { name: 'Mirja', hives: 12 },
  { name: 'Tove', hives: 7 },
  { name: 'Ansgar', hives: 24 },
];

export default function KeepersPage() {
  return (
    <div className="page">
      <header className="page-header">
        <strong>Lindenau bee-keeping co-operative</strong>
        <nav aria-label="Pages">
          <a href="/">Apiaries</a>
          <a href="?page=keepers" className="active" aria-current="page">
            Keepers
          </a>
          <a href="?page=prices">Prices</a>
          <a href="?page=association">Association</a>
        </nav>
      </header>
      <main>
        <h1>Keepers</h1>
        <ul>
          {KEEPERS.map((keeper) => (
            <li key={keeper.name}>
              <strong>{keeper.name}</strong> looks after {keeper.hives} hives
            </li>
          ))}
        </ul>
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
