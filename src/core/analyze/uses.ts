/** Who reads and who writes the values of a component: handlers, effects, what is worked out, the markup, other components. */
import type { Binding, ComponentModel } from '../markup/model.js';
import type { Node, ParsedScript } from '../script/parser.js';
import type { ScriptScopes, Variable } from '../script/scopes.js';
import { attributeName, bare, calleeName, isFunction, isThisState, nodeWithin, walk, within } from '../script/walk.js';

/** A file with its names resolved, its markup as syntax. */
export interface Resolved {
  readonly script: ParsedScript;
  readonly scopes: ScriptScopes;
}

export interface ValueUse {
  /** UTF-16 offset of the name. */
  readonly at: number;
  /** The binding that the use stands in; undefined for the markup and for statements without a name. */
  readonly by: Binding | undefined;
  readonly inMarkup: boolean;
  readonly writes: boolean;
  /** Set where the use stands in what is passed to a component. */
  readonly passed?: Passing;
  /** Range of the function in the markup that the use stands in. */
  readonly handler?: string;
}

export interface Passing {
  /** The tag, as written, and where it begins. */
  readonly tag: string;
  readonly at: number;
  readonly prop: string;
  /** The value and nothing else. */
  readonly plain: boolean;
}

/** A binding with the names that were declared together with it: a state and its setter are one. */
export interface Value {
  readonly binding: Binding;
  readonly names: readonly string[];
  readonly uses: readonly ValueUse[];
}

/** Methods that change what they are called on. */
const CHANGES = new Set('push pop shift unshift splice sort reverse fill copyWithin set add delete clear'.split(' '));

/** Values of a component in the order of their declaration. */
export function valuesOf(module: Resolved, component: ComponentModel): readonly Value[] {
  const { bindings } = component;
  const isSetter = (b: Binding) => b.kind === 'setter';
  const own = bindings.filter((b) => !isSetter(b));
  return own.map((binding): Value => {
    const isTogether = (b: Binding) => isSetter(b) && b.start === binding.start && b.end === binding.end;
    const partner = binding.kind === 'state' ? bindings.filter(isTogether) : [];
    const reads = component.kind === 'class' ? [] : variablesOf(module, component, binding);
    const setters = partner.flatMap((b) => variablesOf(module, component, b));
    const uses = [
      ...reads.flatMap((v) => usesOf(module, component, v, binding, false)),
      ...setters.flatMap((v) => usesOf(module, component, v, binding, true)),
      ...(component.kind === 'class' ? memberUses(module, component, binding) : []),
    ];
    return { binding, names: [binding.name, ...partner.map((b) => b.name)], uses: uses.sort((a, b) => a.at - b.at) };
  });
}

function variablesOf({ scopes }: Resolved, component: ComponentModel, { name, kind }: Binding): Variable[] {
  if (name === '') return [];
  const found = new Map<Variable, number>();
  for (const { resolved } of scopes.within(component)) {
    if (!resolved || resolved.defs.length === 0 || scopes.isModuleLevel(resolved)) continue;
    if (resolved.name.replace(/^(?:this|props)\./, '') !== name) continue;
    if (resolved.name.startsWith('props.') && kind !== 'prop') continue;
    found.set(resolved, resolved.scope.block.range[1] - resolved.scope.block.range[0]);
  }
  // A name inside may hide that of the component, whose scope is the widest.
  const widest = Math.max(...found.values());
  return [...found].filter(([, size]) => size === widest).map(([variable]) => variable);
}

function usesOf(
  module: Resolved,
  component: ComponentModel,
  variable: Variable,
  own: Binding,
  setter: boolean,
): ValueUse[] {
  return variable.references
    .filter((r) => !r.init && !nodeWithin(r.identifier, own))
    .map((reference) => useAt(module, component, reference.identifier, setter || reference.isWrite()));
}

function useAt({ scopes }: Resolved, component: ComponentModel, identifier: Node, writes: boolean): ValueUse {
  const at = identifier.range[0];
  const around = component.bindings
    .filter((b) => b.kind !== 'prop' && at >= b.start && at < b.end)
    .sort((a, b) => a.end - a.start - (b.end - b.start))[0];
  const ancestors = scopes.ancestorsOf(identifier);
  const inMarkup = !around && component.markup.some((node) => at >= node.start && at < node.end);
  const passed = inMarkup ? passingAt(identifier, ancestors) : undefined;
  const fn = inMarkup ? ancestors.find((node) => isFunction(node) && isInAttribute(node, scopes)) : undefined;
  return {
    at,
    by: around,
    inMarkup,
    writes: writes || changes(identifier, ancestors),
    ...(passed ? { passed } : {}),
    ...(fn ? { handler: fn.range.join('-') } : {}),
  };
}

