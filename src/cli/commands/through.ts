/** `through`: what a component only hands on goes through it as content; proven, checked, written. */
import { isProblem } from '../../core/index.js';
import { STEPS } from '../../library/steps.js';
import { endStep, type StepOptions } from '../ending.js';
import type { Ended, Session } from '../session.js';

export interface ThroughOptions extends StepOptions {
  readonly inputs?: readonly string[];
  readonly in?: string;
}

export async function throughCommand(session: Session, component: string, options: ThroughOptions): Promise<Ended> {
  const { inputs, in: top } = options;
  const asked = { component, ...(inputs ? { inputs } : {}), ...(top === undefined ? {} : { in: top }) };
  const done = await STEPS.through(session, asked, options.types);
  if (isProblem(done)) return done;
  const { change } = done;
  const nameOf = (id: string) => id.slice(id.lastIndexOf('#') + 1);
  const tags = change.carried.map((tag) => `<${tag}>`).join(', ');
  const way = change.through.map(nameOf).join(', ');
  const dropped = change.dropped.map(
    ({ component: id, inputs: names }) => `${nameOf(id)} without ${names.join(', ') || 'fewer inputs'}`,
  );
  const headline = `${tags} ${session.colors.dim('→')} ${change.hosts.map(nameOf).join(', ')}`;
  return endStep(session, done, { headline, took: `content of ${way}; ${dropped.join('; ')}` }, options);
}
