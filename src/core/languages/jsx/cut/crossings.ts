/**
 * Everything that crosses the boundary of a region by value, one entry for each prop of the new component: how the host
 * writes it, where the moved text reads it, and what it should be called.
 */
import type { TSESTree } from '@typescript-eslint/types';
import { problem, type Problem } from '../../../problems/problems.js';
import { isEventName, eventNameFor, eventForState } from '../../events.js';
import type { Node } from '../../../script/parser.js';
import { identifierEnd, type Reference, type Variable } from '../../../script/scopes.js';
import { attributeName, bare, isFunction, nodeWithin, spanOf, walk } from '../../../script/walk.js';
import type { Span } from '../../../text/edits.js';
import { calleeName } from '../bindings.js';
import { isPropsParameter, type Trouble } from './lifts.js';
import type { Moves } from './moves.js';
import type { Scene } from './scene.js';

/** One place in the moved text, and what stands there once the prop has a name. */
export interface Site {
  readonly span: Span;
  readonly write: (prop: string) => string;
}

export interface Crossing {
  /** Same key, same prop. */
  readonly key: string;
  /** What the prop would like to be called. */
  readonly wanted: string;
  /** What it could be called when that name is taken, best first. */
  readonly otherwise?: readonly string[];
  /** What the host passes: an expression in its own terms. */
  readonly value: string;
  readonly event: boolean;
  readonly slot: boolean;
  /** Expression of the host whose type the prop has. */
  readonly typed: Span | undefined;
  /** Set for callbacks with arguments put in front: the variables behind those arguments. */
  readonly extras: readonly Variable[];
  /** A state setter that is only ever given values, no updater functions. */
  readonly setter: boolean;
  readonly variable: Variable | undefined;
  readonly sites: Site[];
}

type Draft = Omit<Crossing, 'sites'>;

export interface Boundary {
  readonly crossings: readonly Crossing[];
  readonly types: readonly Reference[];
  readonly moduleLevel: readonly Variable[];
  readonly globals: ReadonlySet<string>;
}

export function findCrossings(scene: Scene, trouble: Trouble, moves: Moves): Boundary | Problem {
  const spans: Span[] = [scene.region, ...moves.statements.map(spanOf)];
  const staying = [...trouble.lifts.map(({ fn }) => spanOf(fn)), ...(scene.key ? [spanOf(scene.key)] : [])];
  const crossings = new Map<string, Crossing>();
  const moduleLevel = new Set<Variable>();
  const localTypes: Reference[] = [];
  const globals = new Set<string>();
  const add = (draft: Draft, site: Site) => {
    const known = crossings.get(draft.key);
    if (known) known.sites.push(site);
    else crossings.set(draft.key, { ...draft, sites: [site] });
  };

  for (const { fn, extras } of trouble.lifts) {
    const { draft, site } = liftCrossing(scene, fn, extras);
    add(draft, site);
  }
  let bound: Span | undefined;
  for (const node of trouble.thisReads) {
    if (bound && nodeWithin(node, bound)) continue;
    const { draft, site } = thisCrossing(scene, node);
    bound = draft.key.startsWith('bound') ? site.span : undefined;
    // What else is bound in the same call stays with it, and must not need the host.
    const inside = trouble.thisReads.filter((other) => bound && nodeWithin(other, bound));
    if (inside.length > 2 && draft.value.endsWith('.bind(this)') && site.write('f') !== 'f') {
      return problem('region-arguments', { path: scene.request.file.path, span: spanOf(inside[2]!) }, 'this');
    }
    add(draft, site);
  }
  const whole = [...crossings.values()]
    .filter((c) => c.key.startsWith('bound') && !c.value.endsWith('.bind(this)'))
    .flatMap((c) => c.sites.map((s) => s.span));
  for (const reference of spans.flatMap((span) => scene.scopes.within(span))) {
    const identifier = reference.identifier;
    if (whole.some((span) => nodeWithin(identifier, span))) continue;
    if (staying.some((span) => nodeWithin(identifier, span))) continue;
    const variable = reference.resolved;
    if (!variable || variable.defs.length === 0) {
      globals.add((identifier as TSESTree.Identifier).name);
      continue;
    }
    if (scene.declaredIn(variable, spans)) continue;
    if (scene.scopes.isModuleLevel(variable)) {
      moduleLevel.add(variable);
      continue;
    }
    if (!reference.isValueReference) {
      localTypes.push(reference);
      if (variable.defs[0]?.type === 'Type' && !isTypeParameter(variable)) {
        return problem(
          'region-private-type',
          { path: scene.request.file.path, span: spanOf(identifier) },
          variable.name,
        );
      }
      continue;
    }
    const { draft, site } = variableCrossing(scene, variable, identifier, spans);
    add(draft, site);
  }
  const order = (crossing: Crossing) => Math.min(...crossing.sites.map((s) => s.span.start));
  return {
    crossings: [...crossings.values()].sort((a, b) => Number(a.event) - Number(b.event) || order(a) - order(b)),
    types: localTypes,
    moduleLevel: [...moduleLevel],
    globals,
  };
}

