/** `check`: is what people see and do the same as before? The project is run for it, before and after. */
import { checkDocument } from '../../library/documents.js';
import { isProblem, problem, type Problem } from '../../core/index.js';
import { readBefore } from '../../node/check/before.js';
import { check, type CheckReport } from '../../node/check/check.js';
import { LEVELS, type Difference, type Level, type LevelReport, type Spot } from '../../node/check/report.js';
import { EXIT, type Colors, type CommonOptions } from '../host.js';
import { json } from '../say.js';
import type { Ended, Session } from '../session.js';
import { CLEAR_LINE } from '../terminal.js';

export interface CheckOptions extends CommonOptions {
  readonly against?: string;
  readonly level: string;
  readonly steps: number;
  readonly seconds: number;
}

export async function checkCommand(session: Session, options: CheckOptions): Promise<Ended> {
  const level = LEVELS.find((l) => l === options.level);
  if (!level) return problem('check-level', { path: '--level' }, options.level);
  const found = await checked(session, { ...options, level });
  if (isProblem(found)) return found;
  session.host.out(session.json ? json(checkDocument(found)) : checkText(found, session.colors));
  if (found.answer === 'different') return EXIT.found;
  // What could not be compared at all is not the same; but a project without types can still be run.
  const isOpen = (l: LevelReport) => l.answer === 'unchecked' && l.compared.length === 0;
  return found.levels.some((l) => isOpen(l) && (l.level !== 'types' || level === 'types')) ? EXIT.refused : EXIT.done;
}

interface Asked {
  readonly against?: string;
  readonly level: Level;
  readonly steps: number;
  readonly seconds: number;
}

export async function checked(session: Session, asked: Asked): Promise<CheckReport | Problem> {
  const { root, project, host } = session;
  const before = await readBefore(root, host.cwd, asked.against);
  if (isProblem(before)) return before;
  const runs = LEVELS.indexOf(asked.level) >= LEVELS.indexOf('render');
  if (runs && before.contents.size > 0) session.note('the project is run: its configuration, its components');
  return check({
    root,
    project,
    before,
    level: asked.level,
    browser: { steps: asked.steps, seconds: asked.seconds },
    onLevel: (level) => progress(session, level),
  });
}

function progress({ host, quiet, json: asData }: Session, level: Level): void {
  if (host.isTerminal && !quiet && !asData) host.err(`${CLEAR_LINE}${level} …`);
}

export function checkText({ against, changed, levels, answer }: CheckReport, c: Colors): string {
  const files = `${changed.length} ${changed.length === 1 ? 'file differs' : 'files differ'}`;
  if (changed.length === 0) return `against ${c.bold(against)}: no file differs\n`;
  const out = [`against ${c.bold(against)}: ${files}`, ''];
  const mark = { same: c.green('same'), different: c.red('different'), unchecked: c.yellow('unchecked') };
  for (const { level, answer: one, figures } of levels)
    out.push(`  ${level.padEnd(8)}  ${mark[one]}${' '.repeat(Math.max(1, 11 - one.length))}${c.dim(figures)}`);
  for (const one of levels.flatMap((l) => shortened(l))) out.push('', ...differenceText(one, c));
  for (const level of levels.filter((l) => l.left.length > 0)) out.push('', ...leftText(level, c));
  const sum = {
    same: 'nothing that was looked at is different',
    different: 'not the same',
    unchecked: 'nothing is different as far as it could be checked; the rest is not known to be the same',
  }[answer];
  out.push('', sum);
  return `${out.join('\n')}\n`;
}

/** Of a level at most that many differences are printed; all are in `--json`. */
const TOLD = 3;

function shortened({ differences }: LevelReport): readonly Difference[] {
  return differences.slice(0, TOLD);
}

function differenceText({ level, what, words, before, after, steps, pictures }: Difference, c: Colors): string[] {
  const at = (spot: Spot) => `${spot.path}:${spot.line}:${spot.column}`;
  return [
    `${c.red('✖')} ${c.bold(what)}  ${c.dim(level)}`,
    `  ${words}`,
    ...(steps && steps.length > 0 ? [`  ${c.dim('after')}  ${steps.join(c.dim(' → '))}`] : []),
    ...(before ? [`  ${c.dim('before')} ${at(before)}`] : []),
    ...(after ? [`  ${c.dim('now')}    ${at(after)}`] : []),
    ...(pictures ? [`  ${c.dim('seen')}   ${pictures.join(c.dim(' and '))}`] : []),
  ];
}

const LEFT_TOLD = 6;

function leftText({ level, left }: LevelReport, c: Colors): string[] {
  const told = left.slice(0, LEFT_TOLD).map(({ what, why }) => `  ${what}: ${why}`);
  const more = left.length > LEFT_TOLD ? [`  and ${left.length - LEFT_TOLD} more`] : [];
  return [c.dim(`${level} could not check`), ...[...told, ...more].map((line) => c.dim(line))];
}
