/** `unify` and `frame`: one component, function, hook or layout for the places of a repeat; proven, checked, written. */
import { isProblem, problem, unify, type Problem, type UnifyChange, type UnifyStepRequest } from '../../core/index.js';
import { checkTypes, endStep, hasTypes, typesFor, type StepOptions, type TypesAnswer } from '../ending.js';
import type { Ended, Session } from '../session.js';
import { placesOf } from '../repeated.js';
import { pathsIn, repeatCalled } from './repeats.js';

export interface UnifyOptions extends StepOptions {
  readonly only?: readonly number[];
  readonly asList?: boolean;
}

export async function unifyCommand(
  session: Session,
  step: 'unify' | 'frame',
  id: string,
  paths: readonly string[],
  options: UnifyOptions,
): Promise<Ended> {
  const only = pathsIn(session, paths);
  if (isProblem(only)) return only;
  const found = repeatCalled(session, id, only);
  if (isProblem(found)) return found;
  const { repeats, repeat } = found;
  const wrong = options.only?.find((n) => n > repeat.places.length);
  if (wrong !== undefined) return problem('repeat-place', { path: '.' }, wrong, repeat.places.length);
  if ((repeat.kind === 'frame') !== (step === 'frame')) return problem('repeat-kind', { path: '.' }, id, repeat.kind);
  const to = options.to === undefined ? undefined : session.path(options.to);
  if (isProblem(to)) return to;

  const files = [...new Set(repeat.places.map((p) => p.path))];
  const asked = {
    repeats,
    repeat,
    ...(options.name === undefined ? {} : { name: options.name }),
    ...(to === undefined ? {} : { to }),
    ...(options.only ? { only: options.only.map((n) => n - 1) } : {}),
    ...(options.asList ? { asList: true } : {}),
    ...(options.into === undefined ? {} : { into: options.into }),
  };
  const checked = await unifyAndCheck(session, asked, options.types);
  if (isProblem(checked)) return checked;
  const { change, types } = checked;
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

export async function unifyAndCheck(
  session: Session,
  asked: UnifyStepRequest,
  wantsTypes: boolean,
): Promise<{ change: UnifyChange; types: TypesAnswer } | Problem> {
  const oracle = await oracleFor(session, [...new Set(asked.repeat.places.map((p) => p.path))]);
  const change = unify(session.project, { ...asked, ...(oracle ? { types: oracle } : {}) });
  return isProblem(change) ? change : { change, types: await checkTypes(session, change, oracle, wantsTypes) };
}

async function oracleFor(session: Session, files: readonly string[]) {
  const typed = files.find((path) => hasTypes(session.project, path));
  return typed === undefined ? undefined : typesFor(session, typed);
}
