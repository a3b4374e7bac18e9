/** Pieces of code put in the place of others: literals for what they come to, the results of a hook for the names of a host. */
import type { TSESTree } from '@typescript-eslint/types';
import type { Node } from '../script/parser.js';
import { DefinitionType, type Variable } from '../script/scopes.js';
import { bare, isFunction, type FunctionNode } from '../script/walk.js';
import type { Known } from './known.js';
import { Mismatch } from './mismatch.js';
import type { ProofModule } from '../language/proof-module.js';
import { functionBehind, place } from './questions.js';
import type { Code, Value } from './values.js';

/** A literal that stands nowhere in the text; it has the place of what it was made from. */
export function literal(value: Known['value'], code: Code): Code {
  const { range, loc } = code.node;
  const node: object =
    value === undefined
      ? { type: 'Identifier', name: 'undefined', range, loc }
      : { type: 'Literal', value, range, loc };
  return { module: code.module, env: undefined, node: node as Node };
}

/** A function at the top of a file; it keeps nothing between its calls. */
export function isModuleFunction(variable: Variable): boolean {
  return variable.scope.type === 'module' && functionBehind(variable) !== undefined;
}

/** The function around a piece of code. */
export function ownerOf(code: Code): FunctionNode {
  for (let node: Node | undefined = code.node; node; node = code.module.scopes.parentOf(node))
    if (isFunction(node)) return node;
  throw new Mismatch('hook-outside', 'a hook is used outside of a function', undefined, place(code));
}

/** The names that a host takes from what a hook gives back. */
export function bindReturned(
  pattern: Node,
  host: Code,
  returned: Node | null | undefined,
  hook: Code,
  values: Map<Variable, Value>,
): void {
  const unusual = (node: Node): never => {
    throw new Mismatch('hook-result', 'what a hook gives back is taken apart in an unusual way', undefined, {
      module: host.module,
      node,
    });
  };
  const bind = (target: Node, node: Node | null | undefined) => {
    const variable = host.module.scopes.variableOf(target);
    if (target.type !== 'Identifier' || !variable || !node) return unusual(target);
    // What holds a value is one thing wherever its name is written to.
    const why = hook.module.held?.(bare(node)) ? undefined : whyNotOne(variable, host.module, bare(node), hook.module);
    if (why !== undefined) throw new Mismatch('hook-assigned', why, undefined, { module: host.module, node: target });
    values.set(variable, { kind: 'code', code: { ...hook, node } });
  };
  if (pattern.type === 'Identifier') return bind(pattern, returned);
  const value = returned ? bare(returned) : undefined;
  if (pattern.type !== 'ObjectPattern' || value?.type !== 'ObjectExpression') return unusual(pattern);
  for (const property of pattern.properties) {
    if (property.type !== 'Property' || property.key.type !== 'Identifier') return unusual(property);
    const { name } = property.key;
    const given = value.properties.find(
      (p): p is TSESTree.Property => p.type === 'Property' && p.key.type === 'Identifier' && p.key.name === name,
    );
    bind(property.value, given?.value);
  }
}

/** Why what a host takes from a hook is not one thing with what the hook calls so; undefined where it is. */
function whyNotOne(taken: Variable, host: ProofModule, node: Node, hook: ProofModule): string | undefined {
  const isAssigned = host.scopes.isReassigned(taken);
  const definition = taken.defs[0];
  if (isAssigned && definition?.type === DefinitionType.Variable && definition.parent.kind === 'const')
    return `"${taken.name}" is assigned, and what the hook gives is a constant here`;
  const given = node.type === 'Identifier' ? hook.scopes.referenceOf(node)?.resolved : undefined;
  const later = given ? hook.scopes.laterReferences(given) : [];
  return (isAssigned && later.length > 0) || later.some((r) => r.isWrite())
    ? `"${taken.name}" is assigned again, and the hook has one of its own`
    : undefined;
}

/** A parameter that takes a record apart, given one that is written out; false where it is not. */
export function bindRecord(
  pattern: Node,
  { module }: Code,
  given: Code | undefined,
  values: Map<Variable, Value>,
): boolean {
  const record = given && bare(given.node);
  if (pattern.type !== 'ObjectPattern' || record?.type !== 'ObjectExpression') return false;
  const entries = new Map<string, Node>();
  for (const property of record.properties) {
    if (property.type !== 'Property' || property.computed || property.key.type !== 'Identifier') return false;
    entries.set(property.key.name, property.value);
  }
  return pattern.properties.every((property) => {
    if (property.type !== 'Property' || property.key.type !== 'Identifier' || property.value.type !== 'Identifier')
      return false;
    const variable = module.scopes.variableOf(property.value);
    const node = entries.get(property.key.name);
    if (variable) values.set(variable, node ? { kind: 'code', code: { ...given!, node } } : { kind: 'absent' });
    return true;
  });
}
