/**
 * What cannot be handed over by value. `this`, and local variables that are written again, mean something only where
 * they stand: a function that runs later and holds one of them stays with the host, and the new component gets it as a
 * callback. Where the function also needs names bound inside the region, those become its first arguments.
 */
import type { TSESTree } from '@typescript-eslint/types';
import { problem, type Problem } from '../../../problems/problems.js';
import type { Node } from '../../../script/parser.js';
import type { Variable } from '../../../script/scopes.js';
import { isFunction, nodeWithin, spanOf, walk, type FunctionNode } from '../../../script/walk.js';
import { holdsJsx } from '../markup.js';
import type { Scene } from './scene.js';

export interface Lift {
  readonly fn: FunctionNode;
  /** Names bound inside the region and used by the function: its first arguments. */
  readonly extras: readonly Variable[];
}

/** `this` and stateful expressions that are read while rendering. */
export interface Trouble {
  readonly lifts: readonly Lift[];
  /** `this` expressions that no lift takes away. */
  readonly thisReads: readonly TSESTree.ThisExpression[];
}

export function findLifts(scene: Scene): Trouble | Problem {
  const lifted = new Map<FunctionNode, Lift>();
  const thisReads: TSESTree.ThisExpression[] = [];
  const at = (node: Node) => ({ path: scene.request.file.path, span: spanOf(node) });
  const lift = (node: Node): boolean => {
    const later = scene.laterFunctions(node);
    if (later.length === 0) return false;
    const fn = later.find((f) => !holdsJsx(f)) ?? later[later.length - 1]!;
    if (!lifted.has(fn)) lifted.set(fn, { fn, extras: extrasOf(scene, fn) });
    return true;
  };

  const isKey = (node: Node) => scene.keys.some((key) => nodeWithin(node, spanOf(key)));
  for (const node of hostWords(scene)) {
    if (isKey(node) || scene.stays(node)) continue;
    if (node.type === 'YieldExpression') return problem('region-yield', at(node));
    // It belongs to the function right around it, so that no other can stand in between.
    if (node.type === 'AwaitExpression') continue;
    if (node.type === 'ThisExpression') {
      if (!lift(node)) thisReads.push(node);
    } else return problem('region-arguments', at(node), scene.slice(node));
  }
  const named = stringRef(scene);
  if (named) return problem('region-string-ref', at(named), scene.slice(named.value!).slice(1, -1));
  for (const reference of scene.scopes.within(scene.region)) {
    const variable = reference.resolved;
    if (!variable || variable.defs.length === 0 || scene.declaredIn(variable, [scene.region])) continue;
    const identifier = reference.identifier;
    if (scene.stays(identifier)) continue;
    if (scene.scopes.isModuleLevel(variable) || isKey(identifier)) continue;
    if (!scene.scopes.isReassigned(variable)) continue;
    const later = scene.laterFunctions(identifier).length > 0;
    if (later && !isPropsParameter(variable)) {
      if (reference.isWrite()) return problem('region-assigns', at(identifier), variable.name);
      lift(identifier);
    } else if (reference.isWrite()) return problem('region-assigns', at(identifier), variable.name);
  }
  const lifts = [...lifted.values()].filter(
    ({ fn }) => ![...lifted.keys()].some((o) => o !== fn && nodeWithin(fn, spanOf(o))),
  );
  return { lifts, thisReads: thisReads.filter((node) => !lifts.some(({ fn }) => nodeWithin(node, spanOf(fn)))) };
}

/** `this`, `super`, `arguments`, `await`, `yield` in the region that belong to a function around it. */
function hostWords(scene: Scene): Node[] {
  const result: Node[] = [];
  for (const root of scene.nodes) {
    let own = 0;
    let scopes = 0;
    const opens = (node: Node) =>
      (isFunction(node) && node.type !== 'ArrowFunctionExpression') || node.type === 'ClassBody' ? 1 : 0;
    walk(
      root,
      (node) => {
        if (own === 0 && (node.type === 'ThisExpression' || node.type === 'Super' || node.type === 'MetaProperty')) {
          if (node.type !== 'MetaProperty' || node.meta.name === 'new') result.push(node);
        }
        if (own === 0 && node.type === 'Identifier' && node.name === 'arguments' && scene.scopes.referenceOf(node))
          result.push(node);
        if (scopes === 0 && (node.type === 'AwaitExpression' || node.type === 'YieldExpression')) result.push(node);
        own += opens(node);
        scopes += isFunction(node) ? 1 : 0;
      },
      (node) => {
        own -= opens(node);
        scopes -= isFunction(node) ? 1 : 0;
      },
    );
  }
  return result;
}

/** A string, written out or put together. */
function isStringValue(value: TSESTree.JSXAttribute['value']): boolean {
  const code = value?.type === 'JSXExpressionContainer' ? value.expression : value;
  return code?.type === 'Literal' || code?.type === 'TemplateLiteral' || code?.type === 'BinaryExpression';
}

function stringRef(scene: Scene): TSESTree.JSXAttribute | undefined {
  let found: TSESTree.JSXAttribute | undefined;
  for (const root of scene.nodes) {
    walk(root, (node) => {
      if (node.type === 'JSXAttribute' && node.name.name === 'ref' && isStringValue(node.value)) found ??= node;
      return undefined;
    });
  }
  return found;
}

/** Names declared in the region outside the function and used in it. */
function extrasOf(scene: Scene, fn: FunctionNode): Variable[] {
  const result = new Set<Variable>();
  for (const reference of scene.scopes.within(spanOf(fn))) {
    const variable = reference.resolved;
    if (!variable || !reference.isValueReference) continue;
    if (scene.declaredIn(variable, [scene.region]) && !scene.declaredIn(variable, [spanOf(fn)])) result.add(variable);
  }
  return [...result];
}

/** The first parameter of a function, when it is one plain name. */
export function isPropsParameter(variable: Variable): boolean {
  const definition = variable.defs[0];
  if (definition?.type !== 'Parameter' || definition.name.type !== 'Identifier') return false;
  const fn = definition.node;
  return isFunction(fn) && fn.params[0] === definition.name;
}
