/** Figures about one component: a function from the model to data, in any language. */
import type { ComponentModel, Deed, Markup, Prop } from '../markup/model.js';
import { childLists, walkMarkup } from '../markup/walk.js';
import type { Lines } from '../text/lines.js';

export interface ComponentSummary {
  readonly name: string;
  readonly kind: ComponentModel['kind'];
  readonly exported: ComponentModel['exported'];
  /** 1-based, inclusive. */
  readonly lines: readonly [number, number];
  /** UTF-16 offsets, `[start, end)`. */
  readonly range: readonly [number, number];
  readonly props: readonly Prop[];
  readonly openProps: boolean;
  readonly state: readonly string[];
  readonly effects: number;
  readonly handlers: number;
  readonly branches: number;
  readonly loops: number;
  readonly elements: number;
  /** Deepest nesting of elements. */
  readonly depth: number;
  readonly deeds: readonly Deed[];
  /** Component tags as written, in order of first use. */
  readonly tags: readonly string[];
  readonly stateful: boolean;
}

export function summarize(component: ComponentModel, lines: Lines): ComponentSummary {
  const counts = { branches: 0, loops: 0, elements: 0 };
  walkMarkup(component.markup, (node) => {
    if (node.kind === 'branch') counts.branches += node.arms.length > 2 ? node.arms.length - 1 : 1;
    else if (node.kind === 'loop') counts.loops++;
    else if (node.kind === 'element') counts.elements++;
  });
  const named = (kind: string) => component.bindings.filter((b) => b.kind === kind).map((b) => b.name);
  const state = named('state');
  const effects = named('effect').length;
  const deeds = component.deeds.filter((d) => d !== 'touches refs');
  return {
    name: component.name,
    kind: component.kind,
    exported: component.exported,
    lines: lines.range(component),
    range: [component.start, component.end],
    props: component.props,
    openProps: component.openProps,
    state,
    effects,
    handlers: named('handler').length,
    ...counts,
    depth: depthOf(component.markup),
    deeds: component.deeds,
    tags: tagsIn(component.markup),
    stateful: state.length > 0 || effects > 0 || deeds.length > 0,
  };
}

export function tagsIn(nodes: readonly Markup[]): string[] {
  const tags = new Set<string>();
  walkMarkup(nodes, (node) => void (node.kind === 'element' && node.component && tags.add(node.name)));
  return [...tags];
}

function depthOf(nodes: readonly Markup[]): number {
  let deepest = 0;
  for (const node of nodes) {
    let below = 0;
    for (const list of childLists(node)) below = Math.max(below, depthOf(list));
    deepest = Math.max(deepest, below + (node.kind === 'element' ? 1 : 0));
  }
  return deepest;
}
