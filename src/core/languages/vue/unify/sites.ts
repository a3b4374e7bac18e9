/** How the common template takes an input, at each of its sites. */
import type { GivenInput, InputSite, Passed } from '../../../language/unifying.js';
import { within } from '../../../script/walk.js';
import type { Span } from '../../../text/edits.js';
import { indentAt } from '../../../text/layout.js';
import { callAround } from '../../handed-functions.js';
import type { Scene } from '../cut/scene.js';
import { codeSpan, directiveOf, isDirective } from '../pieces.js';
import { isElement, spanOf } from '../markup.js';
import { KIND, type ElementNode, type InterpolationNode, type TemplateChildNode } from '../template.js';

export interface WrittenSite {
  readonly span: Span;
  readonly write: (name: string) => string;
}

export interface Written {
  readonly sites: readonly WrittenSite[];
  /** Parts of the text that the place keeps. */
  readonly stays: readonly Span[];
}

/** Undefined where a template cannot take it there. */
export function writeSite(
  scene: Scene,
  input: GivenInput,
  site: InputSite,
  parameters: readonly string[],
): Written | undefined {
  const call = (name: string) =>
    parameters.length > 0 && input.kind !== 'slot' ? `${name}(${parameters.join(', ')})` : name;
  switch (site.kind) {
    case 'whole':
      return wholeSite(scene, input, site, call, parameters);
    case 'call':
      return callSite(scene, input, site);
    case 'member': {
      const whole = { kind: 'whole', span: site.span, head: '', tail: '' } as const;
      return wholeSite(scene, input, whole, (name) => `${name}.${site.name}`, []);
    }
    case 'gap': {
      const at = site.after?.end ?? openingEnd(scene, site.parent);
      if (at === undefined) return undefined;
      const line = `\n${indentAt(scene.text, site.after?.start ?? at)}${site.after ? '' : '  '}`;
      const shown = input.kind === 'slot' ? outlet(input.name, parameters) : (name: string) => `{{ ${call(name)} }}`;
      return { sites: [{ span: { start: at, end: at }, write: (name) => line + shown(name) }], stays: [] };
    }
    case 'attribute':
      return attributeSite(scene, site, call);
    case 'choice': {
      const side = (value: Passed | undefined) => codeOf(value, scene.text);
      return attributeSite(scene, site, (name) => `${name} === '${site.key}' ? ${side(site.on)} : ${side(site.off)}`);
    }
    // The records of a template have other rules for events, classes and styles.
    case 'spread':
      return undefined;
    case 'guard':
      return guardSite(scene, site.span);
  }
}

/** A value as code in an attribute: strings in single quotes. */
export function codeOf(value: Passed | undefined, text: string): string {
  if (!value) return 'undefined';
  if (value.kind === 'string')
    return `'${value.text.replaceAll('\\', '\\\\').replaceAll("'", "\\'").replaceAll('\n', '\\n')}'`;
  if (value.kind === 'flag' || value.kind === 'record') return 'true';
  return value.kind === 'source' ? value.text : text.slice(value.span.start, value.span.end);
}

function callSite(scene: Scene, { kind }: GivenInput, site: Extract<InputSite, { kind: 'call' }>): Written | undefined {
  if (!attributeAt(scene.sfc.shown, site.span) && !inCode(scene.sfc.shown, site.span)) return undefined;
  const lead = site.given.length + site.names.length > 0 ? ', ' : '';
  return callAround(site, (name) => (kind === 'event' ? `$emit('${name}'${lead}` : `${name}(`));
}

function outlet(name: string, parameters: readonly string[]): () => string {
  const named = name === 'children' ? '' : ` name="${name}"`;
  return () => `<slot${named}${parameters.map((p) => ` :${p}="${p}"`).join('')} />`;
}

function wholeSite(
  scene: Scene,
  input: GivenInput,
  { span, head, tail }: Extract<InputSite, { kind: 'whole' }>,
  call: (name: string) => string,
  parameters: readonly string[],
): Written | undefined {
  const value = (name: string) => (head || tail ? `\`${escaped(head)}\${${name}}${escaped(tail)}\`` : call(name));
  const found = attributeAt(scene.sfc.shown, span);
  if (!found) {
    if (input.kind === 'slot') return { sites: [{ span, write: outlet(input.name, parameters) }], stays: [span] };
    const code = inCode(scene.sfc.shown, span);
    return { sites: [{ span, write: code ? value : (name) => `{{ ${value(name)} }}` }], stays: [span] };
  }
  const { prop, tag } = found;
  if (!isDirective(prop)) {
    // A plain attribute becomes a bound one, and there can be but one of a name.
    const bound = tag.props.find((p) => isDirective(p) && p.name === 'bind' && p.arg?.loc.source === prop.name);
    if (bound) return prop.name === 'class' ? classesSite(scene, prop, bound, value) : undefined;
    return { sites: [{ span: spanOf(prop), write: (name) => `:${prop.name}="${value(name)}"` }], stays: [span] };
  }
  const code = codeSpan(prop);
  if (!code || !within(span, code)) return undefined;
  if (input.kind === 'event' && prop.name === 'on') {
    const native = tag.tagType === 0;
    const sent = (name: string) => (native ? `$emit('${name}', $event)` : `(...args) => $emit('${name}', ...args)`);
    return { sites: [{ span: code, write: sent }], stays: [span] };
  }
  return { sites: [{ span, write: value }], stays: [span] };
}

