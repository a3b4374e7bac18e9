/** Functions that stay with the host and cross as callbacks: how each is written on both sides, and what it is called. */
import type { TSESTree } from '@typescript-eslint/types';
import { eventForState, eventNameFor, isEventName } from '../../events.js';
import type { Node } from '../../../script/parser.js';
import type { Variable } from '../../../script/scopes.js';
import { attributeName, bare, spanOf, walk } from '../../../script/walk.js';
import { classAround, isFixed, memberOfThis } from '../../../script/this-members.js';
import type { Draft, Site } from './crossing.js';
import type { Scene } from './scene.js';

/** A function that stays with the host. Without extras the callback is the function itself. */
export function liftCrossing(scene: Scene, fn: Node, extras: readonly Variable[]): { draft: Draft; site: Site } {
  const text = scene.slice(fn);
  const names = extras.map((v) => v.name);
  const node = fn as TSESTree.ArrowFunctionExpression;
  const wanted = liftName(scene, node);
  const parameters = node.params.map((p, i) => simpleParameter(p, i, names));
  const head = /^async\b/.test(text) ? 'async ' : '';
  const own = node.params.map((p) => scene.slice(p));
  const body = scene.slice({ start: bodyStart(scene, node), end: node.range[1] });
  const lifted =
    extras.length === 0
      ? text
      : (ownMethod(scene, node, extras) ?? `${head}(${[...names, ...own].join(', ')}) => ${body}`);
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

/** `this.forget` for `() => this.forget(visit)`, where that is one function for as long as its object is there. */
function ownMethod(
  scene: Scene,
  fn: TSESTree.ArrowFunctionExpression,
  extras: readonly Variable[],
): string | undefined {
  const call = fn.params.length === 0 && !fn.async ? soleCall(fn) : undefined;
  const name = call && !call.optional ? memberOfThis(call.callee) : undefined;
  const body = name === undefined ? undefined : classAround(fn, scene.scopes);
  if (!call || name === undefined || !body || !isFixed(body, name)) return undefined;
  const isGiven = (argument: Node | undefined, extra: Variable) =>
    argument?.type === 'Identifier' && scene.scopes.referenceOf(argument)?.resolved === extra;
  const isAll =
    call.arguments.length === extras.length && extras.every((extra, i) => isGiven(call.arguments[i], extra));
  return isAll ? `this.${name}` : undefined;
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
