/**
 * Names of the reference's file that mean something else at another place, as two constants of one name in two files:
 * they cross like any other difference.
 */
import { problem, type Problem } from '../../../problems/problems.js';
import type { Node } from '../../../script/parser.js';
import type { Variable } from '../../../script/scopes.js';
import { identifierEnd } from '../../../script/scopes.js';
import { nodeWithin, spanOf } from '../../../script/walk.js';
import type { GivenInput, Passed, UnifyRequest } from '../../../language/unifying.js';
import type { Span } from '../../../text/edits.js';
import type { Scene } from '../cut/scene.js';
import { inputName } from '../../naming.js';
import { originOf } from '../../origins.js';

export function foreignInputs(request: UnifyRequest, scenes: readonly Scene[]): GivenInput[] | Problem {
  const reference = scenes[request.reference]!;
  const stays = staysOf(request);
  const found = new Map<Variable | string, Span[]>();
  for (const { identifier, resolved, isValueReference } of reference.scopes.within(reference.region)) {
    if (!isValueReference || stays.some((span) => nodeWithin(identifier, span))) continue;
    if (reference.key && nodeWithin(identifier, spanOf(reference.key))) continue;
    const span = { start: identifier.range[0], end: identifierEnd(identifier) };
    const own = origin(request, reference, span);
    if (own === undefined) continue;
    const isTag = identifier.type === 'JSXIdentifier';
    const differs = scenes.some((scene, place) => {
      const there = isTag ? tagAt(request, reference, identifier, place) : request.counterpart(place, span);
      return there !== undefined && origin(request, scene, there) !== own;
    });
    if (!differs) continue;
    if (isTag) return problem('unify-tag', { path: reference.request.file.path, span }, reference.slice(span));
    const key = resolved && resolved.defs.length > 0 ? resolved : reference.slice(span);
    found.set(key, [...(found.get(key) ?? []), span]);
  }
  return [...found.values()].map((spans): GivenInput => {
    const values = scenes.map((_, place): Passed | undefined => {
      const there = spans.map((span) => request.counterpart(place, span)).find((s) => s !== undefined);
      return there && { kind: 'code', span: there };
    });
    const sites = spans.map((span) => ({ kind: 'whole' as const, span, head: '', tail: '' }));
    const name = reference.slice(spans[0]!);
    return {
      name: inputName(name),
      kind: 'prop',
      sites,
      values,
      default: undefined,
      parameters: [],
      parameterSpans: [],
    };
  });
}

/** The tag at another place: same name, behind the same `<`. */
function tagAt(request: UnifyRequest, reference: Scene, identifier: Node, place: number): Span | undefined {
  let element = reference.scopes.parentOf(identifier);
  while (element && element.type !== 'JSXElement') element = reference.scopes.parentOf(element);
  const there = element && request.counterpart(place, spanOf(element));
  const offset = identifier.range[0] - element!.range[0];
  if (!there || offset > 1) return undefined;
  return { start: there.start + offset, end: there.start + offset + (identifier.range[1] - identifier.range[0]) };
}

function staysOf(request: UnifyRequest): Span[] {
  return request.inputs.flatMap((input) =>
    input.sites.flatMap((site) => {
      if (site.kind === 'spread') return site.spans;
      return site.kind === 'guard' || site.kind === 'gap' ? [] : (site.span ?? []);
    }),
  );
}

function origin(request: UnifyRequest, scene: Scene, span: Span): string | undefined {
  const reference = scene.scopes.within(span).find((r) => r.identifier.range[0] === span.start && r.isValueReference);
  const variable = reference?.resolved ?? undefined;
  if (variable && scene.declaredIn(variable, [scene.region])) return undefined;
  return originOf(variable, scene.slice(span), scene.request.file.path, scene.scopes, request.project.resolver);
}
