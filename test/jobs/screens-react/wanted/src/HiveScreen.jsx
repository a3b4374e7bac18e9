import { useState } from 'react';

export function HiveScreen({ hives }) {
  const [query, setQuery] = useState('');
  const found = hives.filter((hive) => hive.includes(query));

  return (
    <section>
      <input value={query} onChange={(event) => setQuery(event.target.value)} />
      <ul>
        {found.map((hive) => (
          <li key={hive}>{hive}</li>
        ))}
      </ul>
    </section>
  );
}
