/** Which groups are kept, so that no place is counted twice, and which of them stand inside of others. */
import { showsMarkup } from '../../analyze/repeats/candidates.js';
import type { Alignment, Place } from '../../forms/align.js';
import type { Forms } from '../../forms/forms.js';
import { LEAST_COMMON, type Weighed } from './weighing.js';

/** Below this a person would rather leave things as they are; see docs/architecture.md for how it was found. */
export const LEAST_WORTH = 1;

/** A frame is worth more than a part of it that would be taken out alone: it settles the whole page. */
const FRAME_FIRST = 2;
/** What can be done comes before what can only be said. */
const LISTED_LAST = 0.5;
/** What is closer alike than this is one thing to a reader, and all in it with it. */
const CLOSE = 0.9;
/** A part that is worth less than one in so many of what is around it is not worth looking at beside it. */
const MUCH = 4;
/** A place that is so little larger is the same one to a reader: a statement, and the call in it. */
const NEARLY_SAME = 1.2;

export interface Choice {
  readonly weighed: Weighed;
  /** The innermost choice that has all places of this one inside of its own. */
  around: Choice | undefined;
  readonly owned: Owned[];
  /** What its places hand over, once it was asked for. */
  content?: readonly Place[];
}

/** A place of a choice, and the one that it stands in. */
interface Owned {
  readonly choice: Choice;
  readonly place: Place;
  within: Owned | undefined;
}

/**
 * The best first; what is left of a group after others took some of its places is weighed `again`. Groups nest, whichever was
 * chosen first: places may stand whole inside of those of another group, but never across them. Of a group inside of another
 * one, two copies have to be left once the outer one has become one thing.
 */
export function choose(
  forms: Forms,
  weighed: readonly Weighed[],
  again: (group: Weighed, places: readonly Place[]) => readonly Weighed[],
): Choice[] {
  const choosing = new Choosing(forms);
  const queue = [...weighed].sort((x, y) => perPlace(y) - perPlace(x));
  for (let next = queue.shift(); next; next = queue.shift()) {
    const { places } = next.alignment;
    const free = places.filter((place) => choosing.isFree(place));
    const rest = free.length === places.length ? choosing.consider(next, again) : again(next, free);
    for (const less of rest) {
      const at = queue.findIndex((other) => perPlace(other) < perPlace(less));
      queue.splice(at < 0 ? queue.length : at, 0, less);
    }
  }
  return choosing.kept();
}

class Choosing {
  /** By node: the innermost place that it belongs to, counted from 1; 0 where there is none. */
  readonly #cover: Int32Array;
  readonly #owners: Owned[] = [];
  readonly #chosen = new Set<Choice>();

  constructor(readonly forms: Forms) {
    this.#cover = new Int32Array(forms.length);
  }

