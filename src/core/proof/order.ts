/**
 * The order of statements when some of them stand in a hook. What does nothing by itself may change places with what
 * it shares no name with; everything else runs in the order in which it ran.
 */
import type { Node } from '../script/parser.js';
import { isQuiet, mayChangePlaces, type CallNames } from '../script/quiet.js';
import type { ScriptScopes, Variable } from '../script/scopes.js';
import { isFunction, nodeWithin, spanOf } from '../script/walk.js';
import type { ProofModule } from '../language/proof-module.js';
import { aligned, functionBehind } from './questions.js';
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
  { path, text, calls }: ProofModule,
  right: readonly Spliced[],
): readonly Spliced[] | Crossed {
  const isInStep = (isSame: (x: Node, code: Code) => boolean) => {
    let met = 0;
    for (const x of left) if (right[met] && isSame(x, right[met]!.code)) met++;
    return met === right.length;
  };
  if (isInStep((x, code) => aligned(x, code.node))) return right;
  const own = right.filter((s) => !s.call);
  const inHooks = right.filter((s) => s.call);
  const ordered: Spliced[] = [];
  for (const x of left) {
    const heads = [own[0], inHooks[0]].filter((s) => s !== undefined && aligned(x, s.code.node));
    const same = heads.find((s) => plain(textOf(s!.code)) === plain(text.slice(...x.range)));
    const next = same ?? heads.sort((s, t) => right.indexOf(s!) - right.indexOf(t!))[0];
    if (next) ordered.push((next === own[0] ? own : inHooks).shift()!);
  }
  // Names may be other ones there, and then only what kind of statement stands where tells them apart.
  const isLoose = isInStep((x, code) => isCounterpart(x, code, path));
  if (isLoose && inHooks.length > 0) return right;
  ordered.push(...right.filter((s) => own.includes(s) || inHooks.includes(s)));
  for (const [i, first] of ordered.entries()) {
    const second = ordered
      .slice(i + 1)
      .find((s) => right.indexOf(s) < right.indexOf(first) && !mayPass(first, s, right, calls));
    if (second) return isLoose ? right : { first, second };
  }
  return ordered;
}

/** The second side's own statements in the order of the first, as far as they may change places. */
export function sortedAs(
  left: readonly Node[],
  right: readonly Code[],
  isSame: (x: Node, y: Code) => boolean,
  calls: CallNames | undefined,
): Code[] {
  const spliced = right.map((code): Spliced => ({ code }));
  const rest = [...spliced];
  const sorted = left.flatMap((x): Spliced[] => {
    const at = rest.findIndex(({ code }) => isSame(x, code));
    const passed = rest.slice(0, Math.max(at, 0));
    const mayGo = at >= 0 && passed.every((second) => mayPass(rest[at]!, second, spliced, calls));
    return mayGo ? rest.splice(at, 1) : [];
  });
  return [...sorted, ...rest].map(({ code }) => code);
}

/** Whether a statement may be what another one became; what went to another file may have other names there. */
export function isCounterpart(x: Node, { node, module }: Code, path: string): boolean {
  return aligned(x, node) || (module.path !== path && x.type === node.type);
}

/** Whether two pieces of code are written in the same way. */
export function isOneText(a: Code, b: Code): boolean {
  return plain(textOf(a)) === plain(textOf(b));
}

function textOf({ node, module }: Code): string {
  return module.text.slice(...node.range);
}

/** Whether `second`, which ran behind `first`, may run before it. */
function mayPass(first: Spliced, second: Spliced, right: readonly Spliced[], calls: CallNames | undefined): boolean {
  if (!mayChangePlaces(first.code.node, second.code.node, calls)) return false;
  const [declaring, using] = [first.call ?? first.code.node, second.call ?? second.code.node];
  // Both stand in the host: one is a statement of its own, the other the call of a hook.
  const { scopes } = (first.call ? second : first).code.module;
  // A function declaration is there from the start; what it names is asked for on its own.
  if (declaring.type === 'FunctionDeclaration') return true;
  const uses = scopes.within(spanOf(using)).filter(({ resolved }) => resolved && reaches(resolved, declaring, scopes));
  if (uses.length === 0) return true;
  // What a function names it asks for when it is called, and nothing in between calls any.
  const isLater = uses.every(({ identifier }) =>
    scopes.ancestorsOf(identifier).some((a) => isFunction(a) && nodeWithin(a, spanOf(using))),
  );
  const between = right.slice(right.indexOf(second), right.indexOf(first));
  return isLater && between.every(({ code }) => isQuiet(code.node, calls));
}

/** Whether a name is declared by a statement, or by way of functions that it stands for names something that is. */
function reaches(
  variable: Variable,
  declaring: Node,
  scopes: ScriptScopes,
  seen: ReadonlySet<Variable> = new Set(),
): boolean {
  if (variable.identifiers.some((id) => nodeWithin(id, spanOf(declaring)))) return true;
  const fn = seen.has(variable) ? undefined : functionBehind(variable)?.fn;
  const next = new Set([...seen, variable]);
  return Boolean(
    fn && scopes.within(spanOf(fn)).some(({ resolved }) => resolved && reaches(resolved, declaring, scopes, next)),
  );
}

/** Without what an indentation changes. */
function plain(text: string): string {
  return text.replace(/\s+/g, ' ');
}
