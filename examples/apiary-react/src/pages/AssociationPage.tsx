export default function AssociationPage() {
  return (
    <div className="page">
      <header className="page-header">
        <strong>Lindenau bee-keeping co-operative</strong>
        <nav aria-label="Pages">
          <a href="/">Apiaries</a>
          <a href="?page=keepers">Keepers</a>
          <a href="?page=prices">Prices</a>
          <a href="?page=association" className="active" aria-current="page">
            Association
          </a>
        </nav>
      </header>
      <main>
        <h1>The association</h1>
        <p>Founded in 1987 by eleven keepers who shared one honey press.</p>
        <dl>
          <dt>Members</dt>
          <dd>43</dd>
          <dt>Hives</dt>
          <dd>186</dd>
        </dl>
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
