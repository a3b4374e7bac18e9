/** `apply`: the steps of a plan, one after another, each proven before the next. */
import { existsSync, readFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import {
  isProblem,
  Lines,
  planTrouble,
  problem,
  textOf,
  Whereabouts,
  withPages,
  type Plan,
  type PlanStep,
  type Problem,
} from '../../core/index.js';
import { type AppliedDocument, type ChangeDocument } from '../../library/formats/index.js';
import { type StepChange } from '../../library/steps.js';
import { parsePlan, takeStep } from '../../library/plans.js';
import type { TypesAnswer } from '../../library/types.js';
import { LEVELS } from '../../node/check/report.js';
import { commit, commitTrouble } from '../../node/git.js';
import { KEPT_PLAN, keptPlan, readPlanFile } from '../../node/plans.js';
import { EXIT, type CommonOptions } from '../host.js';
import { planFile, REPEAT_ID } from '../range.js';
import { json, sayProblem } from '../say.js';
import { openSession, type Ended, type Session } from '../session.js';
import { CLEAR_LINE } from '../terminal.js';
import { checked } from './check.js';

export interface ApplyOptions extends CommonOptions {
  readonly commit?: boolean;
  readonly types: boolean;
  /** Level to which the program is checked after each step. */
  readonly check?: string;
}

/** One step that was taken. */
interface Taken {
  readonly step: PlanStep;
  readonly change: StepChange;
  readonly types: TypesAnswer;
  readonly document: ChangeDocument;
  /** Number of the change in the journal. */
  readonly id: number;
}

export async function applyCommand(session: Session, given: readonly string[], options: ApplyOptions): Promise<Ended> {
  if (options.check !== undefined && !LEVELS.some((l) => l === options.check))
    return problem('check-level', { path: '--check' }, options.check);
  const plan = readPlan(session, given);
  if (isProblem(plan)) return plan;
  const trouble = planTrouble(session.project, plan);
  if (trouble) return trouble;
  if (options.commit) {
    const open = await commitTrouble(session.root, [...new Set(plan.steps.map((s) => s.path))]);
    if (open) return open;
  }
  return new Course(session, plan, options).run();
}

/** The plan of a file, or the numbers of the last one that was proposed. */
function readPlan(session: Session, given: readonly string[]): Plan | Problem {
  const file = planFile(given);
  if (file !== undefined) {
    const text = readPlanFile(resolve(session.host.cwd, file), file);
    return isProblem(text) ? text : parsePlan(text, file);
  }
  const kept = keptPlan(session.root);
  if (kept === undefined) return problem('plan-none', { path: KEPT_PLAN });
  if (isProblem(kept)) return kept;
  const plan = parsePlan(kept, KEPT_PLAN);
  if (isProblem(plan) || given.includes('all')) return plan;
  const ids = new Set(given.filter((word) => REPEAT_ID.test(word)));
  const unknown = [...ids].find((id) => !plan.steps.some((step) => step.step === 'unify' && step.id === id));
  if (unknown !== undefined) return problem('repeat-unknown', { path: KEPT_PLAN }, unknown, '');
  const wanted = new Set(given.filter((word) => !ids.has(word)).map(Number));
  const byNumber = inProposedOrder(plan.steps);
  for (const number of wanted)
    if (number < 1 || number > byNumber.length)
      return problem('plan-number', { path: KEPT_PLAN }, number, byNumber.length);
  const isChosen = (step: PlanStep) =>
    step.step === 'unify' ? ids.has(step.id) : wanted.has(byNumber.indexOf(step) + 1);
  return { ...plan, steps: withPages(plan.steps, isChosen) };
}

/** Proposals are numbered file by file and outermost first; a plan takes inner ones first. */
function inProposedOrder(steps: readonly PlanStep[]): PlanStep[] {
  const groups: PlanStep[][] = [];
  const cuts = steps.filter((s) => s.step === 'extract' || s.step === 'hook');
  for (const step of cuts) {
    const last = groups.at(-1)?.[0];
    if (last?.path === step.path && last.component === step.component) groups.at(-1)!.push(step);
    else groups.push([step]);
  }
  // Components before hooks.
  const isHook = (s: PlanStep) => Number(s.step === 'hook');
  const numbered = groups.flatMap((group) =>
    group.sort((a, b) => isHook(a) - isHook(b) || a.range[0] - b.range[0] || b.range[1] - a.range[1]),
  );
  const rest = (['inline', 'home', 'module'] as const).flatMap((kind) => steps.filter((s) => s.step === kind));
  return [...numbered, ...rest];
}

/** How much is tried out after each step. */
const CHECK_STEPS = 60;
const CHECK_SECONDS = 45;

class Course {
  readonly #where: Whereabouts;
  readonly #taken: Taken[] = [];
  /** What the check said after each step. */
  readonly #seen: string[] = [];
  readonly #widest: number;
  /** Lines of the files before the first step. */
  readonly #before: ReadonlyMap<string, number>;

  constructor(
    readonly session: Session,
    readonly plan: Plan,
    readonly options: ApplyOptions,
  ) {
    this.#where = new Whereabouts(plan.steps);
    const lines = (path: string) => new Lines(textOf(session.project.files, path) ?? '').count;
    this.#before = new Map(plan.files.map(({ path }) => [path, lines(path)]));
    this.#widest = Math.max(0, ...plan.steps.map((s) => s.name.length));
  }

  async run(): Promise<number> {
    const { session, plan } = this;
    const total = plan.steps.length;
    for (const [i, step] of plan.steps.entries()) {
      this.#progress(i, total, step.name);
      const trouble = await this.#take(step);
      if (trouble) {
        this.#progress(total, total, '');
        return this.#end(trouble);
      }
      this.#progress(total, total, '');
      if (!session.json) session.host.out(this.#line(this.#taken.at(-1)!, i + 1, total));
    }
    return this.#end(undefined);
  }

  /** Proves, writes and commits one step. The files are read anew: the step before has changed them. */
  async #take(step: PlanStep): Promise<Problem | undefined> {
    const { host, root } = this.session;
    const session = await openSession(host, { ...this.options, root });
    if (isProblem(session)) return session;
    const taken = await takeStep(session, step, this.#where, this.options.types, session.journal());
    if (isProblem(taken)) return taken;
    const { done, document, id, message } = taken;
    const { change, types } = done;
    const differs = await this.#checked(root, id, step);
    if (differs) return differs;
    this.#where.after(change);
    this.#taken.push({ step, change, types, document, id });
    if (!this.options.commit) return undefined;
    const paths = change.files.map((f) => f.path);
    return commit(root, paths, message);
  }

  /** Runs the program before and after the step that was just written; a step after which it differs is taken back. */
  async #checked(root: string, id: number, step: PlanStep): Promise<Problem | undefined> {
    const level = LEVELS.find((l) => l === this.options.check);
    if (!level) return undefined;
    const session = await openSession(this.session.host, { ...this.options, root, quiet: true });
    if (isProblem(session)) return session;
    const found = await checked(session, { against: 'last', level, steps: CHECK_STEPS, seconds: CHECK_SECONDS });
    if (isProblem(found)) return found;
    const first = found.levels.flatMap((l) => l.differences)[0];
    this.#seen.push(found.levels.map((l) => `${l.level} ${l.answer}`).join(', '));
    if (!first) return undefined;
    const undone = session.journal().undo(id);
    if (isProblem(undone)) return undone;
    const at = { path: step.path, span: { start: step.range[0], end: step.range[1] } };
    return problem('check-differs', at, step.name, `${first.what}: ${first.words}`);
  }

  #end(trouble: Problem | undefined): number {
    const { session, plan } = this;
    const { colors: c, host } = session;
    const left = plan.steps.slice(this.#taken.length).map((s) => s.name);
    if (session.json) {
      const document: AppliedDocument = {
        format: 'verkstad/applied@1',
        steps: this.#taken.map((t) => t.document),
        left,
        ...(trouble ? { stopped: { code: trouble.code, message: trouble.message, path: trouble.path } } : {}),
      };
      host.out(json(document));
    } else {
      if (trouble) host.err(sayProblem(trouble, undefined, c));
      const count = `${this.#taken.length} of ${plan.steps.length} ${plan.steps.length === 1 ? 'step' : 'steps'} taken`;
      const first = this.#taken[0];
      const undo = first ? `; \`verkstad undo ${first.id}\` takes all of it back` : ', nothing written';
      if (first) host.out(`\n${this.#sizes()}`);
      host.out(c.dim(`${count}${left.length > 0 ? `; left: ${left.join(', ')}` : ''}${undo}`) + '\n');
    }
    return trouble ? EXIT.refused : EXIT.done;
  }

  /** What the files are now, against what they were. */
  #sizes(): string {
    const { colors: c, root } = this.session;
    const now = (path: string) =>
      existsSync(join(root, path)) ? `${new Lines(readFileSync(join(root, path), 'utf8')).count} lines` : 'gone';
    const changed = [...new Set(this.#taken.flatMap((t) => t.change.files.map((f) => f.path)))];
    const rows = changed.map((path) => {
      const before = this.#before.get(path);
      const was = before === undefined ? '' : `${before} ${c.dim('→')} `;
      return { path, size: `${was}${now(path)}`, isOld: before !== undefined };
    });
    const width = Math.max(...rows.map((r) => r.path.length));
    return rows
      .sort((a, b) => Number(b.isOld) - Number(a.isOld))
      .map(({ path, size }) => `  ${path.padEnd(width)}  ${size}\n`)
      .join('');
  }

  #line({ step, change, types }: Taken, at: number, total: number): string {
    const { colors: c } = this.session;
    const { props, events, slots } = change.seam;
    const width = props.length + events.length + slots.length;
    const word = { same: ', no new type errors', worse: '', skipped: '' }[types.answer];
    const number = c.dim(`${String(at).padStart(String(total).length)}/${total}`);
    const notes = change.notes.map((note) => `     ${c.dim(note)}\n`).join('');
    const seen = this.#seen[at - 1];
    const witness = seen === undefined ? '' : `     ${c.dim(`check: ${seen}`)}\n`;
    const crossing = crossingOf(step, width);
    return `${number}  ${c.bold(change.name)}${' '.repeat(Math.max(0, this.#widest - change.name.length))}  ${step.path} ${c.dim('→')} ${change.target}  ${crossing}  proof ${c.green('same')}${word}\n${witness}${notes}`;
  }

  /** A bar on stderr that the next line on stdout takes the place of. */
  #progress(done: number, total: number, name: string): void {
    const { host, quiet } = this.session;
    if (!host.isTerminal || quiet || this.session.json) return;
    const width = 24;
    const full = Math.round((done / Math.max(1, total)) * width);
    host.err(
      `${CLEAR_LINE}${done < total ? `${'█'.repeat(full)}${'░'.repeat(width - full)} ${done}/${total} ${name}` : ''}`,
    );
  }
}

/** What is said of a step beside its name. */
function crossingOf(step: PlanStep, width: number): string {
  switch (step.step) {
    case 'inline':
      return 'put back';
    case 'page':
      return 'written';
    case 'home':
      return 'brought home';
    case 'unify':
      return `${step.places.length} places`;
    case 'join':
    case 'part':
      return step.step === 'join' ? 'together' : 'apart';
    default:
      return `${width} ${width === 1 ? 'input' : 'inputs'}`;
  }
}
