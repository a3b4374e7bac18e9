/** The port to postcss, loaded when the first style sheet must be divided. */
import { createRequire } from 'node:module';
import type { AtRule, ChildNode, Container } from 'postcss';
import type * as PostCss from 'postcss';
import type SelectorParser from 'postcss-selector-parser';
import type { Compound, Selector, StyleEntry, StyleParser } from '../core/languages/stylesheet.js';

const require = createRequire(import.meta.url);

export const styleParser: StyleParser = {
  parse(css) {
    const postcss = require('postcss') as typeof PostCss;
    try {
      return entriesOf(postcss.parse(css));
    } catch {
      // A style sheet that postcss cannot read is kept whole; the caller says so.
      return undefined;
    }
  },
};

function entriesOf(container: Container): StyleEntry[] {
  return (container.nodes ?? []).flatMap((node: ChildNode): StyleEntry[] => {
    if (node.type === 'comment' && isAbove(node)) return [];
    const before = node.prev();
    const first = before?.type === 'comment' && isAbove(before) ? before : node;
    const span = { start: first.source!.start!.offset, end: node.source!.end!.offset };
    if (node.type === 'rule') return [{ kind: 'rule', ...span, selectors: selectorsOf(node.selector) }];
    if (node.type !== 'atrule') return [{ kind: 'other', ...span }];
    if (isGroup(node))
      return [{ kind: 'group', ...span, head: `@${node.name} ${node.params}`.trim(), entries: entriesOf(node) }];
    return [{ kind: 'other', ...span, ...(/keyframes$/.test(node.name) ? { name: node.params.trim() } : {}) }];
  });
}

/** A comment on the line above a rule belongs to it. */
function isAbove(comment: ChildNode): boolean {
  const next = comment.next();
  return next !== undefined && next.type !== 'comment' && next.source!.start!.line === comment.source!.end!.line + 1;
}

function isGroup(node: AtRule): boolean {
  return node.nodes !== undefined && ['media', 'supports', 'layer', 'container', 'scope'].includes(node.name);
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