export function isTypeParameter(variable: Variable): boolean {
  return (
    variable.identifiers.some((id) => (id as Node & { parent?: Node }).parent?.type === 'TSTypeParameter') ||
    variable.defs[0]?.node.type === 'TSTypeParameter'
  );
}

/** A member that is read of a variable or of `this`: `props.hive`, where the chain ends or a call begins. */
function memberOf(
  scene: Scene,
  node: Node,
): (TSESTree.MemberExpression & { property: TSESTree.Identifier }) | undefined {
  const parent = scene.scopes.parentOf(node);
  if (parent?.type !== 'MemberExpression' || parent.object !== node || parent.computed) return undefined;
  return parent.property.type === 'Identifier'
    ? (parent as TSESTree.MemberExpression & { property: TSESTree.Identifier })
    : undefined;
}

function variableCrossing(
  scene: Scene,
  variable: Variable,
  identifier: Node,
  spans: readonly Span[],
): { draft: Draft; site: Site } {
  const whole = identifier as TSESTree.Identifier;
  if (splitsIntoMembers(scene, variable, spans)) {
    const member = memberOf(scene, identifier)!;
    return memberCrossing(scene, member, variable);
  }
  const setter = isSetter(variable);
  const event = isHandler(variable, setter) && usedLater(scene, variable);
  const plain = isRest(variable) && variable.name === 'props' ? 'rest' : variable.name;
  const wanted = setter && event ? eventForState(variable.name) : event ? eventNameFor(variable.name) : plain;
  const draft: Draft = {
    key: `variable ${variable.name} ${variable.$id}`,
    wanted,
    value: variable.name,
    event: event || isEventName(wanted),
    slot: wanted === 'children',
    typed: { start: identifier.range[0], end: identifierEnd(identifier) },
    extras: [],
    setter: setter && onlyGivenValues(scene, variable),
    variable,
  };
  return { draft, site: identifierSite(scene, whole) };
}

/** The site of a plain name; a shorthand property has to be written out when the name changes. */
function identifierSite(scene: Scene, identifier: TSESTree.Identifier): Site {
  const span = { start: identifier.range[0], end: identifierEnd(identifier) };
  const parent = scene.scopes.parentOf(identifier);
  const shorthand = parent?.type === 'Property' && parent.shorthand;
  return { span, write: (prop) => (shorthand && prop !== identifier.name ? `${identifier.name}: ${prop}` : prop) };
}

/** `props.x` is a prop called `x`; other objects are split only on request and where nothing but members is read. */
function splitsIntoMembers(scene: Scene, variable: Variable, spans: readonly Span[]): boolean {
  const isProps = isPropsParameter(variable) && variable.name === 'props';
  if (!isProps && scene.request.props !== 'members') return false;
  if (!isProps && scene.scopes.isReassigned(variable)) return false;
  return variable.references.every((reference) => {
    if (!spans.some((span) => nodeWithin(reference.identifier, span))) return true;
    const member = memberOf(scene, reference.identifier);
    if (!member || isWritten(scene, member)) return false;
    const parent = scene.scopes.parentOf(member);
    const called = parent?.type === 'CallExpression' && parent.callee === member;
    return isProps || (!called && !member.optional && member.property.name !== 'current');
  });
}

function isWritten(scene: Scene, node: Node): boolean {
  const parent = scene.scopes.parentOf(node);
  return (
    (parent?.type === 'AssignmentExpression' && parent.left === node) ||
    parent?.type === 'UpdateExpression' ||
    (parent?.type === 'UnaryExpression' && parent.operator === 'delete')
  );
}

