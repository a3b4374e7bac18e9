/** `propose`: where to cut, all cuts together; what every new component would take, and what the host would look like. */
import { writeFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { isProblem, problem, type Goal, type Problem } from '../../core/index.js';
import { planDocument, proposeDocument } from '../../library/proposal-documents.js';
import { proposed, type Found } from '../../library/propose.js';
import { keepPlan } from '../../node/plans.js';
import { EXIT, type CommonOptions, type Host } from '../host.js';
import { alternativesText, statesText } from '../proposed-tables.js';
import { proposedText, turnedDownList } from '../proposed.js';
import { json } from '../say.js';
import type { Ended, Session } from '../session.js';
import { pathsGiven } from './repeats.js';

export interface ProposeOptions extends CommonOptions {
  readonly goal?: string;
  readonly out?: string;
  readonly limit: number;
  readonly alternatives?: boolean;
  readonly states?: boolean;
  readonly turnedDown?: boolean;
  /** Language that plain pages are written in, to be weighed as its components. */
  readonly into?: string;
  /** The window of history, as git reads it. */
  readonly since?: string;
}

export async function proposeCommand(
  session: Session,
  given: readonly string[],
  options: ProposeOptions,
): Promise<Ended> {
  const paths = pathsGiven(session, given);
  if (isProblem(paths)) return paths;
  const goal = goalOf(options.goal);
  if (isProblem(goal)) return goal;
  const { into, since } = options;
  const asked = { paths, goal, ...(into === undefined ? {} : { into }), ...(since === undefined ? {} : { since }) };
  const all = await proposed(session, asked);
  if (isProblem(all)) return all;
  const { found } = all;
  // The pages are components by now.
  return told({ ...session, project: all.workspace.project }, found, given.length > 0, options);
}

function told(session: Session, found: Found, isNamed: boolean, options: ProposeOptions): Ended {
  const planText = json(planDocument(session, found));
  const unwritten =
    keepPlan(session.root, planText) ??
    (options.out === undefined ? undefined : writeOut(session.host, options.out, planText));
  if (unwritten) return unwritten;
  const { host } = session;
  if (session.json) host.out(json(proposeDocument(session, found)));
  else if (options.alternatives) host.out(alternativesText(session, found.weighed.alternatives));
  else if (options.states) host.out(statesText(session, found.weighed));
  else if (options.turnedDown) host.out(turnedDownList(session, found.plans));
  else {
    host.out(proposedText(session, found, isNamed, options.limit));
    const cuts = found.plans.reduce((n, p) => n + p.proposals.length + p.hooks.length, 0);
    const count = cuts + found.splits.length + found.homes.length + found.modules.length + found.repeats.length;
    if (count > 0) {
      const file = options.out ?? 'all';
      session.note(`take them with \`verkstad apply ${file}\`, or some: \`verkstad apply 1 2\``);
    }
  }
  return EXIT.done;
}

function writeOut(host: Host, path: string, text: string): Problem | undefined {
  try {
    writeFileSync(resolve(host.cwd, path), text);
    return undefined;
  } catch (error) {
    return problem('out-failed', { path }, (error as NodeJS.ErrnoException).code ?? String(error));
  }
}

function goalOf(given: string | undefined): Goal | Problem {
  const goal: { lines?: number; props?: number } = {};
  for (const part of given?.split(',') ?? []) {
    const match = /^\s*(lines|props)\s*=\s*([1-9]\d*)\s*$/.exec(part);
    if (!match) return problem('goal-format', { path: '--goal' }, given!);
    goal[match[1] as 'lines' | 'props'] = Number(match[2]);
  }
  return goal;
}
