import { HiveButton } from './HiveButton';

export function DangerButton({ label, onPress }) {
  return (
    <HiveButton className="button danger" onClick={onPress}>
      {label}
    </HiveButton>
  );
}
