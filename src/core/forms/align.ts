/**
 * The most specific common form of several places (their anti-unification, after Plotkin and Reynolds), with holes where
 * they differ. One place is the reference; every other is paired with it part by part, lists of siblings by the best
 * common subsequence. Names that a place binds itself may differ freely; all else that differs becomes a hole.
 */
import { FLAGS, type Forms } from './forms.js';
import type { Shapes } from './hash.js';
import { Holes, type Hole, type Paired, type Place } from './holes.js';
import { attributesOf, siblingsIn } from './parts.js';

export type { AttributeHole, Hole, Place, RunHole, ValueHole } from './holes.js';

export interface Alignment {
  readonly places: readonly Place[];
  /** Index of the place that the holes and counterparts speak of. */
  readonly reference: number;
  readonly holes: readonly Hole[];
  /** For each place, the node that answers to each node of the reference, by its index less the first; -1 for none. */
  readonly counterparts: readonly Int32Array[];
}

/** Undefined where the places have no form in common. `pages`: what they share is looked for around their contents. */
export function align(forms: Forms, shapes: Shapes, places: readonly Place[], pages = false): Alignment | undefined {
  let reference = 0;
  places.forEach((place, i) => {
    if (place.end - place.first > places[reference]!.end - places[reference]!.first) reference = i;
  });
  const pairings: Pairing[] = [];
  for (const place of places) {
    const pairing = new Pairing(forms, shapes, places[reference]!, place, pages);
    if (!pairing.run()) return undefined;
    pairings.push(pairing);
  }
  const holes = new Holes(forms, places[reference]!, pairings).all();
  return { places, reference, holes, counterparts: pairings.map((p) => p.counterparts) };
}

/** Share of nodes that two nodes have in common, 0 to 1. */
export function similarity(forms: Forms, shapes: Shapes, x: number, y: number): number {
  const place = (node: number) => ({ first: node, end: node + forms.size[node]! });
  const common = new Pairing(forms, shapes, place(x), place(y)).similar(x, y);
  return (2 * common) / (forms.size[x]! + forms.size[y]!);
}

/** Work done for one pair of lists is bounded; beyond it only what is alike from either end is paired. */
const MOST_CELLS = 4096;
const MOST_GUESSES = 4000;

/** Nodes of an element that belongs to what is around a content; a part of a page that is named by its tag needs fewer. */
const LEAST_SHARED = { element: 8, part: 5 };
const PART = /^<(?:head|header|footer|nav|aside|main)>$/;

class Pairing implements Paired {
  readonly counterparts: Int32Array;
  /** Nodes of the reference whose value differs or that are something else here. */
  readonly replaced = new Map<number, number>();
  readonly runs: Paired['runs'][number][] = [];
  readonly attributes: Paired['attributes'][number][] = [];
  readonly #renamed = new Map<string, string>();
  readonly #memo = new Map<number, number>();
  #guesses = 0;

  constructor(
    readonly forms: Forms,
    readonly shapes: Shapes,
    readonly reference: Place,
    readonly other: Place,
    readonly pages = false,
  ) {
    this.counterparts = new Int32Array(reference.end - reference.first).fill(-1);
  }

