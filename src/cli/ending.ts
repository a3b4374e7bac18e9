/** How every step that changes files ends on the command line: proof and types weighed, shown, written or refused. */
import {
  applied,
  diffOf,
  Lines,
  problem,
  textOf,
  type Change,
  type Problem,
  type ProofResult,
  type Seam,
  type SeamEntry,
  isProblem,
  type Project,
} from '../core/index.js';
import { HOW_TO_GET_TYPESCRIPT, typescriptOf } from '../node/peers.js';
import type { ProjectTypes, TypeError } from '../node/types.js';
import type { ChangeDocument } from './formats.js';
import { EXIT, type CommonOptions } from './host.js';
import { frame, json } from './say.js';
import type { Ended, Session } from './session.js';

export interface StepOptions extends CommonOptions {
  readonly name?: string;
  readonly to?: string;
  readonly dryRun?: boolean;
  readonly unproven?: boolean;
  readonly into?: string;
  readonly types: boolean;
}

/** What every step's change has. */
export interface StepChange extends Change {
  readonly name: string;
  readonly target: string;
  readonly seam: Seam;
  readonly proof: ProofResult;
}

export interface TypesAnswer {
  readonly answer: 'same' | 'worse' | 'skipped';
  readonly errors: readonly TypeError[];
  readonly reason?: string;
}

/** What only one kind of step can say about its change. */
export interface Ending {
  readonly change: StepChange;
  readonly types: TypesAnswer;
  /** The place that a refusal points to. */
  readonly at: { readonly path: string; readonly span: { readonly start: number; readonly end: number } };
  /** First line of the summary, behind the name of the step. */
  readonly headline: string;
  readonly took: string;
  readonly title: string;
  readonly document: Partial<ChangeDocument>;
}

export function endStep(session: Session, ending: Ending, options: StepOptions): Ended {
  const { change, types, at } = ending;
  const { host } = session;
  const trouble = options.unproven ? undefined : stepTrouble(change, types, at);
  if (trouble) {
    if (!session.json) showDifference(session, change);
    return trouble;
  }
  if (options.dryRun) {
    if (session.json) host.out(json(changeDocument(change, types, ending.document)));
    else {
      host.exact(diffOf(session.project.files, change));
      session.note(summary(session, ending, 'nothing written: --dry-run').trimEnd());
    }
    return EXIT.done;
  }
  // Put into words before writing: afterwards the files are other files.
  const said = session.json
    ? json(changeDocument(change, types, ending.document))
    : summary(session, ending, 'written; `verkstad undo` takes it back');
  const entry = session.journal().write(change, ending.title);
  if (isProblem(entry)) return entry;
  host.out(said);
  return EXIT.done;
}

/** Why a change is not written: it is not proven, or brings type errors. */
export function stepTrouble(change: StepChange, types: TypesAnswer, at: Ending['at']): Problem | undefined {
  const { proof } = change;
  if (proof.answer !== 'same')
    return problem(
      proof.answer === 'different' ? 'proof-different' : 'proof-unknown',
      proof.before ?? at,
      proof.detail,
    );
  const first = types.answer === 'worse' ? types.errors[0]! : undefined;
  return first && problem('types-worse', at, `${first.path}: ${first.message}`);
}

/** The type checker of the project, where the file has types. */
export async function typesFor(session: Session, path: string): Promise<ProjectTypes | undefined> {
  if (!hasTypes(session.project, path) || !typescriptOf(session.root)) return undefined;
  const { ProjectTypes } = await import('../node/types.js');
  return new ProjectTypes(session.root, session.project.files, path);
}

export function hasTypes(project: Project, path: string): boolean {
  const file = project.source(path);
  if (isProblem(file)) return false;
  return file.language.typed ? file.language.typed(file, project.ports) !== undefined : /\.[cm]?tsx?$/.test(path);
}

/**
 * New type errors, and no others; what was there before is only looked at where there are any. Types are found whether
 * or not they are checked. Where no tsconfig says what holds, errors by strict rules are named and nothing is refused.
 */
export async function checkTypes(
  session: Session,
  change: StepChange,
  oracle: ProjectTypes | undefined,
  isWanted: boolean,
): Promise<TypesAnswer> {
  if (!isWanted) return { answer: 'skipped', errors: [], reason: 'left out by --no-types' };
  const paths = change.files.map((f) => f.path);
  if (!oracle) {
    const isTyped = paths.some((path) => hasTypes(session.project, path)) && !typescriptOf(session.root);
    return { answer: 'skipped', errors: [], reason: isTyped ? HOW_TO_GET_TYPESCRIPT : 'the file has no types' };
  }
  const { newErrors } = await import('../node/types.js');
  if (!paths.some((path) => oracle.checks(path)))
    return { answer: 'skipped', errors: [], reason: 'errors inside of these files are not looked for yet' };
  oracle.use(applied(session.project.files, change), paths);
  const found = oracle.errors(paths);
  if (found.length === 0) return { answer: 'same', errors: [] };
  oracle.use(session.project.files, paths);
  const errors = newErrors(oracle.errors(paths), found);
  if (errors.length > 0 && oracle.config === undefined) {
    const count = errors.length === 1 ? 'an error' : `${errors.length} errors`;
    const [{ path, message }] = errors as [(typeof errors)[0]];
    const reason = `no tsconfig.json says what holds; by strict rules there would be ${count}: ${path}: ${message}`;
    return { answer: 'skipped', errors: [], reason };
  }
  return { answer: errors.length > 0 ? 'worse' : 'same', errors };
}

