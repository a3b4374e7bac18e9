/**
 * Second phase: sets of places that may be one thing. Equal shapes meet in buckets of their fingerprint, near ones in
 * buckets of their sketch; nothing is ever compared with everything, and buckets are bounded.
 */
import { FLAGS, type Forms } from '../../forms/forms.js';
import { LANES, mix, runKey, shapeKey, sketchesOf, type Shapes } from '../../forms/hash.js';
import { similarity, type Place } from '../../forms/align.js';
import { isMarkup, siblingsIn } from '../../forms/parts.js';
import type { Collected } from './collect.js';
import { Buckets, isEnumeration, Joined, MOST_LEADERS, placeOf } from './groups.js';
import { isDeclared, listedLogic } from './logic.js';

export type RepeatKind = 'markup' | 'logic' | 'frame';

export interface CandidateGroup {
  readonly kind: RepeatKind;
  readonly places: readonly Place[];
  /** Seen by a reader, and by no step yet: logic that hangs on its host, or that is alike but for an edit. */
  readonly listed?: true;
}

/** Smallest markup, logic and near repeat that is looked at, in nodes of the neutral form. */
const LEAST = { markup: 9, often: 7, run: 10, logic: 12, hook: 30, derived: 18, near: 16, frame: 5 };
/** Places from which something small is looked at. */
const OFTEN = 5;
/** Longest run of siblings or statements that is looked for as one thing. */
const LONGEST_RUN = 6;
/** How alike two shapes must be to be one thing with an edit. */
const NEAR = 0.55;
/** Lanes of two sketches that must agree before the elements are compared themselves. */
const LEAST_LANES = 4;

export function findCandidates({ forms, components }: Collected, shapes: Shapes): CandidateGroup[] {
  const kinds = new NodeKinds(forms);
  const singles = new Buckets();
  const runs = new Buckets();
  const logic = new Buckets();
  const leave = new Set(forms.left);
  for (let node = 0; node < forms.length; node++) {
    if (leave.has(node)) {
      node += forms.size[node]! - 1;
      continue;
    }
    const kind = kinds.of(node);
    const size = forms.size[node]!;
    if (kind === 'call' && isEnumeration(forms, node)) {
      node += size - 1;
      continue;
    }
    if (kind === 'element' && size >= LEAST.often) singles.add(rootKey(forms, shapes, node), placeOf(forms, node));
    if (kind === 'element' || kind === 'list') addRuns(forms, shapes, siblingsIn(forms, node), runs, LEAST.run);
    if (kind === 'function' && size >= LEAST.logic && isPlainLogic(forms, node) && isDeclared(forms, node))
      logic.add(shapeKey(shapes, node), placeOf(forms, node));
    if (kind === 'block' && (forms.flags[node]! & FLAGS.hook) !== 0) addHookRuns(forms, shapes, node, logic);
    if (kind === 'declarator') addDerived(forms, shapes, node, logic);
  }
  const near = nearGroups(forms, shapes, singles, leave);
  // What is small has to stand there often.
  const isOften = (places: readonly Place[]) => width(places) >= LEAST.markup || places.length >= OFTEN;
  const exact = [...singles.groups().filter(isOften), ...runs.groups(), ...logic.groups()];
  const [whole, rest] = partition(listedLogic(forms, shapes, leave), ([place]) => showsMarkup(forms, place!));
  return [
    ...frameGroups(
      forms,
      shapes,
      components.map((c) => c.root),
    ),
    ...near.map((places): CandidateGroup => ({ kind: 'markup', places })),
    ...maximal(forms, exact).map((places): CandidateGroup => ({
      kind: isMarkup(forms, places[0]!.first) ? 'markup' : 'logic',
      places,
    })),
    // Two components that are alike do not settle what their logic has in common.
    ...[...maximal(forms, whole), ...maximal(forms, rest)].map((places): CandidateGroup => ({
      kind: 'logic',
      places,
      listed: true,
    })),
  ];
}

function partition<T>(items: readonly T[], isFirst: (item: T) => boolean): [T[], T[]] {
  const parts: [T[], T[]] = [[], []];
  for (const item of items) parts[isFirst(item) ? 0 : 1].push(item);
  return parts;
}

/** Whether a piece of logic shows something. */
export function showsMarkup(forms: Forms, { first, end }: Place): boolean {
  for (let node = first; node < end; node += forms.size[node]!)
    if ((forms.flags[node]! & FLAGS.markup) !== 0) return true;
  return false;
}

type NodeKind = 'element' | 'list' | 'function' | 'block' | 'declarator' | 'call' | 'other';

/** What a node is to this phase, by label. */
class NodeKinds {
  readonly #byLabel: NodeKind[] = [];

