/**
 * Whether a component that asks once shows, for each answer, what it showed when it asked in many places. Both texts are read anew,
 * and walked side by side with the answers that are possible there: what they decide is decided on either side, a choice that tells
 * them apart is gone into with those that are left.
 */
import type { TSESTree } from '@typescript-eslint/types';
import type { ProofModule } from '../language/proof-module.js';
import type { Node } from '../script/parser.js';
import { decided, earlyReturn, type Answer, type Asking } from '../script/question.js';
import { bare, childrenOf } from '../script/walk.js';

/** One side: its text as the proof reads it, and where it asks. */
export interface Asked {
  readonly module: ProofModule;
  readonly places: readonly Asking[];
}

type Word = string | number | bigint | boolean | null | undefined;

/** Nodes, and words that are shown. */
type Parts = readonly (Node | string)[];

/** What an expression comes to. */
type Value = { readonly kind: 'code'; readonly node: Node } | { readonly kind: 'word'; readonly value: Word };

/** Where the two show something else, in words; undefined where they do not. */
export function decidedAlike(before: Asked, after: Asked, answers: readonly Answer[]): string | undefined {
  return new Walk(before, after).nodes(before.module.script.program, after.module.script.program, answers);
}

class Walk {
  constructor(
    readonly before: Asked,
    readonly after: Asked,
  ) {}

  nodes(a: Node, b: Node, answers: readonly Answer[]): string | undefined {
    // No answer is left: this is never shown.
    if (answers.length === 0) return undefined;
    const [x, y] = [valueOf(this.before, a, answers), valueOf(this.after, b, answers)];
    const choice = this.#split(this.before, x, answers) ?? this.#split(this.after, y, answers);
    if (choice) return this.nodes(a, b, choice.yes) ?? this.nodes(a, b, choice.no);
    if (isFragment(x) || isFragment(y))
      return this.#lists([this.#shown(this.before, x, answers), this.#shown(this.after, y, answers)], a, b, answers);
    if (x.kind === 'word' && y.kind === 'word') return x.value === y.value ? undefined : this.#differ(a, b);
    return x.kind === 'code' && y.kind === 'code' ? this.#alike(x.node, y.node, answers) : this.#differ(a, b);
  }

