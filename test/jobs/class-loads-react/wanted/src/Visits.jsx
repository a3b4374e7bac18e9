export function Visits({ hive, visits, onForget }) {
  return (
    <section>
      <h2>{hive}</h2>
      <ul>
        {visits.map((visit) => (
          <li key={visit}>
            {visit}
            <button onClick={() => onForget(visit)}>Forget</button>
          </li>
        ))}
      </ul>
    </section>
  );
}