  constructor(readonly forms: Forms) {}

  of(node: number): NodeKind {
    const label = this.forms.label[node]!;
    return (this.#byLabel[label] ??= kindOf(this.forms.labelOf(node)));
  }
}

function kindOf(label: string): NodeKind {
  if (label.startsWith('<')) return 'element';
  if (label === 'fragment' || label === 'arm') return 'list';
  if (/^(?:FunctionDeclaration|FunctionExpression|ArrowFunctionExpression)/.test(label)) return 'function';
  if (label === 'BlockStatement') return 'block';
  if (label.startsWith('CallExpression')) return 'call';
  return label === 'VariableDeclarator' ? 'declarator' : 'other';
}

/** The key of the root belongs to the use and does not count. */
function rootKey(forms: Forms, shapes: Shapes, node: number): number {
  const key = forms.partsOf(node).find((part) => (forms.flags[part]! & FLAGS.key) !== 0);
  if (key === undefined) return shapeKey(shapes, node);
  return mix(
    runKey(
      shapes,
      forms.partsOf(node).filter((part) => part !== key),
    ),
    forms.label[node]!,
  );
}

/** Functions with a body of their own that hold no markup and nothing of a host. */
function isPlainLogic(forms: Forms, node: number): boolean {
  return (forms.flags[node]! & (FLAGS.markup | FLAGS.host)) === 0;
}

function addRuns(forms: Forms, shapes: Shapes, siblings: readonly number[], runs: Buckets, least: number): void {
  if (siblings.length < 3) return;
  const text = forms.intern('text', 'markup');
  for (let from = 0; from + 1 < siblings.length; from++) {
    const first = siblings[from]!;
    if (forms.label[first] === text) continue;
    let size = 0;
    let alike = true;
    const run: number[] = [];
    for (let to = from; to < Math.min(siblings.length, from + LONGEST_RUN); to++) {
      const last = siblings[to]!;
      run.push(last);
      size += forms.size[last]!;
      alike &&= shapes.a[last] === shapes.a[first];
      // A run of equal siblings is many places of one of them.
      if (run.length < 2 || alike || size < least || run.length === siblings.length || forms.label[last] === text)
        continue;
      runs.add(runKey(shapes, run), { first, end: last + forms.size[last]! });
    }
  }
}

/** Statements of a component that keep state and its effects together: what could be one hook. */
function addHookRuns(forms: Forms, shapes: Shapes, block: number, logic: Buckets): void {
  const statements = forms.partsOf(block);
  const usable = (n: number) =>
    isPlainLogic(forms, n) && /^(?:VariableDeclaration|ExpressionStatement|FunctionDeclaration)/.test(forms.labelOf(n));
  for (let from = 0; from < statements.length; from++) {
    let size = 0;
    let hooks = 0;
    for (let to = from; to < Math.min(statements.length, from + LONGEST_RUN); to++) {
      const last = statements[to]!;
      if (!usable(last)) break;
      size += forms.size[last]!;
      if ((forms.flags[last]! & FLAGS.hook) !== 0) hooks++;
      if (hooks === 0 || size < LEAST.hook) continue;
      const run = statements.slice(from, to + 1);
      logic.add(runKey(shapes, run), { first: run[0]!, end: last + forms.size[last]! });
    }
  }
}

/** A value that is worked out, as in `const total = …`. */
function addDerived(forms: Forms, shapes: Shapes, declarator: number, logic: Buckets): void {
  const value = forms.partsOf(declarator)[1];
  if (value === undefined || forms.size[value]! < LEAST.derived || !isPlainLogic(forms, value)) return;
  if (isEnumeration(forms, value)) return;
  if ((forms.flags[value]! & (FLAGS.hook | FLAGS.await)) !== 0 || !/^CallExpression/.test(forms.labelOf(value))) return;
  logic.add(shapeKey(shapes, value), placeOf(forms, value));
}

/**
 * Leaves out a group that stands whole, place by place, inside the places of another one with as many places: four cards
 * take in their four headings, but not the eight terms inside them.
 */
function maximal(forms: Forms, groups: readonly Place[][]): Place[][] {
  const byCount = new Map<number, Place[][]>();
  for (const group of groups) {
    const level = byCount.get(group.length);
    if (level) level.push(group);
    else byCount.set(group.length, [group]);
  }
  const owner = new Int32Array(forms.length);
  const kept: Place[][] = [];
  for (const level of byCount.values()) {
    const own: Place[][] = [];
    for (const group of level.sort((x, y) => width(y) - width(x))) {
      const around = owner[group[0]!.first]!;
      if (around > 0 && group.every((place) => owner[place.first] === around)) continue;
      own.push(group);
      for (const place of group) owner.fill(own.length, place.first, place.end);
    }
    for (const group of own) for (const place of group) owner.fill(0, place.first, place.end);
    kept.push(...own);
  }
  return kept;
}

function width(group: readonly Place[]): number {
  return group[0]!.end - group[0]!.first;
}

/** Elements of different shapes that share most of their pieces, each group with all places of its shapes. */
function nearGroups(forms: Forms, shapes: Shapes, singles: Buckets, leave: ReadonlySet<number>): Place[][] {
  const kinds = new NodeKinds(forms);
  const isElement = (node: number) => kinds.of(node) === 'element';
  const { elements, lanes } = sketchesOf(forms, shapes, isElement, LEAST.near);
  const shapeOf = new Map<number, Place[]>();
  for (const list of singles.lists()) for (const place of list) shapeOf.set(place.first, list);
  const bands = new Map<number, { readonly shape: Place[]; readonly at: number }[]>();
  const alikeLanes = (x: number, y: number) => {
    let same = 0;
    for (let lane = 0; lane < LANES; lane++) if (lanes[x * LANES + lane] === lanes[y * LANES + lane]) same++;
    return same;
  };
  const joined = new Joined<Place[]>();
  elements.forEach((node, i) => {
    const shape = shapeOf.get(node);
    // One place stands for its shape; the rest are joined with it anyway.
    if (!shape || shape[0]!.first !== node || leave.has(node)) return;
    for (let lane = 0; lane < LANES; lane += 2) {
      const pair = mix(mix(lanes[i * LANES + lane]!, lanes[i * LANES + lane + 1]!), lane);
      const key = mix(forms.label[node]!, pair);
      const bucket = bands.get(key) ?? [];
      bands.set(key, bucket);
      for (const other of bucket.slice(-MOST_LEADERS)) {
        if (joined.same(shape, other.shape) || alikeLanes(i, other.at) < LEAST_LANES) continue;
        const [x, y] = [node, other.shape[0]!.first];
        const ratio = forms.size[x]! / forms.size[y]!;
        const nested = (y <= x && x < y + forms.size[y]!) || (x <= y && y < x + forms.size[x]!);
        if (!nested && ratio > 0.6 && ratio < 1.67 && similarity(forms, shapes, x, y) >= NEAR)
          joined.join(shape, other.shape);
      }
      bucket.push({ shape, at: i });
    }
  });
  return joined.groups().map((lists) => lists.flat().sort((x, y) => x.first - y.first));
}

/** Pages and page components whose outermost element begins or ends with the same siblings. */
function frameGroups(forms: Forms, shapes: Shapes, roots: readonly number[]): CandidateGroup[] {
  const edges = new Map<number, number[]>();
  const joined = new Joined<number>();
  for (const root of roots.flatMap((r) => wrapped(forms, r))) {
    const siblings = siblingsIn(forms, root);
    if (siblings.length < 2 || !/^(?:<|fragment$)/.test(forms.labelOf(root))) continue;
    for (const edge of [0, siblings.length - 1]) {
      const sibling = siblings[edge]!;
      if (forms.size[sibling]! < LEAST.frame) continue;
      const key = mix(mix(forms.label[root]!, edge === 0 ? 1 : 2), frameSketch(forms, shapes, sibling));
      const bucket = edges.get(key) ?? [];
      edges.set(key, bucket);
      const first = bucket[0];
      if (first !== undefined) joined.join(root, first);
      bucket.push(root);
    }
  }
  return joined
    .groups()
    .map((nodes) => ({ kind: 'frame', places: nodes.sort((x, y) => x - y).map((n) => placeOf(forms, n)) }));
}

/** A root, and what wrappers around nearly all of a page hold. */
function wrapped(forms: Forms, root: number): number[] {
  const chain = [root];
  for (let at = root; chain.length < MOST_WRAPPERS;) {
    const inner = siblingsIn(forms, at).find((node) => forms.size[node]! > forms.size[root]! * NEARLY_ALL);
    if (inner === undefined) break;
    chain.push(inner);
    at = inner;
  }
  return chain;
}

const MOST_WRAPPERS = 4;
/** Share of a page that the content of a wrapper has. */
const NEARLY_ALL = 0.8;

/** Elements of a head or foot by label and order; attributes may differ, as on the active entry of a navigation. */
function frameSketch(forms: Forms, shapes: Shapes, node: number): number {
  let hash = 17;
  for (let at = node; at < node + forms.size[node]!; at++)
    if (forms.labelOf(at).startsWith('<') || forms.labelOf(at) === 'text') hash = mix(hash, forms.label[at]!);
  return hash;
}
