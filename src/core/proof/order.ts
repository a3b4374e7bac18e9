/**
 * The order of statements when some of them stand in a hook. What does nothing by itself may change places with what
 * it shares no name with; everything else runs in the order in which it ran.
 */
import type { Node } from '../script/parser.js';
import { mayChangePlaces } from '../script/quiet.js';
import { nodeWithin, spanOf } from '../script/walk.js';
import type { ProofModule } from '../language/proof-module.js';
import { aligned } from './questions.js';
import type { Code } from './values.js';

export interface Spliced {
  readonly code: Code;
  /** The call of the hook that the statement stands in. */
  readonly call?: Node;
}

/** Two statements that changed places and must not have. */
export interface Crossed {
  readonly first: Spliced;
  readonly second: Spliced;
}

/** The statements of the second side in the order in which the first side has them. */
export function inOrderOf(
  left: readonly Node[],
  { path, text }: ProofModule,
  right: readonly Spliced[],
): readonly Spliced[] | Crossed {
  let met = 0;
  for (const x of left) if (right[met] && isCounterpart(x, right[met]!.code, path)) met++;
  if (met === right.length) return right;
  const own = right.filter((s) => !s.call);
  const inHooks = right.filter((s) => s.call);
  const ordered: Spliced[] = [];
  for (const x of left) {
    const heads = [own[0], inHooks[0]].filter((s) => s !== undefined && aligned(x, s.code.node));
    const same = heads.find((s) => plain(textOf(s!.code)) === plain(text.slice(...x.range)));
    const next = same ?? heads.sort((s, t) => right.indexOf(s!) - right.indexOf(t!))[0];
    if (next) ordered.push((next === own[0] ? own : inHooks).shift()!);
  }
  ordered.push(...right.filter((s) => own.includes(s) || inHooks.includes(s)));
  for (const [i, first] of ordered.entries()) {
    const second = ordered.slice(i + 1).find((s) => right.indexOf(s) < right.indexOf(first) && !mayPass(first, s));
    if (second) return { first, second };
  }
  return ordered;
}

/** Whether a statement may be what another one became; what went to another file may have other names there. */
export function isCounterpart(x: Node, { node, module }: Code, path: string): boolean {
  return aligned(x, node) || (module.path !== path && x.type === node.type);
}

function textOf({ node, module }: Code): string {
  return module.text.slice(...node.range);
}

/** Whether `second`, which ran behind `first`, may run before it. */
function mayPass(first: Spliced, second: Spliced): boolean {
  if (!mayChangePlaces(first.code.node, second.code.node)) return false;
  const [declaring, using] = [first.call ?? first.code.node, second.call ?? second.code.node];
  // Both stand in the host: one is a statement of its own, the other the call of a hook.
  const { scopes } = (first.call ? second : first).code.module;
  return !scopes
    .within(spanOf(using))
    .some(({ resolved }) => resolved?.identifiers.some((id) => nodeWithin(id, spanOf(declaring))));
}

/** Without what an indentation changes. */
function plain(text: string): string {
  return text.replace(/\s+/g, ' ');
}
