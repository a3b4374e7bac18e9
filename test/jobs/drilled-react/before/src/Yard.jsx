import { useState } from 'react';
import { YardFrame } from './YardFrame';

export function Yard({ place }) {
  const [kilos, setKilos] = useState(12);
  return <YardFrame place={place} kilos={kilos} onWeigh={setKilos} />;
}
