/** The lists of siblings in a template in which a region can be chosen. */
import type { Markup } from '../../markup/model.js';
import { regionOf, type Region } from '../../markup/region.js';
import { childLists, walkMarkup } from '../../markup/walk.js';
import type { Span } from '../../text/edits.js';

/**
 * An element with a condition or a loop on it takes up the room of all three: the element comes first, as what is meant. A template
 * is nothing without its loop.
 */
export function siblingLists(roots: readonly Markup[]): (readonly Markup[])[] {
  const lists: (readonly Markup[])[] = [roots];
  walkMarkup(roots, (node) => {
    const inner = childLists(node).filter(
      ([only]) => !(node.kind === 'loop' && only?.kind === 'element' && only.name === 'fragment'),
    );
    const same = inner.filter(
      (list) => list.length === 1 && list[0]!.start === node.start && list[0]!.end === node.end,
    );
    lists.unshift(...same);
    lists.push(...inner.filter((list) => !same.includes(list)));
  });
  return lists.filter((list) => list.length > 0);
}

/** The run of siblings that takes up just this span; `whole`: with the conditions and loops on its root. */
export function regionAt(roots: readonly Markup[], span: Span, whole: boolean): Region | undefined {
  const runs = siblingLists(roots).flatMap((list) => {
    const from = list.findIndex((node) => node.start === span.start);
    const to = list.findIndex((node) => node.end === span.end);
    return from >= 0 && to >= from ? [list.slice(from, to + 1)] : [];
  });
  const depth = (nodes: readonly Markup[]) => ['branch', 'loop', 'fragment'].indexOf(nodes[0]!.kind);
  const chosen = whole
    ? (runs.find((run) => depth(run) === 0) ?? runs.find((run) => depth(run) > 0) ?? runs[0])
    : runs[0];
  return chosen && regionOf(chosen);
}
