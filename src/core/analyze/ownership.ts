/**
 * Who owns what: for every state of a component who reads and who writes it and where its home is (the lowest component
 * above all of them), values that are handed through components which do not use them, state that could be worked out,
 * and classes that keep nothing.
 */
import type { ComponentModel } from '../markup/model.js';
import { deedOf } from '../languages/deeds.js';
import type { Node } from '../script/parser.js';
import { bare, calleeName, isFunction, nodeWithin, walk } from '../script/walk.js';
import type { ComponentTree, TreeNode } from './tree.js';
import type { Resolved, Value, ValueUse } from './uses.js';

export interface OwnedState {
  /** The component that it lives in. */
  readonly component: string;
  readonly name: string;
  /** `data`: a state that something fills which loads data. */
  readonly kind: 'state' | 'context' | 'data';
  /** Names of bindings, `an effect`, `the markup`, or components that it is passed to. */
  readonly readers: readonly string[];
  readonly writers: readonly string[];
  /** A component below that is the only one to use it. */
  readonly home?: { readonly component: string; readonly lighter: readonly string[] };
  /** Why the state need not be one. */
  readonly needless?: string;
}

/** A value on its way through components that only hand it on. */
export interface DrilledValue {
  readonly name: string;
  /** Ids from the component that has the value to the last one that it is handed to. */
  readonly through: readonly string[];
}

export interface Ownership {
  readonly states: readonly OwnedState[];
  readonly drilled: readonly DrilledValue[];
  /** Ids of class components that need no class. */
  readonly classes: readonly string[];
}

/** A value that passes at least that many components which do not use it is drilled. */
const DRILLED = 2;

export function ownershipOf(tree: ComponentTree, nodes: readonly TreeNode[]): Ownership {
  return {
    states: nodes.flatMap((node) => statesOf(tree, node)),
    drilled: nodes.flatMap((node) => drilledFrom(tree, node)),
    classes: nodes.filter((n) => isNeedlessClass(n.component)).map((n) => n.id),
  };
}

function statesOf(tree: ComponentTree, node: TreeNode): OwnedState[] {
  const values = tree.values(node.id);
  const module = tree.resolved(node.path);
  return values
    .filter((v) => v.binding.kind === 'state' || v.binding.kind === 'context')
    .map((value): OwnedState => {
      const home = homeOf(tree, node, value, values);
      const needless = module && value.binding.kind === 'state' ? needlessOf(module, value) : undefined;
      return {
        component: node.id,
        name: value.binding.name,
        kind: value.binding.kind === 'context' ? 'context' : isLoaded(module, value) ? 'data' : 'state',
        readers: called(value.uses.filter((u) => !u.writes)),
        writers: called(value.uses.filter((u) => u.writes)),
        ...(home ? { home } : {}),
        ...(needless === undefined ? {} : { needless }),
      };
    });
}

function called(uses: readonly ValueUse[]): string[] {
  const names = uses.map((u) =>
    u.by ? u.by.name || 'an effect' : u.passed ? `<${u.passed.tag}>` : u.inMarkup ? 'the markup' : 'the component',
  );
  return [...new Set(names)];
}

function isLoaded(module: Resolved | undefined, { uses }: Value): boolean {
  const writers = uses.filter((u) => u.writes).flatMap((u) => u.by ?? []);
  let loads = false;
  if (module && writers.length > 0)
    walk(module.script.program, (node) => {
      if (deedOf(node) === 'loads data' && writers.some((by) => nodeWithin(node, by))) loads = true;
      return undefined;
    });
  return loads;
}

// Home

/** Where all uses of a value end: one tag, and the names that would go there with it. */
interface Sink {
  readonly tag: string;
  readonly at: number;
  readonly props: ReadonlySet<string>;
  readonly names: ReadonlySet<string>;
}

function sinkOf(value: Value, values: readonly Value[], seen: Set<Value> = new Set()): Sink | undefined {
  seen.add(value);
  const sinks: Sink[] = [];
  for (const use of value.uses) {
    if (use.passed) {
      const { tag, at, prop } = use.passed;
      sinks.push({ tag, at, props: new Set([prop]), names: new Set(value.names) });
      continue;
    }
    // An effect goes with what it is about.
    if (use.by?.kind === 'effect') continue;
    const by = values.find((v) => v.binding === use.by);
    if (!by || (by.binding.kind !== 'derived' && by.binding.kind !== 'handler')) return undefined;
    if (seen.has(by)) continue;
    const further = sinkOf(by, values, seen);
    if (!further) return undefined;
    sinks.push({ ...further, names: new Set([...further.names, ...value.names]) });
  }
  const [first] = sinks;
  if (!first || sinks.some((s) => s.at !== first.at)) return undefined;
  return {
    ...first,
    props: new Set(sinks.flatMap((s) => [...s.props])),
    names: new Set(sinks.flatMap((s) => [...s.names])),
  };
}

