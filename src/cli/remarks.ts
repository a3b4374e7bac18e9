/** What else `propose` says of one component: reasons to change, states, what is handed on, what it takes, history. */
import type { Found } from '../library/propose.js';
import type { ComponentPlan, DrilledOffer, WeighedState } from '../core/index.js';
import { nameIn } from './proposed-tables.js';
import type { Session } from './session.js';
import { wrapped } from './wrapped.js';

/** Shorter components may have several reasons to change: all of it is on one screen. */
export const LONG = 80;

/** Whether anything comes out of a component. */
export function isCut({ proposals, hooks }: ComponentPlan): boolean {
  return proposals.length + hooks.length > 0;
}

/** What else there is to say of one component, a row each. */
export function remarksOn(session: Session, plan: ComponentPlan, { weighed, history, homes }: Found): string[] {
  const { colors: c } = session;
  const id = `${plan.path}#${plan.component}`;
  const isLong = isCut(plan) || plan.size.before > LONG;
  const rows: [string, string][] = [];
  const reasons = weighed.reasons.find((r) => r.component === id);
  if (reasons && isLong) {
    rows.push(['reasons', `to change: ${reasons.groups.length} groups that have nothing to do with one another`]);
    for (const group of reasons.groups) rows.push(['', `· ${namesOf(group.names, group.effects)}`]);
    if (reasons.shared.length > 0) rows.push(['', c.dim(`(several of them read ${reasons.shared.join(', ')})`)]);
  }
  for (const state of weighed.states.filter((s) => s.component === id)) {
    const isProposed = homes.some(
      ({ path, component, states }) => id === `${path}#${component.name}` && states.includes(state.name),
    );
    if (!isProposed) rows.push(...stateRemark(state));
  }
  const drilled = weighed.drilled.filter((d) => d.through[0] === id);
  for (const { name, through } of drilled)
    rows.push([
      'handed on',
      `${name} goes through ${through.slice(1, -1).map(nameIn).join(' and ')}, which ${through.length > 3 ? 'do' : 'does'} not use it, to ${nameIn(through.at(-1)!)}`,
    ]);
  for (const command of new Set(drilled.flatMap((d) => contentCommand(d) ?? []))) rows.push(['', command]);
  if (weighed.classes.includes(id)) rows.push(['class', 'it keeps nothing: a function would do']);
  const deciding = weighed.alternatives.filter((a) => a.component === id);
  for (const { value, forms, places } of isLong ? deciding : [])
    rows.push([
      'decides',
      `${value} (${forms.join(', ')}) at ${places.length} places; --alternatives lays two ways to cut side by side`,
    ]);
  for (const { props, uses, instead } of weighed.inputs.filter((i) => i.component === id)) {
    rows.push(['inputs', `takes ${props}, at ${uses} ${uses === 1 ? 'use' : 'uses'}`]);
    for (const way of instead) rows.push(['', `· ${way}`]);
  }
  if (isLong) rows.push(...historyRemarks(plan.path, history));
  if (rows.length === 0) return [];
  const lines = rows.flatMap(([head, text]) => {
    const [first, ...more] = wrapped(text, ' '.repeat(13));
    return [`  ${c.dim(head.padEnd(11))}${first!.slice(13)}`, ...more];
  });
  return isCut(plan) ? ['', ...lines] : lines;
}

function contentCommand({ content }: DrilledOffer): string | undefined {
  if (!content) return undefined;
  const without = content.dropped.map((d) => `${nameIn(d.component)} takes ${d.inputs.length} less`);
  return `· as content: verkstad through ${content.component} (${without.join(', ')})`;
}

function stateRemark({ name, home, needless }: WeighedState): [string, string][] {
  if (needless !== undefined) return [['state', `${name}: ${needless}`]];
  if (!home) return [];
  const count = home.lighter.length;
  return [
    [
      'state',
      `${name} is used by ${nameIn(home.component)} alone and could live there: ${count} ${count === 1 ? 'name' : 'names'} less here (${home.lighter.join(', ')})`,
    ],
  ];
}

function historyRemarks(path: string, history: Found['history']): [string, string][] {
  if (!history) return [];
  const own = history.often.find((f) => f.path === path);
  const rows: [string, string][] = own
    ? [['history', `${own.commits} of ${history.commits} commits since ${history.since}`]]
    : [];
  for (const { paths, commits, of } of history.together.filter((t) => t.paths.includes(path)).slice(0, 3))
    rows.push([
      rows.length === 0 ? 'history' : '',
      `${commits} of ${of} together with ${paths.find((p) => p !== path)!}`,
    ]);
  return rows;
}

function namesOf(names: readonly string[], effects: number): string {
  const count = effects === 0 ? [] : [`${effects} ${effects === 1 ? 'effect' : 'effects'}`];
  return [...names, ...count].join(', ');
}
