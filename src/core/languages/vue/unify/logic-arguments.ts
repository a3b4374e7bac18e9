/** What a shared function of Vue scripts is called with: names of the component, and of files that mean something else by them. */
import { problem, type Problem } from '../../../problems/problems.js';
import type { Node } from '../../../script/parser.js';
import type { Reference, ScriptScopes, Variable } from '../../../script/scopes.js';
import { isFunction, nodeWithin, spanOf, type FunctionNode } from '../../../script/walk.js';
import type { UnifyRequest } from '../../../steps/unifying.js';
import type { Span } from '../../../text/edits.js';
import { inputName } from '../../naming.js';
import { originOf } from '../../origins.js';
import { keyName } from '../definition.js';
import { isRef } from '../setup.js';
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

/** What is read of a name: its members where it is the props, what it holds where it is a ref that is only read. */
function readsOf(
  { sfc, scopes, host, fn }: LogicPlace,
  variable: Variable,
  found: readonly Reference[],
): { wanted: string; reads: Span[] }[] {
  const own = found.map((r) => spanOf(r.identifier));
  const plain = [{ wanted: inputName(variable.name), reads: own }];
  if (!sfc.setup || !scopes.isModuleLevel(variable)) return plain;
  const isProps = variable.name === host.lowered.definition.propsLocal;
  if (!isProps && !isRef(variable)) return plain;
  const byName = new Map<string, Span[]>();
  for (const { identifier } of found) {
    const member = scopes.parentOf(identifier);
    const name =
      member?.type === 'MemberExpression' &&
      !member.computed &&
      member.object === identifier &&
      keyName(member.property);
    if (!member || typeof name !== 'string') return plain;
    if (!isProps && (name !== 'value' || isChangedOrLater(scopes, member, fn))) return plain;
    byName.set(name, [...(byName.get(name) ?? []), spanOf(member)]);
  }
  return [...byName].map(([name, reads]) => ({ wanted: isProps ? name : variable.name, reads }));
}

/** Whether a member is assigned, or read by a function inside that may run when it holds something else. */
function isChangedOrLater(scopes: ScriptScopes, member: Node, fn: FunctionNode): boolean {
  const parent = scopes.parentOf(member);
  const isTarget =
    (parent?.type === 'AssignmentExpression' && parent.left === member) || parent?.type === 'UpdateExpression';
  const above = scopes.ancestorsOf(member);
  const inner = above.slice(0, above.indexOf(fn));
  return isTarget || fn.async || inner.some(isFunction);
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