  /** A condition that some answers meet and some do not, and that decides what the node is. */
  #split(side: Asked, value: Value, answers: readonly Answer[]): { yes: Answer[]; no: Answer[] } | undefined {
    if (value.kind === 'word' || value.node.type !== 'ConditionalExpression') return undefined;
    const { test } = value.node;
    const truths = answers.map((answer) => truthOf(side, test, [answer]));
    if (truths.includes(undefined) || new Set(truths).size < 2) return undefined;
    return { yes: answers.filter((_, i) => truths[i]), no: answers.filter((_, i) => !truths[i]) };
  }

  #alike(a: Node, b: Node, answers: readonly Answer[]): string | undefined {
    if (a.type !== b.type) return this.#differ(a, b);
    if (a.type === 'BlockStatement' || a.type === 'Program')
      return this.#statements(a.body, (b as typeof a).body, answers);
    const [left, right] = [this.#parts(this.before, a, answers), this.#parts(this.after, b, answers)];
    if (left.length === 0 && right.length === 0)
      return own(this.before, a) === own(this.after, b) ? undefined : this.#differ(a, b);
    return signOf(a) === signOf(b) ? this.#lists([left, right], a, b, answers) : this.#differ(a, b);
  }

  #lists([left, right]: readonly [Parts, Parts], a: Node, b: Node, answers: readonly Answer[]): string | undefined {
    if (left.length !== right.length) return this.#differ(a, b);
    for (const [i, part] of left.entries()) {
      const other = right[i]!;
      const isWord = typeof part === 'string' || typeof other === 'string';
      const found = isWord ? (part === other ? undefined : this.#differ(a, b)) : this.nodes(part, other, answers);
      if (found !== undefined) return found;
    }
    return undefined;
  }

  /** What stands for a value among other markup. */
  #shown(side: Asked, value: Value, answers: readonly Answer[]): Parts {
    if (value.kind === 'code') return isFragment(value) ? this.#parts(side, value.node, answers) : [value.node];
    const isWritten = typeof value.value === 'number' || (typeof value.value === 'string' && value.value !== '');
    return isWritten ? [String(value.value)] : [];
  }

  /** Statements one by one; from the first on that returns for some answers only, what is returned for each. */
  #statements(left: readonly Node[], right: readonly Node[], answers: readonly Answer[]): string | undefined {
    const isEarly = (side: Asked, node: Node | undefined) =>
      node !== undefined && askedReturn(side, node) !== undefined;
    const [first, ...others] = [this.#early(this.before, left), this.#early(this.after, right)].sort((x, y) => x - y);
    const plain = (side: Asked, list: readonly Node[]) => list.slice(first).filter((s) => !isEarly(side, s)).length;
    const between = plain(this.before, left) > 1 || plain(this.after, right) > 1;
    const isAligned = left.length === right.length && others[0] === first;
    if (between ? !isAligned : left.length !== right.length && first === Infinity)
      return 'it has other statements than before';
    for (const [i, a] of left.entries()) {
      if (i >= first! && (isEarly(this.before, a) || i === left.length - 1 || !between)) continue;
      const b = right[i];
      const found = b ? this.nodes(a, b, answers) : 'it has other statements than before';
      if (found !== undefined) return found;
    }
    if (first === Infinity) return undefined;
    for (const answer of answers) {
      const [x, y] = [
        returned(this.before, left.slice(first), answer),
        returned(this.after, right.slice(first), answer),
      ];
      if (!x || !y) return 'it returns something else for one of the answers';
      const found = this.nodes(x, y, [answer]);
      if (found !== undefined) return found;
    }
    return undefined;
  }

  #early(side: Asked, statements: readonly Node[]): number {
    const at = statements.findIndex((s) => askedReturn(side, s) !== undefined);
    return at < 0 ? Infinity : at;
  }

  /** What a node is made of, without what an answer leaves out. */
  #parts(side: Asked, node: Node, answers: readonly Answer[]): Parts {
    const isShown = node.type === 'JSXElement' || node.type === 'JSXFragment';
    const parts = childrenOf(node).sort((x, y) => x.range[0] - y.range[0]);
    return joined(parts.flatMap((part) => this.#piecesOf(side, part, isShown, answers)));
  }

  /** `isChild`: it stands between tags. */
  #piecesOf(side: Asked, part: Node, isChild: boolean, answers: readonly Answer[]): Parts {
    if (part.type === 'JSXText') {
      const text = side.module.renderedText(side.module.text.slice(...part.range));
      return text === '' ? [] : [text];
    }
    if (part.type === 'JSXOpeningFragment' || part.type === 'JSXClosingFragment') return [];
    if (part.type === 'JSXAttribute') return attribute(side, part, answers);
    const isShown = part.type === 'JSXExpressionContainer' || part.type === 'JSXFragment';
    if (!isChild || !isShown) return [part];
    const value = valueOf(side, part, answers);
    // What a fragment holds stands beside the others.
    return this.#shown(side, value, answers);
  }

  #differ(a: Node, b: Node): string {
    const short = ({ module }: Asked, node: Node) =>
      module.text
        .slice(...node.range)
        .replace(/\s+/g, ' ')
        .slice(0, 40);
    return `"${short(this.before, a)}" is "${short(this.after, b)}" in one of the forms`;
  }
}

function isFragment(value: Value): boolean {
  return value.kind === 'code' && value.node.type === 'JSXFragment';
}

/** Words beside each other are read as one. */
function joined(parts: Parts): Parts {
  const out: (Node | string)[] = [];
  for (const part of parts) {
    const last = out.at(-1);
    if (typeof part === 'string' && typeof last === 'string') out[out.length - 1] = last + part;
    else out.push(part);
  }
  return out;
}

/** An attribute with its value; nothing where it has none. */
function attribute(side: Asked, node: TSESTree.JSXAttribute, answers: readonly Answer[]): Parts {
  const { value } = node;
  if (value?.type !== 'JSXExpressionContainer')
    return [
      node.name,
      ...(value ? (value.type === 'Literal' ? [wordOf(value.value as Word)] : [value]) : [wordOf(true)]),
    ];
  const known = valueOf(side, value.expression, answers);
  if (known.kind === 'code') return [node.name, known.node];
  return known.value === undefined || known.value === null ? [] : [node.name, wordOf(known.value)];
}

function wordOf(value: Word): string {
  return `=${typeof value} ${String(value)}`;
}

