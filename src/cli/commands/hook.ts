/** `hook`: state of a component, with the effects and functions that belong to it, as a hook of its own, proven. */
import {
  hook,
  isProblem,
  Lines,
  problem,
  textOf,
  type HookChange,
  type HookRequest,
  type Problem,
  type Span,
} from '../../core/index.js';
import { checkTypes, endStep, typesFor, type StepOptions, type TypesAnswer } from '../ending.js';
import { parseRange } from '../range.js';
import type { Ended, Session } from '../session.js';
import { takenOf } from './extract.js';

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
  const statements: Span[] = [];
  for (const range of ranges) {
    const span = range!.span(lines);
    if (!span) return problem('range-outside', { path }, lines.count);
    statements.push(span);
  }
  const to = options.to === undefined ? undefined : session.path(options.to);
  if (isProblem(to)) return to;

  const { name } = options;
  const request = { path, statements, ...(name === undefined ? {} : { name }), ...(to === undefined ? {} : { to }) };
  const checked = await hookAndCheck(session, request, options.types);
  if (isProblem(checked)) return checked;
  const { change, types } = checked;
  const count = change.statements.length;
  const { results } = change;
  return endStep(
    session,
    {
      change,
      types,
      at: { path, span: change.region },
      headline: `${path} ${session.colors.dim('→')} ${change.target}`,
      took: `${count} ${count === 1 ? 'statement' : 'statements'}, ${results.length > 0 ? `gives ${results.join(', ')}` : 'gives nothing'}`,
      title: `take ${change.name} out of ${path}`,
      document: { taken: takenOf(text, path, change.region) },
    },
    options,
  );
}

/** The change with what the type checker says of it. */
export async function hookAndCheck(
  session: Session,
  request: HookRequest,
  wantsTypes: boolean,
): Promise<{ readonly change: HookChange; readonly types: TypesAnswer } | Problem> {
  const { path } = request;
  const oracle = await typesFor(session, path);
  const change = hook(session.project, { ...request, ...(oracle ? { types: oracle } : {}) });
  if (isProblem(change)) return change;
  return { change, types: await checkTypes(session, change, oracle, wantsTypes) };
}
