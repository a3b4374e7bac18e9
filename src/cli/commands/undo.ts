/** `undo`: take changes back. */
import { undoDocument } from '../../library/documents.js';
import { existsSync } from 'node:fs';
import { join, relative } from 'node:path';
import { globSync } from 'tinyglobby';
import { isProblem } from '../../core/index.js';
import { Journal } from '../../node/journal/journal.js';
import { OWN_FOLDER } from '../../node/journal/own-folder.js';
import { EXIT, type CommonOptions } from '../host.js';
import { json } from '../say.js';
import type { Ended, Session } from '../session.js';

export interface UndoOptions extends CommonOptions {
  readonly list?: boolean;
  /** Close the record and leave the files alone. */
  readonly asIs?: boolean;
}

export function undoCommand(session: Session, id: number | undefined, options: UndoOptions): Ended {
  const { colors: c, host } = session;
  const journal = journalFor(session, id, options);
  if (options.list) return list(session, journal);
  const where = relative(session.root, journal.root);
  if (where) session.note(`the last change was made in ${where}`);
  if (options.asIs) {
    const left = journal.leave(id ?? journal.entries().findLast((e) => e.state === 'done')?.id ?? 0);
    if (isProblem(left)) return left;
    if (session.json) host.out(json(undoDocument([left])));
    else
      host.out(
        `${c.bold(`change ${left.id}`)}  ${left.title}: every file stays as it is, and it can no longer be taken back\n`,
      );
    return EXIT.done;
  }
  const undone = journal.undo(id);
  if (isProblem(undone)) return undone;
  if (session.json) host.out(json(undoDocument(undone)));
  else
    for (const entry of undone)
      host.out(
        `${c.bold(`undo ${entry.id}`)}  ${entry.title}\n${entry.files.map((f) => `  ${c.dim(f.before === null ? 'removed ' : 'restored')} ${f.path}\n`).join('')}`,
      );
  return EXIT.done;
}

/** A step keeps its record in the package of its file; from the top of several packages the last change of any is meant. */
function journalFor(session: Session, id: number | undefined, options: UndoOptions): Journal {
  const own = session.journal();
  if (options.root !== undefined || id !== undefined) return own;
  const found = globSync(`**/${OWN_FOLDER}/journal`, {
    cwd: session.root,
    onlyDirectories: true,
    dot: true,
    deep: 8,
    expandDirectories: false,
    followSymbolicLinks: false,
    ignore: ['**/node_modules/**', '**/.git/**'],
  });
  const newest = (journal: Journal) => journal.entries().findLast((e) => e.state === 'done')?.at ?? '';
  return found
    .map((path) => new Journal(join(session.root, path.replace(/\/$/, ''), '../..'), own.disk, own.waits))
    .filter(({ root }) => existsSync(root))
    .reduce((best, one) => (newest(one) > newest(best) ? one : best), own);
}

function list(session: Session, journal: Journal): Ended {
  const { colors: c, host } = session;
  const { own, foreign } = journal.contents();
  const done = own.filter((e) => e.state === 'done');
  if (session.json) host.out(json(undoDocument(done)));
  else {
    const where = relative(session.root, journal.root);
    if (where && done.length > 0) host.out(c.dim(`in ${where}:\n`));
    for (const { id, title } of done) host.out(`${String(id).padStart(4)}  ${title}\n`);
    for (const { id, title } of foreign)
      host.out(c.dim(`${String(id).padStart(4)}  ${title}  (not written by you: never carried out)\n`));
    if (done.length + foreign.length === 0) host.out('no changes to take back\n');
  }
  return EXIT.done;
}