  isFree(place: Place): boolean {
    return [...this.#ownedIn(place)].every(({ place: other }) => {
      const isSame = other.first === place.first && other.end === place.end;
      return !isSame && (holds(other, place) || holds(place, other));
    });
  }

  /**
   * Takes a group whose places are free, unless too little of it would be left, or what stands in it is better. Answers with
   * the groups in what is left where that is no group by itself.
   */
  consider(next: Weighed, again: (group: Weighed, places: readonly Place[]) => readonly Weighed[]): readonly Weighed[] {
    const { places } = next.alignment;
    const left = this.#leftOf(
      places.map((place) => ({ place, within: this.#aroundOf(place) })),
      next,
    );
    if (left.length < 2) return [];
    if (left.length < places.length && next.alike < LEAST_COMMON) {
      const [chain = [], ...chains] = places.map((place) => this.#choicesAround(place));
      const isInside = chain.some((choice) => chains.every((other) => other.includes(choice)));
      const less = isInside ? [] : again(next, left);
      const isGroup = less.length === 1 && less[0]!.alignment.places.length === left.length;
      if (!isInside && !(isGroup && less[0]!.worth.total >= LEAST_WORTH)) return less;
    }
    const inner = new Set(places.flatMap((place) => [...this.#ownedIn(place)].filter((o) => holds(place, o.place))));
    const choice: Choice = { weighed: next, around: undefined, owned: [] };
    // What stands in it may become one thing with it: then the better of the two is kept.
    const settled = this.#settledBy(choice, inner);
    if (settled.some(({ weighed }) => weighed.worth.total > next.worth.total)) return [];
    for (const other of settled) this.#chosen.delete(other);
    this.#take(choice, inner);
    return [];
  }

  /** What is left of the chosen ones, each with the one around it. */
  kept(): Choice[] {
    const kept = new Set([...this.#chosen].filter(({ owned, weighed }) => this.#leftOf(owned, weighed).length > 1));
    for (const choice of kept) if (this.#isTold(choice, kept)) kept.delete(choice);
    for (const choice of kept) {
      const chains = choice.owned.map((o) => chainOf(o).filter((c) => kept.has(c)));
      choice.around = chains[0]!.find((c) => chains.every((chain) => chain.includes(c)));
    }
    return [...kept];
  }

  /** Whether whole components are alike by what a step makes one inside of them anyway. */
  #isTold({ weighed }: Choice, kept: ReadonlySet<Choice>): boolean {
    const { places } = weighed.alignment;
    if (!weighed.listed || weighed.kind !== 'logic' || !showsMarkup(this.forms, places[0]!)) return false;
    const isMost = (inner: Place, outer: Place) =>
      holds(outer, inner) && (inner.end - inner.first) * 2 >= outer.end - outer.first;
    return [...kept].some(
      ({ weighed: other }) =>
        !other.byHand && places.every((place) => other.alignment.places.some((inner) => isMost(inner, place))),
    );
  }

  #take(choice: Choice, inner: ReadonlySet<Owned>): void {
    this.#chosen.add(choice);
    for (const place of choice.weighed.alignment.places) {
      const around = this.#aroundOf(place);
      const owned: Owned = { choice, place, within: around };
      for (const o of inner) if (o.within === around && holds(place, o.place)) o.within = owned;
      choice.owned.push(owned);
      const index = this.#owners.push(owned);
      for (let node = place.first; node < place.end; node++) {
        const owner = this.#owners[this.#cover[node]! - 1];
        if (!owner || holds(owner.place, place)) this.#cover[node] = index;
      }
    }
  }

  /** The groups inside of a new one of which too little is left beside it. */
  #settledBy(choice: Choice, inner: ReadonlySet<Owned>): Choice[] {
    if (inner.size === 0) return [];
    const { weighed: next } = choice;
    const { places, reference } = next.alignment;
    const content = (choice.content = contentOf(this.forms, next.alignment));
    const isKept = (o: Owned) =>
      !inner.has(o) || holds(places[reference]!, o.place) || content.some((run) => holds(run, o.place));
    return [...new Set([...inner].map((o) => o.choice))].filter(({ weighed, owned }) => {
      if (next.listed && (!weighed.listed || showsMarkup(this.forms, places[0]!))) return false;
      if (isLoose(next) && weighed.worth.total * MUCH >= next.worth.total) return false;
      return this.#leftOf(owned.filter(isKept), weighed).length < 2;
    });
  }

  /** The places that are left once all that is around them has become one thing. */
  #leftOf(owned: readonly Pick<Owned, 'place' | 'within'>[], weighed: Weighed): Place[] {
    const around = new Map<Choice, Set<Owned>>();
    for (const { within } of owned)
      for (let at = within; at; at = at.within) around.set(at.choice, (around.get(at.choice) ?? new Set()).add(at));
    // What stands in one copy only stands so in each of them.
    const isOnly = (at: Owned) => around.get(at.choice)!.size === 1;
    return owned.filter(({ place, within }) => this.#isLeft(place, within, weighed, isOnly)).map(({ place }) => place);
  }

  /**
   * Whether a place in `owner` is left; what is handed over stays with its place. What is only listed may never become one,
   * and takes nothing away from what can; nor do whole components from their logic, nor loose groups, that a person may well
   * leave, from what is closer alike.
   */
  #isLeft(
    place: Place,
    owner: Owned | undefined,
    { listed, worth, alignment: { places } }: Weighed,
    isOnly: (at: Owned) => boolean,
  ): boolean {
    for (let at = owner; at; at = at.within) {
      const { weighed: around } = at.choice;
      const { alignment } = around;
      if (at.place === alignment.places[alignment.reference] || isOnly(at)) continue;
      const isPiece = listed && around.kind !== 'logic' && alignment.places.length === places.length;
      if (around.listed && !isPiece && (!listed || showsMarkup(this.forms, at.place))) continue;
      const isPart = (place.end - place.first) * NEARLY_SAME < at.place.end - at.place.first;
      if (isLoose(around) && isPart && worth.total * MUCH >= around.worth.total) continue;
      const content = (at.choice.content ??= contentOf(this.forms, alignment));
      if (!content.some((run) => holds(run, place))) return false;
    }
    return true;
  }

  #ownedIn({ first, end }: Place): Set<Owned> {
    const found = new Set<Owned>();
    for (let node = first; node < end; node++)
      if (this.#cover[node] !== 0) found.add(this.#owners[this.#cover[node]! - 1]!);
    return found;
  }

  #choicesAround(place: Place): Choice[] {
    const choices: Choice[] = [];
    for (let at = this.#aroundOf(place); at; at = at.within) choices.push(at.choice);
    return choices;
  }

  #aroundOf(place: Place): Owned | undefined {
    let owner = this.#owners[this.#cover[place.first]! - 1];
    while (owner && !holds(owner.place, place)) owner = owner.within;
    return owner;
  }
}

/** Those to keep, the best first, each with those inside of it right behind it. `shown`: the closest around that is kept. */
export function nested(
  choices: readonly Choice[],
  isKept: (choice: Choice) => boolean,
  around?: Choice,
  shown?: Choice,
): Choice[] {
  return choices
    .filter((choice) => choice.around === around)
    .sort((x, y) => rankOf(y.weighed) - rankOf(x.weighed))
    .flatMap((choice) => {
      const kept = isKept(choice);
      const inside = nested(choices, isKept, choice, kept ? choice : shown);
      return kept ? [{ ...choice, around: shown }, ...inside] : inside;
    });
}

/** What a group brings each of its places: that decides who gets a place that several could have. */
function perPlace(weighed: Weighed): number {
  return (rankOf(weighed) / weighed.alignment.places.length) * (weighed.kind === 'frame' ? FRAME_FIRST : 1);
}

function rankOf({ listed, worth }: Weighed): number {
  return worth.total * (listed ? LISTED_LAST : 1);
}

function isLoose({ kind, alike }: Weighed): boolean {
  return kind !== 'frame' && alike < CLOSE;
}

function holds(outer: Place, inner: Place): boolean {
  return outer.first <= inner.first && inner.end <= outer.end;
}

/** The choices around a place, the innermost first; not those that it is handed to. */
function chainOf(owned: Owned): Choice[] {
  const chain: Choice[] = [];
  for (let at = owned.within; at; at = at.within)
    if (!at.choice.content?.some((run) => holds(run, owned.place))) chain.push(at.choice);
  return chain;
}

/** What stands at the holes of all places. */
function contentOf(forms: Forms, { holes }: Alignment): Place[] {
  return holes.flatMap(({ values }) =>
    values.flatMap((nodes) =>
      (typeof nodes === 'number' ? [nodes] : (nodes ?? [])).map((node) => ({
        first: node,
        end: node + forms.size[node]!,
      })),
    ),
  );
}
