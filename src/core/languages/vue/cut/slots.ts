/** Outlets in a region: outlets of the new component, which the host fills with its own. */
import type { TSESTree } from '@typescript-eslint/types';
import { problem, type Problem } from '../../../problems/problems.js';
import type { Node } from '../../../script/parser.js';
import type { Reference } from '../../../script/scopes.js';
import { spanOf, within } from '../../../script/walk.js';
import { applyEdits, type Span } from '../../../text/edits.js';
import type { Add, Found } from './crossing.js';
import { isCalled } from './questions.js';
import { isInner, leaving, outletsIn, staying, tagAt, type Scene } from './scene.js';

export function crossingSlot(
  scene: Scene,
  outlet: ReturnType<typeof outletsIn>[number],
): (Found & { readonly taken: readonly Span[] }) | Problem {
  const { start, end } = outlet;
  const at = { path: scene.request.file.path, span: { start, end } };
  const tag = tagAt(scene.sfc.shown, start);
  const first = outlet.fallback?.[0];
  const fallback = first && { start: first.start, end: outlet.fallback[outlet.fallback.length - 1]!.end };
  const bindsOutside = (r: Reference) =>
    r.resolved && isInner(scene, r.resolved) && !r.resolved.identifiers.some((id) => within(spanOf(id), fallback!));
  if (!tag || (fallback && leaving(scene, fallback).some(bindsOutside))) return problem('region-outlet', at);
  // What is handed out, and whether the outlet is there at all, is known where it stands; the rest is the host's.
  const given = outlet.attributes ?? [];
  const leaves = [...given, ...staying(tag)].sort((a, b) => a.start - b.start);
  const opening = /^<[^\s/>]+/.exec(scene.text.slice(start, end))![0].length;
  const edits = leaves.map((span, i) => {
    let from = span.start;
    while (/\s/.test(scene.text[from - 1]!)) from--;
    return {
      start: from - start,
      end: span.end - start,
      text: i === 0 && given.length > 0 ? ' v-bind="slotProps"' : '',
    };
  });
  const head = tagEnd(scene.text, start + opening);
  return {
    // One that hands something over and one that does not cannot be filled by the same content.
    key: `slot ${outlet.name} ${given.length > 0} ${fallback ? scene.text.slice(fallback.start, fallback.end) : ''}`,
    draft: {
      kind: 'slot',
      name: outlet.name,
      value: applyEdits(scene.text.slice(start, end), edits),
      args: [],
      event: 'none',
      typed: undefined,
      variable: undefined,
      scoped: given.length > 0,
    },
    site: { span: { start: head, end }, text: () => ' />' },
    taken: [{ start, end: start + 1 }, ...(fallback ? [fallback] : [])],
  };
}

/** `$slots.title` where it is only asked whether there is one: the host knows that best. */
export function addOutletCheck(scene: Scene, add: Add, identifier: Node): boolean {
  const member = scene.lowered.scopes.parentOf(identifier);
  const { name } = identifier as TSESTree.Identifier;
  if (!/^\$(?:scopedS|s)lots$/.test(name) || member?.type !== 'MemberExpression' || member.object !== identifier)
    return false;
  if (member.computed || member.property.type !== 'Identifier' || isCalled(scene, member)) return false;
  const span = spanOf(member);
  const value = scene.text.slice(span.start, span.end);
  const draft = {
    kind: 'prop',
    name: `${member.property.name}Slot`,
    value,
    args: [],
    event: 'none',
    typed: undefined,
    variable: undefined,
  } as const;
  add(`own ${value}`, draft, { span, text: (prop) => prop });
  return true;
}

/** Where the attributes of a tag end, white space before its bracket left out. */
function tagEnd(text: string, from: number): number {
  const rest = /^(?:[^>"']|"[^"]*"|'[^']*')*/.exec(text.slice(from))![0];
  return from + rest.replace(/[\s/]+$/, '').length;
}
