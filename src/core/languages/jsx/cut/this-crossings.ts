/** What crosses as `this` and through it: state, props, methods, bound methods. */
import type { TSESTree } from '@typescript-eslint/types';
import { eventNameFor } from '../../events.js';
import type { Node } from '../../../script/parser.js';
import { isFunction, spanOf, walk } from '../../../script/walk.js';
import { memberCrossing, memberOf, type Draft, type Site } from './crossing.js';
import type { Scene } from './scene.js';

/** `this.state.x`, `this.props.x`, `this.method`, `this.method.bind(this, …)`, or `this` itself, read while rendering. */
export function thisCrossing(scene: Scene, node: TSESTree.ThisExpression): { draft: Draft; site: Site } {
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
