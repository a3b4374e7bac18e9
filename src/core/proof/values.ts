/** Values handed over in an expansion: what a parameter stands for, and whether it may be read later. */
import type { TSESTree } from '@typescript-eslint/types';
import type { Node } from '../script/parser.js';
import type { Variable } from '../script/scopes.js';
import { bare, isFunction, walk, type FunctionNode } from '../script/walk.js';
import { looksAround } from './lazy.js';
import type { ProofModule } from '../language/proof-module.js';

/** A piece of syntax with all that is needed to know what its names mean. */
export interface Code {
  readonly node: Node;
  readonly module: ProofModule;
  readonly env: Env | undefined;
}

export type Value =
  | { readonly kind: 'code'; readonly code: Code }
  /** Markup between the tags of a use. */
  | {
      readonly kind: 'children';
      readonly children: readonly TSESTree.JSXChild[];
      readonly module: ProofModule;
      readonly env: Env | undefined;
    }
  | { readonly kind: 'rest'; readonly items: readonly Code[] }
  | { readonly kind: 'absent' };

/** The bindings of one expanded component or reduced call. */
export interface Env {
  readonly owner: FunctionNode;
  /** Where the owner stands. */
  readonly module: ProofModule;
  /** An expanded component, rather than a reduced call: it has no `this` of the host. */
  readonly component: boolean;
  readonly values: ReadonlyMap<Variable, Value>;
  /** Set when the parameter is one plain name: `props`. */
  readonly whole?: { readonly variable: Variable; readonly attributes: ReadonlyMap<string, Value> };
  readonly parent: Env | undefined;
  /** A function with the statements of its hooks in it: what it declares is its own all the same. */
  readonly splice?: boolean;
  /** One turn of a loop over a list that is written out. */
  readonly turn?: boolean;
  /** A function that is called by its name, and was not handed over. */
  readonly named?: boolean;
  /** The component whose function the owner is: `this` in it is that component. */
  readonly self?: ProofModule;
  /** How many functions that run later stood around the place of expansion. */
  readonly later: number;
}

/** The value behind a parameter, and the env that bound it. */
export function valueOf(code: Code): { value: Value; env: Env } | undefined {
  const node = bare(code.node);
  if (node.type === 'Identifier' || node.type === 'JSXIdentifier') {
    const variable = code.module.scopes.variableOf(node);
    if (!variable) return undefined;
    for (let env = code.env; env; env = env.parent) {
      const value = env.values.get(variable);
      if (value) return { value, env };
    }
    return undefined;
  }
  if (
    node.type !== 'MemberExpression' ||
    node.computed ||
    node.object.type !== 'Identifier' ||
    node.property.type !== 'Identifier'
  )
    return undefined;
  const variable = code.module.scopes.variableOf(node.object);
  for (let env = code.env; env && variable; env = env.parent) {
    if (env.whole?.variable === variable)
      return { value: env.whole.attributes.get(node.property.name) ?? { kind: 'absent' }, env };
  }
  return undefined;
}

/** The code that stands behind a parameter, or behind a member of a record that was handed over as a literal. */
export function handedOver(code: Code): Code | 'absent' | undefined {
  const found = valueOf(code);
  if (found)
    return found.value.kind === 'absent' ? 'absent' : found.value.kind === 'code' ? found.value.code : undefined;
  const node = bare(code.node);
  if (node.type !== 'MemberExpression' || node.computed || node.property.type !== 'Identifier') return undefined;
  const name = node.property.name;
  const object = handedOver({ ...code, node: node.object });
  if (!object || object === 'absent') return undefined;
  const record = bare(object.node);
  if (record.type !== 'ObjectExpression' || record.properties.some((p) => p.type === 'SpreadElement' || p.computed))
    return undefined;
  for (const property of record.properties) {
    if (property.type !== 'Property') continue;
    const key =
      property.key.type === 'Identifier'
        ? property.key.name
        : property.key.type === 'Literal'
          ? String(property.key.value)
          : '';
    if (key === name) return { ...object, node: property.value };
  }
  return 'absent';
}

/** What the member of something that was handed over holds: `draft.value` where `draft` stands for the ref of that name. */
export function heldBy(code: Code): Code | undefined {
  const node = bare(code.node);
  if (node.type !== 'MemberExpression' || node.computed || node.property.type !== 'Identifier') return undefined;
  let object = handedOver({ ...code, node: node.object });
  for (let next = object; next && next !== 'absent'; next = handedOver({ ...next, node: bare(next.node) }))
    object = next;
  if (!object || object === 'absent') return undefined;
  const held = object.module.held?.(bare(object.node), node.property.name);
  return held && { ...object, node: held };
}

