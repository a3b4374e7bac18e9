/**
 * Logic that a reader sees more than once and that no step makes one by itself yet: functions that hang on their host or are
 * alike but for an edit, methods and records, statements, runs of them, constants. Two things have to agree for something to
 * be listed: most of its pieces, and how they are put together.
 */
import type { Forms } from '../../forms/forms.js';
import { mix, runKey, shapeKey, type Shapes } from '../../forms/hash.js';
import { similarity, type Place } from '../../forms/align.js';
import { attributesOf } from '../../forms/parts.js';
import { apartIn, Buckets, isEnumeration, Joined, MOST_LEADERS, placeOf } from './groups.js';

/** Nodes from which something is looked at: of one shape, with the same words in it as well, and alike but for an edit. */
const LEAST = { shape: 18, words: 15, declared: 26, edited: 28, block: 24 };
/** Statements in a row that are looked at as one thing, and how much they have to hold together. */
const RUN = { longest: 6, least: 32 };
/** Of the pieces of one, so many have to be in the other for the two to be compared. */
const SHARED = 3;
/** How alike two pieces of logic must be to be one with an edit. */
const EDITED = 0.8;

export function listedLogic(forms: Forms, shapes: Shapes, leave: ReadonlySet<number>): Place[][] {
  const kinds = new LogicKinds(forms);
  const alike = new Buckets();
  const runs = new Buckets();
  const edited = new Edited(forms, shapes);
  for (let node = 0; node < forms.length; node++) {
    if (leave.has(node)) {
      node += forms.size[node]! - 1;
      continue;
    }
    const kind = kinds.of(node);
    if (kind === 'other') continue;
    if (/^(?:call|statement|declaration)$/.test(kind) && isEnumeration(forms, node)) {
      node += forms.size[node]! - 1;
      continue;
    }
    if (kind === 'block') {
      addRuns(forms, shapes, forms.partsOf(node), runs);
      // One arm of a condition and the next.
      if (forms.size[node]! >= LEAST.block) alike.add(shapeKey(shapes, node), placeOf(forms, node));
      continue;
    }
    const size = forms.size[node]!;
    if (size < (kind === 'declaration' ? LEAST.declared : LEAST.words) || !isWhole(forms, node, kind)) continue;
    const isShaped = kind === 'function' && size >= LEAST.shape;
    alike.add(isShaped ? shapeKey(shapes, node) : wordsKey(forms, shapes, node), placeOf(forms, node));
    if (kind !== 'constant' && size >= LEAST.edited) edited.add(node);
  }
  return [...alike.groups(), ...runs.groups(), ...edited.groups()];
}

type LogicKind = 'function' | 'statement' | 'declaration' | 'call' | 'constant' | 'block' | 'other';

class LogicKinds {
  readonly #byLabel: LogicKind[] = [];

  constructor(readonly forms: Forms) {}

