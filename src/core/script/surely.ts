/** What runs whenever the code around it does: a value that is asked for only then may be worked out before, too. */
import type { Node } from './parser.js';
import type { ScriptScopes } from './scopes.js';
import { bare, isFunction, walk } from './walk.js';

/** Whether a piece of code runs whenever `root` does: in no branch, loop or function of its own, in no `try`, behind nothing that may leave. */
export function runsSurely(piece: Node, root: Node, scopes: ScriptScopes): boolean {
  let at = piece;
  for (let parent = scopes.parentOf(at); parent && at !== root; parent = scopes.parentOf(at)) {
    if (parent !== root && isFunction(parent)) return false;
    if (!isAlways(at, parent, scopes)) return false;
    at = parent;
  }
  return at === root;
}

function isAlways(at: Node, parent: Node, scopes: ScriptScopes): boolean {
  switch (parent.type) {
    case 'ConditionalExpression':
    case 'IfStatement':
    case 'WhileStatement':
      return at === parent.test;
    case 'LogicalExpression':
      return at === parent.left;
    case 'SwitchStatement':
      return at === parent.discriminant;
    case 'ForOfStatement':
    case 'ForInStatement':
      return at === parent.right;
    case 'ForStatement':
      return at === parent.init || at === parent.test;
    case 'AssignmentPattern':
      return at !== parent.right;
    case 'SwitchCase':
    case 'TryStatement':
    case 'CatchClause':
      return false;
    case 'CallExpression':
      return at === parent.callee || !inChain(parent, scopes);
    case 'MemberExpression':
      return at === parent.object || !inChain(parent, scopes);
    case 'BlockStatement':
    case 'Program':
      return parent.body.slice(0, parent.body.indexOf(at as never)).every((s) => !mayLeave(s));
    default:
      return true;
  }
}

/** Whether an optional chain may end before this part of it. */
function inChain(node: Node, scopes: ScriptScopes): boolean {
  for (let at: Node | undefined = node; at; at = scopes.parentOf(at)) {
    if (at.type === 'ChainExpression') return true;
    if (!/^(?:Member|Call)Expression$|^TSNonNull/.test(at.type)) return false;
  }
  return false;
}

/** Whether a statement may end what is behind it before it begins, or lets time pass. */
export function mayLeave(statement: Node): boolean {
  let found = false;
  walk(statement, (node) => {
    if (isFunction(node)) return false;
    if (/^(?:Return|Throw|Break|Continue)Statement$|^(?:Await|Yield)Expression$/.test(node.type)) found = true;
    return !found;
  });
  return found;
}

/** Whether working a value out may fail, or do something: a member of what may be missing, a call. */
export function mayFail(value: Node, isHolder: (node: Node) => boolean): boolean {
  let found = false;
  walk(value, (node) => {
    if (isFunction(node)) return false;
    if (/^(?:Call|New|TaggedTemplate|Await)Expression$/.test(node.type)) found = true;
    if (node.type === 'MemberExpression' && !node.optional && !isHolder(bare(node.object))) found = true;
    return !found;
  });
  return found;
}
