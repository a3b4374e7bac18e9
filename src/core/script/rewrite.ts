/** A syntax tree with parts replaced. The tree that is given stays as it is: what does not change is shared. */
import { visitorKeys } from '@typescript-eslint/visitor-keys';
import type { Node } from './parser.js';

/** From the outside in; `replace` answers undefined to leave a node and look inside it. */
export function rewrite(node: Node, replace: (node: Node) => Node | undefined): Node {
  const replaced = replace(node);
  if (replaced) return replaced;
  let copy: Record<string, unknown> | undefined;
  const record = node as unknown as Record<string, unknown>;
  for (const key of visitorKeys[node.type] ?? []) {
    const value = record[key];
    if (!value) continue;
    const next = Array.isArray(value) ? listOf(value as (Node | null)[], replace) : rewrite(value as Node, replace);
    if (next === value) continue;
    copy ??= { ...record };
    copy[key] = next;
  }
  return copy ? (copy as unknown as Node) : node;
}

function listOf(list: (Node | null)[], replace: (node: Node) => Node | undefined): (Node | null)[] {
  let changed = false;
  const next = list.map((item) => {
    const result = item && rewrite(item, replace);
    changed ||= result !== item;
    return result;
  });
  return changed ? next : list;
}

/** The same tree at another place in its file. */
export function moved(node: Node, by: number): Node {
  const [start, end] = node.range;
  const copy = { ...node, start: start + by, end: end + by, range: [start + by, end + by] } as Record<string, unknown>;
  for (const key of visitorKeys[node.type] ?? []) {
    const value = copy[key] as Node | (Node | null)[] | null | undefined;
    if (Array.isArray(value)) copy[key] = value.map((item) => item && moved(item, by));
    else if (value) copy[key] = moved(value, by);
  }
  return copy as unknown as Node;
}