/** `class="row" :class="tone"` with the first one handed over is `:class="[name, tone]"`. */
function classesSite(
  { text }: Scene,
  plain: ElementNode['props'][number],
  bound: ElementNode['props'][number],
  value: (name: string) => string,
): Written | undefined {
  const code = isDirective(bound) ? codeSpan(bound) : undefined;
  const { start, end } = spanOf(plain);
  // The order of the words is that of the attributes.
  if (!code || code.start < start) return undefined;
  const from = text.slice(0, start).trimEnd().length;
  const sites = [
    { span: { start: from, end }, write: () => '' },
    { span: { start: code.start, end: code.start }, write: (name: string) => `[${value(name)}, ` },
    { span: { start: code.end, end: code.end }, write: () => ']' },
  ];
  return { sites, stays: [{ start, end }] };
}

function attributeSite(
  scene: Scene,
  { element, name, span }: { readonly element: Span; readonly name: string; readonly span: Span | undefined },
  value: (prop: string) => string,
): Written | undefined {
  if (/^(?:on[A-Z]|v-|slot:|ref$|key$|$)/.test(name) || /[.\s]/.test(name)) return undefined;
  const tag = tagAt(scene.sfc.shown, element);
  const named = (p: ElementNode['props'][number]) =>
    (isDirective(p) ? (p.name === 'bind' ? p.arg?.loc.source : undefined) : p.name) === name;
  // A plain attribute and a bound one of one name cannot both be handed over.
  if ((tag?.props.filter(named).length ?? 0) > (span ? 1 : 0)) return undefined;
  const write = (prop: string) => `:${name}="${value(prop)}"`;
  if (span) return { sites: [{ span, write }], stays: [span] };
  const at = nameEnd(scene, element);
  return at === undefined
    ? undefined
    : { sites: [{ span: { start: at, end: at }, write: (prop) => ` ${write(prop)}` }], stays: [] };
}

function guardSite(scene: Scene, span: Span): Written {
  const tag = tagAt(scene.sfc.shown, span);
  const at =
    tag && spanOf(tag).end === span.end && !directiveOf(tag, 'if', 'else', 'else-if', 'for')
      ? nameEnd(scene, span)
      : undefined;
  if (at !== undefined)
    return { sites: [{ span: { start: at, end: at }, write: (name) => ` v-if="${name}"` }], stays: [] };
  return {
    sites: [
      { span: { start: span.start, end: span.start }, write: (name) => `<template v-if="${name}">` },
      { span: { start: span.end, end: span.end }, write: () => '</template>' },
    ],
    stays: [],
  };
}

function escaped(text: string): string {
  return text.replace(/[`\\]|\$\{/g, '\\$&');
}

function nameEnd(scene: Scene, element: Span): number | undefined {
  const name = /^<[^\s/>]+/.exec(scene.text.slice(element.start, element.end))?.[0];
  return name === undefined ? undefined : element.start + name.length;
}

/** Behind the opening tag. */
function openingEnd(scene: Scene, element: Span): number | undefined {
  const tag = /^<(?:[^>"']|"[^"]*"|'[^']*')*>/.exec(scene.text.slice(element.start, element.end))?.[0];
  return tag === undefined || tag.endsWith('/>') ? undefined : element.start + tag.length;
}

function tagAt(nodes: readonly TemplateChildNode[], span: Span): ElementNode | undefined {
  for (const node of nodes) {
    if (!isElement(node)) continue;
    const at = spanOf(node);
    if (at.start === span.start) return node;
    if (at.start < span.start && at.end >= span.end) return tagAt(node.children, span);
  }
  return undefined;
}

/** The attribute that holds a span, and its tag. */
export function attributeAt(
  nodes: readonly TemplateChildNode[],
  span: Span,
): { readonly prop: ElementNode['props'][number]; readonly tag: ElementNode } | undefined {
  for (const node of nodes) {
    if (!isElement(node) || !within(span, spanOf(node))) continue;
    const prop = node.props.find((p) => within(span, spanOf(p)));
    return prop ? { prop, tag: node } : attributeAt(node.children, span);
  }
  return undefined;
}

/** Whether a span lies in the code between `{{` and `}}`. */
function inCode(nodes: readonly TemplateChildNode[], span: Span): boolean {
  return nodes.some((node) => {
    if (isElement(node)) return within(span, spanOf(node)) && inCode(node.children, span);
    return node.type === (KIND.interpolation as number) && within(span, spanOf((node as InterpolationNode).content));
  });
}
