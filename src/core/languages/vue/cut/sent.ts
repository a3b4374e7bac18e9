/**
 * Calls in a function that goes along which only tell the host something: `add(visit);` becomes `emit('add', visit);`, and
 * the host does there what the call did. Nobody waits for what such a call gives back, and an event is heard at once.
 */
import type { TSESTree } from '@typescript-eslint/types';
import type { Node } from '../../../script/parser.js';
import type { Reference, Variable } from '../../../script/scopes.js';
import { bare, isFunction, runsNow, spanOf, within } from '../../../script/walk.js';
import { emitBinding } from '../body.js';
import { plainOf, type Argument, type Crossing, type Found } from './crossing.js';
import { verbOf } from './event-names.js';
import type { Scene } from './scene.js';

interface Sending {
  readonly call: TSESTree.CallExpression;
  /** From the name that is called to its last member: `visits`, `push`. */
  readonly path: readonly string[];
}

/** The call that a name is sent in, where that is all that is done with it. */
export function sendingAt(scene: Scene, { identifier, resolved }: Reference): Sending | undefined {
  const { scopes, definition } = scene.lowered;
  if (!resolved || identifier.type !== 'Identifier') return undefined;
  const path = [plainOf(resolved.name)];
  let node: Node = identifier;
  let parent = scopes.parentOf(node);
  for (; parent?.type === 'MemberExpression' && parent.object === node; parent = scopes.parentOf(node)) {
    if (parent.computed || parent.optional || parent.property.type !== 'Identifier') return undefined;
    path.push(parent.property.name);
    node = parent;
  }
  if (parent?.type !== 'CallExpression' || parent.callee !== node || parent.optional) return undefined;
  if (scopes.parentOf(parent)?.type !== 'ExpressionStatement') return undefined;
  if (parent.arguments.some((argument) => argument.type === 'SpreadElement')) return undefined;
  if (!runsAtOnce(scene, parent)) return undefined;
  const isMember = definition.members.some((m) => m.name === path[0] && (path.length > 1 || m.kind === 'handler'));
  const isEmit = path.length === 1 && resolved.name.startsWith(emitBinding(''));
  // A name of its own for what sends would be hidden by one of the author's.
  const isHidden = definition.api === 'setup' && definition.emitLocal !== 'emit' && scopes.moduleScope.set.has('emit');
  return (isMember || isEmit) && !isHidden ? { call: parent, path } : undefined;
}

/** In a function of the component, and in none inside of it that may run when the component is gone: nobody would hear it then. */
function runsAtOnce(scene: Scene, node: Node): boolean {
  const { scopes } = scene.lowered;
  const around = scopes.ancestorsOf(node).filter((n) => isFunction(n) && !runsNow(n, scopes.parentOf(n)));
  return around.length === OWN_AND_COMPONENT;
}

const OWN_AND_COMPONENT = 2;

/** Whether a function is only named where the region listens, or called on the spot by another function of the component. */
export function isCalledAtOnce(scene: Scene, variable: Variable): boolean {
  const { scopes } = scene.lowered;
  return variable.references.every(({ identifier, init }) => {
    if (init || within(spanOf(identifier), scene.region)) return true;
    const parent = scopes.parentOf(identifier);
    return parent?.type === 'CallExpression' && parent.callee === identifier && runsAtOnce(scene, parent);
  });
}

/** The event that such a call becomes. */
export function sentEvent(scene: Scene, reference: Reference, known: ReadonlyMap<string, Crossing>): Found {
  const { call, path } = sendingAt(scene, reference)!;
  const { api } = scene.lowered.definition;
  const count = call.arguments.length;
  const own = path[0]!.startsWith(emitBinding('')) ? path[0]!.slice(emitBinding('').length) : undefined;
  const args = path.length === 1 && own === undefined ? parametersOf(reference.resolved!, count) : [];
  const value = own === undefined ? heard(path, count) : resent(own, count);
  // The region may send the same already.
  const there = [...known].find(([, c]) => c.kind === 'event' && c.value === value);
  const wanted = own ?? nameFor(path);
  const taken = new Set([...known.values()].map((c) => c.name));
  const name = there?.[1].name ?? (taken.has(wanted) ? free(wanted, taken) : wanted);
  const event = args.length === count ? 'none' : count === 1 ? 'one' : 'all';
  const send = api === 'options' ? 'this.$emit' : 'emit';
  const end = count > 0 ? call.arguments[0]!.range[0] : call.range[1];
  return {
    key: there?.[0] ?? `sent ${path.join('.')} ${count}`,
    draft: { kind: 'event', name, value, args, event, typed: undefined, variable: undefined },
    site: {
      span: { start: call.callee.range[0], end },
      text: (as) => (count > 0 ? `${send}('${as}', ` : `${send}('${as}')`),
    },
  };
}

/** What the host does when it hears of it. */
function heard(path: readonly string[], count: number): string {
  const name = path.join('.');
  if (path.length === 1) return name;
  return count === 0 ? `${name}()` : count === 1 ? `${name}($event)` : `(...args) => ${name}(...args)`;
}

function resent(event: string, count: number): string {
  return count === 0
    ? `$emit('${event}')`
    : count === 1
      ? `$emit('${event}', $event)`
      : `(...args) => $emit('${event}', ...args)`;
}

/** The parameters that a function names, where the call passes just them. */
function parametersOf(variable: Variable, count: number): Argument[] {
  const definition = variable.defs[0];
  const node = definition?.type === 'Variable' ? definition.node.init && bare(definition.node.init) : definition?.node;
  const params = node && isFunction(node) ? node.params : [];
  if (params.length !== count || !params.every((p) => p.type === 'Identifier')) return [];
  const fn = node as Extract<Node, { type: 'FunctionDeclaration' }>;
  return params.flatMap((p): Argument[] => {
    const own = variable.scope.childScopes.find((s) => s.block === fn)?.set.get(p.name);
    return own ? [{ variable: own, span: spanOf(p) }] : [];
  });
}

/** `add` and what is added for `visits.push`; the verb of a function. */
function nameFor(path: readonly string[]): string {
  if (path.length === 1) return verbOf(path[0]!);
  const method = path.at(-1)!;
  const subject = path.at(-2)!;
  const adds = /^(?:push|unshift|add)$/.test(method);
  const noun = adds ? subject.replace(/ies$/, 'y').replace(/(?<![su])s$/, '') : subject;
  return `${adds ? 'add' : method}${noun[0]!.toUpperCase()}${noun.slice(1)}`;
}

function free(name: string, taken: ReadonlySet<string>): string {
  for (let i = 2; ; i++) if (!taken.has(`${name}${i}`)) return `${name}${i}`;
}
