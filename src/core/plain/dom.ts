/**
 * Plain markup as a tree that does not know how it was written, and the white space in it that a reader sees: runs fold
 * into one space, and a space at the edge of a block, or next to another space across inline tags, is not shown (CSS 2.2,
 * 16.6.1, with the default `display` of HTML, and whatever a style sheet may draw in an empty inline element).
 */
import type { Span } from '../text/edits.js';
import { AS_WRITTEN } from './scan.js';

export type DomNode = DomElement | DomText;

export interface DomElement extends Span {
  readonly kind: 'element';
  /** Lower case, but for SVG. */
  readonly name: string;
  /** Values decoded; `style` in normal form. */
  readonly attributes: ReadonlyMap<string, string>;
  readonly children: readonly DomNode[];
}

export interface DomText extends Span {
  readonly kind: 'text';
  /** Decoded, white space as it stands. */
  readonly text: string;
}

/** One thing after another, as a reader meets it. */
export type Step = Span & { readonly depth: number } & (
    | { readonly kind: 'tag'; readonly text: string; readonly role: Role; readonly of: DomElement }
    | { readonly kind: 'text'; readonly text: string }
    | { readonly kind: 'space' }
  );

/** `edge`: white space beside it is not shown. `inline`: white space is as if the tag were not there. */
type Role = 'edge' | 'inline' | 'content';

const INLINE = new Set(
  'a abbr b bdi bdo cite code data del dfn em font i ins kbd label map mark output q ruby s samp small span strike strong sub sup time tspan tt u var wbr'.split(
    ' ',
  ),
);
/** In a line like a word, with edges of their own inside. */
const ATOMIC = new Set(
  'audio button canvas embed iframe img input meter object picture progress select svg textarea video math'.split(' '),
);

/** A tree, not the place of what has none. */
export function isNodes(value: readonly DomNode[] | Span): value is readonly DomNode[] {
  return Array.isArray(value);
}

/** White space of HTML: a no-break space is none. */
const RUNS = /[ \t\n\f\r]+/g;
const PARTS = /^([ \t\n\f\r]*)([\s\S]*?)([ \t\n\f\r]*)$/;

export function stepsOf(nodes: readonly DomNode[], depth = 0, written = false): Step[] {
  return nodes.flatMap((node): Step[] => {
    const at = { start: node.start, end: node.end, depth };
    if (node.kind === 'element') {
      const within = written || AS_WRITTEN.has(node.name);
      const tag = (text: string, role: Role): Step => ({ ...at, kind: 'tag', text, role, of: node });
      const [open, close] = rolesOf(node);
      return [
        ...open.map((role, i) => tag(i === 0 ? opening(node) : '', role)),
        ...stepsOf(node.children, depth + 1, within),
        ...close.map((role, i) => tag(i === 0 ? `</${node.name}>` : '', role)),
      ];
    }
    if (written) return node.text ? [{ ...at, kind: 'text', text: node.text }] : [];
    const { head, inner, tail } = partsOf(node.text);
    const steps: Step[] = [];
    if (head) steps.push({ ...at, end: node.start + head.length, kind: 'space' });
    if (inner) steps.push({ ...at, kind: 'text', text: inner.replace(RUNS, ' ') });
    if (tail) steps.push({ ...at, start: node.end - tail.length, kind: 'space' });
    return steps;
  });
}

/** A text without the white space around it, and that. */
export function partsOf(text: string): { readonly head: string; readonly inner: string; readonly tail: string } {
  const [, head, inner, tail] = PARTS.exec(text) as unknown as [string, string, string, string];
  return { head, inner, tail };
}

/** Said of an element that would be a block: a word of its classes, or its own style. */
const MADE_INLINE = /(?:^|[\s_-])inline(?:$|[\s_-])/;

function isMadeInline({ attributes }: DomElement): boolean {
  return MADE_INLINE.test(attributes.get('class') ?? '') || /display:\s*inline/.test(attributes.get('style') ?? '');
}

function rolesOf(element: DomElement): [Role[], Role[]] {
  const { name, children } = element;
  const isInline = INLINE.has(name) || name.includes('-');
  // An inline element with nothing in it is there for what the style sheet draws: an icon, a dot.
  if (isInline && name !== 'wbr' && children.every((c) => c.kind === 'text' && !c.text.trim()))
    return [['content'], ['content']];
  if (isInline) return [['inline'], ['inline']];
  if (ATOMIC.has(name) || isMadeInline(element))
    return [
      ['content', 'edge'],
      ['edge', 'content'],
    ];
  return [['edge'], ['edge']];
}

function opening({ name, attributes }: DomElement): string {
  const sorted = [...attributes].sort(([a], [b]) => (a < b ? -1 : 1));
  return `<${[name, ...sorted.map(([key, value]) => `${key}=${JSON.stringify(value)}`)].join(' ')}>`;
}

/** White space with nothing but inline tags in between: it is shown as one space or not at all. */
export interface Gap {
  readonly steps: readonly Step[];
  readonly shown: boolean;
}

/** The steps with every gap as one: what stands between two gaps is a step. */
export function gapsOf(steps: readonly Step[]): (Step | Gap)[] {
  const result: (Step | Gap)[] = [];
  let gap: Step[] = [];
  let afterContent = false;
  const close = (beforeContent: boolean) => {
    if (gap.length > 0)
      result.push({ steps: gap, shown: afterContent && beforeContent && gap.some((s) => s.kind === 'space') });
    gap = [];
  };
  for (const step of steps) {
    if (step.kind === 'space' || (step.kind === 'tag' && step.role === 'inline')) gap.push(step);
    else {
      const content = step.kind === 'text' || step.role === 'content';
      close(content);
      result.push(step);
      afterContent = content;
    }
  }
  close(false);
  return result;
}

export interface DomDifference {
  readonly left: Span | undefined;
  readonly right: Span | undefined;
  readonly detail: string;
}

/** The first place where two trees would not look the same to a reader; undefined where there is none. */
export function firstDifference(left: readonly DomNode[], right: readonly DomNode[]): DomDifference | undefined {
  const [a, b] = [shownSteps(left), shownSteps(right)];
  for (let i = 0; i < Math.max(a.length, b.length); i++) {
    const [one, other] = [a[i], b[i]];
    if (one?.text === other?.text && one?.isTag === other?.isTag) continue;
    const word = (step: Shown | undefined) => (step ? (step.text.trim() ? `\`${step.text}\`` : 'a space') : 'the end');
    return { left: one?.at, right: other?.at, detail: `${word(one)} became ${word(other)}` };
  }
  return undefined;
}

interface Shown {
  readonly isTag: boolean;
  readonly text: string;
  readonly at: Span;
}

function shownSteps(nodes: readonly DomNode[]): Shown[] {
  const shown: Shown[] = [];
  for (const item of gapsOf(stepsOf(nodes))) {
    if ('steps' in item) {
      if (item.shown) shown.push({ isTag: false, text: ' ', at: item.steps[0]! });
      for (const step of item.steps) if (step.kind === 'tag') shown.push({ isTag: true, text: step.text, at: step });
    } else if (item.kind === 'text' || (item.kind === 'tag' && item.text))
      shown.push({ isTag: item.kind === 'tag', text: item.text, at: item });
  }
  return joined(shown);
}

/** Text in two pieces is text. */
function joined(steps: readonly Shown[]): Shown[] {
  const result: Shown[] = [];
  for (const step of steps) {
    const last = result[result.length - 1];
    if (last && !last.isTag && !step.isTag)
      result[result.length - 1] = { isTag: false, text: last.text + step.text, at: last.at };
    else result.push(step);
  }
  return result;
}
