/** The smaller groups in one that does not hold together. */
import { similarity, type Place } from '../../forms/align.js';
import type { Forms } from '../../forms/forms.js';
import type { Shapes } from '../../forms/hash.js';

/** Shapes beyond that are not told apart, nor those of more nodes in all pairs: the work grows with the square of either. */
const MOST_SHAPES = 24;
const MOST_COMPARED = 150_000;
/** How alike shapes are to be one group in a group, tried one after another. */
const CLOSER = [0.7, 0.8, 0.9];

/** Groups of what is closer alike among the places; those of one shape are never parted. */
export function partsOf(forms: Forms, shapes: Shapes, places: readonly Place[]): Place[][] {
  const byShape = new Map<string, Place[]>();
  for (const place of places) {
    const key = `${place.end - place.first} ${shapes.a[place.first]} ${shapes.b[place.first]}`;
    byShape.set(key, [...(byShape.get(key) ?? []), place]);
  }
  const all = [...byShape.values()];
  const size = Math.max(...all.map(([place]) => place!.end - place!.first));
  if (all.length < 2 || all.length > MOST_SHAPES || all.length ** 2 * size > MOST_COMPARED) return [];
  const alike = all.map((x) => all.map((y) => (x === y ? 1 : similarity(forms, shapes, x[0]!.first, y[0]!.first))));
  const found = new Map<string, Place[]>();
  for (const least of CLOSER) {
    const free = new Set(all.keys());
    for (const seed of all.keys()) {
      if (!free.delete(seed)) continue;
      const members = [seed];
      for (const other of free)
        if (members.every((m) => alike[m]![other]! >= least)) {
          members.push(other);
          free.delete(other);
        }
      const part = members.flatMap((m) => all[m]!);
      if (part.length > 1 && part.length < places.length) found.set(members.join(), part);
    }
  }
  return [...found.values()].map((part) => part.sort((x, y) => x.first - y.first));
}
