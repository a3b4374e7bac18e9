/** `undo`: take changes back. */
import { isProblem } from '../../core/index.js';
import { Journal, type JournalEntry } from '../../node/journal.js';
import type { UndoDocument } from '../formats.js';
import { EXIT, type CommonOptions } from '../host.js';
import { json } from '../say.js';
import type { Ended, Session } from '../session.js';

export function undoCommand(
  session: Session,
  id: number | undefined,
  options: CommonOptions & { list?: boolean },
): Ended {
  const { colors: c, host } = session;
  const journal = new Journal(session.root);
  if (options.list) {
    const entries = journal.entries().filter((e) => e.state === 'done');
    if (session.json) host.out(json(document(entries)));
    else
      host.out(
        entries.length
          ? entries.map((e) => `${String(e.id).padStart(4)}  ${e.title}\n`).join('')
          : 'no changes to take back\n',
      );
    return EXIT.done;
  }
  const undone = journal.undo(id);
  if (isProblem(undone)) return undone;
  if (session.json) host.out(json(document(undone)));
  else
    for (const entry of undone)
      host.out(
        `${c.bold(`undo ${entry.id}`)}  ${entry.title}\n${entry.files.map((f) => `  ${c.dim(f.before === null ? 'removed ' : 'restored')} ${f.path}\n`).join('')}`,
      );
  return EXIT.done;
}

function document(entries: readonly JournalEntry[]): UndoDocument {
  return {
    format: 'verkstad/undo@1',
    changes: entries.map((e) => ({
      id: e.id,
      step: e.step,
      title: e.title,
      files: e.files.map((f) => ({
        path: f.path,
        change: f.before === null ? 'delete' : f.after === null ? 'create' : 'edit',
      })),
    })),
  };
}
