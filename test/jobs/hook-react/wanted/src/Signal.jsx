import { useSignal } from './useSignal';

export function Signal({ hive, listen }) {
  const { strength, lost } = useSignal(hive, listen);

  return (
    <p>
      {hive}: {lost ? 'lost' : strength}
    </p>
  );
}
