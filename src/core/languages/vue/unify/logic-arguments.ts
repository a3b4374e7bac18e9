/** What a shared function of Vue scripts is called with: names of the component, and of files that mean something else by them. */
import { problem, type Problem } from '../../../problems/problems.js';
import type { Node } from '../../../script/parser.js';
import type { Reference, ScriptScopes, Variable } from '../../../script/scopes.js';
import { isFunction, nodeWithin, spanOf, type FunctionNode } from '../../../script/walk.js';
import type { UnifyRequest } from '../../../language/unifying.js';
import type { Span } from '../../../text/edits.js';
import { inputName } from '../../naming.js';
import { originOf } from '../../origins.js';
import { keyName } from '../definition.js';
import type { LogicPlace } from './logic-place.js';

/** Something that the shared function is called with. */
export interface Argument {
  readonly name: string;
  /** Where the reference reads it, to be written as the argument. */
  readonly reads: readonly Span[];
  /** What each place hands over, and where that stands. */
  readonly values: readonly { readonly text: string; readonly span: Span }[];
}

export function argumentsOf(request: UnifyRequest, places: readonly LogicPlace[]): Argument[] | Problem {
  const reference = places[request.reference]!;
  const { fn, scopes, sfc } = reference;
  const byVariable = new Map<Variable, Reference[]>();
  for (const found of scopes.within(spanOf(fn))) {
    const variable = found.resolved;
    if (!variable || variable.defs.length === 0 || isInside(variable, fn)) continue;
    if (isItself(reference, variable) || isSameEverywhere(request, places, found)) continue;
    const refused = (why: string) => problem('unify-logic', { path: sfc.path, span: spanOf(found.identifier) }, why);
    if (sfc.setup && variable.name === reference.host.lowered.definition.emitLocal)
      return refused(`it sends events with "${variable.name}"`);
    if (!found.isValueReference) return refused(`"${variable.name}" is a type of the file`);
    if (found.isWrite()) return refused(`it writes "${variable.name}"`);
    if (scopes.isReassigned(variable)) return refused(`"${variable.name}" is written again elsewhere`);
    byVariable.set(variable, [...(byVariable.get(variable) ?? []), found]);
  }
  const taken = new Set(fn.params.flatMap((p) => (p.type === 'Identifier' ? [p.name] : [])));
  for (const { resolved } of scopes.within(spanOf(fn)))
    if (resolved && !byVariable.has(resolved)) taken.add(resolved.name);
  const args: Argument[] = [];
  for (const [variable, found] of byVariable) {
    const late = lateRead(reference, variable, found);
    if (late) return problem('unify-logic', { path: sfc.path, span: spanOf(late) }, 'it reads the props again later');
    for (const { wanted, reads } of readsOf(reference, variable, found)) {
      const values = places.map((place, i) => {
        const span = request.counterpart(i, reads[0]!);
        return span && { text: place.sfc.text.slice(span.start, span.end), span };
      });
      if (values.includes(undefined))
        return problem('unify-crossing', { path: sfc.path, span: reads[0]! }, variable.name);
      let name = wanted;
      for (let n = 2; taken.has(name); n++) name = `${wanted}${n}`;
      taken.add(name);
      args.push({ name, reads, values: values as Argument['values'] });
    }
  }
  const odd = args.length > 0 ? fn.params.find((p) => !isPlainParameter(p)) : undefined;
  if (odd) return problem('unify-logic', { path: sfc.path, span: spanOf(odd) }, 'a parameter is taken apart');
  if (args.length > 0 && fn.generator) return problem('unify-logic', { path: sfc.path, span: spanOf(fn) }, 'it yields');
  return args;
}

/** What is read of the props when the function has waited, or in another one inside of it: they may be other ones by then. */
function lateRead(
  { sfc, scopes, host, fn }: LogicPlace,
  { name }: Variable,
  found: readonly Reference[],
): Node | undefined {
  if (!sfc.setup || name !== host.lowered.definition.propsLocal) return undefined;
  return found.map((r) => r.identifier).find((identifier) => isLate(scopes, identifier, fn));
}

/** What is read of a name: its members where it is the props. A ref goes as it is, since whatever is called may write to it. */
function readsOf(
  { sfc, scopes, host }: LogicPlace,
  variable: Variable,
  found: readonly Reference[],
): { wanted: string; reads: Span[] }[] {
  const plain = [{ wanted: inputName(variable.name), reads: found.map((r) => spanOf(r.identifier)) }];
  if (!sfc.setup || variable.name !== host.lowered.definition.propsLocal) return plain;
  const byName = new Map<string, Span[]>();
  for (const { identifier } of found) {
    const member = scopes.parentOf(identifier);
    const isMember = member?.type === 'MemberExpression' && !member.computed && member.object === identifier;
    const name = isMember ? keyName(member.property) : undefined;
    if (!member || name === undefined) return plain;
    byName.set(name, [...(byName.get(name) ?? []), spanOf(member)]);
  }
  return [...byName].map(([wanted, reads]) => ({ wanted, reads }));
}

/** Whether something stands in a function that waits, or in one inside of it that may run later. */
function isLate(scopes: ScriptScopes, node: Node, fn: FunctionNode): boolean {
  const above = scopes.ancestorsOf(node);
  return fn.async || above.slice(0, above.indexOf(fn)).some(isFunction);
}

function isInside(variable: Variable, fn: FunctionNode): boolean {
  return variable.identifiers.some(
    (id) => nodeWithin(id, spanOf(fn)) && !(fn.type === 'FunctionDeclaration' && id === fn.id),
  );
}

/** Whether a name is that of the function, which calls itself. */
export function isItself({ holder, scopes }: LogicPlace, variable: Variable): boolean {
  return 'statement' in holder && holder.name === variable.name && scopes.isModuleLevel(variable);
}

/** An import that means the same at every place. */
function isSameEverywhere(request: UnifyRequest, places: readonly LogicPlace[], found: Reference): boolean {
  const span = spanOf(found.identifier);
  const origins = places.map(({ sfc, scopes }, i) => {
    const there = request.counterpart(i, span);
    const variable = there && scopes.within(there)[0]?.resolved;
    if (!there || !variable || !scopes.isImport(variable)) return undefined;
    return originOf(variable, sfc.text.slice(there.start, there.end), sfc.path, scopes, request.project.resolver);
  });
  return origins.every((origin) => origin !== undefined && origin === origins[0]);
}

function isPlainParameter(node: Node): boolean {
  return node.type === 'Identifier' || (node.type === 'RestElement' && node.argument.type === 'Identifier');
}
