/** `unify` and `frame`: one component, function, hook or layout for the places of a repeat; proven, checked, written. */
import { didYouMean, findRepeats, isProblem, problem, unify, type Problem, type Repeats } from '../../core/index.js';
import { checkTypes, endStep, hasTypes, typesFor, type StepOptions } from '../ending.js';
import { EXIT, type Host } from '../host.js';
import { report } from '../say.js';
import { colorsFor, openSession, type Session } from '../session.js';
import { pathsIn, placesOf } from './repeats.js';

export interface UnifyOptions extends StepOptions {
  readonly only?: readonly number[];
  readonly asList?: boolean;
}

export async function unifyCommand(
  host: Host,
  step: 'unify' | 'frame',
  id: string,
  paths: readonly string[],
  options: UnifyOptions,
): Promise<number> {
  const session = await openSession(host, options, paths[0]);
  if (isProblem(session)) {
    report(host, session, undefined, colorsFor(host, options.color), options.json ?? false);
    return EXIT.usage;
  }
  const refuse = (trouble: Problem, code: number) => {
    report(host, trouble, session.project, session.colors, session.json);
    return code;
  };
  const only = pathsIn(session, paths);
  if (isProblem(only)) return refuse(only, EXIT.usage);
  const repeats = findRepeats(session.project, { ...only, minWorth: -Infinity });
  const repeat = repeats.groups.find((g) => g.id === id);
  if (!repeat) return refuse(unknownRepeat(repeats, id), EXIT.usage);
  const wrong = options.only?.find((n) => n > repeat.places.length);
  if (wrong !== undefined)
    return refuse(problem('repeat-place', { path: '.' }, wrong, repeat.places.length), EXIT.usage);
  if ((repeat.kind === 'frame') !== (step === 'frame'))
    return refuse(problem('repeat-kind', { path: '.' }, id, repeat.kind), EXIT.usage);
  const to = options.to === undefined ? undefined : session.path(options.to);
  if (isProblem(to)) return refuse(to, EXIT.refused);

  const files = [...new Set(repeat.places.map((p) => p.path))];
  const oracle = options.types ? await oracleFor(session, files) : undefined;
  const change = unify(session.project, {
    repeats,
    repeat,
    ...(options.name === undefined ? {} : { name: options.name }),
    ...(to === undefined ? {} : { to }),
    ...(options.only ? { only: options.only.map((n) => n - 1) } : {}),
    ...(options.asList ? { asList: true } : {}),
    ...(options.into === undefined ? {} : { into: options.into }),
    ...(oracle ? { types: oracle } : {}),
  });
  if (isProblem(change)) return refuse(change, change.code === 'file-syntax' ? EXIT.usage : EXIT.refused);
  const types = await checkTypes(session, change, oracle);
  const places = placesOf(session, change.repeat);
  const first = places[0]!;
  const where = places.map((p) => `${p.path}:${p.lines[0]}-${p.lines[1]}`);
  return endStep(
    session,
    {
      change,
      types,
      at: { path: first.path, span: change.repeat.places[0]! },
      headline: `${files.length === 1 ? first.path : `${files.length} files`} ${session.colors.dim('→')} ${change.target}`,
      took: where.length <= 4 ? where.join(', ') : `${where.slice(0, 3).join(', ')} and ${where.length - 3} more`,
      title: `${change.step} ${change.name} at ${places.length} places`,
      document: { places },
    },
    options,
  );
}

async function oracleFor(session: Session, files: readonly string[]) {
  const typed = files.find((path) => hasTypes(session.project, path));
  return typed === undefined ? undefined : typesFor(session, typed);
}

function unknownRepeat({ groups }: Repeats, id: string): Problem {
  const near = didYouMean(
    id,
    groups.map((g) => g.id),
  );
  return problem('repeat-unknown', { path: '.' }, id, near ? `; did you mean ${near}?` : '');
}
