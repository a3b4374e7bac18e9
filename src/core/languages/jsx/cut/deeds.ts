/** Handlers that set a state to one value that is written out: the host keeps them, and the part tells what happened. */
import { deedOf, eventForState, eventNameFor, isEventName } from '../../events.js';
import type { Node } from '../../../script/parser.js';
import type { Variable } from '../../../script/scopes.js';
import { attributeName, nodeWithin, spanOf, within } from '../../../script/walk.js';
import type { Span } from '../../../text/edits.js';
import type { Draft, Site } from './crossing.js';
import type { Scene } from './scene.js';

/**
 * A setter that is called with one value that is written out, and nothing else: the host keeps the function that does it, and the
 * part tells what happened.
 */
export function constantDeed(
  scene: Scene,
  variable: Variable,
  identifier: Node,
  spans: readonly Span[],
): { draft: Draft; site: Site } | undefined {
  const used = variable.references.filter((r) => spans.some((span) => nodeWithin(r.identifier, span)));
  const calls = used.map((r) => soleCallBy(scene, r.identifier));
  const [first] = calls;
  if (!first || !calls.every((call) => call && scene.slice(call.fn) === scene.slice(first.fn))) return undefined;
  const asked = (scene.request.inputs ?? []).flatMap(({ sites }) => sites.map((site) => site.span));
  if (calls.some((one) => asked.some((site) => within(site, spanOf(one!.fn))))) return undefined;
  const call = soleCallBy(scene, identifier)!;
  const state = variable.name.replace(/^set/, '');
  const labels = new Set(calls.map((one) => labelOf(scene, one!.fn)));
  const named = labels.size === 1 ? [...labels][0] : undefined;
  const deed = deedOf(state[0]!.toLowerCase() + state.slice(1), first.value, named);
  if (deed === undefined) return undefined;
  const span = spanOf(call.fn);
  const draft: Draft = {
    key: `deed ${scene.slice(span)}`,
    wanted: eventNameFor(deed),
    otherwise: [eventForState(variable.name)],
    value: scene.slice(first.fn),
    event: true,
    slot: false,
    typed: spanOf(first.fn),
    extras: [],
    setter: false,
    variable: undefined,
  };
  return { draft, site: { span, write: (prop) => prop } };
}

/** `() => setOpen(false)`, which is all that a handler is. */
function soleCallBy(scene: Scene, identifier: Node): { readonly fn: Node; readonly value: string } | undefined {
  const call = scene.scopes.parentOf(identifier);
  if (call?.type !== 'CallExpression' || call.callee !== identifier || call.arguments.length !== 1) return undefined;
  const [given] = call.arguments;
  const fn = scene.scopes.parentOf(call);
  const isAll = fn?.type === 'ArrowFunctionExpression' && fn.body === call && fn.params.length === 0;
  if (given?.type !== 'Literal' || !isAll) return undefined;
  const holder = scene.scopes.parentOf(fn);
  const attribute = holder?.type === 'JSXExpressionContainer' ? scene.scopes.parentOf(holder) : undefined;
  const isHandler = attribute?.type === 'JSXAttribute' && isEventName(attributeName(attribute));
  return isHandler ? { fn, value: scene.slice(given) } : undefined;
}

/** The text that the element shows whose handler a function is, where that is all that it shows. */
function labelOf(scene: Scene, fn: Node): string | undefined {
  const element = scene.scopes.ancestorsOf(fn).find((node) => node.type === 'JSXElement');
  const shown = element?.children.filter((child) => child.type !== 'JSXText' || child.value.trim() !== '') ?? [];
  const [only] = shown;
  return shown.length === 1 && only?.type === 'JSXText' ? only.value : undefined;
}
