/** Where the value of an expression goes: what a piece of markup becomes a part of, and who can look at it on the way. */
import type { TSESTree } from '@typescript-eslint/types';
import type { Node } from './parser.js';
import type { ScriptScopes, Variable } from './scopes.js';
import { classAround, memberOfThis } from './this-members.js';
import { attributeName, bare, calleeName, isFunction, runsNow, walk, type FunctionNode } from './walk.js';

export type Sink =
  /** Stands between the tags of an element. */
  | { readonly kind: 'child'; readonly element: TSESTree.JSXElement }
  | { readonly kind: 'attribute'; readonly element: TSESTree.JSXElement; readonly name: string }
  /** Is what a function gives back, and who calls it is not seen. */
  | { readonly kind: 'returned'; readonly fn: FunctionNode }
  /** Is asked whether it is something at all. */
  | { readonly kind: 'tested'; readonly node: Node }
  /** Is taken apart, compared, copied. */
  | { readonly kind: 'read'; readonly node: Node }
  /** Is an argument of a call, or a part of a record. */
  | { readonly kind: 'handed'; readonly node: Node };

const MOST_STEPS = 60;

export function sinksOf(node: Node, scopes: ScriptScopes): Sink[] {
  const sinks: Sink[] = [];
  const met = new Set<unknown>();
  const queue: Node[] = [node];
  for (let steps = 0; queue.length > 0 && steps < MOST_STEPS; steps++) {
    const next = queue.pop()!;
    if (met.has(next)) continue;
    met.add(next);
    step(next);
  }
  return sinks;

  function step(value: Node): void {
    const parent = scopes.parentOf(value);
    if (!parent || parent.type === 'Program') return;
    switch (parent.type) {
      case 'JSXElement':
        return void sinks.push({ kind: 'child', element: parent });
      case 'JSXFragment':
        return;
      case 'JSXExpressionContainer':
      case 'JSXSpreadChild':
        return inContainer(parent);
      case 'JSXAttribute':
        return inAttribute(parent);
      case 'ConditionalExpression':
        return parent.test === value ? void sinks.push({ kind: 'tested', node: parent }) : again(parent);
      case 'LogicalExpression':
        // `value || other` shows the other one where there is nothing.
        if (parent.left === value) sinks.push({ kind: 'tested', node: parent });
        return again(parent);
      case 'IfStatement':
        return parent.test === value ? void sinks.push({ kind: 'tested', node: parent }) : undefined;
      case 'SequenceExpression':
        return parent.expressions.at(-1) === value ? again(parent) : undefined;
      case 'ArrayExpression':
      case 'ChainExpression':
      case 'SpreadElement':
        return again(parent);
      case 'UnaryExpression':
        return void sinks.push({ kind: parent.operator === '!' ? 'tested' : 'read', node: parent });
      case 'BinaryExpression':
      case 'MemberExpression':
        return void sinks.push({ kind: 'read', node: parent });
      case 'Property':
        return void sinks.push({ kind: 'handed', node: parent });
      case 'ReturnStatement': {
        const fn = scopes.ancestorsOf(parent).find(isFunction);
        return fn ? fromFunction(fn) : undefined;
      }
      case 'ArrowFunctionExpression':
        return parent.body === value ? fromFunction(parent) : undefined;
      case 'VariableDeclarator':
        return parent.id.type === 'Identifier'
          ? uses(scopes.variableOf(parent.id))
          : void sinks.push({ kind: 'read', node: parent });
      case 'AssignmentExpression': {
        const left = bare(parent.left);
        return left.type === 'Identifier'
          ? uses(scopes.variableOf(left))
          : void sinks.push({ kind: 'handed', node: parent });
      }
      case 'CallExpression':
        return inCall(parent, value);
      default:
        if (bare(parent) !== parent) again(parent);
    }
  }

  function again(parent: Node): void {
    queue.push(parent);
  }

  function inContainer(container: Node): void {
    const holder = scopes.parentOf(container);
    if (holder?.type === 'JSXElement') sinks.push({ kind: 'child', element: holder });
    else if (holder?.type === 'JSXAttribute') inAttribute(holder);
  }

  function inAttribute(attribute: TSESTree.JSXAttribute): void {
    const element = scopes.ancestorsOf(attribute).find((n) => n.type === 'JSXElement');
    if (!element) return;
    const name = attributeName(attribute);
    sinks.push(name === 'children' ? { kind: 'child', element } : { kind: 'attribute', element, name });
  }

  function inCall(call: TSESTree.CallExpression, value: Node): void {
    const name = calleeName(call) ?? '';
    if (call.callee === value) return;
    if (/^(?:cloneElement|isValidElement|toArray|only|count)$/.test(name))
      return void sinks.push({ kind: 'read', node: call });
    const callee = bare(call.callee);
    // A list that is filled piece by piece.
    if (name === 'push' && callee.type === 'MemberExpression' && callee.object.type === 'Identifier')
      return uses(scopes.variableOf(callee.object));
    if (name === 'createElement' || name === 'createPortal' || name === 'useState' || name === 'useMemo') return;
    sinks.push({ kind: 'handed', node: call });
  }

  /** What becomes of what a function gives back. */
  function fromFunction(fn: FunctionNode): void {
    const parent = scopes.parentOf(fn);
    if (parent?.type === 'CallExpression' && runsNow(fn, parent)) return again(parent);
    const name =
      fn.type === 'FunctionDeclaration' ? fn.id : parent?.type === 'VariableDeclarator' ? parent.id : undefined;
    const variable = name?.type === 'Identifier' ? scopes.variableOf(name) : undefined;
    const isComponent = name?.type === 'Identifier' && /^[A-Z]/.test(name.name);
    sinks.push({ kind: 'returned', fn });
    if (parent?.type === 'MethodDefinition' || parent?.type === 'PropertyDefinition') return fromMethod(parent);
    if (!variable || isComponent) return;
    for (const { identifier } of variable.references) {
      const call = scopes.parentOf(identifier);
      if (call?.type !== 'CallExpression') continue;
      if (call.callee === identifier || NOW.has(calleeName(call) ?? '')) again(call);
    }
  }

  /** What becomes of it where the class calls it. */
  function fromMethod(member: TSESTree.MethodDefinition | TSESTree.PropertyDefinition): void {
    const body = scopes.parentOf(member);
    if (body?.type !== 'ClassBody' || member.key.type !== 'Identifier') return;
    const { name } = member.key;
    walk(body, (inner) => {
      if (memberOfThis(inner) !== name || classAround(inner, scopes) !== body) return undefined;
      const call = scopes.parentOf(inner);
      if (call?.type === 'CallExpression' && (call.callee === inner || NOW.has(calleeName(call) ?? ''))) again(call);
      return undefined;
    });
  }

  function uses(variable: Variable | undefined): void {
    if (!variable || met.has(variable)) return;
    met.add(variable);
    for (const { identifier } of variable.references) {
      const parent = scopes.parentOf(identifier);
      const isWrite = parent?.type === 'AssignmentExpression' && parent.left === identifier;
      const method = parent?.type === 'MemberExpression' && parent.object === identifier ? parent : undefined;
      const isPush = method?.property.type === 'Identifier' && /^(?:push|unshift|length)$/.test(method.property.name);
      if (isWrite || isPush || parent?.type === 'VariableDeclarator') continue;
      again(identifier);
    }
  }
}

const NOW = new Set(['map', 'flatMap', 'from']);
