import { useEffect, useRef, useState } from 'react';

export function Tally({ first, onCount }) {
  const [count, setCount] = useState(first);
  const told = useRef(count);

  useEffect(() => {
    if (told.current === count) return;
    told.current = count;
    onCount(count);
  }, [count, onCount]);

  const add = () => setCount((before) => before + 1);

  return <button onClick={add}>{count}</button>;
}
