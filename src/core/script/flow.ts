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

export function sinksOf(node: Node, scopes: ScriptScopes): readonly Sink[] {
  return new Flow(scopes).from(node);
}

class Flow {
  readonly #sinks: Sink[] = [];
  readonly #met = new Set<unknown>();
  readonly #queue: Node[] = [];

  constructor(readonly scopes: ScriptScopes) {}

  from(node: Node): readonly Sink[] {
    this.#queue.push(node);
    for (let steps = 0; this.#queue.length > 0 && steps < MOST_STEPS; steps++) {
      const next = this.#queue.pop()!;
      if (this.#met.has(next)) continue;
      this.#met.add(next);
      this.#step(next);
    }
    return this.#sinks;
  }

  #step(value: Node): void {
    const parent = this.scopes.parentOf(value);
    if (!parent || parent.type === 'Program') return;
    switch (parent.type) {
      case 'JSXElement':
        return void this.#sinks.push({ kind: 'child', element: parent });
      case 'JSXFragment':
        return;
      case 'JSXExpressionContainer':
      case 'JSXSpreadChild':
        return this.#inContainer(parent);
      case 'JSXAttribute':
        return this.#inAttribute(parent);
      case 'ConditionalExpression':
        return parent.test === value ? void this.#sinks.push({ kind: 'tested', node: parent }) : this.#again(parent);
      case 'LogicalExpression':
        // `value || other` shows the other one where there is nothing.
        if (parent.left === value) this.#sinks.push({ kind: 'tested', node: parent });
        return this.#again(parent);
      case 'IfStatement':
        return parent.test === value ? void this.#sinks.push({ kind: 'tested', node: parent }) : undefined;
      case 'SequenceExpression':
        return parent.expressions.at(-1) === value ? this.#again(parent) : undefined;
      case 'ArrayExpression':
      case 'ChainExpression':
      case 'SpreadElement':
        return this.#again(parent);
      case 'UnaryExpression':
        return void this.#sinks.push({ kind: parent.operator === '!' ? 'tested' : 'read', node: parent });
      case 'BinaryExpression':
      case 'MemberExpression':
        return void this.#sinks.push({ kind: 'read', node: parent });
      case 'Property':
        return void this.#sinks.push({ kind: 'handed', node: parent });
      case 'ReturnStatement': {
        const fn = this.scopes.ancestorsOf(parent).find(isFunction);
        return fn ? this.#fromFunction(fn) : undefined;
      }
      case 'ArrowFunctionExpression':
        return parent.body === value ? this.#fromFunction(parent) : undefined;
      case 'VariableDeclarator':
        return parent.id.type === 'Identifier'
          ? this.#uses(this.scopes.variableOf(parent.id))
          : void this.#sinks.push({ kind: 'read', node: parent });
      case 'AssignmentExpression': {
        const left = bare(parent.left);
        return left.type === 'Identifier'
          ? this.#uses(this.scopes.variableOf(left))
          : void this.#sinks.push({ kind: 'handed', node: parent });
      }
      case 'CallExpression':
        return this.#inCall(parent, value);
      default:
        if (bare(parent) !== parent) this.#again(parent);
    }
  }

  #again(parent: Node): void {
    this.#queue.push(parent);
  }

  #inContainer(container: Node): void {
    const holder = this.scopes.parentOf(container);
    if (holder?.type === 'JSXElement') this.#sinks.push({ kind: 'child', element: holder });
    else if (holder?.type === 'JSXAttribute') this.#inAttribute(holder);
  }

  #inAttribute(attribute: TSESTree.JSXAttribute): void {
    const element = this.scopes.ancestorsOf(attribute).find((n) => n.type === 'JSXElement');
    if (!element) return;
    const name = attributeName(attribute);
    this.#sinks.push(name === 'children' ? { kind: 'child', element } : { kind: 'attribute', element, name });
  }

  #inCall(call: TSESTree.CallExpression, value: Node): void {
    const name = calleeName(call) ?? '';
    if (call.callee === value) return;
    if (/^(?:cloneElement|isValidElement|toArray|only|count)$/.test(name))
      return void this.#sinks.push({ kind: 'read', node: call });
    const callee = bare(call.callee);
    // A list that is filled piece by piece.
    if (name === 'push' && callee.type === 'MemberExpression' && callee.object.type === 'Identifier')
      return this.#uses(this.scopes.variableOf(callee.object));
    if (name === 'createElement' || name === 'createPortal' || name === 'useState' || name === 'useMemo') return;
    this.#sinks.push({ kind: 'handed', node: call });
  }

  /** What becomes of what a function gives back. */
  #fromFunction(fn: FunctionNode): void {
    const parent = this.scopes.parentOf(fn);
    if (parent?.type === 'CallExpression' && runsNow(fn, parent)) return this.#again(parent);
    const name =
      fn.type === 'FunctionDeclaration' ? fn.id : parent?.type === 'VariableDeclarator' ? parent.id : undefined;
    const variable = name?.type === 'Identifier' ? this.scopes.variableOf(name) : undefined;
    const isComponent = name?.type === 'Identifier' && /^[A-Z]/.test(name.name);
    this.#sinks.push({ kind: 'returned', fn });
    if (parent?.type === 'MethodDefinition' || parent?.type === 'PropertyDefinition') return this.#fromMethod(parent);
    if (!variable || isComponent) return;
    for (const { identifier } of variable.references) {
      const call = this.scopes.parentOf(identifier);
      if (call?.type !== 'CallExpression') continue;
      if (call.callee === identifier || NOW.has(calleeName(call) ?? '')) this.#again(call);
    }
  }

  /** What becomes of it where the class calls it. */
  #fromMethod(member: TSESTree.MethodDefinition | TSESTree.PropertyDefinition): void {
    const body = this.scopes.parentOf(member);
    if (body?.type !== 'ClassBody' || member.key.type !== 'Identifier') return;
    const { name } = member.key;
    walk(body, (inner) => {
      if (memberOfThis(inner) !== name || classAround(inner, this.scopes) !== body) return undefined;
      const call = this.scopes.parentOf(inner);
      if (call?.type === 'CallExpression' && (call.callee === inner || NOW.has(calleeName(call) ?? '')))
        this.#again(call);
      return undefined;
    });
  }

  #uses(variable: Variable | undefined): void {
    if (!variable || this.#met.has(variable)) return;
    this.#met.add(variable);
    for (const { identifier } of variable.references) {
      const parent = this.scopes.parentOf(identifier);
      const isWrite = parent?.type === 'AssignmentExpression' && parent.left === identifier;
      const method = parent?.type === 'MemberExpression' && parent.object === identifier ? parent : undefined;
      const isPush = method?.property.type === 'Identifier' && /^(?:push|unshift|length)$/.test(method.property.name);
      if (isWrite || isPush || parent?.type === 'VariableDeclarator') continue;
      this.#again(identifier);
    }
  }
}

const NOW = new Set(['map', 'flatMap', 'from']);
