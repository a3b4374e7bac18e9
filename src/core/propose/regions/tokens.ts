/**
 * How much code there is to read, in tokens: names, numbers and signs, each one; white space is none. Running text and
 * the value of a plain attribute are read as one thing, whatever names there are; so is a long string.
 */
import type { Markup } from '../../markup/model.js';
import { walkMarkup } from '../../markup/walk.js';
import type { Span } from '../../text/edits.js';

/** Starts of the tokens of a text, ascending. */
export type Tokens = readonly number[];

const TOKEN = /"[^"\n]{80,}"|'[^'\n]{80,}'|[\p{L}\p{N}_$]+|[^\s\p{L}\p{N}_$]/gu;

export function tokensOf(text: string, markup: readonly Markup[]): Tokens {
  const wholes = wholesIn(markup).sort((a, b) => a.start - b.start);
  let next = 0;
  return [...text.matchAll(TOKEN)].flatMap(({ index }) => {
    while (next < wholes.length && wholes[next]!.end <= index) next++;
    const whole = wholes[next];
    return whole && index > whole.start ? [] : [index];
  });
}

function wholesIn(markup: readonly Markup[]): Span[] {
  const spans: Span[] = [];
  walkMarkup(markup, (node) => {
    if (node.kind === 'text') spans.push(node);
    if (node.kind !== 'element') return;
    for (const { kind, quoted } of node.attributes) if (kind === 'static' && quoted) spans.push(quoted);
  });
  return spans;
}

export function tokensIn(tokens: Tokens, { start, end }: Span): number {
  return before(tokens, end) - before(tokens, start);
}

function before(tokens: Tokens, offset: number): number {
  let low = 0;
  let high = tokens.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (tokens[middle]! < offset) low = middle + 1;
    else high = middle;
  }
  return low;
}