function memberCrossing(
  scene: Scene,
  member: TSESTree.MemberExpression & { property: TSESTree.Identifier },
  variable?: Variable,
): { draft: Draft; site: Site } {
  const value = scene.slice(member);
  const name = member.property.name;
  const handler = /^handle[A-Z]/.test(name);
  const wanted = handler ? eventNameFor(name) : name;
  const draft: Draft = {
    key: `member ${value}`,
    wanted,
    value,
    event: isEventName(wanted),
    slot: name === 'children',
    typed: spanOf(member),
    extras: [],
    setter: false,
    variable,
  };
  return { draft, site: { span: spanOf(member), write: (prop) => prop } };
}

/** A function that stays with the host. Without extras the callback is the function itself. */
function liftCrossing(scene: Scene, fn: Node, extras: readonly Variable[]): { draft: Draft; site: Site } {
  const text = scene.slice(fn);
  const names = extras.map((v) => v.name);
  const node = fn as TSESTree.ArrowFunctionExpression;
  const wanted = liftName(scene, node);
  const parameters = node.params.map((p, i) => simpleParameter(p, i, names));
  const head = /^async\b/.test(text) ? 'async ' : '';
  const own = node.params.map((p) => scene.slice(p));
  const body = scene.slice({ start: bodyStart(scene, node), end: node.range[1] });
  const lifted = extras.length === 0 ? text : `${head}(${[...names, ...own].join(', ')}) => ${body}`;
  const draft: Draft = {
    key: `lift ${text}${names.length ? ` ${extras.map((v) => v.$id).join(' ')}` : ''}`,
    wanted,
    otherwise: otherEventNames(scene, node, extras),
    value: lifted,
    event: isEventName(wanted),
    slot: false,
    typed: spanOf(fn),
    extras,
    setter: false,
    variable: undefined,
  };
  const write = (prop: string) =>
    extras.length === 0 ? prop : `(${parameters.join(', ')}) => ${prop}(${[...names, ...parameters].join(', ')})`;
  return { draft, site: { span: spanOf(fn), write } };
}

/** Where the body of an arrow function begins, a parenthesis around it taken in. */
function bodyStart(scene: Scene, fn: TSESTree.ArrowFunctionExpression): number {
  let arrow = scene.text.lastIndexOf('=>', fn.body.range[0]);
  arrow += 2;
  while (/\s/.test(scene.text[arrow]!)) arrow++;
  return arrow;
}

function simpleParameter(parameter: Node, index: number, taken: readonly string[]): string {
  if (parameter.type === 'RestElement') return '...rest';
  const name = parameter.type === 'Identifier' ? parameter.name : index === 0 ? 'event' : `argument${index + 1}`;
  return taken.includes(name) ? `${name}${index + 1}` : name;
}

/** Called after what the function does, else after the attribute that it stands in. */
function liftName(scene: Scene, fn: TSESTree.ArrowFunctionExpression): string {
  const parent = scene.scopes.parentOf(fn);
  const attribute = parent?.type === 'JSXExpressionContainer' ? scene.scopes.parentOf(parent) : undefined;
  const name = attribute?.type === 'JSXAttribute' ? attributeName(attribute) : undefined;
  if (name === 'ref') {
    const assigned = assignedMember(fn);
    return assigned ? (/ref$/i.test(assigned) ? assigned : `${assigned}Ref`) : 'elementRef';
  }
  if (name && !isEventName(name)) return name;
  const call = soleCall(fn);
  if (call) {
    const callee = bare(call.callee);
    const called =
      callee.type === 'MemberExpression' && callee.property.type === 'Identifier' ? callee.property.name : undefined;
    if (called === 'setState' && call.arguments[0]?.type === 'ObjectExpression') {
      const key = call.arguments[0].properties[0];
      if (key?.type === 'Property' && key.key.type === 'Identifier')
        return eventForState(`set${key.key.name[0]!.toUpperCase()}${key.key.name.slice(1)}`);
    } else if (called && called !== 'setState') return eventNameFor(called);
  }
  return name ?? 'onAction';
}

