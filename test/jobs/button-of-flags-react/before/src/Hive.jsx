import { HiveButton } from './HiveButton';

export function Hive({ saving, onSave, onRemove }) {
  return (
    <footer>
      <HiveButton label="Save" busy={saving} onPress={onSave} />
      <HiveButton label="All hives" href="/hives" />
      <HiveButton label="Remove" dangerous onPress={onRemove} />
    </footer>
  );
}
