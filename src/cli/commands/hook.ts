/** `hook`: state of a component, with the effects and functions that belong to it, as a hook of its own, proven. */
import { isProblem, Lines, problem, textOf } from '../../core/index.js';
import { STEPS, type Place } from '../../library/steps.js';
import { endStep, type StepOptions } from '../ending.js';
import { parseRange } from '../range.js';
import type { Ended, Session } from '../session.js';

export async function hookCommand(session: Session, given: string, options: StepOptions): Promise<Ended> {
  // `src/App.tsx:3-5,9` is two ranges of one file.
  const [first, ...more] = given.split(',');
  const file = parseRange(first!)?.file;
  const path = file === undefined ? problem('range-format', { path: given }, given) : session.path(file);
  if (isProblem(path)) return path;
  const text = textOf(session.project.files, path);
  if (text === undefined) return problem('file-unknown', { path });
  const lines = new Lines(text);
  const ranges = [first!, ...more.map((range) => `${file}:${range.trim()}`)].map(parseRange);
  if (ranges.includes(undefined)) return problem('range-format', { path: given }, given);
  const statements: Place[] = [];
  for (const range of ranges) {
    const span = range!.span(lines);
    if (!span) return problem('range-outside', { path }, lines.count);
    statements.push({ range: [span.start, span.end] });
  }
  const to = options.to === undefined ? undefined : session.path(options.to);
  if (isProblem(to)) return to;

  const { name } = options;
  const made = { ...(name === undefined ? {} : { name }), ...(to === undefined ? {} : { to }) };
  const done = await STEPS.hook(session, { path, statements, ...made }, options.types);
  if (isProblem(done)) return done;
  const { change } = done;
  const count = change.statements.length;
  const { results } = change;
  const headline = `${path} ${session.colors.dim('→')} ${change.target}`;
  const took = `${count} ${count === 1 ? 'statement' : 'statements'}, ${results.length > 0 ? `gives ${results.join(', ')}` : 'gives nothing'}`;
  return endStep(session, done, { headline, took }, options);
}
