/** What waiting means for a value: an asynchronous function gives what a promise comes to, and never the promise. */
import type { Node } from './parser.js';
import type { ScriptScopes } from './scopes.js';
import { bare, isFunction, walk } from './walk.js';

/** Whether code waits for something by itself, and not in a function inside of it. */
export function waits(root: Node): boolean {
  let found = false;
  walk(root, (node) => {
    if (node !== root && isFunction(node)) return false;
    if (node.type === 'AwaitExpression' || (node.type === 'ForOfStatement' && node.await)) found = true;
    return !found;
  });
  return found;
}

/**
 * The offset behind which a function has waited: what is read there is read later. The end of the first wait, or the beginning of the
 * loop that it stands in, whose next turn comes behind it. Infinity where it never waits.
 */
export function firstWait(fn: Node): number {
  let end = Infinity;
  walk(fn, (node, above) => {
    if (node !== fn && isFunction(node)) return false;
    const isLoop = node.type === 'ForOfStatement' && node.await;
    if (!isLoop && node.type !== 'AwaitExpression') return undefined;
    const loop = above.find((n) => /^(?:For|While|DoWhile)/.test(n.type) && n !== fn);
    // The first turn of a loop that waits itself does so before it begins.
    end = Math.min(end, loop?.range[0] ?? (isLoop ? node.right.range[1] : node.range[1]));
    return undefined;
  });
  return end;
}

export function withoutAwait(node: Node): Node {
  const inner = bare(node);
  return inner.type === 'AwaitExpression' ? inner.argument : inner;
}

const GIVES_NO_PROMISE = /^(?:String|Number|Boolean|parseInt|parseFloat)$/;
const OF_LANGUAGE = /^(?:JSON|Object|Array|Number|String|Math|Date)$/;
/** Members that are promises where they are anything. */
const PROMISES = /promise|^(?:ready|finished|closed|loaded|done|complete)$/i;

/** Whether a value is no promise, as far as its text tells. */
export function isSettled(given: Node, scopes: ScriptScopes): boolean {
  const node = bare(given);
  switch (node.type) {
    case 'AwaitExpression':
    case 'Literal':
    case 'TemplateLiteral':
    case 'BinaryExpression':
    case 'UnaryExpression':
    case 'ObjectExpression':
    case 'ArrayExpression':
    case 'ArrowFunctionExpression':
    case 'FunctionExpression':
      return true;
    case 'MemberExpression':
      return node.property.type === 'Identifier' && !node.computed && !PROMISES.test(node.property.name);
    case 'NewExpression':
      return !(node.callee.type === 'Identifier' && node.callee.name === 'Promise');
    case 'LogicalExpression':
      return isSettled(node.left, scopes) && isSettled(node.right, scopes);
    case 'ConditionalExpression':
      return isSettled(node.consequent, scopes) && isSettled(node.alternate, scopes);
    case 'CallExpression':
      return isPlainCall(bare(node.callee));
    case 'Identifier': {
      const definition = scopes.variableOf(node)?.defs[0];
      if (definition?.type !== 'Variable' || definition.parent.kind !== 'const' || !definition.node.init) return false;
      return definition.node.id.type !== 'Identifier' || isSettled(definition.node.init, scopes);
    }
    default:
      return false;
  }
}

function isPlainCall(callee: Node): boolean {
  if (callee.type === 'Identifier') return GIVES_NO_PROMISE.test(callee.name);
  return (
    callee.type === 'MemberExpression' && callee.object.type === 'Identifier' && OF_LANGUAGE.test(callee.object.name)
  );
}
