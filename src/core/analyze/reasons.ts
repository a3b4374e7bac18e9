/**
 * Reasons to change: groups of state, effects and handlers of one component that are tied to each other and to nothing
 * else in it. Props and contexts tie nothing: everything reads them.
 */
import type { Binding } from '../markup/model.js';
import type { Value } from './uses.js';

export interface Reason {
  /** Names of the group, in the order of their declaration; an effect has none, and is counted. */
  readonly names: readonly string[];
  readonly effects: number;
  readonly bindings: readonly Binding[];
}

export interface Reasons {
  /** Groups of two and more, in text order. */
  readonly groups: readonly Reason[];
  /** What several groups read and would otherwise make them one. */
  readonly shared: readonly string[];
}

/** Bindings that make a reason of a group: what lives as long as the component, or reaches out of it. */
const LIVING = new Set(['state', 'effect', 'hook', 'ref']);
const APART = new Set(['prop', 'context']);

export function reasonsOf(values: readonly Value[]): Reasons {
  const members = values.filter((v) => !APART.has(v.binding.kind));
  const shared: Binding[] = [];
  let groups = groupsOf(members, shared);
  // A value that everything reads ties what has nothing else to do with one another: without it there are more groups.
  for (;;) {
    const next = members
      .filter((v) => v.binding.kind !== 'effect' && !shared.includes(v.binding) && readersOf(v) > 2)
      .map((v) => ({ binding: v.binding, groups: groupsOf(members, [...shared, v.binding]) }))
      .sort((a, b) => b.groups.length - a.groups.length)[0];
    if (!next || next.groups.length <= groups.length) break;
    shared.push(next.binding);
    groups = next.groups;
  }
  return {
    groups: groups.map((bindings) => ({
      names: bindings.filter((b) => b.name !== '').map((b) => b.name),
      effects: bindings.filter((b) => b.kind === 'effect').length,
      bindings,
    })),
    shared: shared.map((b) => b.name),
  };
}

function readersOf(value: Value): number {
  return new Set(value.uses.map((u) => u.by ?? u.handler)).size;
}

/** Bindings that hang together, without those that are `apart`. */
function groupsOf(members: readonly Value[], apart: readonly Binding[]): Binding[][] {
  const groupOf = new Map<Binding, Set<Binding>>();
  for (const { binding } of members) if (!apart.includes(binding)) groupOf.set(binding, new Set([binding]));
  const join = (a: Binding, b: Binding) => {
    const [left, right] = [groupOf.get(a), groupOf.get(b)];
    if (!left || !right || left === right) return;
    for (const binding of right) groupOf.set(binding, left.add(binding));
  };
  const handlers = new Map<string, Binding>();
  for (const { binding, uses } of members)
    for (const use of apart.includes(binding) ? [] : uses) {
      if (use.by) join(use.by, binding);
      // A function in the markup ties what it uses.
      if (use.handler === undefined) continue;
      const other = handlers.get(use.handler);
      if (other) join(other, binding);
      else handlers.set(use.handler, binding);
    }
  return [...new Set(groupOf.values())]
    .map((group) => [...group].sort((a, b) => a.start - b.start))
    .filter((group) => group.length > 1 && group.some((b) => LIVING.has(b.kind)))
    .sort((a, b) => a[0]!.start - b[0]!.start);
}
