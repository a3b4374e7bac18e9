import { useEffect, useState } from 'react';

export function useSignal(hive, listen) {
  const [strength, setStrength] = useState(0);
  const [lost, setLost] = useState(false);

  useEffect(() => {
    const stop = listen(hive, (next) => {
      setStrength(next);
      setLost(next === 0);
    });
    return stop;
  }, [hive, listen]);

  return { strength, lost };
}
