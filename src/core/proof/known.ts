/**
 * What code of the second side comes to when all that it needs was handed over as literals: a template around a given
 * word is that word with its head and tail, a condition on what was not given is decided.
 */
import type { TSESTree } from '@typescript-eslint/types';
import { bare, isFunction } from '../script/walk.js';
import { handedOver, type Code } from './values.js';

export interface Known {
  readonly value: string | number | boolean | null | undefined;
  /** Something in it was handed over; code that is all literals by itself is the same on both sides. */
  readonly given: boolean;
}

export function knownOf(code: Code): Known | undefined {
  const found = handedOver(code);
  if (found) {
    if (found === 'absent') return { value: undefined, given: true };
    const inner = knownOf(found);
    return inner && { value: inner.value, given: true };
  }
  const node = bare(code.node);
  const sub = (n: TSESTree.Node) => knownOf({ ...code, node: n });
  switch (node.type) {
    case 'Literal':
      if ('regex' in node || typeof node.value === 'bigint') return undefined;
      return { value: node.value as Known['value'], given: false };
    case 'JSXAttribute':
      // An attribute without a value is true.
      return node.value ? undefined : { value: true, given: false };
    case 'Identifier':
      return node.name === 'undefined' && !code.module.scopes.variableOf(node)?.defs.length
        ? { value: undefined, given: false }
        : undefined;
    case 'TemplateLiteral': {
      const parts = node.expressions.map(sub);
      if (parts.some((part) => part === undefined)) return undefined;
      const value = node.quasis.map(
        (q, i) => (q.value.cooked ?? '') + (i < parts.length ? String(parts[i]!.value) : ''),
      );
      return { value: value.join(''), given: parts.some((part) => part!.given) };
    }
    case 'BinaryExpression': {
      const [left, right] = [sub(node.left), sub(node.right)];
      if (!left || !right || (node.operator !== '===' && node.operator !== '!==')) return undefined;
      return { value: (left.value === right.value) === (node.operator === '==='), given: left.given || right.given };
    }
    case 'UnaryExpression': {
      const inner = node.operator === '!' ? sub(node.argument) : undefined;
      return inner && { value: !inner.value, given: inner.given };
    }
    case 'LogicalExpression':
    case 'ConditionalExpression': {
      const chosen = chosenOf({ ...code, node });
      const inner = chosen && knownOf(chosen);
      return inner && { value: inner.value, given: true };
    }
    default:
      return undefined;
  }
}

/** The side of a condition that is taken, where what was handed over decides it. */
export function chosenOf(code: Code): Code | undefined {
  const node = bare(code.node);
  if (node.type === 'ConditionalExpression') {
    const truth = truthOf({ ...code, node: node.test });
    return truth === undefined ? undefined : { ...code, node: truth ? node.consequent : node.alternate };
  }
  if (node.type !== 'LogicalExpression') return undefined;
  const left = { ...code, node: node.left as TSESTree.Node };
  if (node.operator === '??') {
    const known = knownOf(left);
    return known?.given ? { ...code, node: known.value == null ? node.right : node.left } : undefined;
  }
  const truth = truthOf(left);
  if (truth === undefined) return undefined;
  return { ...code, node: truth === (node.operator === '&&') ? node.right : node.left };
}

/** What is left of a statement where something that was handed over decides an `if`: the statements of the side that is taken. */
export function statementsOf(code: Code): readonly TSESTree.Node[] {
  const { node } = code;
  const truth = node.type === 'IfStatement' ? truthOf({ ...code, node: node.test }) : undefined;
  if (node.type !== 'IfStatement' || truth === undefined) return [node];
  const taken = truth ? node.consequent : node.alternate;
  if (!taken) return [];
  const own: readonly TSESTree.Node[] = taken.type === 'BlockStatement' ? taken.body : [taken];
  return own.flatMap((inner) => statementsOf({ ...code, node: inner }));
}

/** Whether something handed over counts as true; undefined where that is not known, or nothing was handed over. */
function truthOf(code: Code): boolean | undefined {
  const known = knownOf(code);
  if (known) return known.given ? Boolean(known.value) : undefined;
  const found = handedOver(code);
  if (!found || found === 'absent') return undefined;
  const node = bare(found.node);
  const isThing =
    isFunction(node) || ['JSXElement', 'JSXFragment', 'ObjectExpression', 'ArrayExpression'].includes(node.type);
  return isThing ? true : truthOf(found);
}
