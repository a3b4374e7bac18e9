/** Members of a class that its own code reaches by `this`. */
import type { TSESTree } from '@typescript-eslint/types';
import type { Node } from './parser.js';
import type { ScriptScopes } from './scopes.js';
import { isFunction, walk } from './walk.js';

/** `x` of `this.x`. */
export function memberOfThis(node: Node): string | undefined {
  const isMember =
    node.type === 'MemberExpression' &&
    node.object.type === 'ThisExpression' &&
    !node.computed &&
    node.property.type === 'Identifier';
  return isMember ? (node.property as TSESTree.Identifier).name : undefined;
}

/** `this.x` of `this.x.bind(this)`. */
export function boundMethod(node: Node): string | undefined {
  if (node.type !== 'CallExpression' || node.arguments.length !== 1 || node.arguments[0]!.type !== 'ThisExpression')
    return undefined;
  const { callee } = node;
  if (callee.type !== 'MemberExpression' || callee.computed || callee.property.type !== 'Identifier') return undefined;
  const name = callee.property.name === 'bind' ? memberOfThis(callee.object) : undefined;
  return name === undefined ? undefined : `this.${name}`;
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

/** Whether a class ties a method to its objects: `this.x = this.x.bind(this)`. */
export function isTied(body: TSESTree.ClassBody, name: string, text: string): boolean {
  let found = false;
  walk(body, (node) => {
    if (node.type === 'AssignmentExpression' && boundMethod(node.right) === `this.${name}`)
      found ||= text.slice(...node.left.range) === `this.${name}`;
    return !found;
  });
  return found;
}
