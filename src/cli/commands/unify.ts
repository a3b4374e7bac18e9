/** `unify` and `frame`: one component, function, hook or layout for the places of a repeat; proven, checked, written. */
import { isProblem } from '../../core/index.js';
import { placesOf } from '../../library/places.js';
import { STEPS } from '../../library/steps.js';
import { endStep, type StepOptions } from '../ending.js';
import { linesGiven, seamGiven, type SeamOptions } from '../seam.js';
import type { Ended, Session } from '../session.js';
import { pathsGiven } from './repeats.js';

export interface UnifyOptions extends StepOptions, SeamOptions {
  readonly only?: readonly number[];
  readonly asList?: boolean;
}

export async function unifyCommand(
  session: Session,
  step: 'unify' | 'frame',
  id: string,
  given: readonly string[],
  options: UnifyOptions,
): Promise<Ended> {
  const paths = pathsGiven(session, given);
  if (isProblem(paths)) return paths;
  const to = options.to === undefined ? undefined : session.path(options.to);
  if (isProblem(to)) return to;
  const { name, only, asList, into } = options;
  const seam = seamGiven('.', options, linesGiven('.'));
  if (isProblem(seam)) return seam;
  const request = {
    id,
    paths,
    ...(name === undefined ? {} : { name }),
    ...(to === undefined ? {} : { to }),
    ...(only ? { only } : {}),
    ...(asList ? { asList } : {}),
    ...(into === undefined ? {} : { into }),
    ...(seam ? { seam } : {}),
  };
  const done = await STEPS[step](session, request, options.types);
  if (isProblem(done)) return done;
  const { change } = done;
  const places = placesOf(session, change.repeat);
  const files = [...new Set(places.map((p) => p.path))];
  const where = places.map((p) => `${p.path}:${p.lines[0]}-${p.lines[1]}`);
  const headline = `${files.length === 1 ? files[0]! : `${files.length} files`} ${session.colors.dim('→')} ${change.target}`;
  const took = where.length <= 4 ? where.join(', ') : `${where.slice(0, 3).join(', ')} and ${where.length - 3} more`;
  return endStep(session, done, { headline, took }, options);
}
