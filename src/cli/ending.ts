/** How every step that changes files ends on the command line: proof and types weighed, shown, written or refused. */
import { applied, diffOf, isProblem, Lines, textOf, type SeamEntry } from '../core/index.js';
import { changeDocument, stepTrouble, type StepChange, type StepDone } from '../library/steps.js';
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

/** What only one kind of step can say about its change. */
export interface Ending {
  /** First line of the summary, behind the name of the step. */
  readonly headline: string;
  readonly took: string;
}

export function endStep(session: Session, done: StepDone, ending: Ending, options: StepOptions): Ended {
  const { change } = done;
  const { host } = session;
  const trouble = options.unproven ? undefined : stepTrouble(done);
  if (trouble) {
    if (!session.json) showDifference(session, change);
    return trouble;
  }
  if (options.dryRun) {
    if (session.json) host.out(json(changeDocument(done)));
    else {
      host.exact(diffOf(session.project.files, change));
      session.note(summary(session, done, ending, 'nothing written: --dry-run').trimEnd());
    }
    return EXIT.done;
  }
  // Put into words before writing: afterwards the files are other files.
  const said = session.json
    ? json(changeDocument(done))
    : summary(session, done, ending, 'written; `verkstad undo` takes it back');
  const entry = session.journal().write(change, done.title);
  if (isProblem(entry)) return entry;
  host.out(said);
  return EXIT.done;
}

function summary(session: Session, { change, types }: StepDone, { headline, took }: Ending, ending: string): string {
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
  const isComponent = change.step === 'home' || /^\p{Lu}/u.test(change.name);
  if (props.length) out.push(...rows(isComponent ? 'props' : 'takes', props));
  if (events.length) out.push(...rows('events', events));
  if (slots.length) out.push(row('slots', slots.map((s) => s.name).join(', ')));
  if (!NO_SEAM.has(change.step) && props.length + events.length + slots.length === 0)
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

/** Steps of which nothing could cross. */
const NO_SEAM: ReadonlySet<string> = new Set(['join', 'part', 'home', 'function', 'inputs']);

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
