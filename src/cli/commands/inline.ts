/** `inline`: a component put back where it is shown, at all its tags or at one; proven, checked, written. */
import {
  inline,
  isProblem,
  Lines,
  problem,
  textOf,
  type InlineChange,
  type InlineStepRequest,
  type Problem,
} from '../../core/index.js';
import { checkTypes, endStep, hasTypes, typesFor, type StepOptions, type TypesAnswer } from '../ending.js';
import { parseRange } from '../range.js';
import type { Ended, Session } from '../session.js';

export interface InlineOptions extends StepOptions {
  /** `FILE:LINES` of one use. */
  readonly at?: string;
}

export async function inlineCommand(session: Session, name: string, options: InlineOptions): Promise<Ended> {
  const at = options.at === undefined ? undefined : placeIn(session, options.at);
  if (isProblem(at)) return at;
  const checked = await putBackAndCheck(session, { component: name, ...(at ? { at } : {}) }, options.types);
  if (isProblem(checked)) return checked;
  const { change, types } = checked;
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
      document: { places: change.uses.map((use) => placeDocument(session, use)) },
    },
    options,
  );
}

/** The change with what the type checker says of it. */
export async function putBackAndCheck(
  session: Session,
  request: InlineStepRequest,
  wantsTypes: boolean,
): Promise<{ change: InlineChange; types: TypesAnswer } | Problem> {
  const change = inline(session.project, request);
  if (isProblem(change)) return change;
  const paths = change.files.map((f) => f.path);
  const typed = wantsTypes ? paths.find((path) => hasTypes(session.project, path)) : undefined;
  const oracle = typed === undefined ? undefined : await typesFor(session, typed);
  return { change, types: await checkTypes(session, change, oracle, wantsTypes) };
}

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

export function placeDocument(session: Session, use: Use) {
  const { path, span } = use;
  const { lines } = linesOf(session, use);
  return { path, lines: [lines[0], lines[1]] as [number, number], range: [span.start, span.end] as [number, number] };
}

function tookOf(session: Session, change: InlineChange): string {
  const where = change.uses.map((use) => `${use.path}:${linesOf(session, use).lines[0]}`);
  const shown = where.length <= 4 ? where.join(', ') : `${where.slice(0, 3).join(', ')} and ${where.length - 3} more`;
  return change.gone
    ? `the ${where.length === 1 ? 'tag' : 'tags'} at ${shown}`
    : `the tag at ${shown}; other tags stay`;
}
