/** `extract`: cut one region out, prove it, check its types, write it. */
import {
  applied,
  diffOf,
  extract,
  isProblem,
  Lines,
  problem,
  textOf,
  type ExtractChange,
  type Problem,
  type TypeOracle,
} from '../../core/index.js';
import { Journal } from '../../node/journal.js';
import type { ProjectTypes, TypeError } from '../../node/types.js';
import type { ChangeDocument } from '../formats.js';
import { EXIT, type CommonOptions, type Host } from '../host.js';
import { parseRange } from '../range.js';
import { frame, json, report } from '../say.js';
import { colorsFor, openSession, type Session } from '../session.js';

export interface ExtractOptions extends CommonOptions {
  readonly name?: string;
  readonly to?: string;
  readonly sameFile?: boolean;
  readonly props?: 'auto' | 'members' | 'objects';
  readonly dryRun?: boolean;
  readonly unproven?: boolean;
  readonly types: boolean;
}

interface Checked {
  readonly change: ExtractChange;
  readonly types: {
    readonly answer: 'same' | 'worse' | 'skipped';
    readonly errors: readonly TypeError[];
    readonly reason?: string;
  };
}

export async function extractCommand(host: Host, given: string, options: ExtractOptions): Promise<number> {
  const range = parseRange(given);
  const session = await openSession(host, options, range?.file);
  if (isProblem(session)) {
    report(host, session, undefined, colorsFor(host, options.color), options.json ?? false);
    return EXIT.usage;
  }
  const refuse = (trouble: Problem, code: number) => {
    report(host, trouble, session.project, session.colors, session.json);
    return code;
  };
  if (!range) return refuse(problem('range-format', { path: given }, given), EXIT.usage);
  const path = session.path(range.file);
  if (isProblem(path)) return refuse(path, EXIT.usage);
  const file = session.project.source(path);
  if (isProblem(file)) return refuse(file, EXIT.usage);
  const span = range.span(new Lines(file.text));
  if (!span) return refuse(problem('range-outside', { path }, new Lines(file.text).count), EXIT.usage);

  const to = options.to === undefined ? undefined : session.path(options.to);
  if (isProblem(to)) return refuse(to, EXIT.refused);
  const checked = await cutAndCheck(session, path, span, options, to);
  if (isProblem(checked)) return refuse(checked, checked.code === 'file-syntax' ? EXIT.usage : EXIT.refused);
  const { change, types } = checked;
  if (change.proof.answer !== 'same' && !options.unproven) {
    const at = change.proof.before ?? { path, span: change.region };
    if (!session.json) showDifference(session, change);
    return refuse(
      problem(change.proof.answer === 'different' ? 'proof-different' : 'proof-unknown', at, change.proof.detail),
      EXIT.refused,
    );
  }
  if (types.answer === 'worse' && !options.unproven) {
    const first = types.errors[0]!;
    return refuse(
      problem('types-worse', { path, span: change.region }, `${first.path}: ${first.message}`),
      EXIT.refused,
    );
  }
  if (options.dryRun) {
    if (session.json) host.out(json(document(session, checked)));
    else {
      host.out(diffOf(session.project.files, change));
      session.note(summary(session, checked, 'nothing written: --dry-run').trimEnd());
    }
    return EXIT.done;
  }
  // Put into words before writing: afterwards the files are other files.
  const said = session.json
    ? json(document(session, checked))
    : summary(session, checked, 'written; `verkstad undo` takes it back');
  const entry = new Journal(session.root).write(change, `extract ${change.name} from ${path}`);
  if (isProblem(entry)) return refuse(entry, EXIT.refused);
  host.out(said);
  return EXIT.done;
}

/** Cuts with whole objects first; where that loses a narrowed type, once more member by member. */
async function cutAndCheck(
  session: Session,
  path: string,
  range: { start: number; end: number },
  options: ExtractOptions,
  to: string | undefined,
): Promise<Checked | Problem> {
  const oracle = options.types ? await typesFor(session, path) : undefined;
  const style = options.props ?? session.config.props ?? 'auto';
  const attempt = (props: 'auto' | 'members' | 'objects', types: TypeOracle | undefined) =>
    extract(session.project, {
      path,
      range,
      props,
      ...(options.name === undefined ? {} : { name: options.name }),
      ...(to === undefined ? {} : { to }),
      ...(options.sameFile ? { sameFile: true } : {}),
      ...(types ? { types } : {}),
    });
  const first = attempt(style, oracle);
  if (isProblem(first)) return first;
  const before = oracle?.config === undefined ? [] : oracle.errors([path]);
  const checked = await checkTypes(session, first, oracle, before);
  if (checked.answer !== 'worse' || style !== 'auto') return { change: first, types: checked };
  oracle!.use(
    session.project.files,
    first.files.map((f) => f.path),
  );
  const second = attempt('members', oracle);
  if (isProblem(second)) return { change: first, types: checked };
  const again = await checkTypes(session, second, oracle, before);
  return again.answer === 'worse' ? { change: first, types: checked } : { change: second, types: again };
}

