/** Small questions about syntax that the comparison asks, and words for what it meets. */
import type { TSESTree } from '@typescript-eslint/types';
import type { Node } from '../script/parser.js';
import type { Variable } from '../script/scopes.js';
import { attributeName, bare, isFunction, walk, type FunctionNode } from '../script/walk.js';
import type { Side } from './side.js';
import type { ProofModule } from '../language/proof-module.js';
import type { Code, Env } from './values.js';

/** Parts of syntax that mean nothing at run time, or that are compared in another way. */
export const SKIPPED_KEYS = new Set([
  'typeAnnotation',
  'returnType',
  'typeParameters',
  'typeArguments',
  'superTypeArguments',
  'implements',
  'loc',
  'range',
  'start',
  'end',
  'parent',
  'type',
  'raw',
  'decorators',
  'accessibility',
  'declare',
  'definite',
  'override',
  'readonly',
  'abstract',
  'shorthand',
  'method',
  'importKind',
  'exportKind',
  'directive',
  'phase',
  'immediate',
  'native',
  'byName',
]);

export function declares(variable: Variable, node: Node): boolean {
  return (variable.identifiers as readonly Node[]).includes(node);
}

export function place(code: Code): { module: ProofModule; node: Node } {
  return { module: code.module, node: code.node };
}

export function textOf(code: Code): string {
  return code.module.text.slice(code.node.range[0], code.node.range[1]);
}

export function nameAt(code: Code): string {
  return 'name' in code.node && typeof code.node.name === 'string' ? code.node.name : textOf(code);
}

/** Whether a function that only calls another passes its own arguments as the other one takes them. */
export function adapterFits(x: FunctionNode, y: FunctionNode): boolean {
  // Nobody counts what the handler of a native event takes.
  const fits = 'native' in y && y.native ? x.params.length <= y.params.length : x.params.length === y.params.length;
  return fits && x.params.every((p, i) => p.type === y.params[i]!.type);
}

export function isName(node: Node): boolean {
  return node.type === 'Identifier' || node.type === 'JSXIdentifier';
}

export function isShown(node: Node): boolean {
  return node.type === 'JSXElement' || node.type === 'JSXFragment';
}

export function isPattern(node: Node): boolean {
  return ['Identifier', 'ObjectPattern', 'ArrayPattern', 'AssignmentPattern', 'RestElement', 'Property'].includes(
    node.type,
  );
}

export function isOwner(env: Env | undefined, fn: Node): boolean {
  for (let e = env; e; e = e.parent) if (e.owner === fn && e.component) return true;
  return false;
}

/** The env in force outside the expanded functions that do not hold a node. */
export function outerEnv(env: Env | undefined, node: Node, module: ProofModule): Env | undefined {
  let result = env;
  const holds = ({ owner, module: at }: Env) =>
    at === module && owner.range[0] <= node.range[0] && owner.range[1] >= node.range[1];
  while (result && !holds(result)) result = result.parent;
  return result;
}

export function isTypeStatement(node: Node): boolean {
  return (
    node.type === 'TSInterfaceDeclaration' ||
    node.type === 'TSTypeAliasDeclaration' ||
    node.type === 'EmptyStatement' ||
    ('declare' in node && node.declare)
  );
}

export function aligned(x: Node, y: Node): boolean {
  if (x.type !== y.type) return false;
  if (x.type === 'FunctionDeclaration' && y.type === 'FunctionDeclaration') return x.id?.name === y.id?.name;
  if (x.type !== 'VariableDeclaration' || y.type !== 'VariableDeclaration') return true;
  return namesOf(x) === namesOf(y);
}

export function namesOf(statement: TSESTree.VariableDeclaration): string {
  const names: string[] = [];
  for (const { id } of statement.declarations) {
    walk(id, (node, above) => {
      const parent = above[above.length - 1];
      const isKey = parent?.type === 'Property' && parent.key === node && !parent.shorthand;
      if (node.type === 'Identifier' && !isKey) names.push(node.name);
      return node.type !== 'TSTypeAnnotation';
    });
  }
  return names.join(' ');
}

