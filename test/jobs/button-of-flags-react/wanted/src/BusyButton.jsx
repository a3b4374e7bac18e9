import { HiveButton } from './HiveButton';

export function BusyButton({ label, busy, onPress }) {
  return (
    <HiveButton disabled={busy} onClick={onPress}>
      {busy ? 'Please wait' : label}
    </HiveButton>
  );
}
