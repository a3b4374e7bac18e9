export function Scale({ kilos, onWeigh }) {
  return <button onClick={() => onWeigh(kilos + 1)}>{kilos} kg</button>;
}
