/** Files that code asks for by a path, wherever it stands: `import('./x')`, `require('./x')`, `new URL('./x', import.meta.url)`. */
import type { TSESTree } from '@typescript-eslint/types';
import type { Node } from './parser.js';
import { bare } from './walk.js';

/** The literal that says which; undefined where a node asks for none, or works it out. */
export function sourceAsked(node: Node): TSESTree.StringLiteral | undefined {
  if (node.type === 'ImportExpression') return literalOf(node.source);
  if (node.type === 'CallExpression') {
    const isRequire = node.callee.type === 'Identifier' && node.callee.name === 'require';
    return isRequire && node.arguments.length === 1 ? literalOf(node.arguments[0]) : undefined;
  }
  if (node.type !== 'NewExpression' || node.callee.type !== 'Identifier' || node.callee.name !== 'URL')
    return undefined;
  const from = node.arguments[1];
  const isHere =
    from?.type === 'MemberExpression' && from.object.type === 'MetaProperty' && node.arguments.length === 2;
  return isHere ? literalOf(node.arguments[0]) : undefined;
}

function literalOf(node: Node | undefined): TSESTree.StringLiteral | undefined {
  const value = node && bare(node);
  return value?.type === 'Literal' && typeof value.value === 'string' ? value : undefined;
}

export function isRelative(source: string): boolean {
  return /^\.{1,2}(?:\/|$)/.test(source);
}
