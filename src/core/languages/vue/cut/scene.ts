/** A region of a template and its surroundings: what stays with the use, what is bound where, who reads what. */
import type { Attribute, ElementNode, Markup } from '../../../markup/model.js';
import { childLists, walkMarkup } from '../../../markup/walk.js';
import { problem, isProblem, type Problem } from '../../../problems/problems.js';
import type { Node } from '../../../script/parser.js';
import { identifierEnd, type Reference, type Variable } from '../../../script/scopes.js';
import { boundNames, spanOf, within } from '../../../script/walk.js';
import type { CutRequest } from '../../../language/cutting.js';
import type { Span } from '../../../text/edits.js';
import { lower, type Lowered } from '../lower.js';
import { directiveOf, isDirective } from '../pieces.js';
import { parseSfc, type Sfc } from '../sfc.js';
import { isElement, spanOf as placeOf } from '../markup.js';
import type { ElementNode as Tag, TemplateChildNode } from '../template.js';

/** A declaration that leaves the host with the region. */
export interface Moved {
  /** A statement of script setup, or a property of an option. */
  readonly span: Span;
  readonly option: 'data' | 'computed' | 'methods' | undefined;
  readonly nature: 'function' | 'derived' | 'state';
  readonly node: Node;
  readonly variables: readonly Variable[];
}

export interface Scene {
  readonly request: CutRequest;
  readonly sfc: Sfc;
  readonly lowered: Lowered;
  readonly text: string;
  readonly region: Span;
  readonly nodes: readonly Markup[];
  /** The one element that the region is, when its conditions and loops stay with the use. */
  readonly root: Tag | undefined;
  /** Directives of the root that stay with the use, in text order. */
  readonly stays: readonly Span[];
  /** Declarations of the scripts that leave with it. */
  readonly moved: readonly Moved[];
  /** Everything in the template that stands in the region, outermost first. */
  readonly elements: readonly ElementNode[];
}

export function sceneOf(request: CutRequest): Scene | Problem {
  const { file, region } = request;
  const sfc = parseSfc(file, request.ports);
  if (isProblem(sfc)) return sfc;
  const at = { path: file.path, span: { start: region.start, end: region.end } };
  const tags = tagsWithin(sfc.shown, region);
  const lone = tags.length === 1 && region.nodes.length === 1 && region.nodes[0]!.kind === 'element';
  // A template shows nothing of its own: what stands on it goes with its content.
  const only = lone && tags[0]!.tag !== 'template' ? tags[0]! : undefined;
  const slot = tags.find((tag) => tag.tag === 'template' && directiveOf(tag, 'slot'));
  if (slot) return problem('region-opaque', { ...at, span: placeOf(slot) }, 'content for a slot');
  const elements: ElementNode[] = [];
  walkMarkup(region.nodes, (node) => {
    if (node.kind === 'element') elements.push(node);
  });
  return {
    request,
    sfc,
    lowered: lower(sfc),
    text: file.text,
    region: { start: region.start, end: region.end },
    nodes: region.nodes,
    root: only,
    stays: only ? staying(only) : [],
    moved: [],
    elements,
  };
}

/** The tags that stand directly in a span. */
function tagsWithin(nodes: readonly TemplateChildNode[], span: Span): Tag[] {
  const inside = nodes.filter((node): node is Tag => isElement(node) && within(placeOf(node), span));
  if (inside.length > 0) return inside;
  for (const node of nodes) if (isElement(node) && within(span, placeOf(node))) return tagsWithin(node.children, span);
  return [];
}

/** The tag that begins at an offset. */
export function tagAt(nodes: readonly TemplateChildNode[], start: number): Tag | undefined {
  for (const node of nodes) {
    if (!isElement(node)) continue;
    const at = placeOf(node);
    if (at.start === start) return node;
    if (at.start < start && at.end > start) return tagAt(node.children, start);
  }
  return undefined;
}

/** What says whether, how often and for whom an element is there belongs to the place, not to the element. */
export function staying(tag: Tag): Span[] {
  return tag.props
    .filter((prop) => {
      if (!isDirective(prop)) return prop.name === 'key' || prop.name === 'slot' || prop.name === 'slot-scope';
      if (['if', 'else-if', 'else', 'for', 'memo'].includes(prop.name)) return true;
      return prop.name === 'bind' && prop.arg?.loc.source === 'key';
    })
    .map(placeOf)
    .sort((a, b) => a.start - b.start);
}

/** Whether something belongs to what leaves the host. */
export function goes(scene: Scene, span: Span): boolean {
  if (scene.moved.some((m) => within(span, m.span))) return true;
  // What a person asked for is the host's; where places differ, what differs is looked at as what it is.
  const asked = scene.request.alone ? (scene.request.inputs ?? []).flatMap((input) => input.stays) : [];
  return within(span, scene.region) && ![...scene.stays, ...asked].some((s) => within(span, s));
}

/** References in what leaves, in text order. */
export function leaving(scene: Scene, span?: Span): Reference[] {
  const asked = span ? [span] : [...scene.moved.map((m) => m.span), scene.region];
  return asked
    .flatMap((within) => scene.lowered.scopes.within(within))
    .filter((r) => goes(scene, { start: r.identifier.range[0], end: identifierEnd(r.identifier) }));
}

/** Whether a name is bound inside of what leaves. */
export function isInner(scene: Scene, variable: Variable): boolean {
  return variable.identifiers.some((id) => goes(scene, spanOf(id)));
}

/** The name as the template writes it: `this.hive` and `props.hive` are `hive` there. */
export function plainName(variable: Variable): string {
  return variable.name.replace(/^(?:this|props)\./, '');
}

/** What a region needs of the component around it by name. */
export function isOuter(scene: Scene, variable: Variable | null): variable is Variable {
  return Boolean(
    variable && variable.defs.length > 0 && !isInner(scene, variable) && !scene.lowered.scopes.isModuleLevel(variable),
  );
}

/** Names that loops and slots in the region bind. */
export function boundIn(scene: Scene): Set<string> {
  const names = new Set<string>();
  walkMarkup(scene.nodes, (node) => {
    if (node.kind === 'loop') for (const name of node.items) names.add(name);
    if (node.kind !== 'element') return;
    for (const name of node.attributes.flatMap((a) => a.binds ?? []).flatMap(boundNames)) names.add(name);
  });
  return names;
}

/** Attributes of elements in the region, each with its element. */
export function attributesIn(scene: Scene): { readonly attribute: Attribute; readonly element: ElementNode }[] {
  return scene.elements.flatMap((element) =>
    element.attributes.filter((attribute) => goes(scene, attribute)).map((attribute) => ({ attribute, element })),
  );
}

/** Outlets in the region. */
export function outletsIn(scene: Scene): Extract<Markup, { kind: 'outlet' }>[] {
  const found: Extract<Markup, { kind: 'outlet' }>[] = [];
  const visit = (nodes: readonly Markup[]): void => {
    for (const node of nodes) {
      if (node.kind === 'outlet') found.push(node);
      else childLists(node).forEach(visit);
    }
  };
  visit(scene.nodes);
  return found;
}
