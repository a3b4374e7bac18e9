/** Outlets in a region: outlets of the new component, which the host fills with its own. */
import type { TSESTree } from '@typescript-eslint/types';
import type { Attribute, Markup } from '../../../markup/model.js';
import { DYNAMIC_OUTLET } from '../../../markup/syntax.js';
import { walkMarkup } from '../../../markup/walk.js';
import { problem, type Problem } from '../../../problems/problems.js';
import type { Node } from '../../../script/parser.js';
import type { Reference } from '../../../script/scopes.js';
import { spanOf, within } from '../../../script/walk.js';
import { applyEdits, type Span } from '../../../text/edits.js';
import { camelized, isElement, spanOf as placeOf } from '../markup.js';
import { directiveOf } from '../pieces.js';
import { memberName } from '../refs.js';
import type { TemplateChildNode } from '../template.js';
import type { Add, Found } from './crossing.js';
import { vueOf } from './habits.js';
import { isCalled } from './questions.js';
import { isInner, leaving, outletsIn, staying, tagAt, type Scene } from './scene.js';

type Outlet = ReturnType<typeof outletsIn>[number];

/**
 * Whether what an outlet shows when nothing is passed in stays in it: it shows what only the region knows, or markup that is
 * a part of the region as any other. A text or a value is said where the outlet is filled.
 */
export function keepsFallback(scene: Scene, outlet: Outlet): boolean {
  const fallback = fallbackOf(outlet);
  const inside = outlet.fallback ?? [];
  if (holds(inside, 'element') && !holds(inside, 'outlet')) return true;
  const bindsOutside = ({ resolved }: Reference) =>
    resolved && isInner(scene, resolved) && !resolved.identifiers.some((id) => within(spanOf(id), fallback!));
  return fallback !== undefined && leaving(scene, fallback).some(bindsOutside);
}

function fallbackOf({ fallback }: Outlet): Span | undefined {
  const first = fallback?.[0];
  return first && { start: first.start, end: fallback[fallback.length - 1]!.end };
}

function holds(nodes: readonly Markup[], kind: Markup['kind']): boolean {
  let found = false;
  walkMarkup(nodes, (node) => {
    found ||= node.kind === kind;
  });
  return found;
}

export function crossingSlot(scene: Scene, outlet: Outlet): (Found & { readonly taken: readonly Span[] }) | Problem {
  const { start, end } = outlet;
  const at = { path: scene.request.file.path, span: { start, end } };
  const tag = tagAt(scene.sfc.shown, start);
  const own = keepsFallback(scene, outlet);
  const fallback = own ? undefined : fallbackOf(outlet);
  if (!tag || outlet.name === DYNAMIC_OUTLET || (own && holds(outlet.fallback ?? [], 'outlet')))
    return problem('region-outlet', at);
  // What is handed out, and whether the outlet is there at all, is known where it stands; the rest is the host's.
  const given = outlet.attributes ?? [];
  const leaves = [...given, ...staying(tag)].sort((a, b) => a.start - b.start);
  const opening = /^<[^\s/>]+/.exec(scene.text.slice(start, end))![0].length;
  const bound = handedOn(scene, given);
  const edits = leaves.map((span, i) => {
    let from = span.start;
    while (/\s/.test(scene.text[from - 1]!)) from--;
    return {
      start: from - start,
      end: span.end - start,
      text: i === 0 ? bound : '',
    };
  });
  const head = tagEnd(scene.text, start + opening);
  const shown = applyEdits(scene.text.slice(start, end), edits);
  return {
    // One that hands something over and one that does not cannot be filled by the same content.
    key: `slot ${outlet.name} ${given.length > 0} ${fallback ? scene.text.slice(fallback.start, fallback.end) : ''}`,
    draft: {
      kind: 'slot',
      name: outlet.name,
      value: own ? `${onOneLine(shown.slice(0, tagEnd(shown, opening)))} />` : shown,
      args: [],
      event: 'none',
      typed: undefined,
      variable: undefined,
      scoped: given.length > 0,
    },
    site: own
      ? { span: { start: head, end: head }, text: () => '' }
      : { span: { start: head, end }, text: () => ' />' },
    taken: [{ start, end: start + 1 }, ...(fallback ? [fallback] : [])],
  };
}

/**
 * What an outlet of the host hands on of what it is given itself. In a loop, Vue 3 puts a mark of its own (`ref_for`) beside what
 * `v-bind` binds as a whole, and who fills the outlet would find it there: so it is handed on name by name, unless it is bound as a whole already.
 */
function handedOn(scene: Scene, given: readonly Attribute[]): string {
  if (given.length === 0) return '';
  const names = given.map(
    (a) => /^(?:v-bind:|:)?(?!v-)([a-zA-Z][\w-]*)(?==|$)/.exec(scene.text.slice(a.start, a.end))?.[1],
  );
  const { files } = scene.request.project;
  const isMarked = vueOf(files, scene.request.file.path).major >= 3 && inLoop(scene);
  if (!isMarked || names.some((name) => name === undefined)) return ' v-bind="slotProps"';
  return names.map((name) => ` :${name!}="slotProps.${camelized(name!)}"`).join('');
}

/** Whether the use stands in a loop, its own included. */
function inLoop({ sfc, region }: Scene): boolean {
  const loops = (nodes: readonly TemplateChildNode[]): boolean =>
    nodes.some(
      (node) =>
        isElement(node) &&
        within(region, placeOf(node)) &&
        (directiveOf(node, 'for') !== undefined || loops(node.children)),
    );
  return loops(sfc.shown);
}

/** `$slots.title` where it is only asked whether there is one: the host knows that best. */
export function addOutletCheck(scene: Scene, add: Add, identifier: Node): boolean {
  const member = scene.lowered.scopes.parentOf(identifier);
  const { name } = identifier as TSESTree.Identifier;
  if (!/^\$(?:scopedS|s)lots$/.test(name) || member?.type !== 'MemberExpression' || member.object !== identifier)
    return false;
  const asked = memberName(member);
  if (asked === undefined || !/^[a-z][\w-]*$/i.test(asked) || isCalled(scene, member)) return false;
  const span = spanOf(member);
  const value = scene.text.slice(span.start, span.end);
  const draft = {
    kind: 'prop',
    name: `${camelized(asked)}Slot`,
    value,
    args: [],
    event: 'none',
    typed: undefined,
    variable: undefined,
  } as const;
  add(`own ${value}`, draft, { span, text: (prop) => prop });
  return true;
}

/** A tag whose attributes are gone for the most part; a text that spans lines stays as it is. */
function onOneLine(tag: string): string {
  return tag.includes('`') ? tag : tag.replace(/\s*\n\s*/g, ' ');
}

/** Where the attributes of a tag end, white space before its bracket left out. */
function tagEnd(text: string, from: number): number {
  const rest = /^(?:[^>"']|"[^"]*"|'[^']*')*/.exec(text.slice(from))![0];
  return from + rest.replace(/[\s/]+$/, '').length;
}
