/** `forms`: one component for each form of one that asks the same in many places; proven, checked, written. */
import { isProblem } from '../../core/index.js';
import { STEPS } from '../../library/steps.js';
import { endStep, type StepOptions } from '../ending.js';
import type { Ended, Session } from '../session.js';

export interface FormsOptions extends StepOptions {
  readonly by: string;
  readonly names?: readonly string[];
  readonly newLifetime?: boolean;
}

export async function formsCommand(session: Session, component: string, options: FormsOptions): Promise<Ended> {
  const { by, names, newLifetime } = options;
  const request = { component, by, ...(names ? { names } : {}), ...(newLifetime ? { newLifetime } : {}) };
  const done = await STEPS.forms(session, request, options.types);
  if (isProblem(done)) return done;
  const { change } = done;
  const own = change.forms.map(({ name, answer }) => `${name} (${answer})`).join(', ');
  const asked = change.places === 1 ? 'once' : `at ${change.places} places`;
  const took = `what it shows by ${by}, asked for ${asked}: ${own}`;
  return endStep(session, done, { headline: change.target, took }, options);
}
