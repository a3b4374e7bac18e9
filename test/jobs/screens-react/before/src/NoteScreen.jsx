export function NoteScreen({ draft, onDraftChange, onSave }) {
  return (
    <section>
      <input value={draft} onChange={(event) => onDraftChange(event.target.value)} />
      <button onClick={() => onSave(draft)}>Save</button>
    </section>
  );
}
