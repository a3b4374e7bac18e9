/**
 * Style rules that follow their markup. A rule whose subject is only in the region moves, one that both sides need stands
 * in both. The root of the new component keeps the scope of its host as well, so the rules for it stay in one order.
 */
import type { ElementNode, Markup } from '../../../markup/model.js';
import { walkMarkup } from '../../../markup/walk.js';
import { within } from '../../../script/walk.js';
import { divideSheet, rebasedSheet, type Collected, type MovedStyles, type Sides } from '../../style-rules.js';
import { styledOf, type Styled } from '../../stylesheet.js';
import { hasAttribute } from '../sfc.js';
import type { Habits } from './habits.js';
import { outletsIn, type Scene } from './scene.js';

/** `others`: further regions of the file that leave it as well. */
export function moveStyles(scene: Scene, habits: Habits, others: readonly Scene[] = []): MovedStyles {
  const result: Collected = { blocks: [], edits: [], reads: [], notes: [] };
  for (const block of scene.sfc.styles) {
    const isModule = hasAttribute(block.node, 'module');
    if ((!hasAttribute(block.node, 'scoped') && !isModule) || block.src !== undefined) continue;
    const css = scene.text.slice(block.inner.start, block.inner.end);
    const sides = isModule ? moduleSides(scene) : scopedSides(scene, others);
    const entries = scene.request.ports.styles?.parse(css, block.lang ?? 'css');
    divideSheet(scene.text, block, entries, sides, habits.lineEnd, result);
  }
  const { file, target = file.path } = scene.request;
  return { ...result, blocks: result.blocks.map((block) => rebasedSheet(block, file.path, target)) };
}

function scopedSides(scene: Scene, others: readonly Scene[]): Sides {
  const regions = [scene, ...others].map((s) => s.region);
  const rest: ElementNode[] = [];
  let outlets = 0;
  walkMarkup(scene.lowered.markup, (node) => {
    if (node.kind === 'element' && !regions.some((region) => within(node, region))) rest.push(node);
    if (node.kind === 'outlet') outlets++;
  });
  const own = outletsIn(scene).length;
  const roots = rootsOf(scene.nodes);
  return {
    region: scene.elements.map(styledOf),
    // Only a lone root keeps the scope of its host.
    roots: roots.length === 1 ? roots.map(styledOf) : [],
    rest: rest.map(styledOf),
    around: rest.filter((e) => e.start <= scene.region.start && e.end >= scene.region.end).map(styledOf),
    outlets: { region: own > 0, rest: outlets > own },
  };
}

function rootsOf(nodes: readonly Markup[]): ElementNode[] {
  return nodes.flatMap((node): ElementNode[] => {
    if (node.kind === 'element') return [node];
    // One arm at a time is shown.
    return node.kind === 'branch' ? node.arms.flatMap((arm) => rootsOf(arm.body)) : [];
  });
}

/** With modules, a class is used where `$style` names it. */
function moduleSides(scene: Scene): Sides {
  const named = (text: string): Styled => ({
    tag: undefined,
    classes: new Set([...text.matchAll(/\$style(?:\.([\w-]+)|\[['"]([^'"]+)['"]\])/g)].map((m) => m[1] ?? m[2] ?? '')),
    open: /\$style(?!\.|\[['"])/.test(text),
    id: undefined,
  });
  const { region, text } = scene;
  return {
    region: [named(text.slice(region.start, region.end))],
    roots: [],
    around: [],
    rest: [named(text.slice(0, region.start) + text.slice(region.end))],
    outlets: { region: false, rest: false },
  };
}
