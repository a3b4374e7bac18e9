/** `home`: state brought to the component that is its home; proven, checked, written. */
import { isProblem } from '../../core/index.js';
import { STEPS } from '../../library/steps.js';
import { endStep, type StepOptions } from '../ending.js';
import type { Ended, Session } from '../session.js';

export interface HomeOptions extends StepOptions {
  readonly in?: string;
  readonly newLifetime?: boolean;
}

export async function homeCommand(
  session: Session,
  component: string,
  states: readonly string[],
  options: HomeOptions,
): Promise<Ended> {
  const { in: to, newLifetime } = options;
  const asked = { component, states, ...(to === undefined ? {} : { in: to }), ...(newLifetime ? { newLifetime } : {}) };
  const done = await STEPS.home(session, asked, options.types);
  if (isProblem(done)) return done;
  const { change } = done;
  const headline = `${change.from} ${session.colors.dim('→')} ${change.home}`;
  const dropped = change.dropped.length > 0 ? `; no longer handed over: ${change.dropped.join(', ')}` : '';
  return endStep(session, done, { headline, took: `${change.moved.join(', ')}${dropped}` }, options);
}
