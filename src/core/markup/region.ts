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
 * The run of siblings that a range means. The range is trimmed of white space; of all lists of siblings the innermost
 * one is taken in which the touched nodes cover the whole trimmed range, or else hold it. Undefined where the range
 * touches no markup.
 */
export function snap(text: string, range: Span, lists: readonly (readonly Markup[])[]): Region | undefined {
  let { start, end } = range;
  while (start < end && /\s/.test(text[start]!)) start++;
  while (end > start && /\s/.test(text[end - 1]!)) end--;
  if (start === end) return undefined;
  let best: { region: Region; covers: boolean; size: number } | undefined;
  for (const list of lists) {
    const touched = list.filter((node) => node.end > start && node.start < end);
    while (touched.length > 1 && touched[0]!.kind === 'comment') touched.shift();
    while (touched.length > 1 && touched[touched.length - 1]!.kind === 'comment') touched.pop();
    if (touched.length === 0 || touched.every((node) => node.kind === 'comment')) continue;
    const region = regionOf(touched);
    const covers = lists.length > 0 && covering(text, region, start, end);
    const size = region.end - region.start;
    if (!best || better({ covers, size }, best, region, start, end)) best = { region, covers, size };
  }
  return best?.region;
}

/** Whether everything in the range but code around markup (`return (`, `;`, braces) lies in the region. */
function covering(text: string, region: Span, start: number, end: number): boolean {
  const before = text.slice(start, Math.max(start, region.start));
  const after = text.slice(Math.min(end, region.end), end);
  return !/[<>]/.test(before.replace(/=>/g, '')) && !/[<>]/.test(after.replace(/=>/g, ''));
}

function better(
  candidate: { covers: boolean; size: number },
  best: { region: Region; covers: boolean; size: number },
  region: Region,
  start: number,
  end: number,
): boolean {
  if (candidate.covers !== best.covers) return candidate.covers;
  const excess = (r: Span) => Math.max(0, start - r.start) + Math.max(0, r.end - end);
  const lack = (r: Span) => Math.max(0, r.start - start) + Math.max(0, end - r.end);
  const a = excess(region) + lack(region);
  const b = excess(best.region) + lack(best.region);
  return a < b;
}
