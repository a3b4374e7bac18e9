/** What a statement does first: where statements in front of it may have stood in a call of it. */
import type { Node } from './parser.js';
import type { ScriptScopes } from './scopes.js';
import { isShownMember, memberOfThis } from './this-members.js';
import { bare, isFunction } from './walk.js';

/**
 * The piece of a statement that `isIt` knows, where nothing of the statement runs before it, and what is read before it is the same
 * whenever it is read; undefined where there is none.
 */
export function firstRun(statement: Node, scopes: ScriptScopes, isIt: (node: Node) => boolean): Node | undefined {
  const search = (given: Node | null | undefined): Node | undefined => {
    const node = given && bare(given);
    if (!node) return undefined;
    if (isIt(node)) return node;
    switch (node.type) {
      case 'AwaitExpression':
      case 'UnaryExpression':
      case 'ReturnStatement':
      case 'ThrowStatement':
        return search(node.argument);
      case 'ExpressionStatement':
      case 'ChainExpression':
        return search(node.expression);
      case 'VariableDeclaration':
        return node.declarations.length === 1 ? search(node.declarations[0].init) : undefined;
      case 'MemberExpression':
        return search(node.object);
      case 'IfStatement':
      case 'ConditionalExpression':
        return search(node.test);
      case 'LogicalExpression':
        return search(node.left);
      case 'BinaryExpression':
        return search(node.left) ?? (isFixed(node.left, scopes) ? search(node.right) : undefined);
      case 'AssignmentExpression':
        return isPlainTarget(node.left, scopes) ? search(node.right) : undefined;
      case 'CallExpression':
      case 'NewExpression':
        return search(node.callee) ?? (isFixedCallee(node.callee, scopes) ? among(node.arguments) : undefined);
      case 'ArrayExpression':
        return among(node.elements);
      case 'ObjectExpression':
        return among(node.properties.map((p) => (p.type === 'Property' && !p.computed ? p.value : p)));
      case 'TemplateLiteral':
        return among(node.expressions);
      default:
        return undefined;
    }
  };
  const among = (list: readonly (Node | null)[]): Node | undefined => {
    for (const item of list) {
      const found = search(item);
      if (found) return found;
      if (!item || !isFixed(item, scopes)) return undefined;
    }
    return undefined;
  };
  return search(statement);
}

/** Whether reading a piece of code does nothing, and gives the same sooner or later. */
function isFixed(given: Node, scopes: ScriptScopes): boolean {
  const node = bare(given);
  if (isFunction(node)) return true;
  // A list that is there is not changed in place.
  if (node.type === 'SpreadElement') return isFixed(node.argument, scopes);
  if (node.type === 'Literal' || node.type === 'ThisExpression') return true;
  if (node.type === 'TemplateLiteral') return node.expressions.every((e) => isFixed(e, scopes));
  if (node.type === 'Identifier') {
    const variable = scopes.variableOf(node);
    return !variable || !scopes.isReassigned(variable);
  }
  // What a class calls by `this` is its own; what it shows and is given changes.
  return memberOfThis(node) !== undefined && !isShownMember(node);
}

/** A function by its name, or a method of something that is always the same. */
function isFixedCallee(given: Node, scopes: ScriptScopes): boolean {
  const node = bare(given);
  if (node.type !== 'MemberExpression' || node.computed) return isFixed(node, scopes);
  return memberOfThis(node) !== undefined || isFixed(node.object, scopes);
}

/** What is assigned to, where finding it reads nothing that changes. */
function isPlainTarget(node: Node, scopes: ScriptScopes): boolean {
  return (
    node.type === 'Identifier' || (node.type === 'MemberExpression' && !node.computed && isFixed(node.object, scopes))
  );
}
