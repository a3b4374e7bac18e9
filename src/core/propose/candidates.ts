/** The regions of a file that a person might think of cutting out. */
import type { Markup } from '../markup/model.js';
import { regionOf, type Region } from '../markup/region.js';
import { walkMarkup } from '../markup/walk.js';

/** Elements of at least `lines` lines, bodies of loops, arms of branches, and runs of neighbours. */
export function candidateRegions(text: string, roots: readonly Markup[], lines = 5): Region[] {
  const found = new Map<string, Region>();
  const add = (nodes: readonly Markup[]) => {
    if (nodes.length === 0 || nodes.every((n) => n.kind === 'comment' || n.kind === 'text' || n.kind === 'opaque'))
      return;
    const region = regionOf(nodes);
    found.set(`${region.start}-${region.end}`, region);
  };
  const tall = (node: Markup) => text.slice(node.start, node.end).split('\n').length >= lines;
  walkMarkup(roots, (node) => {
    if (node.kind === 'element' && tall(node)) add([node]);
    if (node.kind === 'loop' && node.body.length === 1) add(node.body);
    if (node.kind === 'branch')
      for (const arm of node.arms) if (arm.body.length === 1 && isMarkup(arm.body[0]!)) add(arm.body);
    if (node.kind === 'element' || node.kind === 'fragment') {
      const children = node.children.filter((c) => c.kind !== 'comment');
      for (let i = 0; i + 1 < children.length; i += 2) {
        const run = node.children.slice(
          node.children.indexOf(children[i]!),
          node.children.indexOf(children[i + 1]!) + 1,
        );
        if (run.some((n) => n.kind === 'element' && tall(n))) add(run);
      }
    }
  });
  return [...found.values()].sort((a, b) => a.start - b.start || b.end - a.end);
}

function isMarkup(node: Markup): boolean {
  return node.kind === 'element' || node.kind === 'fragment' || node.kind === 'loop' || node.kind === 'branch';
}