/** `onMoodClick` for a click that is about a mood, else `onClick`. */
function otherEventNames(scene: Scene, fn: TSESTree.ArrowFunctionExpression, extras: readonly Variable[]): string[] {
  const parent = scene.scopes.parentOf(fn);
  const attribute = parent?.type === 'JSXExpressionContainer' ? scene.scopes.parentOf(parent) : undefined;
  const name = attribute?.type === 'JSXAttribute' ? attributeName(attribute) : undefined;
  if (!name || !isEventName(name)) return [];
  const about = extras[0]?.name;
  return [
    ...(about && about.length > 2 ? [`on${about[0]!.toUpperCase()}${about.slice(1)}${name.slice(2)}`] : []),
    name,
  ];
}

function assignedMember(fn: TSESTree.ArrowFunctionExpression): string | undefined {
  let name: string | undefined;
  walk(fn.body, (node) => {
    if (
      node.type === 'AssignmentExpression' &&
      node.left.type === 'MemberExpression' &&
      node.left.property.type === 'Identifier'
    )
      name ??= node.left.property.name;
    return undefined;
  });
  return name;
}

function soleCall(fn: TSESTree.ArrowFunctionExpression): TSESTree.CallExpression | undefined {
  let body: Node = fn.body;
  if (body.type === 'BlockStatement') {
    const only = body.body.length === 1 ? body.body[0]! : undefined;
    if (only?.type === 'ExpressionStatement') body = only.expression;
    else if (only?.type === 'ReturnStatement' && only.argument) body = only.argument;
  }
  return body.type === 'CallExpression' ? body : undefined;
}

/** `this.state.x`, `this.props.x`, `this.method`, `this.method.bind(this, …)`, or `this` itself, read while rendering. */
function thisCrossing(scene: Scene, node: TSESTree.ThisExpression): { draft: Draft; site: Site } {
  let member = memberOf(scene, node);
  if (!member) return plainThis(scene, node, 'owner');
  const first = member.property.name;
  if (first === 'props' || first === 'state') {
    const deeper = memberOf(scene, member);
    if (!deeper) return plainThis(scene, member, first === 'props' ? 'ownProps' : first);
    member = deeper;
    return memberCrossing(scene, member);
  }
  const parent = scene.scopes.parentOf(member);
  if (
    parent?.type === 'MemberExpression' &&
    parent.object === member &&
    parent.property.type === 'Identifier' &&
    parent.property.name === 'bind'
  ) {
    const call = scene.scopes.parentOf(parent);
    if (call?.type === 'CallExpression' && call.callee === parent && call.arguments[0]?.type === 'ThisExpression')
      return bindCrossing(scene, member, call);
  }
  if (parent?.type === 'CallExpression' && parent.callee === member) return methodCrossing(scene, member);
  return memberCrossing(scene, member);
}

function plainThis(scene: Scene, node: Node, wanted: string): { draft: Draft; site: Site } {
  const value = scene.slice(node);
  const draft: Draft = {
    key: `member ${value}`,
    wanted,
    value,
    event: false,
    slot: false,
    typed: spanOf(node),
    extras: [],
    setter: false,
    variable: undefined,
  };
  return { draft, site: { span: spanOf(node), write: (prop) => prop } };
}

function bindCrossing(
  scene: Scene,
  method: TSESTree.MemberExpression & { property: TSESTree.Identifier },
  call: TSESTree.CallExpression,
): { draft: Draft; site: Site } {
  const own = scene.scopes.within(spanOf(call)).some((r) => r.resolved && scene.declaredIn(r.resolved, [scene.region]));
  const wanted = eventNameFor(method.property.name);
  const base = { wanted, event: true, slot: false, extras: [], setter: false, variable: undefined };
  if (!own) {
    const value = scene.slice(call);
    return {
      draft: { ...base, key: `bound ${value}`, value, typed: spanOf(call) },
      site: { span: spanOf(call), write: (prop) => prop },
    };
  }
  const value = `${scene.slice(method)}.bind(this)`;
  const rest = call.arguments.slice(1).map((a) => scene.slice(a));
  const write = (prop: string) => (rest.length ? `${prop}.bind(null, ${rest.join(', ')})` : prop);
  return {
    draft: { ...base, key: `bound ${value}`, value, typed: spanOf(method) },
    site: { span: spanOf(call), write },
  };
}

