import { useState } from 'react';

export function NoteScreen({ onSave }) {
  const [draft, setDraft] = useState('');

  return (
    <section>
      <input value={draft} onChange={(event) => setDraft(event.target.value)} />
      <button onClick={() => onSave(draft)}>Save</button>
    </section>
  );
}
