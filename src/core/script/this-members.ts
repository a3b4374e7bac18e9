/** Members of a class that its own code reaches by `this`. */
import type { TSESTree } from '@typescript-eslint/types';
import type { Node } from './parser.js';
import type { ScriptScopes } from './scopes.js';
import { bare, calleeName, isFunction, walk, type FunctionNode } from './walk.js';

/** `x` of `this.x`. */
export function memberOfThis(node: Node): string | undefined {
  const isMember =
    node.type === 'MemberExpression' &&
    node.object.type === 'ThisExpression' &&
    !node.computed &&
    node.property.type === 'Identifier';
  return isMember ? (node.property as TSESTree.Identifier).name : undefined;
}

/** Whether a function asks for its `this`. */
export function asksThis(fn: FunctionNode): boolean {
  let found = false;
  walk(fn, (node) => {
    if (node !== fn && isFunction(node) && node.type !== 'ArrowFunctionExpression') return false;
    if (node.type === 'ThisExpression') found = true;
    return !found;
  });
  return found;
}

/** `this.state` and `this.props`: what changes with each rendering. */
export function isShownMember(node: Node): boolean {
  return /^(?:state|props)$/.test(memberOfThis(node) ?? '');
}

/** `f.bind(…)`: the function, and what it is given. */
export function bindCall(node: Node): { target: Node; args: readonly Node[] } | undefined {
  if (node.type !== 'CallExpression') return undefined;
  const callee = bare(node.callee);
  if (
    callee.type !== 'MemberExpression' ||
    callee.computed ||
    callee.property.type !== 'Identifier' ||
    callee.property.name !== 'bind'
  )
    return undefined;
  return { target: callee.object, args: node.arguments };
}

/** `x` of `this.x.bind(this)`. */
function boundMethod(node: Node): string | undefined {
  const bound = bindCall(node);
  const isTied = bound?.args.length === 1 && bound.args[0]!.type === 'ThisExpression';
  return isTied ? memberOfThis(bound.target) : undefined;
}

/** The body of the class that `this` is an object of. */
export function classAround(node: Node, scopes: ScriptScopes): TSESTree.ClassBody | undefined {
  let at: Node | undefined = node;
  while (at && !(isFunction(at) && at.type !== 'ArrowFunctionExpression') && at.type !== 'PropertyDefinition')
    at = scopes.parentOf(at);
  const member = at && (isFunction(at) ? scopes.parentOf(at) : at);
  const body = member && scopes.parentOf(member);
  return body?.type === 'ClassBody' ? body : undefined;
}

/** The method that an assignment ties to its object: `this.x = this.x.bind(this)`. */
export function tiedBy(node: Node): string | undefined {
  const name = node.type === 'AssignmentExpression' ? memberOfThis(node.left) : undefined;
  return name !== undefined && boundMethod((node as TSESTree.AssignmentExpression).right) === name ? name : undefined;
}

/**
 * Whether a member of the class is one function from the start that needs no object to be called on: written as an arrow, or tied in
 * the constructor, and set nowhere else.
 */
export function isFixed({ body }: TSESTree.ClassBody, name: string): boolean {
  const isMade = body.some((member) => {
    if (member.type === 'PropertyDefinition') {
      const isNamed = !member.computed && member.key.type === 'Identifier' && member.key.name === name;
      return isNamed && !member.static && member.value?.type === 'ArrowFunctionExpression';
    }
    const isFirst = member.type === 'MethodDefinition' && member.kind === 'constructor';
    const statements = isFirst ? (member.value.body?.body ?? []) : [];
    return statements.some((s) => s.type === 'ExpressionStatement' && tiedBy(s.expression) === name);
  });
  let isSet = false;
  for (const member of body)
    walk(member, (node) => {
      isSet ||= node.type === 'AssignmentExpression' && memberOfThis(node.left) === name && tiedBy(node) !== name;
      return !isSet;
    });
  return isMade && !isSet;
}

/** Whether a class ties a method to its objects. */
export function isTied(body: TSESTree.ClassBody, name: string): boolean {
  let found = false;
  walk(body, (node) => {
    found ||= tiedBy(node) === name;
    return !found;
  });
  return found;
}

/** Whether a function asks for what it was called with as a list. */
export function asksArguments(fn: FunctionNode): boolean {
  let found = false;
  walk(fn, (node) => {
    found ||= node.type === 'Identifier' && node.name === 'arguments';
    return !found;
  });
  return found;
}

/** `<this.Row>` */
export function isOfThis(node: TSESTree.JSXMemberExpression): boolean {
  let at: TSESTree.JSXTagNameExpression = node;
  while (at.type === 'JSXMemberExpression') at = at.object;
  return at.type === 'JSXIdentifier' && at.name === 'this';
}

/** `this.x.bind(this, …)`, of its argument. */
export function bindOf(parent: Node, self: Node): boolean {
  const bound = bindCall(parent);
  return bound !== undefined && bound.args[0] === self && memberOfThis(bound.target) !== undefined;
}

/** `autoBind(this)`: every function of the object is tied to it. */
export function isTyingAll(node: Node): boolean {
  const isAll =
    node.type === 'CallExpression' && node.arguments.length === 1 && node.arguments[0]!.type === 'ThisExpression';
  return isAll && /^autoBind\w*$/.test(calleeName(node) ?? '');
}
