export function HarvestFrame({ frame, chosen, onChoose }) {
  return (
    <li className={frame === chosen ? 'chosen' : undefined}>
      {frame}
      <button onClick={() => onChoose(frame)}>Choose</button>
    </li>
  );
}
