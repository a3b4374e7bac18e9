/** `undo`: take changes back. */
import { isProblem } from '../../core/index.js';
import { Journal, type JournalEntry } from '../../node/journal.js';
import type { UndoDocument } from '../formats.js';
import { EXIT, type CommonOptions, type Host } from '../host.js';
import { json, report } from '../say.js';
import { colorsFor, openSession } from '../session.js';

export async function undoCommand(
  host: Host,
  id: number | undefined,
  options: CommonOptions & { list?: boolean },
): Promise<number> {
  const session = await openSession(host, options);
  if (isProblem(session)) {
    report(host, session, undefined, colorsFor(host, options.color), options.json ?? false);
    return EXIT.usage;
  }
  const { colors: c } = session;
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
  if (isProblem(undone)) {
    report(host, undone, session.project, c, session.json);
    return EXIT.refused;
  }
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
