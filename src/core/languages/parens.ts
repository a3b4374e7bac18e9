/** Where an expression needs parentheses in the place of another one. */
import type { Node } from '../script/parser.js';
import { isFunction } from '../script/walk.js';

const TIGHT = new Set([
  'Identifier',
  'Literal',
  'MemberExpression',
  'CallExpression',
  'TemplateLiteral',
  'ArrayExpression',
  'JSXElement',
  'JSXFragment',
  'ThisExpression',
  'JSXText',
  'BlockStatement',
]);

/** What binds closer than a condition. */
const CLOSE = new Set(['UnaryExpression', 'BinaryExpression', 'LogicalExpression', 'AwaitExpression']);

/** Whether an expression put in the place of `site` would come apart there. */
export function needsParens(node: Node, parent: Node | undefined, site: Node): boolean {
  if (TIGHT.has(node.type) || !parent) return false;
  if (node.type === 'ObjectExpression') return isFunction(parent) || parent.type === 'ExpressionStatement';
  switch (parent.type) {
    case 'JSXExpressionContainer':
    case 'VariableDeclarator':
    case 'ReturnStatement':
    case 'ArrayExpression':
    case 'TemplateLiteral':
    case 'Property':
    case 'AssignmentPattern':
    case 'SpreadElement':
    case 'ExpressionStatement':
      return node.type === 'SequenceExpression';
    case 'ArrowFunctionExpression':
      return node.type === 'SequenceExpression';
    case 'ConditionalExpression':
      return !CLOSE.has(node.type);
    case 'CallExpression':
    case 'NewExpression':
      return parent.callee === site || node.type === 'SequenceExpression';
    case 'MemberExpression':
      return parent.object === site || node.type === 'SequenceExpression';
    default:
      return true;
  }
}
