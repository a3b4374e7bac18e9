import { useState } from 'react';
import { HiveScreen } from './HiveScreen';
import { NoteScreen } from './NoteScreen';

export function App({ hives, onSave }) {
  const [screen, setScreen] = useState('hives');

  function show(next) {
    setScreen(next);
  }

  return (
    <main>
      <nav>
        <button onClick={() => show('hives')}>Hives</button>
        <button onClick={() => show('note')}>Note</button>
      </nav>
      {screen === 'hives' && <HiveScreen hives={hives} />}
      {screen === 'note' && <NoteScreen onSave={onSave} />}
    </main>
  );
}