async function typesFor(session: Session, path: string): Promise<ProjectTypes | undefined> {
  if (!/\.[cm]?tsx?$/.test(path)) return undefined;
  const { ProjectTypes } = await import('../../node/types.js');
  return new ProjectTypes(session.root, session.project.files, path);
}

async function checkTypes(
  session: Session,
  change: ExtractChange,
  oracle: ProjectTypes | undefined,
  before: readonly TypeError[],
): Promise<Checked['types']> {
  if (!oracle) return { answer: 'skipped', errors: [], reason: 'the file has no types' };
  if (oracle.config === undefined) return { answer: 'skipped', errors: [], reason: 'the project has no tsconfig.json' };
  const { newErrors } = await import('../../node/types.js');
  const paths = change.files.map((f) => f.path);
  oracle.use(applied(session.project.files, change), paths);
  const errors = newErrors(before, oracle.errors(paths));
  return { answer: errors.length > 0 ? 'worse' : 'same', errors };
}

function document(session: Session, { change, types }: Checked): ChangeDocument {
  const text = textOf(session.project.files, change.files[0]!.path)!;
  const { proof } = change;
  return {
    format: 'verkstad/change@1',
    step: change.step,
    name: change.name,
    target: change.target,
    taken: {
      path: change.files[0]!.path,
      lines: new Lines(text).range(change.region),
      range: [change.region.start, change.region.end],
    },
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

function summary(session: Session, { change, types }: Checked, ending: string): string {
  const { colors: c } = session;
  const host = change.files[0]!;
  const before = textOf(session.project.files, host.path)!;
  const lines = new Lines(before);
  const [first, last] = lines.range(change.region);
  const row = (name: string, value: string) => `  ${c.dim(name.padEnd(8))} ${value}`;
  const typed = (list: readonly { name: string; type?: string }[]) =>
    list.map((p) => (p.type ? `${p.name}: ${p.type}` : p.name)).join(', ');
  const out = [`${c.bold(`extract ${change.name}`)}  ${host.path} ${c.dim('→')} ${change.target}`];
  out.push(row('took', `lines ${first}-${last}, ${describe(change)}`));
  // A long list is easier to read one under the other.
  const rows = (name: string, list: readonly { name: string; type?: string }[]) => {
    const one = typed(list);
    if (one.length <= 84) return [row(name, one)];
    return list.map((entry, i) => row(i === 0 ? name : '', typed([entry])));
  };
  const { props, events, slots } = change.seam;
  if (props.length) out.push(...rows('props', props));
  if (events.length) out.push(...rows('events', events));
  if (slots.length) out.push(row('slots', slots.map((s) => s.name).join(', ')));
  if (props.length + events.length + slots.length === 0) out.push(row('props', 'none: nothing crosses'));
  const proof = change.proof;
  out.push(
    row(
      'proof',
      proof.answer === 'same'
        ? `${c.green('same')} with <${proof.expanded.join('>, <')}> expanded`
        : `${c.red(proof.answer)}: ${proof.detail}`,
    ),
  );
  const word = {
    same: c.green('no new errors'),
    worse: c.red(`${types.errors.length} new errors`),
    skipped: `skipped: ${types.reason ?? ''}`,
  }[types.answer];
  out.push(row('types', word));
  for (const file of change.files) {
    const count = new Lines(file.text ?? '').count;
    out.push(
      row(
        file.change,
        file.change === 'edit'
          ? `${file.path}  ${lines.count} ${c.dim('→')} ${count} lines`
          : `${file.path}  ${count} lines`,
      ),
    );
  }
  for (const note of change.notes) out.push(row('note', note));
  return `${out.join('\n')}\n${c.dim(ending)}\n`;
}

function describe(change: ExtractChange): string {
  const { nodes } = change.region;
  const shown = nodes.filter((n) => n.kind !== 'comment');
  const word = (n: (typeof nodes)[number]) =>
    n.kind === 'element'
      ? `<${n.name}>`
      : n.kind === 'branch'
        ? 'a condition'
        : n.kind === 'loop'
          ? 'a loop'
          : n.kind === 'text'
            ? 'text'
            : n.kind === 'fragment'
              ? 'a fragment'
              : 'an expression';
  return shown.length <= 3
    ? shown.map(word).join(', ')
    : `${word(shown[0]!)} to ${word(shown[shown.length - 1]!)}, ${shown.length} siblings`;
}

/** The first difference in both files. */
function showDifference(session: Session, change: ExtractChange): void {
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
