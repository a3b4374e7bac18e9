export function HarvestHead({ hive, frames }) {
  return (
    <header>
      <h2>{hive}</h2>
      <p>{frames.length} frames</p>
    </header>
  );
}
