/** The smaller groups in one that does not hold together. */
import type { Place } from '../../forms/align.js';
import type { Forms } from '../../forms/forms.js';
import type { Shapes } from '../../forms/hash.js';

/** Shapes beyond that are not told apart, nor those of more nodes in all pairs: the work grows with the square of either. */
const MOST_SHAPES = 24;
const MOST_COMPARED = 150_000;
/** How alike all shapes of a part are at least. */
const LEAST_ALIKE = 0.6;

/**
 * The two parts of a group that are furthest apart from each other, by their shapes (complete linkage), or, where they have
 * one shape, by the files and then by the elements that they stand in. A part of one place is left out.
 */
export function partsOf(
  forms: Forms,
  shapes: Shapes,
  places: readonly Place[],
  alike: (x: number, y: number) => number,
): Place[][] {
  const byShape = grouped(places, ({ first, end }) => `${end - first} ${shapes.a[first]} ${shapes.b[first]}`);
  const parts = byShape.length > 1 ? furthestApart(byShape, alike) : apartInText(forms, places);
  return parts
    .filter((part) => part.length > 1 && part.length < places.length)
    .map((part) => part.sort((x, y) => x.first - y.first));
}

/** Of places that were parted, those of one page: what stands several times on every page is parted into copies of pages. */
export function acrossParts(forms: Forms, places: readonly Place[], parts: readonly (readonly Place[])[]): Place[][] {
  const byFile = grouped(places, ({ first }) => forms.file(first).path);
  const most = Math.max(...byFile.map((group) => group.length));
  if (byFile.length < 2 || most < 2) return [];
  const all = byFile.filter((group) => group.length === most);
  const isIndex = ([place]: readonly Place[]) => /(?:^|\/)index\.\w+$/i.test(forms.file(place!.first).path);
  const one = all.find(isIndex) ?? all[0]!;
  return parts.some((part) => one.every((place) => part.includes(place))) ? [] : [one];
}

function furthestApart(all: readonly Place[][], alikeOf: (x: number, y: number) => number): Place[][] {
  const size = Math.max(...all.map(([place]) => place!.end - place!.first));
  if (all.length > MOST_SHAPES || all.length ** 2 * size > MOST_COMPARED) return [...all];
  const alike = all.map((x) => all.map((y) => (x === y ? 1 : alikeOf(x[0]!.first, y[0]!.first))));
  let clusters = all.map((_, i) => [i]);
  while (clusters.length > 2) {
    const pairs = clusters.flatMap((x, i) => clusters.slice(i + 1).map((y) => ({ x, y })));
    const closeness = ({ x, y }: { x: number[]; y: number[] }) =>
      Math.min(...x.flatMap((i) => y.map((j) => alike[i]![j]!)));
    const best = pairs.reduce((p, q) => (closeness(q) > closeness(p) ? q : p));
    if (closeness(best) < LEAST_ALIKE) break;
    clusters = [...clusters.filter((c) => c !== best.x && c !== best.y), [...best.x, ...best.y]];
  }
  return clusters.map((cluster) => cluster.flatMap((i) => all[i]!));
}

function apartInText(forms: Forms, places: readonly Place[]): Place[][] {
  const byFile = grouped(places, ({ first }) => forms.file(first).path);
  if (byFile.length > 1) return byFile;
  // Neighbours: no more than one of them would fit between two.
  const runs: Place[][] = [];
  for (const place of places) {
    const run = runs.at(-1);
    const last = run?.at(-1);
    if (run && last && place.first - last.end < last.end - last.first) run.push(place);
    else runs.push([place]);
  }
  return runs;
}

function grouped(places: readonly Place[], keyOf: (place: Place) => string): Place[][] {
  const groups = new Map<string, Place[]>();
  for (const place of places) {
    const key = keyOf(place);
    const group = groups.get(key);
    if (group) group.push(place);
    else groups.set(key, [place]);
  }
  return [...groups.values()];
}