function valueOf(side: Asked, node: Node, answers: readonly Answer[]): Value {
  const inner = only(side, node);
  const asking = truthOf(side, inner, answers);
  const isAsking = inner.type === 'BinaryExpression' || inner.type === 'UnaryExpression';
  if (asking !== undefined && isAsking) return { kind: 'word', value: asking };
  if (inner.type === 'ConditionalExpression') {
    const truth = truthOf(side, inner.test, answers);
    if (truth !== undefined) return valueOf(side, truth ? inner.consequent : inner.alternate, answers);
  }
  if (inner.type === 'LogicalExpression' && inner.operator !== '??') {
    const truth = truthOf(side, inner.left, answers);
    if (truth === (inner.operator === '&&')) return valueOf(side, inner.right, answers);
    const isOnlyTruth = side.places.every((p) => !within(p.node, inner.left) || p.shows === undefined);
    if (truth !== undefined && isOnlyTruth) return { kind: 'word', value: truth };
  }
  if (inner.type === 'Literal' && !('regex' in inner)) return { kind: 'word', value: inner.value as Word };
  if (inner.type === 'Identifier' && inner.name === 'undefined') return { kind: 'word', value: undefined };
  return { kind: 'code', node: inner };
}

/** What stands alone in braces, parentheses or a fragment. */
function only(side: Asked, node: Node): Node {
  const inner = bare(node);
  if (inner.type === 'JSXExpressionContainer') return only(side, inner.expression);
  if (inner.type !== 'JSXFragment') return inner;
  const [first, ...others] = shownIn(side, inner);
  return first && others.length === 0 && first.type !== 'JSXText' ? only(side, first) : inner;
}

function shownIn({ module }: Asked, { children }: TSESTree.JSXFragment): readonly TSESTree.JSXChild[] {
  return children.filter((c) => c.type !== 'JSXText' || module.renderedText(module.text.slice(...c.range)) !== '');
}

/** Whether a condition holds for all of the answers, or for none; undefined where that is not told. */
function truthOf(side: Asked, test: Node, answers: readonly Answer[]): boolean | undefined {
  const inner = bare(test);
  const asking = side.places.find((p) => p.node === inner);
  if (asking) {
    const truths = new Set(answers.map((answer) => decided(asking, answer)));
    return truths.size === 1 ? [...truths][0] : undefined;
  }
  if (inner.type === 'UnaryExpression' && inner.operator === '!') {
    const truth = truthOf(side, inner.argument, answers);
    return truth === undefined ? undefined : !truth;
  }
  if (inner.type === 'Literal' && typeof inner.value === 'boolean') return inner.value;
  if (inner.type !== 'LogicalExpression' || inner.operator === '??') return undefined;
  const [left, right] = [truthOf(side, inner.left, answers), truthOf(side, inner.right, answers)];
  if (inner.operator === '&&') return left === false || right === false ? false : left && right;
  return left === true || right === true ? true : left === false && right === false ? false : undefined;
}

/** An early return, of a condition that some answers decide. */
function askedReturn(side: Asked, node: Node): ReturnType<typeof earlyReturn> {
  const early = earlyReturn(node);
  return early && side.places.some((p) => within(p.node, early.test)) ? early : undefined;
}

function within(inner: Node, outer: Node): boolean {
  return inner.range[0] >= outer.range[0] && inner.range[1] <= outer.range[1];
}

/** What statements return for one answer; undefined where that is not told. */
function returned(side: Asked, statements: readonly Node[], answer: Answer): Node | undefined {
  for (const statement of statements) {
    const early = askedReturn(side, statement);
    if (early) {
      const truth = truthOf(side, early.test, [answer]);
      if (truth === undefined) return undefined;
      if (truth) return early.shown;
    } else if (statement.type === 'ReturnStatement') return statement.argument ?? undefined;
  }
  return undefined;
}

/** What makes two nodes of one type others, beside their parts. */
function signOf(node: Node): string {
  const { operator, kind, computed, optional, async, prefix } = node as unknown as Record<string, unknown>;
  return [operator, kind, computed, optional, async, prefix].map(String).join();
}

function own({ module }: Asked, node: Node): string {
  if (node.type === 'Identifier' || node.type === 'JSXIdentifier') return node.name;
  if (node.type === 'Literal') return node.raw;
  return module.text.slice(...node.range).replace(/\s+/g, ' ');
}