export function changeDocument(change: StepChange, types: TypesAnswer, own: Partial<ChangeDocument>): ChangeDocument {
  const { proof } = change;
  return {
    format: 'verkstad/change@1',
    step: change.step,
    name: change.name,
    target: change.target,
    ...own,
    files: change.files.map(({ path, change: kind }) => ({ path, change: kind })),
    seam: { props: [...change.seam.props], events: [...change.seam.events], slots: [...change.seam.slots] },
    proof: { answer: proof.answer, ...(proof.answer === 'same' ? {} : { detail: proof.detail }) },
    types: {
      answer: types.answer,
      ...(types.reason ? { reason: types.reason } : {}),
      errors: types.errors.map(({ path, code, message }) => ({ path, code, message })),
    },
    notes: [...change.notes],
  };
}

function summary(session: Session, { change, types, headline, took }: Ending, ending: string): string {
  const { colors: c } = session;
  const row = (name: string, value: string) => `  ${c.dim(name.padEnd(8))} ${value}`;
  const called = (p: SeamEntry) => (p.optional ? `${p.name}?` : p.name);
  const typed = (list: readonly SeamEntry[]) =>
    list.map((p) => (p.type ? `${called(p)}: ${p.type}` : called(p))).join(', ');
  const out = [`${c.bold(`${change.step} ${change.name}`)}  ${headline}`];
  out.push(row('took', took));
  // A long list is easier to read one under the other.
  const rows = (name: string, list: readonly SeamEntry[]) => {
    const one = typed(list);
    if (one.length <= 84) return [row(name, one)];
    return list.map((entry, i) => row(i === 0 ? name : '', typed([entry])));
  };
  const { props, events, slots } = change.seam;
  // A function or hook takes arguments.
  const isComponent = /^\p{Lu}/u.test(change.name);
  if (props.length) out.push(...rows(isComponent ? 'props' : 'takes', props));
  if (events.length) out.push(...rows('events', events));
  if (slots.length) out.push(row('slots', slots.map((s) => s.name).join(', ')));
  const isCut = change.step !== 'join' && change.step !== 'part';
  if (isCut && props.length + events.length + slots.length === 0)
    out.push(row(isComponent ? 'props' : 'takes', 'none: nothing crosses'));
  const proof = change.proof;
  const expanded = proof.answer === 'same' && proof.expanded.length > 0 ? proof.expanded : undefined;
  out.push(
    row(
      'proof',
      proof.answer === 'same'
        ? `${c.green('same')}${expanded ? ` with ${someOf(expanded.map((name) => (/^\p{Lu}/u.test(name) ? `<${name}>` : `${name}()`)))} expanded` : ', component by component'}`
        : `${c.red(proof.answer)}: ${proof.detail}`,
    ),
  );
  const word = {
    same: c.green('no new errors'),
    worse: c.red(`${types.errors.length} new errors`),
    skipped: `skipped: ${types.reason ?? ''}`,
  }[types.answer];
  out.push(row('types', word));
  const named = change.files.length > MOST_ROWS ? change.files.slice(0, MOST_ROWS - 4) : change.files;
  for (const file of named) {
    const lines = new Lines(textOf(session.project.files, file.path) ?? '');
    const count = file.text === undefined ? lines.count : new Lines(file.text).count;
    out.push(
      row(
        file.change,
        file.change === 'edit'
          ? `${file.path}  ${lines.count} ${c.dim('→')} ${count} lines`
          : `${file.path}  ${count} ${count === 1 ? 'line' : 'lines'}`,
      ),
    );
  }
  if (named.length < change.files.length)
    out.push(row('', `… ${change.files.length - named.length} more files; --json names them all`));
  for (const note of change.notes) out.push(row('note', note));
  return `${out.join('\n')}\n${c.dim(ending)}\n`;
}

/** Files to name one by one. */
const MOST_ROWS = 16;

function someOf(names: readonly string[]): string {
  if (names.length <= 5) return names.join(', ');
  return `${names.slice(0, 4).join(', ')} and ${names.length - 4} more`;
}

/** The first difference in both files. */
function showDifference(session: Session, change: StepChange): void {
  if (change.proof.answer === 'same') return;
  const show = (
    title: string,
    place: { path: string; span: { start: number; end: number } } | undefined,
    text: string | undefined,
  ) => {
    if (place && text !== undefined)
      session.host.err(`${title} ${place.path}\n${frame(text, place.span, session.colors)}\n`);
  };
  show('before', change.proof.before, change.proof.before && textOf(session.project.files, change.proof.before.path));
  const after = applied(session.project.files, change);
  show('after ', change.proof.after, change.proof.after && textOf(after, change.proof.after.path));
}