/** A method that is called while rendering keeps its `this` by way of an arrow function. */
function methodCrossing(
  scene: Scene,
  member: TSESTree.MemberExpression & { property: TSESTree.Identifier },
): { draft: Draft; site: Site } {
  const name = member.property.name;
  const draft: Draft = {
    key: `method ${name}`,
    wanted: name,
    value: `(...args) => ${scene.slice(member)}(...args)`,
    event: false,
    slot: false,
    typed: spanOf(member),
    extras: [],
    setter: false,
    variable: undefined,
  };
  const parameters = methodParameters(scene, name);
  const value = parameters
    ? `(${parameters.join(', ')}) => ${scene.slice(member)}(${parameters.join(', ')})`
    : draft.value;
  return { draft: { ...draft, value }, site: { span: spanOf(member), write: (prop) => prop } };
}

/** The plain parameter names of a method of the class around the region. */
function methodParameters(scene: Scene, name: string): string[] | undefined {
  for (const node of scene.above) {
    const members = node.type === 'ClassBody' ? node.body : node.type === 'ObjectExpression' ? node.properties : [];
    for (const member of members) {
      if (!('key' in member) || member.key.type !== 'Identifier' || member.key.name !== name) continue;
      const fn = member.value;
      if (!fn || !isFunction(fn)) return undefined;
      const names = fn.params.map((p) => (p.type === 'Identifier' ? p.name : undefined));
      let readsArguments = false;
      walk(fn.body, (n) => void (n.type === 'Identifier' && n.name === 'arguments' && (readsArguments = true)));
      return readsArguments || names.includes(undefined) ? undefined : (names as string[]);
    }
  }
  return undefined;
}

/** `props` in `{ hives, ...props }`. */
function isRest(variable: Variable): boolean {
  const id = variable.defs[0]?.name as (Node & { parent?: Node }) | undefined;
  const definition = variable.defs[0];
  if (!id || (definition?.type !== 'Parameter' && definition?.type !== 'Variable')) return false;
  let found = false;
  walk(definition.type === 'Variable' ? definition.node.id : definition.node, (node) => {
    if (node.type === 'RestElement' && node.argument === id) found = true;
    return !found && node.type !== 'BlockStatement';
  });
  return found;
}

function isSetter(variable: Variable): boolean {
  const definition = variable.defs[0];
  if (definition?.type !== 'Variable' || !definition.node.init || definition.node.id.type !== 'ArrayPattern')
    return false;
  const hook = calleeName(definition.node.init);
  const second = definition.node.id.elements[1];
  return (
    hook === 'useState' &&
    second?.type === 'Identifier' &&
    second.name === variable.name &&
    /^set[A-Z]/.test(variable.name)
  );
}

function isHandler(variable: Variable, setter: boolean): boolean {
  if (setter) return true;
  const definition = variable.defs[0];
  if (definition?.type === 'FunctionName') return true;
  if (definition?.type !== 'Variable' || !definition.node.init || definition.node.id.type !== 'Identifier')
    return false;
  const init = bare(definition.node.init);
  return isFunction(init) || calleeName(init) === 'useCallback';
}

/** Whether every use of a function in the region is an action: given to an event, or called in something that runs later. */
function usedLater(scene: Scene, variable: Variable): boolean {
  return variable.references
    .filter((reference) => scene.inRegion(reference.identifier))
    .every((reference) => {
      if (scene.laterFunctions(reference.identifier).length > 0) return true;
      const holder = scene.scopes.parentOf(reference.identifier);
      const attribute = holder?.type === 'JSXExpressionContainer' ? scene.scopes.parentOf(holder) : undefined;
      return attribute?.type === 'JSXAttribute' && isEventName(attributeName(attribute));
    });
}

function onlyGivenValues(scene: Scene, variable: Variable): boolean {
  return variable.references
    .filter((reference) => scene.inRegion(reference.identifier))
    .every((reference) => {
      const call = scene.scopes.parentOf(reference.identifier);
      if (call?.type !== 'CallExpression' || call.callee !== reference.identifier) return false;
      const argument = call.arguments[0];
      return argument === undefined || !mayBeFunction(scene, argument);
    });
}

/** Whether an argument could be an updater function rather than the next value. */
function mayBeFunction(scene: Scene, argument: Node): boolean {
  if (isFunction(argument)) return true;
  if (argument.type !== 'Identifier') return false;
  const definition = scene.scopes.variableOf(argument)?.defs[0];
  if (!definition || definition.type === 'ImportBinding' || definition.type === 'FunctionName') return true;
  return (
    definition.type === 'Variable' &&
    Boolean(
      definition.node.init &&
      (isFunction(bare(definition.node.init)) || calleeName(definition.node.init) === 'useCallback'),
    )
  );
}
