/** `function`: a component that is a class written as a function; proven, checked, written. */
import { isProblem, Lines } from '../../core/index.js';
import { STEPS } from '../../library/steps.js';
import { endStep, type StepOptions } from '../ending.js';
import type { Ended, Session } from '../session.js';

export async function functionCommand(session: Session, component: string, options: StepOptions): Promise<Ended> {
  const done = await STEPS.function(session, { component }, options.types);
  if (isProblem(done)) return done;
  const { change } = done;
  const file = session.project.source(change.target);
  const [from, till] = isProblem(file) ? [0, 0] : new Lines(file.text).range(change.region);
  const keeps = change.states.length > 0 ? `; keeps ${change.states.join(', ')}` : '';
  return endStep(session, done, { headline: change.target, took: `lines ${from}-${till}, the class${keeps}` }, options);
}