/** What a call of something that was handed over comes to: its callee, and the arguments behind the one that told it. */
export function heldCall(
  call: TSESTree.CallExpression,
  code: Code,
): { callee: Code; args: readonly Node[] } | undefined {
  let callee = handedOver({ ...code, node: call.callee });
  for (let next = callee; next && next !== 'absent'; next = handedOver({ ...next, node: bare(next.node) }))
    callee = next;
  if (!callee || callee === 'absent') return undefined;
  const [first, ...args] = call.arguments;
  const held = first && callee.module.heldCallee?.(bare(callee.node), first);
  return held && { callee: { ...callee, node: held }, args };
}

/** The component that `this` is where a function of another file is taken for one of its own. */
export function selfAt({ node, module, env }: Code): ProofModule | undefined {
  let fn = module.scopes.parentOf(node);
  while (fn && (!isFunction(fn) || fn.type === 'ArrowFunctionExpression')) fn = module.scopes.parentOf(fn);
  for (let at = env; at && fn; at = at.parent) if (at.owner === fn && at.self) return at.self;
  return undefined;
}

/** Whether a name holds another value later. Markup that writes to a constant writes to what that holds. */
function isWritten(variable: Variable, node: Node, { scopes, opensAt, changing }: ProofModule): boolean {
  if (!scopes.isReassigned(variable)) return false;
  const definition = variable.defs[0];
  const isConstant = definition?.type === 'Variable' && definition.parent.kind === 'const';
  return !isConstant || opensAt === undefined || changing?.(node) === 'now';
}

/** Whether a value is a name that is written again, or what a ref holds: any call may change it. */
export function mayMove({ node, module }: Code): boolean {
  let found = false;
  walk(node, (inner) => {
    if (isFunction(inner)) return false;
    const variable = inner.type === 'Identifier' ? module.scopes.referenceOf(inner)?.resolved : undefined;
    const isRef =
      inner.type === 'MemberExpression' && inner.property.type === 'Identifier' && inner.property.name === 'current';
    if (isRef || (variable && variable.defs.length > 0 && isWritten(variable, inner, module))) found = true;
    return !found;
  });
  return found;
}

/**
 * Whether reading a value now is as good as reading it later. Names that are never written again keep their value;
 * members of them count as kept too (records are not changed in place while they are shown), but for refs and for what
 * hangs on `this`.
 */
export function isStable(code: Code): boolean {
  const node = bare(code.node);
  const sub = (n: Node) => isStable({ ...code, node: n });
  if (isFunction(node)) return true;
  switch (node.type) {
    case 'Literal':
    case 'ThisExpression':
    case 'JSXElement':
    case 'JSXFragment':
      return true;
    case 'Identifier': {
      const found = valueOf(code);
      if (found) return found.value.kind !== 'code' || isStable(found.value.code);
      const variable = code.module.scopes.variableOf(node);
      if (!variable || variable.defs.length === 0) return true;
      return !isWritten(variable, node, code.module) && !looksAround(variable, code.module);
    }
    case 'MemberExpression': {
      if (node.property.type === 'Identifier' && !node.computed) {
        if (node.property.name === 'current') return false;
        if (node.object.type === 'ThisExpression')
          return node.property.name !== 'state' && node.property.name !== 'props';
      }
      return sub(node.object) && (!node.computed || sub(node.property));
    }
    case 'ChainExpression':
      return sub(node.expression);
    case 'TemplateLiteral':
      return node.expressions.every(sub);
    case 'BinaryExpression':
    case 'LogicalExpression':
      return sub(node.left) && sub(node.right);
    case 'UnaryExpression':
      return sub(node.argument);
    case 'ConditionalExpression':
      return sub(node.test) && sub(node.consequent) && sub(node.alternate);
    case 'ObjectExpression':
      return node.properties.every((p) => (p.type === 'SpreadElement' ? sub(p.argument) : sub(p.value)));
    case 'ArrayExpression':
      return node.elements.every((e) => !e || sub(e.type === 'SpreadElement' ? e.argument : e));
    case 'CallExpression': {
      if (code.module.held?.(node) ?? code.module.heldCallee?.(node, undefined)) return true;
      const callee = bare(node.callee);
      return (
        callee.type === 'MemberExpression' &&
        callee.property.type === 'Identifier' &&
        callee.property.name === 'bind' &&
        sub(callee.object) &&
        node.arguments.every((a) => sub(a))
      );
    }
    default:
      return false;
  }
}