  run(): boolean {
    const xs = this.#nodes(this.reference);
    const ys = this.#nodes(this.other);
    if (xs.length !== ys.length || !xs.every((x, i) => this.#pair(x, ys[i]!, true))) return false;
    // Names that each place binds for itself may be called as they like.
    for (const [x, y] of this.replaced) {
      const [a, b] = [this.forms.valueOf(x), this.forms.valueOf(y)];
      if (this.#isName(x) && this.#isName(y) && this.#renamed.get(a) === b) this.replaced.delete(x);
    }
    return true;
  }

  #nodes({ first, end }: Place): number[] {
    const nodes: number[] = [];
    for (let node = first; node < end; node += this.forms.size[node]!) nodes.push(node);
    return nodes;
  }

  #isName(node: number): boolean {
    return this.forms.labelOf(node) === 'name';
  }

  #pair(x: number, y: number, atRoot = false): boolean {
    const { forms } = this;
    if (forms.label[x] !== forms.label[y]) return false;
    const label = forms.labelOf(x);
    if (label === 'opaque') return false;
    this.counterparts[x - this.reference.first] = y;
    if (forms.size[x] === 1 && forms.size[y] === 1) return this.#leaves(label, x, y);
    const holdsSiblings = label.startsWith('<') || label === 'fragment' || label === 'arm';
    if (label.startsWith('CallExpression')) return this.#call(forms.partsOf(x), forms.partsOf(y));
    if (!holdsSiblings) return this.#code(forms.partsOf(x), forms.partsOf(y));
    if (!this.#attributes(x, y, atRoot)) return false;
    const [conditions, others] = [x, y].map((n) => forms.partsOf(n).filter((p) => forms.roleOf(p) === 'other'));
    if (!this.#code(conditions!, others!)) return false;
    this.#siblings(x, siblingsIn(forms, x), siblingsIn(forms, y));
    return true;
  }

  #leaves(label: string, x: number, y: number): boolean {
    const [a, b] = [this.forms.valueOf(x), this.forms.valueOf(y)];
    if (label === 'binding') {
      this.#renamed.set(a, b);
      return true;
    }
    if (a === b) return true;
    switch (label) {
      case 'name':
      case 'string':
      case 'number':
      case 'boolean':
      case 'regex':
      case 'text':
        this.replaced.set(x, y);
        return true;
      case 'written':
        return this.#renamed.get(a) === b;
      default:
        return false;
    }
  }

  /** A method cannot be handed over without its object. */
  #call(xs: readonly number[], ys: readonly number[]): boolean {
    if (!this.#isName(xs[0]!) && !this.#pair(xs[0]!, ys[0]!)) return false;
    return this.#isName(xs[0]!) ? this.#code(xs, ys) : this.#code(xs.slice(1), ys.slice(1));
  }

  #code(xs: readonly number[], ys: readonly number[]): boolean {
    if (xs.length !== ys.length) return false;
    return xs.every((x, i) => this.#pairOrReplace(x, ys[i]!));
  }

  /** Takes back what was paired below when the two turn out to be different things. */
  #pairOrReplace(x: number, y: number): boolean {
    const marks = [this.replaced.size, this.runs.length, this.attributes.length] as const;
    if (this.#pair(x, y)) return true;
    this.#takeBack(x, marks);
    const [role, otherRole] = [this.forms.roleOf(x), this.forms.roleOf(y)];
    if (role !== otherRole || (role !== 'expression' && role !== 'markup')) return false;
    this.replaced.set(x, y);
    return true;
  }

  #takeBack(x: number, [replaced, runs, attributes]: readonly [number, number, number]): void {
    const at = x - this.reference.first;
    this.counterparts.fill(-1, at, at + this.forms.size[x]!);
    for (const key of [...this.replaced.keys()].slice(replaced)) this.replaced.delete(key);
    this.runs.length = runs;
    this.attributes.length = attributes;
  }

  /** The key at the root belongs to the use, not to what is used. */
  #attributes(x: number, y: number, atRoot: boolean): boolean {
    const { forms } = this;
    const own = (node: number) =>
      attributesOf(forms, node).filter((a) => !atRoot || (forms.flags[a]! & FLAGS.key) === 0);
    const rest = own(y);
    let even = true;
    for (const attribute of own(x)) {
      const at = rest.findIndex((other) => forms.label[other] === forms.label[attribute]);
      if (at < 0) {
        even = false;
        this.attributes.push({ element: x, label: forms.labelOf(attribute) });
        continue;
      }
      const [match] = rest.splice(at, 1);
      this.counterparts[attribute - this.reference.first] = match!;
      if (!this.#code(forms.partsOf(attribute), forms.partsOf(match!))) return false;
    }
    for (const attribute of rest) {
      even = false;
      this.attributes.push({ element: x, label: forms.labelOf(attribute) });
    }
    // Which attribute wins over a spread depends on both.
    const spread = (node: number) => own(node).some((a) => forms.labelOf(a) === '{...}');
    return even || (!spread(x) && !spread(y));
  }