/** `hives.push(…)`, `draft.notes = …`: what a value holds is changed in place. */
function changes(identifier: Node, ancestors: readonly Node[]): boolean {
  let inner: Node = identifier;
  for (const node of ancestors) {
    if (node.type === 'MemberExpression' && node.object === inner) {
      inner = node;
      continue;
    }
    if (node.type === 'AssignmentExpression') return node.left === inner && inner !== identifier;
    if (node.type === 'UpdateExpression') return inner !== identifier;
    return (
      node.type === 'CallExpression' &&
      node.callee === inner &&
      inner.type === 'MemberExpression' &&
      CHANGES.has(calleeName(node) ?? '')
    );
  }
  return false;
}

function isInAttribute(fn: Node, scopes: ScriptScopes): boolean {
  const parent = scopes.parentOf(fn);
  return parent?.type === 'JSXExpressionContainer' && scopes.parentOf(parent)?.type === 'JSXAttribute';
}

function passingAt(identifier: Node, ancestors: readonly Node[]): Passing | undefined {
  const at = ancestors.findIndex((node) => node.type === 'JSXAttribute' || node.type === 'JSXElement');
  const attribute = ancestors[at];
  if (attribute?.type !== 'JSXAttribute') return undefined;
  const opening = ancestors[at + 1];
  if (opening?.type !== 'JSXOpeningElement' || opening.name.type !== 'JSXIdentifier') return undefined;
  if (!/^[A-Z]|:/.test(opening.name.name) && !opening.name.name.includes('-')) return undefined;
  const name = attributeName(attribute);
  if (name === 'key' || name === 'ref') return undefined;
  const { value } = attribute;
  const inner = value?.type === 'JSXExpressionContainer' ? bare(value.expression) : undefined;
  return { tag: opening.name.name, at: opening.range[0], prop: name, plain: inner === identifier };
}

/** Where one member of a record is read, once the record has a name or is taken apart. */
function readsThrough(pattern: Node, name: string, scopes: ScriptScopes): Node[] {
  const referencesOf = (id: Node) =>
    (scopes.variableOf(id)?.references ?? []).filter((r) => !r.init).map((r) => r.identifier as Node);
  if (pattern.type === 'Identifier')
    return referencesOf(pattern).filter((id) => {
      const parent = scopes.parentOf(id);
      const isMember = parent?.type === 'MemberExpression' && parent.object === id && !parent.computed;
      return !isMember || (parent.property.type === 'Identifier' && parent.property.name === name);
    });
  if (pattern.type !== 'ObjectPattern') return [];
  return pattern.properties.flatMap((p): Node[] => {
    if (p.type === 'RestElement') return referencesOf(p.argument);
    if (p.key.type !== 'Identifier' || p.key.name !== name) return [];
    const value = p.value.type === 'AssignmentPattern' ? p.value.left : p.value;
    return value.type === 'Identifier' ? referencesOf(value) : [p.key];
  });
}

/** Uses of what a class reaches through `this`: `this.state.open`, `this.setState({ open })`, `this.remove`. */
function memberUses({ script, scopes }: Resolved, component: ComponentModel, own: Binding): ValueUse[] {
  const uses: ValueUse[] = [];
  const add = (node: Node, writes: boolean) => uses.push(useAt({ script, scopes }, component, node, writes));
  walk(script.program, (node) => {
    if (node.range[1] < component.start || node.range[0] > component.end) return false;
    if (own.kind === 'state' && node.type === 'CallExpression' && calleeName(node) === 'setState') {
      const given = node.arguments[0] && bare(node.arguments[0]);
      const record = given && isFunction(given) ? bare(given.body) : given;
      if (record?.type === 'ObjectExpression')
        for (const p of record.properties)
          if (p.type === 'Property' && p.key.type === 'Identifier' && p.key.name === own.name) add(p.key, true);
      const before = given && isFunction(given) ? given.params[0] : undefined;
      if (before) for (const read of readsThrough(before, own.name, scopes)) add(read, false);
    }
    if (own.kind === 'state' && isThisState(node)) {
      const parent = scopes.parentOf(node);
      const isMember = parent?.type === 'MemberExpression' && parent.object === node && !parent.computed;
      const isSet = parent?.type === 'AssignmentExpression' && parent.left === node;
      if (parent?.type === 'VariableDeclarator')
        for (const read of readsThrough(parent.id, own.name, scopes)) add(read, false);
      // Handed on, spread, or asked for a name that only running tells: any of it may be read.
      else if (!isMember && !isSet) add(node, false);
    }
    if (node.type !== 'MemberExpression' || node.property.type !== 'Identifier' || node.property.name !== own.name)
      return undefined;
    const object = bare(node.object);
    if (own.kind === 'state' ? isThisState(object) : object.type === 'ThisExpression')
      if (!within({ start: node.range[0], end: node.range[1] }, own)) add(node, false);
    return undefined;
  });
  return uses;
}
