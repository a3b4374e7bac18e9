/** What a call of `setState` sets, where that can be read. */
import type { TSESTree } from '@typescript-eslint/types';
import type { Node } from '../../../script/parser.js';
import type { ScriptScopes, Variable } from '../../../script/scopes.js';
import { bare, isFunction, runsNow, walk, type FunctionNode } from '../../../script/walk.js';
import type { ClassComponent } from './class-component.js';

/** A value by what it was before. */
export interface From {
  readonly param: string;
  /** Where the value before is read: `before.count`. */
  readonly reads: readonly Node[];
}

export interface StateSet {
  readonly name: string;
  readonly value: Node;
  readonly from: From | undefined;
}

export interface StatesSet {
  /** Whether each state can be set by itself. */
  readonly each: boolean;
  readonly sets: readonly StateSet[];
  /** The record that a function gives back for the state before. */
  readonly from: { readonly param: string; readonly record: TSESTree.ObjectExpression } | undefined;
}

/**
 * Undefined where neither a record nor a function that gives one is written out. `react`: the oldest version that it may run on,
 * for `each`; none before 18 where it is left out.
 */
export function statesSet(
  component: ClassComponent,
  call: TSESTree.CallExpression,
  react = Infinity,
): StatesSet | undefined {
  const given = bare(call.arguments[0]!);
  if (given.type === 'ObjectExpression') {
    const sets = entriesOf(given);
    // Setting nothing renders anew all the same.
    if (!sets?.length) return { each: false, sets: [], from: undefined };
    const isAlone = sets.length === 1 || (isStatement(component, call) && (react >= 18 || !isLater(component, call)));
    return { each: isAlone && sets.every((s) => !isFunction(bare(s.value))), sets, from: undefined };
  }
  const made = isFunction(given) ? byFunction(component, given) : undefined;
  if (!made) return undefined;
  const entries = entriesOf(made.record);
  const sets = (entries ?? []).map((entry) => ({ ...entry, from: readsOf(component, made, entry.value, entry.name) }));
  const isAlone = sets.length === 1 || isStatement(component, call);
  const each = sets.length > 0 && isAlone && sets.every(({ from }) => from !== undefined);
  return { each, sets, from: made };
}

/** The entries of a record that has nothing but names with values; undefined where it has more. */
export function entriesOf(record: Node): StateSet[] | undefined {
  if (record.type !== 'ObjectExpression') return undefined;
  const entries = record.properties.map((entry) =>
    entry.type === 'Property' && !entry.computed && !entry.method && entry.key.type === 'Identifier'
      ? { name: entry.key.name, value: entry.value, from: undefined }
      : undefined,
  );
  return entries.every((e) => e !== undefined) ? entries : undefined;
}

/** `(before) => ({ … })`: what the record before is called, and the record. */
function byFunction(
  { scopes }: ClassComponent,
  fn: FunctionNode,
): { param: string; record: TSESTree.ObjectExpression; variable: Variable } | undefined {
  const [id] = fn.params;
  if (fn.async || fn.params.length !== 1 || id?.type !== 'Identifier') return undefined;
  const variable = scopes.variableOf(id);
  const record = recordOf(fn);
  return record && variable && !scopes.isReassigned(variable) ? { param: id.name, record, variable } : undefined;
}

/** The record that is all that a function gives back. */
export function recordOf({ body }: FunctionNode): TSESTree.ObjectExpression | undefined {
  const [only] = body.type === 'BlockStatement' && body.body.length === 1 ? body.body : [];
  const given = body.type !== 'BlockStatement' ? body : only?.type === 'ReturnStatement' ? only.argument : undefined;
  const record = given && bare(given);
  return record?.type === 'ObjectExpression' ? record : undefined;
}

/** Where a value reads the same state as it was; undefined where it reads another one, or asks the object. */
function readsOf(
  { scopes }: ClassComponent,
  { param, variable }: { param: string; variable: Variable },
  value: Node,
  name: string,
): From | undefined {
  let asksObject = false;
  walk(value, (node) => {
    asksObject ||= node.type === 'ThisExpression';
    return !asksObject;
  });
  const reads = asksObject ? undefined : memberReads(scopes, variable, value, name);
  return reads && { param, reads };
}

/** The places where code reads one member of a variable; undefined where it does anything else with it. */
export function memberReads(
  scopes: ScriptScopes,
  variable: Variable,
  root: Node,
  member: string,
): readonly Node[] | undefined {
  const reads: Node[] = [];
  let isOther = false;
  walk(root, (node) => {
    if (node.type !== 'Identifier' || scopes.variableOf(node) !== variable) return;
    const parent = scopes.parentOf(node);
    const isOwn =
      parent?.type === 'MemberExpression' &&
      parent.object === node &&
      !parent.computed &&
      parent.property.type === 'Identifier' &&
      parent.property.name === member;
    if (isOwn) reads.push(parent);
    else isOther = true;
  });
  return isOther ? undefined : reads;
}

/** A statement by itself, or all that an arrow does. */
function isStatement({ scopes }: ClassComponent, call: Node): boolean {
  const parent = scopes.parentOf(call);
  return parent?.type === 'ExpressionStatement' || (parent?.type === 'ArrowFunctionExpression' && parent.body === call);
}

/** Whether it may run by itself rather than for an event, so that React before 18 would render after each state that is set. */
function isLater({ scopes, methods }: ClassComponent, call: Node): boolean {
  const above = scopes.ancestorsOf(call);
  const own = new Set<Node>([...methods.values()].map(({ fn }) => fn));
  return above.some(
    (node) =>
      isFunction(node) &&
      (node.async ||
        (!own.has(node) &&
          !runsNow(node, scopes.parentOf(node)) &&
          scopes.parentOf(node)?.type !== 'JSXExpressionContainer' &&
          scopes.parentOf(node)?.type !== 'MethodDefinition')),
  );
}
