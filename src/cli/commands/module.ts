/** `module`: requests, calculations and constants of a file, to a module, proven. */
import { isProblem, Lines, problem } from '../../core/index.js';
import { STEPS } from '../../library/steps.js';
import { endStep, type StepOptions } from '../ending.js';
import { parseRange } from '../range.js';
import type { Ended, Session } from '../session.js';

export async function moduleCommand(session: Session, given: string, options: StepOptions): Promise<Ended> {
  const range = parseRange(given);
  const named = range ? undefined : /^(.+?\.\w+):([\w$]+(?:,\s*[\w$]+)*)$/.exec(given);
  if (!range && !named) return problem('range-format', { path: given }, given);
  const path = session.path(range?.file ?? named![1]!);
  if (isProblem(path)) return path;
  const file = session.project.source(path);
  if (isProblem(file)) return file;
  const lines = new Lines(file.text);
  const span = range?.span(lines);
  if (range && !span) return problem('range-outside', { path }, lines.count);
  const to = options.to === undefined ? undefined : session.path(options.to);
  if (isProblem(to)) return to;
  const { name } = options;
  const what = span
    ? ({ range: [span.start, span.end] } as const)
    : { names: named![2]!.split(',').map((one) => one.trim()) };
  const made = { ...(name === undefined ? {} : { name }), ...(to === undefined ? {} : { to }) };
  const done = await STEPS.module(session, { path, what, ...made }, options.types);
  if (isProblem(done)) return done;
  const { change } = done;
  const [from, till] = lines.range(change.region);
  const headline = `${path} ${session.colors.dim('→')} ${change.target}`;
  const where = from === till ? `line ${from}` : `lines ${from}-${till}`;
  const gives = change.names.length > 1 ? `; the module gives ${change.names.join(', ')}` : '';
  return endStep(session, done, { headline, took: where + gives }, options);
}