  #siblings(parent: number, xs: readonly number[], ys: readonly number[]): void {
    const pairs = this.#bestPairs(xs, ys);
    let [i, j] = [0, 0];
    for (const [x, y] of [...pairs, [xs.length, ys.length] as const]) {
      const alone = x - i === 1 && y - j === 1 && this.#pairOuter(xs[i]!, ys[j]!);
      if ((x > i || y > j) && !alone) this.runs.push({ parent, ...this.#wholeText(xs, ys.slice(j, y), i, x) });
      if (x < xs.length && !this.#pairOrReplace(xs[x]!, ys[y]!)) this.runs.push({ parent, from: x, to: x + 1 });
      [i, j] = [x + 1, y + 1];
    }
  }

  /** A difference within running text takes in the text around it: half a sentence is no input. */
  #wholeText(xs: readonly number[], ys: readonly number[], from: number, to: number): { from: number; to: number } {
    const isText = (node: number) => /^(?:text|shown)$/.test(this.forms.labelOf(node));
    if (![...xs.slice(from, to), ...ys].some(isText)) return { from, to };
    let [first, last] = [from, to];
    while (first > 0 && isText(xs[first - 1]!)) first--;
    while (last < xs.length && isText(xs[last]!)) last++;
    return { from: first, to: last };
  }

  /** Two elements of one name and with the same attributes whose content has nothing in common: only that differs. */
  #pairOuter(x: number, y: number): boolean {
    const { forms } = this;
    const outer = (node: number) => attributesOf(forms, node).map((a) => this.shapes.a[a]);
    if (!forms.labelOf(x).startsWith('<') || forms.label[x] !== forms.label[y]) return false;
    if (String(outer(x)) !== String(outer(y)) || !this.#attributes(x, y, false)) return false;
    this.counterparts[x - this.reference.first] = y;
    const [xs, ys] = [siblingsIn(forms, x), siblingsIn(forms, y)];
    // A heading that both begin with belongs to what is around the content, and so does what both have at either end.
    const least = Math.min(xs.length, ys.length);
    let from = 0;
    while (from < least && this.#isEdge(xs[from]!, ys[from]!) && this.#pairOrReplace(xs[from]!, ys[from]!)) from++;
    let [to, end] = [xs.length, ys.length];
    while (
      to > from &&
      end > from &&
      this.#isShared(xs[to - 1]!, ys[end - 1]!) &&
      this.#pairOrReplace(xs[to - 1]!, ys[end - 1]!)
    ) {
      to--;
      end--;
    }
    const isLone = this.pages && to - from === 1 && end - from === 1;
    if (!isLone || !this.#pairOuter(xs[from]!, ys[from]!)) this.runs.push({ parent: x, from, to });
    return true;
  }

  #isEdge(x: number, y: number): boolean {
    return this.#isHeading(x) || this.#isShared(x, y);
  }

  /** Elements that are large enough to be no chance, and much the same. */
  #isShared(x: number, y: number): boolean {
    const { forms } = this;
    if (!this.pages || !forms.labelOf(x).startsWith('<') || forms.label[x] !== forms.label[y]) return false;
    const least = PART.test(forms.labelOf(x)) ? LEAST_SHARED.part : LEAST_SHARED.element;
    return forms.size[x]! >= least && this.#worthPairing(x, y);
  }

  #isHeading(node: number): boolean {
    return /^<(?:h[1-6]|legend|caption|summary)>$/.test(this.forms.labelOf(node));
  }

