/**
 * Everything that crosses the boundary of a region by value, one entry for each prop of the new component: how the host
 * writes it, where the moved text reads it, and what it should be called.
 */
import type { TSESTree } from '@typescript-eslint/types';
import { problem, type Problem } from '../../../problems/problems.js';
import { eventForAsking, eventForState, eventNameFor, isEventName } from '../../events.js';
import type { Node } from '../../../script/parser.js';
import { identifierEnd, type Reference, type Variable } from '../../../script/scopes.js';
import { attributeName, bare, calleeName, isFunction, nodeWithin, spanOf, walk } from '../../../script/walk.js';
import type { Span } from '../../../text/edits.js';
import { memberCrossing, memberOf, type Crossing, type Draft, type Site } from './crossing.js';
import { constantDeed } from './deeds.js';
import { liftCrossing } from './lift-crossings.js';
import { isPropsParameter, type Trouble } from './lifts.js';
import { outletNamed } from '../../../markup/syntax.js';
import type { Moves } from './moves.js';
import type { Scene } from './scene.js';
import { thisCrossing } from './this-crossings.js';

export interface Boundary {
  readonly crossings: readonly Crossing[];
  readonly types: readonly Reference[];
  readonly moduleLevel: readonly Variable[];
  readonly globals: ReadonlySet<string>;
}

export function findCrossings(scene: Scene, trouble: Trouble, moves: Moves): Boundary | Problem {
  const spans: Span[] = [scene.region, ...moves.statements.map(spanOf)];
  const inputs = scene.request.inputs ?? [];
  const staying = [
    ...trouble.lifts.map(({ fn }) => spanOf(fn)),
    ...scene.keys.map(spanOf),
    ...inputs.flatMap((input) => input.stays),
    ...scene.fallbacks,
  ];
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
  for (const given of inputs) {
    const { name, value, event, slot } = given;
    crossings.set(`input ${name}`, {
      key: `input ${name}`,
      wanted: name,
      value,
      event,
      slot: slot && (name === 'children' || scene.dialect.asFile !== undefined),
      typed: undefined,
      extras: [],
      setter: false,
      variable: undefined,
      sites: [...given.sites],
      given,
    });
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
  const deed = setter ? constantDeed(scene, variable, identifier, spans) : undefined;
  if (deed) return deed;
  const event = isHandler(variable, setter) && usedLater(scene, variable);
  const outlet = scene.isOutlet(whole) ? outletNamed(variable.name) : undefined;
  const plain = outlet ?? (isRest(variable) && variable.name === 'props' ? 'rest' : variable.name);
  const asked = setter && event && isAsked(scene, variable) ? eventForAsking(variable.name) : undefined;
  const changed = setter && event ? eventForState(variable.name) : undefined;
  const wanted = asked ?? changed ?? (event ? eventNameFor(variable.name) : plain);
  const span = { start: identifier.range[0], end: identifierEnd(identifier) };
  const draft: Draft = {
    key: `variable ${variable.name} ${variable.$id}`,
    wanted,
    // A name can stand for more than its letters: for the tag of an outlet, for the props of a file.
    value: scene.dialect.asFile ? scene.slice(outlet === undefined ? span : scene.outletOf(whole)) : variable.name,
    event: event || isEventName(wanted),
    slot: outlet !== undefined || wanted === 'children',
    typed: span,
    extras: [],
    setter: setter && onlyGivenValues(scene, variable),
    variable,
  };
  return { draft, site: identifierSite(scene, whole) };
}

/** The site of a plain name; a shorthand property has to be written out when the name changes. */
function identifierSite(scene: Scene, identifier: TSESTree.Identifier): Site {
  const span = { start: identifier.range[0], end: identifierEnd(identifier) };
  const { asFile } = scene.dialect;
  if (asFile && scene.isOutlet(identifier)) {
    const tag = scene.outletOf(identifier);
    return { span: tag, write: (prop) => asFile.outlet(prop, scene.slice(tag)) };
  }
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

export function isSetter(variable: Variable): boolean {
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

export function isHandler(variable: Variable, setter: boolean): boolean {
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

/** Whether a region sets a state to nothing but one thing that has a name: it asks what is to be done with that. */
function isAsked(scene: Scene, variable: Variable): boolean {
  return variable.references
    .filter((reference) => scene.inRegion(reference.identifier))
    .every((reference) => {
      const call = scene.scopes.parentOf(reference.identifier);
      if (call?.type !== 'CallExpression' || call.callee !== reference.identifier) return false;
      const [given] = call.arguments.map((argument) => bare(argument));
      const isName = given?.type === 'Identifier' && given.name !== 'undefined';
      return call.arguments.length === 1 && (isName || given?.type === 'MemberExpression');
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
