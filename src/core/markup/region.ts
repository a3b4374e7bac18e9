/** Regions: from a sloppy range of the text to the nearest whole nodes. */
import type { Span } from '../text/edits.js';
import type { Markup } from './model.js';

export interface Region extends Span {
  /** One or more consecutive siblings. */
  readonly nodes: readonly Markup[];
}

export function regionOf(nodes: readonly Markup[]): Region {
  return { nodes, start: nodes[0]!.start, end: nodes[nodes.length - 1]!.end };
}

/**
 * The run of siblings that a range means: of all runs that the range touches, the one that fits it best. What a run has
 * beyond the range counts once, what it lacks of the range three times: a person who took in an opening tag meant the
 * element, but not at the price of a whole page. Undefined where the range touches no markup.
 */
export function snap(text: string, range: Span, lists: readonly (readonly Markup[])[]): Region | undefined {
  let { start, end } = range;
  while (start < end && /\s/.test(text[start]!)) start++;
  while (end > start && /\s/.test(text[end - 1]!)) end--;
  if (start === end) return undefined;
  let best: Region | undefined;
  let least = Infinity;
  for (const list of lists) {
    const touched = list.filter((node) => node.end > start && node.start < end);
    while (touched[0]?.kind === 'comment') touched.shift();
    while (touched[touched.length - 1]?.kind === 'comment') touched.pop();
    if (touched.length === 0) continue;
    const region = regionOf(touched);
    const excess = visible(text, region.start, start) + visible(text, end, region.end);
    const lack = visible(text, start, region.start) + visible(text, region.end, end);
    const cost = excess + 3 * lack;
    if (cost < least) [best, least] = [region, cost];
  }
  return best;
}

/** Units between two offsets that are no white space; 0 where the second does not lie behind the first. */
function visible(text: string, from: number, to: number): number {
  return to > from ? text.slice(from, to).replace(/\s+/g, '').length : 0;
}
