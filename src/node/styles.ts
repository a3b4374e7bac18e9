/** The port to postcss and its syntaxes, each loaded when the first style sheet in it must be divided. */
import { createRequire } from 'node:module';
import type { AtRule, ChildNode, Container } from 'postcss';
import type * as PostCss from 'postcss';
import type SelectorParser from 'postcss-selector-parser';
import type { Compound, Selector, StyleEntry, StyleParser } from '../core/language/stylesheet.js';

const require = createRequire(import.meta.url);

const parsers: Record<string, () => typeof PostCss.parse> = {
  css: () => (require('postcss') as typeof PostCss).parse,
  postcss: () => (require('postcss') as typeof PostCss).parse,
  scss: () => (require('postcss-scss') as { parse: typeof PostCss.parse }).parse,
  less: () => (require('postcss-less') as { parse: typeof PostCss.parse }).parse,
};

export const styleParser: StyleParser = {
  parse(css, lang) {
    const parser = Object.hasOwn(parsers, lang) ? parsers[lang]!() : undefined;
    if (!parser) return undefined;
    try {
      return entriesOf(parser(css));
    } catch {
      // A style sheet that cannot be read, or taken apart, is kept whole; the caller says so.
      return undefined;
    }
  },
};

/** What makes rules of others, or rules that no selector here names: where it stands, nothing can be said of any rule. */
const MAKES = /^(?:extend|at-root|if|else|each|for|while|nest|plugin)$/;
/** What other sheets are read in by; whatever is used may come from there. */
const READS_IN = /^(?:use|import|forward)$/;
/** So many selectors one rule may come to. */
const MOST = 500;

class Undividable extends Error {}

/** `around`: what the rule around stands for, which nested ones begin with. */
function entriesOf(container: Container, around?: readonly string[]): StyleEntry[] {
  return (container.nodes ?? []).flatMap((node: ChildNode): StyleEntry[] => {
    if (node.type === 'comment' && (around || isAbove(node))) return [];
    const before = node.prev();
    const first = before?.type === 'comment' && isAbove(before) ? before : node;
    const span = { start: first.source!.start!.offset, end: node.source!.end!.offset };
    if (node.type === 'rule') return [{ ...span, ...ruleOf(node, resolved(node.selector, around)) }];
    if (node.type === 'decl') {
      if (/^\$/.test(node.prop)) return around ? [] : [{ kind: 'other', ...span, name: node.prop }];
      if (around) return [];
      throw new Undividable();
    }
    if (node.type !== 'atrule') return [{ kind: 'other', ...span }];
    return atRule(node, span, around);
  });
}

function atRule(node: AtRule, span: { start: number; end: number }, around?: readonly string[]): StyleEntry[] {
  if (MAKES.test(node.name) || (node as { mixin?: boolean }).mixin) throw new Undividable();
  const isVariable = (node as { variable?: boolean }).variable === true;
  if (around) return node.nodes && !isVariable ? [{ ...span, ...ruleOf(node, around) }] : [];
  if (isGroup(node))
    return [{ kind: 'group', ...span, head: `@${node.name} ${node.params}`.trim(), entries: entriesOf(node) }];
  // A mixin that is called at the top writes rules that are not to be seen.
  if (node.name === 'include' && !node.nodes) throw new Undividable();
  if (READS_IN.test(node.name)) return [{ kind: 'other', ...span, readsIn: true }];
  const name = isVariable
    ? `@${node.name}`
    : /^(?:mixin|function)$/.test(node.name)
      ? /^[\w-]+/.exec(node.params)?.[0]
      : undefined;
  if (name !== undefined) return [{ kind: 'other', ...span, name }];
  return [{ kind: 'other', ...span, ...(/keyframes$/.test(node.name) ? { name: node.params.trim() } : {}) }];
}

