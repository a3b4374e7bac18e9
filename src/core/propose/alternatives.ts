/**
 * Two ways to cut a component in which one value decides what is shown in several places: by section, with the switch
 * inside of each, as its plan does; and by variant, one component for each form, chosen between once.
 */
import { decidersOf, type Decider } from '../analyze/conditions.js';
import type { ComponentTree, TreeNode } from '../analyze/tree.js';
import type { Resolved } from '../analyze/uses.js';
import { spanOf, within } from '../script/walk.js';
import type { Span } from '../text/edits.js';
import { Lines } from '../text/lines.js';
import type { ComponentPlan } from './regions/propose.js';

export interface Way {
  readonly way: 'section' | 'variant';
  /** The host among them. */
  readonly components: number;
  /** Lines of the host, and of the longest of the others. */
  readonly lines: readonly [host: number, longest: number];
  /** Props, events and slots that cross all boundaries together. */
  readonly crossing: number;
  /** Lines of markup that would then stand more than once. */
  readonly twice: number;
}

export interface Alternatives {
  readonly component: string;
  readonly value: string;
  readonly forms: readonly string[];
  /** Lines of the branches that it decides. */
  readonly places: readonly (readonly [number, number])[];
  readonly ways: readonly [Way, Way];
}

/** For each value that decides in several places of a component, both ways. */
export function alternativesOf(tree: ComponentTree, node: TreeNode, plan: ComponentPlan): readonly Alternatives[] {
  const module = tree.resolved(node.path);
  if (!module) return [];
  const lines = new Lines(node.file.text);
  return decidersOf(node.component, module).map((decider) => ({
    component: node.id,
    value: decider.value,
    forms: decider.forms,
    places: decider.places.map((place) => lines.range(place)),
    ways: [bySection(plan, lines), byVariant(node, module, decider, lines)],
  }));
}

function bySection({ proposals, size }: ComponentPlan, lines: Lines): Way {
  const widths = proposals.map(({ seam }) => seam.props.length + seam.events.length + seam.slots.length);
  return {
    way: 'section',
    components: proposals.length + 1,
    lines: [size.after, Math.max(0, ...proposals.map((p) => heightOf(p.region, lines)))],
    crossing: widths.reduce((sum, n) => sum + n, 0),
    twice: 0,
  };
}

function byVariant({ component }: TreeNode, module: Resolved, decider: Decider, lines: Lines): Way {
  const markup = component.markup.map(({ start, end }) => ({ start, end }));
  const whole = sum(markup.map((span) => heightOf(span, lines)));
  const shown = decider.hidden.map((spans) => whole - sum(outermost(spans).map((span) => heightOf(span, lines))));
  const decided = sum(outermost(decider.places).map((span) => heightOf(span, lines)));
  const own = heightOf(component, lines);
  return {
    way: 'variant',
    components: decider.forms.length + 1,
    lines: [own - whole + 2 * decider.forms.length, Math.max(...shown)],
    crossing: sum(decider.hidden.map((hidden) => namesCrossing(module, markup, hidden))),
    twice: Math.max(0, (decider.forms.length - 1) * (whole - decided)),
  };
}

/** Names of the component that a form's markup reads. */
function namesCrossing({ scopes }: Resolved, markup: readonly Span[], hidden: readonly Span[]): number {
  const names = new Set<object>();
  for (const span of markup)
    for (const { identifier, resolved } of scopes.within(span)) {
      if (!resolved || resolved.defs.length === 0 || scopes.isModuleLevel(resolved)) continue;
      if (hidden.some((h) => within(spanOf(identifier), h))) continue;
      const isOwn = resolved.identifiers.some(
        (id) => id.range[1] > id.range[0] && markup.some((m) => within(spanOf(id), m)),
      );
      if (!isOwn) names.add(resolved);
    }
  return names.size;
}

function outermost(spans: readonly Span[]): Span[] {
  return spans.filter((s, i) => !spans.some((o, j) => within(s, o) && (j < i || !within(o, s))));
}

function heightOf(span: Span, lines: Lines): number {
  const [first, last] = lines.range(span);
  return last - first + 1;
}

function sum(list: readonly number[]): number {
  return list.reduce((total, n) => total + n, 0);
}
