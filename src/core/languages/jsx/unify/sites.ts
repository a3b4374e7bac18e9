/** How the common text takes an input, at each of its sites. */
import type { TSESTree } from '@typescript-eslint/types';
import type { Program } from '../../../script/parser.js';
import { holderOf, nodeAt } from '../../../script/walk.js';
import type { GivenInput, InputSite } from '../../../language/unifying.js';
import type { Span } from '../../../text/edits.js';
import type { AsFile } from '../dialect.js';
import { isJsx } from '../markup.js';
import { callAround } from '../../handed-functions.js';
import type { Habits } from '../cut/habits.js';
import { codeOf } from './values.js';

export interface WrittenSite {
  readonly span: Span;
  readonly write: (prop: string) => string;
}

export interface SiteContext {
  readonly program: Program;
  readonly text: string;
  readonly habits: Habits;
  /** Index of the place whose text this is. */
  readonly reference: number;
  readonly asFile?: AsFile | undefined;
}

/** The rewrites of one site, and the part of the text that the place keeps. */
export function writeSite(
  context: SiteContext,
  input: GivenInput,
  site: InputSite,
): { readonly sites: readonly WrittenSite[]; readonly stays: readonly Span[] } {
  const parameters = input.parameters[context.reference] ?? [];
  const call = (prop: string) => (parameters.length > 0 ? `${prop}(${parameters.join(', ')})` : prop);
  const { asFile } = context;
  const shown = (prop: string) => (input.kind === 'slot' && asFile ? asFile.outlet(prop) : `{${prop}}`);
  switch (site.kind) {
    case 'whole':
      if (input.kind === 'slot' && asFile) return { sites: [{ span: site.span, write: shown }], stays: [site.span] };
      return { sites: [{ span: site.span, write: inPlace(context, site, call) }], stays: [site.span] };
    case 'call':
      return callAround(site, (prop) => `${prop}(`);
    case 'member':
      return {
        sites: [{ span: site.span, write: wholeWriter(context, site.span, (prop) => `${prop}.${site.name}`) }],
        stays: [site.span],
      };
    case 'gap': {
      const closed = site.after ? undefined : selfClosed(context, site.parent);
      if (closed)
        return { sites: [{ span: closed.end, write: (prop) => `>${shown(prop)}</${closed.tag}>` }], stays: [] };
      const at = gapAt(context, site.after, site.parent);
      return { sites: [{ span: { start: at, end: at }, write: shown }], stays: [] };
    }
    case 'attribute': {
      if (site.span)
        return { sites: [attributeRewrite(site.span, site.name, (prop) => call(prop))], stays: [site.span] };
      return { sites: [attributeInsertion(context, site.element, site.name, (prop) => call(prop))], stays: [] };
    }
    case 'spread': {
      const [first, ...more] = site.spans;
      const open = (prop: string) => `{...${call(prop)}}`;
      if (!first) return { sites: [behindTag(context, site.element, open)], stays: [] };
      const gone = more.map((span): WrittenSite => ({ span: withSpace(context.text, span), write: () => '' }));
      return { sites: [{ span: first, write: open }, ...gone], stays: [first, ...more] };
    }
    case 'guard': {
      const { start, end } = site.span;
      const tall = context.text.slice(start, end).includes('\n');
      const [open, close] = tall ? ['(', ')'] : ['', ''];
      return {
        sites: [
          { span: { start, end: start }, write: (prop) => `{${prop} && ${open}` },
          { span: { start: end, end }, write: () => `${close}}` },
        ],
        stays: [],
      };
    }
    case 'choice': {
      const quoted = `${context.habits.quote}${site.key}${context.habits.quote}`;
      const side = (value: typeof site.on) => codeOf(value, context.text, context.habits);
      const value = (prop: string) => `${prop} === ${quoted} ? ${side(site.on)} : ${side(site.off)}`;
      if (site.span) return { sites: [attributeRewrite(site.span, site.name, value)], stays: [site.span] };
      return { sites: [attributeInsertion(context, site.element, site.name, value)], stays: [] };
    }
  }
}

function attributeRewrite(span: Span, name: string, value: (prop: string) => string): WrittenSite {
  return { span, write: (prop) => `${name}={${value(prop)}}` };
}

function attributeInsertion(
  context: SiteContext,
  element: Span,
  name: string,
  value: (prop: string) => string,
): WrittenSite {
  const opening = openingAt(context, element);
  const last = opening.attributes[opening.attributes.length - 1] ?? opening.typeArguments ?? opening.name;
  const at = last.range[1];
  return { span: { start: at, end: at }, write: (prop) => ` ${name}={${value(prop)}}` };
}

/** In front of all attributes: the end of the last one may itself be rewritten. */
function behindTag(context: SiteContext, element: Span, write: (prop: string) => string): WrittenSite {
  const { typeArguments, name } = openingAt(context, element);
  const at = (typeArguments ?? name).range[1];
  return { span: { start: at, end: at }, write: (prop) => ` ${write(prop)}` };
}

function openingAt({ program }: SiteContext, element: Span): TSESTree.JSXOpeningElement {
  return (nodeAt(program, element) as TSESTree.JSXElement).openingElement;
}

/** A span with the white space in front of it. */
function withSpace(text: string, { start, end }: Span): Span {
  return { start: text.slice(0, start).trimEnd().length, end };
}

/** The end of the tag of an element that has nothing between its tags, and only one. */
function selfClosed({ program, text }: SiteContext, element: Span): { end: Span; tag: string } | undefined {
  const node = nodeAt(program, element);
  if (node?.type !== 'JSXElement' || !node.openingElement.selfClosing) return undefined;
  const { end } = element;
  return {
    end: { start: text.slice(0, end - '/>'.length).trimEnd().length, end },
    tag: text.slice(...node.openingElement.name.range),
  };
}

/** Where something is put between siblings of which the reference has none. */
function gapAt({ program }: SiteContext, after: Span | undefined, parent: Span): number {
  if (after) return after.end;
  const around = nodeAt(program, parent) as TSESTree.JSXElement | TSESTree.JSXFragment;
  return around.type === 'JSXElement' ? around.openingElement.range[1] : around.openingFragment.range[1];
}

function inPlace(
  context: SiteContext,
  { span, head, tail }: Extract<InputSite, { kind: 'whole' }>,
  call: (prop: string) => string,
): (prop: string) => string {
  const template = (prop: string) => `\`${escaped(head)}\${${prop}}${escaped(tail)}\``;
  return wholeWriter(context, span, (prop) => (head || tail ? template(prop) : call(prop)));
}

function wholeWriter(
  { program, text }: SiteContext,
  span: Span,
  plain: (prop: string) => string,
): (prop: string) => string {
  const around = holderOf(program, span);
  // Between tags and as the plain value of an attribute, code stands in braces.
  if (isJsx(around.holder) || (around.holder.type === 'JSXAttribute' && around.node?.type === 'Literal'))
    return (prop) => `{${plain(prop)}}`;
  const { holder, node } = around;
  const property = node?.type === 'Property' ? node : holder.type === 'Property' ? holder : undefined;
  if (property?.shorthand && node) return (prop) => `${text.slice(span.start, span.end)}: ${plain(prop)}`;
  return plain;
}

function escaped(text: string): string {
  return text.replace(/[`\\]|\$\{/g, '\\$&');
}
