import { useState } from 'react';
import { Scale } from './Scale';
import { YardFrame } from './YardFrame';

export function Yard({ place }) {
  const [kilos, setKilos] = useState(12);
  return (
    <YardFrame place={place}>
      <Scale kilos={kilos} onWeigh={setKilos} />
    </YardFrame>
  );
}
