export function HiveScreen({ query, onQueryChange, found }) {
  return (
    <section>
      <input value={query} onChange={(event) => onQueryChange(event.target.value)} />
      <ul>
        {found.map((hive) => (
          <li key={hive}>{hive}</li>
        ))}
      </ul>
    </section>
  );
}
