/** What stands at a place of logic: a function, a value that is worked out, or statements that call hooks. */
import type { TSESTree } from '@typescript-eslint/types';
import type { Node } from '../../../script/parser.js';
import { bare, isFunction, nodeAt, type FunctionNode } from '../../../script/walk.js';
import type { Scene } from '../cut/scene.js';

export type Form =
  | { readonly kind: 'function'; readonly node: FunctionNode }
  | { readonly kind: 'value'; readonly node: Node }
  | { readonly kind: 'hook'; readonly statements: readonly Node[] };

export function formOf(scene: Scene): Form {
  const node = nodeAt(scene.script.program, scene.region);
  if (node && isFunction(node)) return { kind: 'function', node };
  if (node && !/Statement$|Declaration$/.test(node.type)) return { kind: 'value', node: bare(node) };
  return { kind: 'hook', statements: node ? [node] : scene.nodes };
}

/** The statement at the top of the file that is nothing but this function. */
export function statementAround(scene: Scene, form: Form): TSESTree.ProgramStatement {
  const node = form.kind === 'function' ? form.node : undefined;
  return scene.script.program.body.find((s) => node && s.range[0] <= node.range[0] && s.range[1] >= node.range[1])!;
}

/** The name that a function has at the top of its file; empty where it is no declaration of its own. */
export function declaredName(scene: Scene, form: Form): string {
  return declaredId(scene, form)?.name ?? '';
}

export function declaredId(scene: Scene, form: Form): TSESTree.Identifier | undefined {
  if (form.kind !== 'function') return undefined;
  const statement = statementAround(scene, form);
  const inner = 'declaration' in statement && statement.declaration ? (statement.declaration as Node) : statement;
  if (inner === form.node && form.node.type === 'FunctionDeclaration') return form.node.id ?? undefined;
  if (inner.type !== 'VariableDeclaration' || inner.declarations.length !== 1 || inner.kind !== 'const')
    return undefined;
  const declarator = inner.declarations[0]!;
  const isThis = declarator.init && bare(declarator.init) === form.node;
  return isThis && declarator.id.type === 'Identifier' ? declarator.id : undefined;
}
