/** Walking the markup tree. */
import type { Markup } from './model.js';

/** The lists of siblings directly under a node. A region is a run in one of these lists. */
export function childLists(node: Markup): (readonly Markup[])[] {
  switch (node.kind) {
    case 'element':
      return [...node.attributes.filter((a) => a.parts.length > 0).map((a) => a.parts), node.children];
    case 'fragment':
      return [node.children];
    case 'branch':
      return node.arms.map((arm) => arm.body);
    case 'loop':
      return [node.body];
    case 'expression':
      return [node.parts];
    case 'outlet':
      return node.fallback ? [node.fallback] : [];
    default:
      return [];
  }
}

/** Roots that are shown side by side, as the one piece of markup that they are. */
export function together(roots: readonly Markup[]): readonly Markup[] {
  const shown = roots.filter((node) => node.kind !== 'comment');
  if (shown.length < 2) return roots;
  return [{ kind: 'fragment', start: shown[0]!.start, end: shown[shown.length - 1]!.end, children: roots }];
}

/** Depth first, in text order. `visit` may answer `false` to leave out what is below. */
export function walkMarkup(
  nodes: readonly Markup[],
  // eslint-disable-next-line @typescript-eslint/no-invalid-void-type -- a visitor may answer nothing
  visit: (node: Markup, ancestors: readonly Markup[]) => boolean | undefined | void,
  ancestors: readonly Markup[] = [],
): void {
  for (const node of nodes) {
    if (visit(node, ancestors) === false) continue;
    const below = [...ancestors, node];
    for (const list of childLists(node)) walkMarkup(list, visit, below);
  }
}