/** A rule, or what stands in one and speaks of the same elements (`@media`). */
function ruleOf(node: Container, selectors: readonly string[]): Omit<StyleEntry & { kind: 'rule' }, 'start' | 'end'> {
  const own = (node.nodes ?? []).filter((n: ChildNode) => {
    if ((n as { extend?: boolean }).extend) throw new Undividable();
    return n.type === 'decl' ? !/^[$@]/.test(n.prop) : n.type === 'atrule' && !n.nodes && !isLocal(n);
  });
  return {
    kind: 'rule',
    selectors: selectors.flatMap(selectorsOf),
    own: own.map((n: ChildNode) => ({ start: n.source!.start!.offset, end: n.source!.end!.offset })),
    entries: entriesOf(node, selectors),
  };
}

function isLocal(node: AtRule): boolean {
  return (node as { variable?: boolean }).variable === true;
}

/** The selectors of a rule as they are without the nesting. */
function resolved(selector: string, around: readonly string[] | undefined): string[] {
  // Interpolation, placeholders, guards and definitions of mixins.
  if (/[#@]\{|%[a-z]|\bwhen\b|^\s*\.[\w-]+\(/i.test(selector)) throw new Undividable();
  const parser = require('postcss-selector-parser') as typeof SelectorParser;
  if (!around) return [selector];
  const parts = /&[\w-]/.test(selector) ? selector.split(',') : parser().astSync(selector).nodes.map(String);
  const all = around.flatMap((outer) =>
    outer
      .split(/,(?![^(]*\))/)
      .flatMap((one) =>
        parts.map((part) => (part.includes('&') ? part.replaceAll('&', one.trim()) : `${one.trim()} ${part.trim()}`)),
      ),
  );
  if (all.length > MOST) throw new Undividable();
  return all;
}

/** A comment on the line above a rule belongs to it. */
function isAbove(comment: ChildNode): boolean {
  const next = comment.next();
  return next !== undefined && next.type !== 'comment' && next.source!.start!.line === comment.source!.end!.line + 1;
}

function isGroup(node: AtRule): boolean {
  return (
    node.nodes !== undefined && ['media', 'supports', 'layer', 'container', 'scope', 'include'].includes(node.name)
  );
}
function selectorsOf(text: string): Selector[] {
  const parser = require('postcss-selector-parser') as typeof SelectorParser;
  return parser()
    .astSync(text)
    .nodes.map((selector) => selectorOf(selector));
}

function selectorOf({ nodes }: SelectorParser.Selector): Selector {
  let reach: Selector['reach'] = 'scoped';
  let subject: Compound = NOTHING;
  const others: Compound[] = [];
  for (const node of nodes) {
    // `.a ::v-deep .b` and `.a >>> .b`: what stands behind is out of scope.
    const isDeep =
      (node.type === 'combinator' && node.value.trim() === '>>>') ||
      (node.type === 'tag' && node.value === '/deep/') ||
      (node.type === 'pseudo' && /^::?(?:v-)?deep$/.test(node.value));
    if (isDeep && subject === NOTHING && others.length > 0) subject = others.pop()!;
    if (isDeep) return { subject, others, reach };
    if (node.type === 'combinator') {
      others.push(subject);
      subject = NOTHING;
    }
    if (node.type === 'tag') subject = { ...subject, tag: node.value.toLowerCase() };
    else if (node.type === 'class') subject = { ...subject, classes: [...subject.classes, node.value] };
    else if (node.type === 'id') subject = { ...subject, id: node.value };
    else if (node.type === 'pseudo') {
      const inner = node.nodes?.[0];
      if (/^::?(?:v-)?slotted$/.test(node.value) && inner) return { ...selectorOf(inner), reach: 'outlet' };
      if (/^::?(?:v-)?global$/.test(node.value)) reach = 'everywhere';
    }
  }
  return { subject, others, reach };
}

/** `*`, or the place of an element of which only pseudo classes are named. */
const NOTHING: Compound = { tag: undefined, classes: [], id: undefined };