  /** Positions that are paired, in order. */
  #bestPairs(xs: readonly number[], ys: readonly number[]): (readonly [number, number])[] {
    const { label } = this.forms;
    if (xs.length === ys.length && xs.every((x, i) => label[x] === label[ys[i]!] && this.#worthPairing(x, ys[i]!)))
      return xs.map((_, i) => [i, i] as const);
    let head = 0;
    const same = (x: number, y: number) => this.#sameShape(x, y);
    while (head < xs.length && head < ys.length && same(xs[head]!, ys[head]!)) head++;
    let tail = 0;
    while (
      tail < xs.length - head &&
      tail < ys.length - head &&
      same(xs[xs.length - 1 - tail]!, ys[ys.length - 1 - tail]!)
    )
      tail++;
    const pairs: (readonly [number, number])[] = Array.from({ length: head }, (_, i) => [i, i] as const);
    const [n, m] = [xs.length - head - tail, ys.length - head - tail];
    if (n > 0 && m > 0 && n * m <= MOST_CELLS) {
      const score = (i: number, j: number) => this.#score(xs[head + i]!, ys[head + j]!);
      for (const [i, j] of bestSubsequence(n, m, score)) pairs.push([head + i, head + j]);
    }
    for (let t = tail; t > 0; t--) pairs.push([xs.length - t, ys.length - t]);
    return pairs;
  }

  #score(x: number, y: number): number {
    const { forms } = this;
    if (this.#sameShape(x, y)) return forms.size[x]!;
    if (forms.label[x] === forms.label[y]) return this.#worthPairing(x, y) ? this.similar(x, y) : 0;
    // A text in one place and an expression in another are two values of one thing.
    const isContent = (node: number) => ['text', 'shown'].includes(forms.labelOf(node));
    return isContent(x) && isContent(y) ? 0.5 : 0;
  }

  /** Two elements that share less than a third are two different things. */
  #worthPairing(x: number, y: number): boolean {
    if (this.#sameShape(x, y) || !this.forms.labelOf(x).startsWith('<')) return true;
    return this.similar(x, y) * 3 >= Math.max(this.forms.size[x]!, this.forms.size[y]!);
  }

  #sameShape(x: number, y: number): boolean {
    return this.shapes.a[x] === this.shapes.a[y] && this.shapes.b[x] === this.shapes.b[y];
  }

  /** How many nodes two subtrees have in common, as a guess from below. */
  similar(x: number, y: number): number {
    const { forms } = this;
    if (this.#sameShape(x, y)) return forms.size[x]!;
    if (forms.label[x] !== forms.label[y]) return 0;
    const key = x * 67108864 + y;
    const known = this.#memo.get(key);
    if (known !== undefined) return known;
    if (this.#guesses++ > MOST_GUESSES) return 1;
    const [xs, ys] = [forms.partsOf(x), forms.partsOf(y)];
    let common = 1;
    // What is of one shape at either end is best paired with itself.
    const isSame = (i: number, j: number) =>
      i >= 0 && j >= 0 && i < xs.length && j < ys.length && this.#sameShape(xs[i]!, ys[j]!);
    let head = 0;
    while (isSame(head, head)) common += forms.size[xs[head++]!]!;
    let [n, m] = [xs.length - head, ys.length - head];
    while (n > 0 && m > 0 && isSame(head + n - 1, head + m - 1)) {
      common += forms.size[xs[head + --n]!]!;
      m--;
    }
    if (n * m <= MOST_CELLS)
      for (const [i, j] of bestSubsequence(n, m, (p, q) => this.similar(xs[head + p]!, ys[head + q]!)))
        common += this.similar(xs[head + i]!, ys[head + j]!);
    this.#memo.set(key, common);
    return common;
  }
}

/** The pairs `(i, j)`, both rising, with the greatest sum of scores; pairs that score nothing are left out. */
function bestSubsequence(n: number, m: number, score: (i: number, j: number) => number): [number, number][] {
  const width = m + 1;
  const best = new Float64Array((n + 1) * width);
  const scores = new Float64Array(n * m);
  for (let i = n - 1; i >= 0; i--) {
    for (let j = m - 1; j >= 0; j--) {
      const own = score(i, j);
      scores[i * m + j] = own;
      const skip = Math.max(best[(i + 1) * width + j]!, best[i * width + j + 1]!);
      best[i * width + j] = own > 0 ? Math.max(skip, own + best[(i + 1) * width + j + 1]!) : skip;
    }
  }
  const pairs: [number, number][] = [];
  for (let i = 0, j = 0; i < n && j < m;) {
    const own = scores[i * m + j]!;
    if (own > 0 && best[i * width + j] === own + best[(i + 1) * width + j + 1]!) pairs.push([i++, j++]);
    else if (best[i * width + j] === best[(i + 1) * width + j]) i++;
    else j++;
  }
  return pairs;
}