export function returns(statement: Node): boolean {
  let found = false;
  walk(statement, (node) => {
    if (node.type === 'ReturnStatement' || node.type === 'ThrowStatement') found = true;
    return !found && !isFunction(node);
  });
  return found;
}

export function usesThis(fn: FunctionNode): boolean {
  let found = false;
  walk(fn.body, (node) => {
    if (node.type === 'ThisExpression') found = true;
    return !found;
  });
  return found;
}

/** The function that a name is declared to be, with the statement that says so. */
export function functionBehind({ defs: [definition] }: Variable): { fn: FunctionNode; statement: Node } | undefined {
  if (definition?.type === 'FunctionName' && isFunction(definition.node))
    return { fn: definition.node, statement: definition.node };
  if (definition?.type !== 'Variable' || !definition.node.init) return undefined;
  const fn = bare(definition.node.init);
  return isFunction(fn) ? { fn, statement: definition.parent } : undefined;
}

export function isOnlyCalled({ references }: Variable, { scopes }: ProofModule): boolean {
  return references.every(({ identifier, init }) => {
    const parent = scopes.parentOf(identifier);
    return init === true || (parent?.type === 'CallExpression' && parent.callee === identifier);
  });
}

/** `f.call(this, x)`: a function called with the `this` that stands around. */
export function calledOnThis(
  call: TSESTree.CallExpression,
): { readonly target: Node; readonly args: readonly Node[] } | undefined {
  const callee = bare(call.callee);
  const [self, ...args] = call.arguments;
  if (callee.type !== 'MemberExpression' || callee.computed || self?.type !== 'ThisExpression') return undefined;
  const isCall = callee.property.type === 'Identifier' && callee.property.name === 'call';
  return isCall && bare(callee.object).type === 'Identifier' ? { target: callee.object, args } : undefined;
}

export function soleCall(fn: FunctionNode): TSESTree.CallExpression | undefined {
  const body = fn.body.type === 'BlockStatement' ? soleExpression(fn.body) : fn.body;
  return body?.type === 'CallExpression' ? body : undefined;
}

/** All that a function does, where it gives nothing back. */
export function soleStatement({ body }: FunctionNode): Node | undefined {
  const only = body.type === 'BlockStatement' && body.body.length === 1 ? body.body[0]! : undefined;
  return only?.type === 'ExpressionStatement' ? only.expression : undefined;
}

export function soleExpression(block: TSESTree.BlockStatement): Node | undefined {
  const only = block.body.length === 1 ? block.body[0]! : undefined;
  if (only?.type === 'ExpressionStatement') return only.expression;
  return only?.type === 'ReturnStatement' ? (only.argument ?? undefined) : undefined;
}

/** The call in a statement that keeps something, or runs by the life of its component. */
export function hookIn(statement: Node, keeps?: ReadonlySet<string>): string | undefined {
  let hook: string | undefined;
  walk(statement, (node) => {
    if (isFunction(node)) return false;
    if (node.type === 'CallExpression') {
      const callee = bare(node.callee);
      const name =
        callee.type === 'Identifier'
          ? callee.name
          : callee.type === 'MemberExpression' && callee.property.type === 'Identifier'
            ? callee.property.name
            : '';
      if (/^use(?:[A-Z]|$)/.test(name) || keeps?.has(name)) hook ??= name;
    }
    return undefined;
  });
  return hook;
}

export function isKey(attribute: TSESTree.JSXAttribute | TSESTree.JSXSpreadAttribute): boolean {
  return attribute.type === 'JSXAttribute' && attribute.name.name === 'key';
}

