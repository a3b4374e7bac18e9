/** Finding code in code: the same syntax with the same names, however it is laid out. */
import { visitorKeys } from '@typescript-eslint/visitor-keys';
import type { Span } from '../text/edits.js';
import type { Node } from './parser.js';
import { identifierEnd } from './scopes.js';
import { bare, spanOf } from './walk.js';

/** What stands for the names that a pattern leaves open, in the order in which they stand in it. */
export type Holes = ReadonlyMap<string, Span>;

export interface Pattern {
  readonly node: Node;
  /** Names in it that stand for any expression, the same one wherever they stand. */
  readonly open: ReadonlySet<string>;
}

/**
 * The holes of a pattern where a piece of code is of its form; undefined where it is not. `written`: the text of the code, in which
 * names are read, since made syntax may call them otherwise.
 */
export function matching(pattern: Pattern, code: Node, written: string): Holes | undefined {
  const holes = new Map<string, Span>();
  const textOf = ({ start, end }: Span) => written.slice(start, end);
  const isSame = (wanted: Node, given: Node): boolean => {
    const [a, b] = [bare(wanted), bare(given)];
    if (a.type === 'Identifier' && pattern.open.has(a.name)) {
      const known = holes.get(a.name);
      if (known) return textOf(known) === textOf(spanOf(b));
      holes.set(a.name, spanOf(b));
      return true;
    }
    // A name in quotes may have been read as what it names.
    if (a.type === 'Literal' && b.type === 'Identifier') return a.raw === textOf(spanOf(b));
    if (a.type !== b.type) return false;
    if (a.type === 'Identifier' && b.type === 'Identifier')
      return a.name === textOf({ start: b.range[0], end: identifierEnd(b) });
    if (a.type === 'Literal' && b.type === 'Literal')
      return a.raw === b.raw || (!('regex' in a) && a.value === b.value);
    if (a.type === 'TemplateElement' && b.type === 'TemplateElement') return a.value.raw === b.value.raw;
    if (a.type === 'Property' && b.type === 'Property' && a.shorthand !== b.shorthand)
      return a.kind === b.kind && isSame(a.key, b.key) && isSame(a.value, b.value);
    return hasSameFields(a, b) && hasSameChildren(a, b, isSame);
  };
  return isSame(pattern.node, code) ? holes : undefined;
}

function hasSameChildren(a: Node, b: Node, isSame: (a: Node, b: Node) => boolean): boolean {
  const [own, other] = [a, b] as unknown as Record<string, unknown>[];
  return (visitorKeys[a.type] ?? []).every((key) => {
    const [x, y] = [listOf(own![key]), listOf(other![key])];
    return x.length === y.length && x.every((node, i) => (node && y[i] ? isSame(node, y[i]) : node === y[i]));
  });
}

function listOf(value: unknown): (Node | undefined)[] {
  if (Array.isArray(value)) return (value as (Node | null)[]).map((node) => node ?? undefined);
  return value ? [value as Node] : [];
}

/** Operators, `computed`, `async` and the like. */
function hasSameFields(a: Node, b: Node): boolean {
  const keys = new Set<string>([...NO_FIELDS, ...(visitorKeys[a.type] ?? [])]);
  const [own, other] = [a, b] as unknown as Record<string, unknown>[];
  const isPlain = (value: unknown) => /^(?:string|boolean|number)$/.test(typeof value);
  return Object.keys(own!).every((key) => keys.has(key) || !isPlain(own![key]) || own![key] === other![key]);
}

const NO_FIELDS = ['type', 'start', 'end', 'range', 'loc', 'parent', 'immediate', 'native'];