  of(node: number): LogicKind {
    const label = this.forms.label[node]!;
    return (this.#byLabel[label] ??= kindOf(this.forms.labelOf(node)));
  }
}

function kindOf(label: string): LogicKind {
  if (/^(?:FunctionDeclaration|FunctionExpression|ArrowFunctionExpression)/.test(label)) return 'function';
  if (/^(?:If|For|ForIn|ForOf|While|Try|Switch|Expression)Statement/.test(label)) return 'statement';
  if (label.startsWith('VariableDeclaration ')) return 'declaration';
  if (label.startsWith('CallExpression')) return 'call';
  if (/^(?:ArrayExpression|ObjectExpression)/.test(label)) return 'constant';
  return label === 'BlockStatement' ? 'block' : 'other';
}

/** What somebody could give a name: no function that is only handed to `map`, no record that only stands in another one. */
function isWhole(forms: Forms, node: number, kind: LogicKind): boolean {
  if (kind === 'function') return isDeclared(forms, node) || /^key /.test(forms.labelOf(node - 1));
  // `const X = […]`: the name stands right before it.
  if (kind === 'constant') return forms.labelOf(node - 1) === 'binding';
  return true;
}

/** A function with a name, or one that handles an event: not what is given to `map` and the like. */
export function isDeclared(forms: Forms, node: number): boolean {
  if (forms.labelOf(node).startsWith('FunctionDeclaration')) return true;
  return /^(?:binding$|hook useCallback$|@on[A-Z])/.test(forms.labelOf(node - 1));
}

/** Shape and words of a subtree. */
function wordsKey(forms: Forms, shapes: Shapes, node: number): number {
  let words = 1;
  for (let at = node; at < node + forms.size[node]!; at++) words = mix(words, forms.value[at]!);
  return mix(shapes.a[node]!, words) * 4096 + (shapes.b[node]! & 4095);
}

function addRuns(forms: Forms, shapes: Shapes, statements: readonly number[], runs: Buckets): void {
  for (let from = 0; from + 1 < statements.length; from++) {
    let size = 0;
    const run: number[] = [];
    for (let to = from; to < Math.min(statements.length, from + RUN.longest); to++) {
      const last = statements[to]!;
      run.push(last);
      size += forms.size[last]!;
      // All that a block holds is the block.
      if (run.length < 2 || size < RUN.least || run.length === statements.length) continue;
      runs.add(runKey(shapes, run), { first: run[0]!, end: last + forms.size[last]! });
    }
  }
}

/** What pieces of logic are compared by, in nodes; what is larger is told by what stands in it. */
const PIECE = { least: 4, most: 60, label: /^(?:VariableDeclaration|CallExpression|Property|(?!Block)\w+Statement)/ };

/** Pieces of logic that share most of what they are made of. */
class Edited {
  readonly #byPiece = new Map<number, number[]>();
  readonly #joined = new Joined<number>();
  readonly #isKey: boolean[] = [];

  constructor(
    readonly forms: Forms,
    readonly shapes: Shapes,
  ) {}

  add(node: number): void {
    const { forms, shapes } = this;
    const pieces = this.#pieces(node);
    const shared = new Map<number, number>();
    for (const piece of pieces) {
      const bucket = this.#byPiece.get(piece) ?? [];
      this.#byPiece.set(piece, bucket);
      for (const other of bucket.slice(-MOST_LEADERS))
        if (forms.label[other] === forms.label[node]) shared.set(other, (shared.get(other) ?? 0) + 1);
      bucket.push(node);
    }
    for (const [other, count] of shared) {
      const ratio = forms.size[node]! / forms.size[other]!;
      const isInside = node < other + forms.size[other]!;
      if (isInside || count * SHARED < pieces.size || ratio < 0.6 || ratio > 1.67) continue;
      if (this.#joined.same(node, other)) continue;
      if (similarity(forms, shapes, node, other) >= EDITED) this.#joined.join(node, other);
    }
  }

  groups(): Place[][] {
    return this.#joined
      .groups()
      .map((nodes) => apartIn(nodes.sort((x, y) => x - y).map((node) => placeOf(this.forms, node))))
      .filter((places) => places.length > 1);
  }

  /** The statements, calls and entries in it by what they are made of, whatever the keys of records are, and the opening tags. */
  #pieces(node: number): Set<number> {
    const { forms } = this;
    const found = new Set<number>();
    for (let at = node + 1; at < node + forms.size[node]!; at++) {
      const label = forms.labelOf(at);
      if (label.startsWith('<'))
        found.add(attributesOf(forms, at).reduce((key, a) => mix(key, forms.label[a]!), forms.label[at]!));
      else if (forms.size[at]! >= PIECE.least && forms.size[at]! <= PIECE.most && PIECE.label.test(label))
        found.add(this.#madeOf(at));
    }
    return found;
  }

  #madeOf(node: number): number {
    const { forms } = this;
    let key = 7;
    for (let at = node; at < node + forms.size[node]!; at++) {
      const label = forms.label[at]!;
      key = mix(key, (this.#isKey[label] ??= forms.labelOf(at).startsWith('key ')) ? 0 : label);
    }
    return key;
  }
}