export function attributeNamed(element: TSESTree.JSXElement, name: string): TSESTree.JSXAttribute | undefined {
  return element.openingElement.attributes.find(
    (t): t is TSESTree.JSXAttribute => t.type === 'JSXAttribute' && t.name.name === name,
  );
}

export function attributeValue(attribute: TSESTree.JSXAttribute): Node | undefined {
  const value = attribute.value;
  if (!value) return undefined;
  return value.type === 'JSXExpressionContainer' ? value.expression : value;
}

export function isFragmentTag(node: TSESTree.JSXElement, code: Code, side: Side): boolean {
  const name = node.openingElement.name;
  if (name.type === 'JSXMemberExpression')
    return name.object.type === 'JSXIdentifier' && name.object.name === 'React' && name.property.name === 'Fragment';
  if (name.type !== 'JSXIdentifier') return false;
  const meaning = side.meaningOf(code.module, name);
  return meaning.kind === 'outside' && meaning.key === 'react#Fragment';
}

export function samePrimitive(x: unknown, y: unknown): boolean {
  if (typeof x !== 'object' || x === null) return x === y || (x == null && y == null);
  if (x instanceof RegExp) return String(x) === String(y);
  return JSON.stringify(x, plain) === JSON.stringify(y, plain);
}

function plain(_key: string, value: unknown): unknown {
  return typeof value === 'bigint' ? String(value) : value;
}

const WORDS: Partial<Record<Node['type'], string>> = {
  CallExpression: 'a call',
  MemberExpression: 'a member',
  Identifier: 'a name',
  TemplateLiteral: 'a template string',
  ConditionalExpression: 'a condition',
  LogicalExpression: 'a condition',
  ArrowFunctionExpression: 'a function',
  FunctionExpression: 'a function',
  FunctionDeclaration: 'a function',
  ReturnStatement: 'a return',
  ExpressionStatement: 'a statement',
  VariableDeclaration: 'a declaration',
  ObjectExpression: 'an object',
  ArrayExpression: 'a list',
  IfStatement: 'a condition',
  JSXFragment: 'a fragment',
  JSXText: 'a text',
  ThisExpression: '"this"',
  JSXSpreadAttribute: 'a spread',
};

/** A difference between two nodes of one kind, told by what they say. */
export function became(a: Node, b: Node, x: unknown, y: unknown): string {
  const [left, right] = [valueWords(a, x), valueWords(b, y)];
  return left !== undefined && right !== undefined && left !== right
    ? `${left} became ${right}`
    : `${describe(a)} became ${describe(b)}`;
}

function valueWords(node: Node, value: unknown): string | undefined {
  if (node.type === 'TemplateElement') return JSON.stringify(node.value.raw);
  if (node.type === 'Literal') return typeof node.value === 'string' ? JSON.stringify(node.value) : `"${node.raw}"`;
  return typeof value === 'string' || typeof value === 'boolean' ? `"${value}"` : undefined;
}

/** A name as its author knows it: a lowered form marks where a name belongs. */
export function plainName(name: string): string {
  return name.replace(/^(?:this\.|props\.|\w+:)/, '');
}

export function describe(node: Node): string {
  if (node.type === 'Literal') return valueWords(node, node.value)!;
  if (node.type === 'MemberExpression' && !node.computed && node.property.type === 'Identifier')
    return `"….${node.property.name}"`;
  if (node.type === 'JSXElement') {
    const name = node.openingElement.name;
    return name.type === 'JSXIdentifier' ? `<${plainName(name.name)}>` : 'an element';
  }
  if (node.type === 'JSXAttribute') return `the attribute "${attributeName(node)}"`;
  if (node.type === 'FunctionDeclaration') return `the function "${node.id?.name ?? ''}"`;
  if (node.type === 'VariableDeclaration') return `the declaration of "${namesOf(node).replaceAll(' ', '", "')}"`;
  if (node.type === 'Identifier') return `"${plainName(node.name)}"`;
  return WORDS[node.type] ?? 'code';
}
