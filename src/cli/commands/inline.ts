/** `inline`: a component put back where it is shown, at all its tags or at one; proven, checked, written. */
import { inline, isProblem, Lines, problem, textOf, type InlineChange, type Problem } from '../../core/index.js';
import { checkTypes, endStep, hasTypes, typesFor, type StepOptions } from '../ending.js';
import { EXIT, type Host } from '../host.js';
import { parseRange } from '../range.js';
import { report } from '../say.js';
import { colorsFor, openSession, type Session } from '../session.js';

export interface InlineOptions extends StepOptions {
  /** `FILE:LINES` of one use. */
  readonly at?: string;
}

export async function inlineCommand(host: Host, name: string, options: InlineOptions): Promise<number> {
  const range = options.at === undefined ? undefined : parseRange(options.at);
  const session = await openSession(host, options, range?.file);
  if (isProblem(session)) {
    report(host, session, undefined, colorsFor(host, options.color), options.json ?? false);
    return EXIT.usage;
  }
  const refuse = (trouble: Problem, code: number) => {
    report(host, trouble, session.project, session.colors, session.json);
    return code;
  };
  const at = options.at === undefined ? undefined : placeIn(session, options.at);
  if (isProblem(at)) return refuse(at, EXIT.usage);
  const change = inline(session.project, { component: name, ...(at ? { at } : {}) });
  if (isProblem(change)) return refuse(change, USAGE.has(change.code) ? EXIT.usage : EXIT.refused);
  const paths = change.files.map((f) => f.path);
  const typed = options.types ? paths.find((path) => hasTypes(session.project, path)) : undefined;
  const oracle = typed === undefined ? undefined : await typesFor(session, typed);
  const before = oracle?.config === undefined ? [] : oracle.errors(paths);
  const types = await checkTypes(session, change, oracle, before);
  const first = change.uses[0]!;
  return endStep(
    session,
    {
      change,
      types,
      at: { path: first.path, span: first.span },
      headline: `${change.path} ${session.colors.dim('→')} ${change.target}`,
      took: tookOf(session, change),
      title: `inline ${change.name} into ${change.target}`,
      document: { places: change.uses.map((use) => ({ ...use, ...linesOf(session, use) })).map(placeDocument) },
    },
    options,
  );
}

const USAGE = new Set(['component-unknown', 'component-several', 'file-syntax']);

function placeIn(session: Session, given: string) {
  const range = parseRange(given);
  if (!range) return problem('range-format', { path: given }, given);
  const path = session.path(range.file);
  if (isProblem(path)) return path;
  const text = textOf(session.project.files, path);
  if (text === undefined) return problem('file-unknown', { path });
  const span = range.span(new Lines(text));
  return span ? { path, range: span } : problem('range-outside', { path }, new Lines(text).count);
}

type Use = InlineChange['uses'][number];

function linesOf(session: Session, { path, span }: Use): { lines: readonly [number, number] } {
  return { lines: new Lines(textOf(session.project.files, path) ?? '').range(span) };
}

function placeDocument({ path, span, lines }: Use & { lines: readonly [number, number] }) {
  return { path, lines: [lines[0], lines[1]] as [number, number], range: [span.start, span.end] as [number, number] };
}

function tookOf(session: Session, change: InlineChange): string {
  const where = change.uses.map((use) => `${use.path}:${linesOf(session, use).lines[0]}`);
  const shown = where.length <= 4 ? where.join(', ') : `${where.slice(0, 3).join(', ')} and ${where.length - 3} more`;
  return change.gone
    ? `the ${where.length === 1 ? 'tag' : 'tags'} at ${shown}`
    : `the tag at ${shown}; other tags stay`;
}
