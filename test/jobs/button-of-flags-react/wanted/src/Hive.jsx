import { BusyButton } from './BusyButton';
import { DangerButton } from './DangerButton';
import { LinkButton } from './LinkButton';

export function Hive({ saving, onSave, onRemove }) {
  return (
    <footer>
      <BusyButton label="Save" busy={saving} onPress={onSave} />
      <LinkButton label="All hives" href="/hives" />
      <DangerButton label="Remove" onPress={onRemove} />
    </footer>
  );
}
