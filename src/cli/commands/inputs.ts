/** `inputs`: inputs that no place hands over, or every place alike, leave a component; proven, checked, written. */
import { isProblem } from '../../core/index.js';
import { STEPS } from '../../library/steps.js';
import { endStep, type StepOptions } from '../ending.js';
import type { Ended, Session } from '../session.js';

export interface InputsOptions extends StepOptions {
  readonly names?: readonly string[];
}

export async function inputsCommand(session: Session, component: string, options: InputsOptions): Promise<Ended> {
  const { names } = options;
  const done = await STEPS.inputs(session, { component, ...(names ? { names } : {}) }, options.types);
  if (isProblem(done)) return done;
  const { fixed, uses, target } = done.change;
  const unused = fixed.filter((f) => f.value === undefined).map((f) => f.name);
  const alike = fixed.filter((f) => f.value !== undefined).map((f) => `${f.name} ${f.value}`);
  const places = uses === 1 ? '1 place' : `${uses} places`;
  const took = [
    ...(unused.length > 0 ? [`handed over at none of ${places}: ${unused.join(', ')}`] : []),
    ...(alike.length > 0 ? [`the same at ${places}: ${alike.join(', ')}`] : []),
  ];
  return endStep(session, done, { headline: target, took: took.join('; ') }, options);
}
