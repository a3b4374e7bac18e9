/** Sets of places that are collected while the forms are walked. */
import type { Place } from '../../forms/align.js';
import type { Forms } from '../../forms/forms.js';

/** Shapes in one bucket that are compared with each other. */
export const MOST_LEADERS = 24;

export function placeOf(forms: Forms, node: number): Place {
  return { first: node, end: node + forms.size[node]! };
}

/** `(function (Kind) { … })(Kind || (Kind = {}))` and the like, or a statement of it: what a compiler makes of an enumeration. */
export function isEnumeration(forms: Forms, node: number): boolean {
  let call = node;
  while (/^(?:ExpressionStatement|VariableDeclarat(?:ion|or))/.test(forms.labelOf(call))) {
    const last = forms.partsOf(call).at(-1);
    if (last === undefined) return false;
    call = last;
  }
  if (!forms.labelOf(call).startsWith('CallExpression')) return false;
  const [callee, argument] = forms.partsOf(call);
  if (callee === undefined || argument === undefined || !/Function/.test(forms.labelOf(callee))) return false;
  const label = forms.labelOf(argument);
  return label.startsWith('LogicalExpression') || (label.startsWith('ObjectExpression') && forms.size[argument] === 1);
}

/** Places by key, in the order in which they were met. */
export class Buckets {
  readonly #byKey = new Map<number, Place[]>();

  add(key: number, place: Place): void {
    const list = this.#byKey.get(key);
    if (list) list.push(place);
    else this.#byKey.set(key, [place]);
  }

  lists(): IterableIterator<Place[]> {
    return this.#byKey.values();
  }

  /** Buckets with two places and more that do not overlap. */
  groups(): Place[][] {
    const result: Place[][] = [];
    for (const list of this.#byKey.values()) {
      const apart = list.length < 2 ? [] : apartIn(list);
      if (apart.length > 1) result.push(apart);
    }
    return result;
  }
}

/** Of places in text order, those that do not overlap one before. */
export function apartIn(places: readonly Place[]): Place[] {
  let end = -1;
  return places.filter((place) => place.first >= end && ((end = place.end), true));
}

/** Sets that grow together (union-find with path halving). */
export class Joined<T> {
  readonly #parent = new Map<T, T>();

  #find(item: T): T {
    let at = item;
    for (;;) {
      const up = this.#parent.get(at) ?? at;
      if (up === at) return at;
      const next = this.#parent.get(up) ?? up;
      this.#parent.set(at, next);
      at = next;
    }
  }

  same(x: T, y: T): boolean {
    return x === y || this.#find(x) === this.#find(y);
  }

  join(x: T, y: T): void {
    for (const item of [x, y]) if (!this.#parent.has(item)) this.#parent.set(item, item);
    this.#parent.set(this.#find(x), this.#find(y));
  }

  /** Sets of two and more. */
  groups(): T[][] {
    const sets = new Map<T, T[]>();
    for (const item of this.#parent.keys()) {
      const root = this.#find(item);
      const set = sets.get(root);
      if (set) set.push(item);
      else sets.set(root, [item]);
    }
    return [...sets.values()].filter((set) => set.length > 1);
  }
}
