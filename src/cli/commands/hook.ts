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
import { EXIT, type Host } from '../host.js';
import { parseRange } from '../range.js';
import { report } from '../say.js';
import { colorsFor, openSession, type Session } from '../session.js';
import { takenOf } from './extract.js';

export async function hookCommand(host: Host, given: string, options: StepOptions): Promise<number> {
  // `src/App.tsx:3-5,9` is two ranges of one file.
  const [first, ...more] = given.split(',');
  const file = parseRange(first!)?.file;
  const session = await openSession(host, options, file);
  if (isProblem(session)) {
    report(host, session, undefined, colorsFor(host, options.color), options.json ?? false);
    return EXIT.usage;
  }
  const refuse = (trouble: Problem, code: number) => {
    report(host, trouble, session.project, session.colors, session.json);
    return code;
  };
  const path = file === undefined ? problem('range-format', { path: given }, given) : session.path(file);
  if (isProblem(path)) return refuse(path, EXIT.usage);
  const text = textOf(session.project.files, path);
  if (text === undefined) return refuse(problem('file-unknown', { path }), EXIT.usage);
  const lines = new Lines(text);
  const ranges = [first!, ...more.map((range) => `${file}:${range.trim()}`)].map(parseRange);
  if (ranges.includes(undefined)) return refuse(problem('range-format', { path: given }, given), EXIT.usage);
  const statements: Span[] = [];
  for (const range of ranges) {
    const span = range!.span(lines);
    if (!span) return refuse(problem('range-outside', { path }, lines.count), EXIT.usage);
    statements.push(span);
  }
  const to = options.to === undefined ? undefined : session.path(options.to);
  if (isProblem(to)) return refuse(to, EXIT.refused);

  const { name } = options;
  const request = { path, statements, ...(name === undefined ? {} : { name }), ...(to === undefined ? {} : { to }) };
  const checked = await hookAndCheck(session, request, options.types);
  if (isProblem(checked)) return refuse(checked, checked.code === 'file-syntax' ? EXIT.usage : EXIT.refused);
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
  const oracle = wantsTypes ? await typesFor(session, path) : undefined;
  const change = hook(session.project, { ...request, ...(oracle ? { types: oracle } : {}) });
  if (isProblem(change)) return change;
  return { change, types: await checkTypes(session, change, oracle) };
}
