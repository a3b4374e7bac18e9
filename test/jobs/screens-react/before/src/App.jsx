import { useState } from 'react';
import { HiveScreen } from './HiveScreen';
import { NoteScreen } from './NoteScreen';

export function App({ hives, onSave }) {
  const [screen, setScreen] = useState('hives');
  const [query, setQuery] = useState('');
  const [draft, setDraft] = useState('');

  function show(next) {
    setScreen(next);
    setQuery('');
    setDraft('');
  }

  const found = hives.filter((hive) => hive.includes(query));

  return (
    <main>
      <nav>
        <button onClick={() => show('hives')}>Hives</button>
        <button onClick={() => show('note')}>Note</button>
      </nav>
      {screen === 'hives' && <HiveScreen query={query} onQueryChange={setQuery} found={found} />}
      {screen === 'note' && <NoteScreen draft={draft} onDraftChange={setDraft} onSave={onSave} />}
    </main>
  );
}
