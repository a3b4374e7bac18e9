/** `join` and `part`: template and script of a component in one file, or in files of their own; proven. */
import { isProblem, type JoinOptions } from '../../core/index.js';
import { STEPS } from '../../library/steps.js';
import { endStep, type StepOptions } from '../ending.js';
import type { Ended, Session } from '../session.js';

export type PlacingOptions = Omit<StepOptions, 'types'> & JoinOptions;

export async function joinCommand(
  session: Session,
  step: 'join' | 'part',
  given: string,
  options: PlacingOptions,
): Promise<Ended> {
  const path = session.path(given);
  if (isProblem(path)) return path;
  const request = { path, ...(options.build ? { build: true } : {}) };
  const done = await STEPS[step](session, request, false);
  if (isProblem(done)) return done;
  const headline = `${path} ${session.colors.dim('→')} ${done.change.target}`;
  const took =
    step === 'join' ? 'template and script into one file each' : 'template and script into files of their own';
  return endStep(session, done, { headline, took }, { ...options, types: false });
}