/** The one component below that uses a state, where it lives as long as the state does now; as far down as there is one. */
function homeOf(
  tree: ComponentTree,
  node: TreeNode,
  value: Value,
  values: readonly Value[],
): NonNullable<OwnedState['home']> | undefined {
  const sink = sinkOf(value, values);
  const below = sink && childAt(tree, node, sink);
  if (!below) return undefined;
  let home = below;
  let props = sink.props;
  for (let depth = 0; depth < 20; depth++) {
    const inner = tree.values(home.id);
    const carried = inner.filter((v) => v.binding.kind === 'prop' && props.has(v.binding.name));
    const sinks = carried.map((v) => sinkOf(v, inner));
    const [first] = sinks;
    if (carried.length < props.size || !first || sinks.some((s) => s?.at !== first.at)) break;
    const next = childAt(tree, home, first);
    if (!next) break;
    props = new Set(sinks.flatMap((s) => [...s!.props]));
    home = next;
  }
  return { component: home.id, lighter: [...sink.names] };
}

/** The component of a tag that is its only one, and that nothing takes away while the host stays. */
function childAt(tree: ComponentTree, host: TreeNode, { tag, at }: Sink): TreeNode | undefined {
  const id = tree.meant(host.path, tag);
  const uses = id === undefined ? [] : tree.usesOf(id);
  const [use] = uses;
  if (uses.length !== 1 || !use || use.element.start !== at || use.path !== host.path) return undefined;
  const passing = use.above.some((n) => n.kind === 'branch' || n.kind === 'loop' || n.kind === 'expression');
  const keyed = [use.element, ...use.above].some(
    (n) => n.kind === 'element' && n.attributes.some((a) => a.kind === 'key'),
  );
  return passing || keyed ? undefined : tree.node(id!);
}

// Handed through

function drilledFrom(tree: ComponentTree, node: TreeNode): DrilledValue[] {
  const isPassing = (value: Value) =>
    value.binding.kind === 'prop' && value.uses.length > 0 && value.uses.every((u) => u.passed?.plain);
  const longest = (at: TreeNode, value: Value, seen: readonly string[]): string[] => {
    let best: string[] = [];
    for (const { passed } of value.uses) {
      const id = passed?.plain ? tree.meant(at.path, passed.tag) : undefined;
      const child = id !== undefined && !seen.includes(id) ? tree.node(id) : undefined;
      if (!child) continue;
      const taken = tree.values(child.id).find((v) => v.binding.kind === 'prop' && v.binding.name === passed!.prop);
      const rest = taken && isPassing(taken) ? longest(child, taken, [...seen, child.id]) : [];
      if (rest.length + 1 > best.length) best = [child.id, ...rest];
    }
    return best;
  };
  return tree.values(node.id).flatMap((value) => {
    if (isPassing(value)) return [];
    const through = longest(node, value, [node.id]);
    // The last one has it and uses it.
    return through.length > DRILLED ? [{ name: value.binding.name, through: [node.id, ...through] }] : [];
  });
}

// State that need not be

/** Why a state need not be one: nothing reads it, nothing changes it, or an effect only copies into it what it could be. */
function needlessOf(module: Resolved, value: Value): string | undefined {
  const { uses } = value;
  const writes = uses.filter((u) => u.writes);
  if (uses.length === 0) return 'nothing uses it';
  if (writes.length === uses.length) return 'it is set and never read';
  if (value.names.length > 1 && writes.length === 0) return 'it is never set: a constant, or a prop of that name';
  const effects = new Set(writes.map((u) => u.by));
  const [only] = effects;
  if (effects.size !== 1 || only?.kind !== 'effect') return undefined;
  return copiesOnly(module, only, value)
    ? 'an effect copies into it what could be worked out while rendering'
    : undefined;
}

/** An effect that does nothing but set the value, at once, to what others come to. */
function copiesOnly(module: Resolved, effect: { start: number; end: number }, value: Value): boolean {
  let copies = false;
  walk(module.script.program, (node) => {
    if (copies || node.range[1] < effect.start || node.range[0] > effect.end) return false;
    if (node.type !== 'CallExpression' || !nodeWithin(node, effect)) return undefined;
    const fn = node.arguments
      .map((a) => bare(a as Node))
      .find((a) => isFunction(a) && a.body.type === 'BlockStatement');
    const statements = fn && isFunction(fn) && fn.body.type === 'BlockStatement' && !fn.async ? fn.body.body : [];
    copies = statements.length === 1 && setsOnly(statements[0]!, value);
    return copies ? false : undefined;
  });
  return copies;
}

function setsOnly(statement: Node, value: Value): boolean {
  if (statement.type !== 'ExpressionStatement') return false;
  const expression = bare(statement.expression);
  const given =
    expression.type === 'CallExpression' && value.names.includes(calleeName(expression) ?? '')
      ? expression.arguments[0]
      : expression.type === 'AssignmentExpression' && expression.operator === '='
        ? expression.right
        : undefined;
  if (!given) return false;
  let plain = true;
  walk(given, (node) => {
    if (node.type === 'AwaitExpression' || deedOf(node) !== undefined) plain = false;
    // A setter that is given a function adds to what was there.
    if (node === given && isFunction(node)) plain = false;
    return undefined;
  });
  return plain;
}

function isNeedlessClass({ kind, bindings, deeds }: ComponentModel): boolean {
  return kind === 'class' && deeds.length === 0 && !bindings.some((b) => b.kind === 'state' || b.kind === 'effect');
}
