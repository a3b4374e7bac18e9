/** Where a component declares what is asked for by its name. */
import type { TSESTree } from '@typescript-eslint/types';
import type { Node } from '../../script/parser.js';
import type { FunctionNode } from '../../script/walk.js';

/** The statements of a function's own that declare the names; the name that none does. */
export function statementsOf(
  fn: FunctionNode,
  names: readonly string[],
): Node[] | { readonly unknown: string; readonly known: string[] } {
  const body = fn.body.type === 'BlockStatement' ? fn.body.body : [];
  const found = new Set<Node>();
  const declares = (s: Node): s is TSESTree.VariableDeclaration =>
    s.type === 'VariableDeclaration' && s.declarations.length === 1;
  for (const name of names) {
    const statement = body.filter(declares).find((s) => namesIn(s).includes(name));
    if (!statement) return { unknown: name, known: body.filter(declares).flatMap((s) => namesIn(s).slice(0, 1)) };
    found.add(statement);
  }
  return [...found];
}

function namesIn({ declarations: [{ id }] }: TSESTree.VariableDeclaration): string[] {
  if (id.type === 'Identifier') return [id.name];
  if (id.type !== 'ArrayPattern') return [];
  return id.elements.flatMap((e) => (e?.type === 'Identifier' ? [e.name] : []));
}
