/** What a shared function takes besides its own parameters: names of the hosts, and what differs. */
import { problem, type Problem } from '../../../problems/problems.js';
import type { Node } from '../../../script/parser.js';
import { identifierEnd, type Reference, type Variable } from '../../../script/scopes.js';
import { nodeWithin } from '../../../script/walk.js';
import type { TypeName } from '../../../language/cutting.js';
import type { GivenInput, Passed, UnifyRequest } from '../../../language/unifying.js';
import type { Span } from '../../../text/edits.js';
import { habitsIn } from '../cut/habits.js';
import type { Scene } from '../cut/scene.js';
import type { Form } from './logic-forms.js';
import { writeSite } from './sites.js';
import { codeOf, unionOf } from './values.js';

/** What the new function takes besides its own parameters. */
export interface Argument {
  readonly name: string;
  readonly type: string | undefined;
  readonly typeNames: readonly TypeName[];
  readonly sites: readonly { readonly span: Span; readonly write: (name: string) => string }[];
  /** What each place passes. */
  readonly values: readonly string[];
  /** Where that stands now. */
  readonly kept: readonly (Span | undefined)[];
}

/** Variables of the host that the code reads. */
export function capturedArguments(
  request: UnifyRequest,
  scenes: readonly Scene[],
  inputs: readonly GivenInput[],
): Argument[] | Problem {
  const scene = scenes[request.reference]!;
  const holes = inputs.flatMap((i) => i.sites.flatMap((s) => ('span' in s && s.span ? [s.span] : [])));
  const byVariable = new Map<Variable, Reference[]>();
  for (const reference of scene.scopes.within(scene.region)) {
    const variable = reference.resolved;
    if (!variable || variable.defs.length === 0 || !reference.isValueReference) continue;
    if (scene.declaredIn(variable, [scene.region]) || scene.scopes.isModuleLevel(variable)) continue;
    if (holes.some((span) => nodeWithin(reference.identifier, span))) continue;
    byVariable.set(variable, [...(byVariable.get(variable) ?? []), reference]);
  }
  const result: Argument[] = [];
  // In the order in which the host has them: what it is given first is what the code is about.
  const declared = ([{ identifiers }]: readonly [Variable, unknown]) => identifiers[0]!.range[0];
  for (const [variable, references] of [...byVariable].sort((x, y) => declared(x) - declared(y))) {
    const spans = references.map((r) => ({ start: r.identifier.range[0], end: identifierEnd(r.identifier) }));
    const values = scenes.map((other, place) => {
      const texts = new Set(spans.map((span) => request.counterpart(place, span)).map((s) => s && other.slice(s)));
      return texts.size === 1 ? [...texts][0] : undefined;
    });
    if (values.includes(undefined))
      return problem('unify-crossing', { path: scene.request.file.path, span: spans[0]! }, variable.name);
    const answer = request.types?.typeAt(scene.request.file.path, spans[0]!);
    result.push({
      name: variable.name,
      type: answer?.text,
      typeNames: answer?.names ?? [],
      sites: references.map((r, i) => ({ span: spans[i]!, write: shorthandAware(scene, r.identifier) })),
      values: values as string[],
      kept: scenes.map((_, place) => request.counterpart(place, spans[0]!)),
    });
  }
  return result;
}

function shorthandAware(scene: Scene, identifier: Node): (name: string) => string {
  const parent = scene.scopes.parentOf(identifier);
  const own = identifier.type === 'Identifier' ? identifier.name : '';
  const shorthand = parent?.type === 'Property' && parent.shorthand;
  return (name) => (shorthand && name !== own ? `${own}: ${name}` : name);
}

export function inputArgument(request: UnifyRequest, scenes: readonly Scene[], input: GivenInput): Argument {
  const scene = scenes[request.reference]!;
  const habits = habitsIn(scene);
  const context = { program: scene.script.program, text: scene.text, habits, reference: request.reference };
  const types = new Set<string>();
  const names: TypeName[] = [];
  input.values.forEach((value, place) => {
    const type = typeOf(request, value, place, names);
    if (type) types.add(type);
  });
  return {
    name: input.name,
    type: types.size > 0 ? unionOf([...types]) : undefined,
    typeNames: names,
    sites: input.sites.flatMap((site) => writeSite(context, input, site).sites),
    values: input.values.map((value, place) => codeOf(value, scenes[place]!.text, habits)),
    kept: input.values.map((value) => (value?.kind === 'code' ? value.span : undefined)),
  };
}

function typeOf(
  request: UnifyRequest,
  value: Passed | undefined,
  place: number,
  names: TypeName[],
): string | undefined {
  if (value?.kind === 'string') return 'string';
  if (value?.kind !== 'code') return 'boolean';
  const { file } = request.places[place]!;
  const answer = request.types?.typeAt(file.path, value.span);
  if (place === request.reference || answer?.names.every((n) => n.from !== 'here'))
    names.push(...(answer?.names ?? []));
  if (answer) return answer.text;
  return /^-?\d/.test(file.text.slice(value.span.start, value.span.end)) ? 'number' : undefined;
}

export function freeName(
  wanted: string,
  before: readonly { readonly name: string }[],
  scene: Scene,
  form: Form,
): string {
  const taken = new Set(before.map((b) => b.name));
  for (const { resolved } of scene.scopes.within(scene.region))
    if (resolved && (scene.declaredIn(resolved, [scene.region]) || scene.scopes.isModuleLevel(resolved)))
      taken.add(resolved.name);
  if (form.kind === 'function') for (const p of form.node.params) if (p.type === 'Identifier') taken.add(p.name);
  const name = wanted === 'value' || /^[a-z]/i.test(wanted) ? wanted : 'value';
  if (!taken.has(name)) return name;
  for (let i = 2; ; i++) if (!taken.has(`${name}${i}`)) return `${name}${i}`;
}
