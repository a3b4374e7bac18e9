/** `inline`: a component put back where it is shown, at all its tags or at one; proven, checked, written. */
import { isProblem, Lines, problem, textOf, type InlineChange } from '../../core/index.js';
import { STEPS } from '../../library/steps.js';
import { linesOf } from '../../library/places.js';
import { endStep, type StepOptions } from '../ending.js';
import { parseRange } from '../range.js';
import type { Ended, Session } from '../session.js';

export interface InlineOptions extends StepOptions {
  /** `FILE:LINES` of one use. */
  readonly at?: string;
}

export async function inlineCommand(session: Session, component: string, options: InlineOptions): Promise<Ended> {
  const use = options.at === undefined ? undefined : placeIn(session, options.at);
  if (isProblem(use)) return use;
  const done = await STEPS.inline(session, { component, ...(use ? { use } : {}) }, options.types);
  if (isProblem(done)) return done;
  const { change } = done;
  const headline = `${change.path} ${session.colors.dim('→')} ${change.target}`;
  return endStep(session, done, { headline, took: tookOf(session, change) }, options);
}

function placeIn(session: Session, given: string) {
  const range = parseRange(given);
  if (!range) return problem('range-format', { path: given }, given);
  const path = session.path(range.file);
  if (isProblem(path)) return path;
  const text = textOf(session.project.files, path);
  if (text === undefined) return problem('file-unknown', { path });
  const span = range.span(new Lines(text));
  return span
    ? { path, at: { range: [span.start, span.end] as const } }
    : problem('range-outside', { path }, new Lines(text).count);
}

function tookOf(session: Session, change: InlineChange): string {
  const where = change.uses.map((use) => `${use.path}:${linesOf(session, use.path, use.span)[0]}`);
  const shown = where.length <= 4 ? where.join(', ') : `${where.slice(0, 3).join(', ')} and ${where.length - 3} more`;
  return change.gone
    ? `the ${where.length === 1 ? 'tag' : 'tags'} at ${shown}`
    : `the tag at ${shown}; other tags stay`;
}
