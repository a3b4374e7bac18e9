/** One run of a command: the project opened, the configuration read, and how to speak. */
import { existsSync, realpathSync, statSync } from 'node:fs';
import { dirname, isAbsolute, relative, resolve, sep } from 'node:path';
import { isProblem, problem, type Problem } from '../core/index.js';
import { openWorkspace, type Workspace } from '../library/workspace.js';
import { Journal, type Recovered } from '../node/journal/journal.js';
import { realOperations } from '../node/journal/writing.js';
import { EXIT, type Colors, type CommonOptions, type Host } from './host.js';
import { report } from './say.js';
import { colors } from './terminal.js';

export interface Session extends Workspace {
  readonly host: Host;
  readonly colors: Colors;
  readonly json: boolean;
  readonly quiet: boolean;
  /** Progress and notes, on stderr; nothing with --quiet. */
  note(text: string): void;
  /** The record of changes in this project. */
  journal(): Journal;
  /** A path given by the person, relative to the root. */
  path(given: string): string | Problem;
}

export function colorsFor(host: Host, color: string | undefined): Colors {
  const wanted = color === 'always' || (color !== 'never' && host.isTerminal && !host.env.NO_COLOR);
  return colors(wanted);
}

/** What a command ends with: an exit code, or why it does not do what it was asked. */
export type Ended = number | Problem;

/** What was asked, or what is to be read, is wrong; everything else is refused. */
const ASKED = new Set<Problem['code']>([
  'check-against',
  'check-level',
  'check-no-last',
  'component-several',
  'component-unknown',
  'entry-unknown',
  'file-deep',
  'file-empty',
  'file-encoding',
  'file-language',
  'file-large',
  'file-syntax',
  'file-unknown',
  'file-unreadable',
  'goal-format',
  'out-failed',
  'plan-format',
  'plan-large',
  'plan-none',
  'plan-number',
  'range-format',
  'range-outside',
  'repeat-kind',
  'repeat-place',
  'repeat-unknown',
]);

/** Runs a command in the project that it is for; the exit code. `target` is a path whose project is meant. */
export async function inSession(
  host: Host,
  options: CommonOptions,
  target: string | undefined,
  command: (session: Session) => Promise<Ended>,
): Promise<number> {
  const session = await openSession(host, options, target);
  const isOpen = !isProblem(session);
  const ended = isOpen ? await withinStack(target, () => command(session)) : session;
  if (typeof ended === 'number') return ended;
  const project = isOpen ? session.project : undefined;
  report(host, ended, project, colorsFor(host, options.color), options.json ?? false);
  return !isOpen || ASKED.has(ended.code) ? EXIT.usage : EXIT.refused;
}

/** A text that is nested beyond what the stack holds is a problem of that text, wherever it was met. */
async function withinStack(target: string | undefined, run: () => Promise<Ended>): Promise<Ended> {
  try {
    return await run();
  } catch (error) {
    if (error instanceof RangeError && /call stack/.test(error.message))
      return problem('file-deep', { path: target ?? '.' });
    throw error;
  }
}

/** Opens the project of a command. `target` is a path whose project is meant when no root is given. */
export async function openSession(host: Host, options: CommonOptions, target?: string): Promise<Session | Problem> {
  const root = findRoot(host.cwd, options.root, target);
  if (isProblem(root)) return root;
  const workspace = await openWorkspace(root, host.env, target && relativeTo(root, host.cwd, target));
  if (isProblem(workspace)) return workspace;
  const session: Session = {
    ...workspace,
    host,
    colors: colorsFor(host, options.color),
    json: options.json ?? false,
    quiet: options.quiet ?? false,
    note: (text) => {
      if (!session.quiet) host.err(`${text}\n`);
    },
    journal: () => new Journal(root, realOperations, (who) => session.note(`waiting for ${who} …`)),
    path: (given) => {
      const path = relativeTo(root, host.cwd, given);
      return path.startsWith('..') || isAbsolute(path) ? problem('target-outside', { path: given }, given) : path;
    },
  };
  const recovered = session.journal().recover();
  if (isProblem(recovered)) return recovered;
  noteRecovered(session, recovered);
  return session;
}

function relativeTo(root: string, cwd: string, given: string): string {
  const absolute = resolve(cwd, given);
  const real = existsSync(absolute) ? realpathSync(absolute) : absolute;
  return relative(root, real).split(sep).join('/');
}

function noteRecovered(session: Session, { takenBack, stuck, foreign, damaged }: Recovered): void {
  for (const { title } of takenBack) session.note(`an earlier run was cut short: ${title} has been taken back`);
  for (const { entry, path } of stuck)
    session.note(
      `change ${entry.id} (${entry.title}) was cut short, and ${path} was edited since: ` +
        `\`verkstad undo ${entry.id} --as-is\` keeps every file as it is`,
    );
  for (const { id } of foreign)
    session.note(
      `change ${id} on record here was not begun by you: it is left alone (\`verkstad undo --list\` shows it)`,
    );
  for (const path of damaged) session.note(`a damaged record was put aside: ${path}`);
}

/** The folder given, else the closest one above the target with a package.json, a config or a .git, else the cwd. */
function findRoot(cwd: string, given: string | undefined, target: string | undefined): string | Problem {
  if (given !== undefined) {
    const at = resolve(cwd, given);
    return isFolder(at) ? realpathSync(at) : problem('root-missing', { path: given }, given);
  }
  const from = target === undefined ? cwd : resolve(cwd, target);
  let start = isFolder(from) ? from : dirname(from);
  while (!existsSync(start)) start = dirname(start);
  for (let dir = start; ; dir = dirname(dir)) {
    if (['verkstad.config.json', 'package.json', '.git'].some((name) => existsSync(resolve(dir, name))))
      return realpathSync(dir);
    if (dir === dirname(dir)) return realpathSync(isFolder(cwd) ? cwd : start);
  }
}

function isFolder(path: string): boolean {
  return statSync(path, { throwIfNoEntry: false })?.isDirectory() ?? false;
}
