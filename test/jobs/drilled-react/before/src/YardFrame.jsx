import { Scale } from './Scale';

export function YardFrame({ place, kilos, onWeigh }) {
  return (
    <section>
      <h2>{place}</h2>
      <Scale kilos={kilos} onWeigh={onWeigh} />
    </section>
  );
}
