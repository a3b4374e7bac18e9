/**
 * What stands more than once in a project: candidates from fingerprints, aligned, given an interface, weighed, and the
 * best chosen so that no place is counted twice.
 */
import { align, similarity, type Alignment, type Place } from '../../forms/align.js';
import { siblingsIn } from '../../forms/parts.js';
import { type Forms } from '../../forms/forms.js';
import { shapesOf, type Shapes } from '../../forms/hash.js';
import type { ComponentForm } from '../../forms/lower.js';
import { collectForms } from '../../analyze/repeats/collect.js';
import { findCandidates, showsMarkup, type CandidateGroup, type RepeatKind } from '../../analyze/repeats/candidates.js';
import { textOf as fileText } from '../../files/files.js';
import { problem, type Problem } from '../../problems/problems.js';
import type { Project } from '../../project/project.js';
import { fingerprint } from '../../text/fingerprint.js';
import type { Span } from '../../text/edits.js';
import { inputsOf, type Input } from './inputs.js';
import { isBuilt, isOthers, isWorthNothing, stemOf } from './left-out.js';
import { nameOfRepeat, topLevelNames } from './repeat-names.js';
import { fixedSize, holeSize, IMPORT, USE, weight, worthOf, type Worth } from './worth.js';
import { languageOf } from '../../languages/registry.js';

export type { RepeatKind };

export interface RepeatPlace extends Span {
  readonly path: string;
  /** The component that the place is in; undefined at the top of a file. */
  readonly component: string | undefined;
}

/** A name of the hosts that the common form reads as it is. */
export interface HostName {
  readonly name: string;
  readonly event: boolean;
}

export interface Repeat {
  /** Stays the same as long as the places do. */
  readonly id: string;
  readonly kind: RepeatKind;
  /** Proposed name of the component, function, hook or layout. */
  readonly name: string;
  readonly places: readonly RepeatPlace[];
  /** Share of the places' nodes that is the same everywhere, 0 to 1. */
  readonly alike: number;
  readonly inputs: readonly Input[];
  readonly hostNames: readonly HostName[];
  readonly worth: Worth;
  readonly alignment: Alignment;
  /** Names of functions that stand at the top of every file and would leave it. */
  readonly leaving: readonly string[];
  /** What makes the places one; undefined for what no step can make one yet. */
  readonly step: 'unify' | 'frame' | undefined;
  /** The group that has all places of this one inside of its own. */
  readonly within?: string;
}

export interface Repeats {
  /** The best first; those that stand inside of another one's places right behind it. */
  readonly groups: readonly Repeat[];
  readonly forms: Forms;
  readonly shapes: Shapes;
  readonly components: readonly ComponentForm[];
  /** Files that were not looked at: generated, vendored, tests and the like. */
  readonly leftOut: readonly string[];
  readonly unread: readonly string[];
}

export interface RepeatOptions {
  /** Files to look at; all sources where it is left out. Those in `named` are looked at whatever they are. */
  readonly paths?: readonly string[];
  readonly named?: ReadonlySet<string>;
  readonly kinds?: readonly RepeatKind[];
  readonly minWorth?: number;
  /** Groups to keep; more are found and only counted. */
  readonly limit?: number;
}

/** Below this a person would rather leave things as they are; see docs/architecture.md for how it was found. */
export const LEAST_WORTH = 1;

/** Unifying may make a file a little longer, for the sake of one shape in one place; not by more than this. */
const LEAST_SAVED = -3;

export function findRepeats(project: Project, options: RepeatOptions = {}): Repeats {
  const paths = options.paths ?? project.sources();
  const leftOut: string[] = [];
  const stems = new Set(project.sources().map(stemOf));
  const collected = collectForms(project, paths, (path, text) => {
    const others = !options.named?.has(path) && (isOthers(path, text) || isBuilt(path, stems));
    if (others) leftOut.push(path);
    return others;
  });
  const { forms } = collected;
  const shapes = shapesOf(forms);
  const candidates = findCandidates(collected, shapes).filter(({ kind }) => options.kinds?.includes(kind) ?? true);
  const weighing = new Weighing(project, forms, collected.components);
  const weighed = candidates
    .filter((candidate) => upperBound(candidate) >= LEAST_WORTH)
    .flatMap((candidate) => weighing.best(shapes, candidate));
  const least = options.minWorth ?? LEAST_WORTH;
  const chosen = choose(forms, weighed, ({ kind, listed }, places) => {
    if (places.length < 2) return undefined;
    if (listed) return weighing.listed(kind, shapes, places);
    const alignment = align(forms, shapes, places);
    return alignment && weighing.weigh(kind, alignment);
  });
  const isKept = ({ weighed: { worth } }: Choice) => worth.total >= least;
  const groups = nested(chosen, isKept)
    .slice(0, options.limit ?? Infinity)
    .map((choice) => weighing.finish(choice));
  return { groups, forms, shapes, components: collected.components, leftOut, unread: collected.unread };
}

/** A repeat with some of its places only, or with its handlers kept open for the sake of their literals. */
export function narrowed(
  project: Project,
  { forms, shapes, components }: Repeats,
  repeat: Repeat,
  { only, literals }: { only?: readonly number[]; literals: boolean },
): Repeat | Problem {
  if (!only && !literals) return repeat;
  const at = { path: repeat.places[0]!.path, span: repeat.places[0]! };
  const places = repeat.alignment.places.filter((_, i) => only?.includes(i) ?? true);
  if (places.length < 2) return problem('repeat-places', at);
  const alignment = align(forms, shapes, places);
  const weighing = new Weighing(project, forms, components);
  const weighed = alignment && repeat.step ? weighing.weigh(repeat.kind, alignment, literals) : undefined;
  if (!weighed) return problem('unify-hole', at, 'too much');
  return { ...weighing.finish({ weighed, around: undefined }), id: repeat.id, name: repeat.name };
}

/** No alignment can save more than all places but one. */
function upperBound({ places }: CandidateGroup): number {
  return places.slice(1).reduce((sum, place) => sum + place.end - place.first, 0);
}

interface Weighed {
  readonly kind: RepeatKind;
  /** Share of the nodes that is the same everywhere. */
  readonly alike: number;
  /** No step makes it one. */
  readonly listed?: true;
  readonly alignment: Alignment;
  readonly inputs: readonly Input[];
  readonly hostNames: readonly HostName[];
  readonly worth: Worth;
}

/** A frame is worth more than a part of it that would be taken out alone: it settles the whole page. */
const FRAME_FIRST = 2;

/** What can be done comes before what can only be said. */
const LISTED_LAST = 0.5;

/** What a group brings each of its places: that decides who gets a place that several could have. */
function perPlace(weighed: Weighed): number {
  return (rankOf(weighed) / weighed.alignment.places.length) * (weighed.kind === 'frame' ? FRAME_FIRST : 1);
}

function rankOf({ listed, worth }: Weighed): number {
  return worth.total * (listed ? LISTED_LAST : 1);
}

interface Choice {
  readonly weighed: Weighed;
  /** The innermost choice that has all places of this one inside of its own. */
  around: Choice | undefined;
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
 * The best first; what is left of a group after others took some of its places is weighed again. Groups nest, whichever was
 * chosen first: places may stand whole inside of those of another group, but never across them. Of a group inside of another
 * one, two copies have to be left once the outer one has become one thing.
 */
function choose(
  forms: Forms,
  weighed: readonly Weighed[],
  again: (group: Weighed, places: readonly Place[]) => Weighed | undefined,
): Choice[] {
  /** By node: the innermost place that it belongs to; 0 where there is none. */
  const cover = new Int32Array(forms.length);
  const owners: Owned[] = [];
  const queue = [...weighed].sort((x, y) => perPlace(y) - perPlace(x));
  const chosen = new Set<Choice>();
  const ownedIn = ({ first, end }: Place) => {
    const found = new Set<Owned>();
    for (let node = first; node < end; node++) if (cover[node] !== 0) found.add(owners[cover[node]! - 1]!);
    return found;
  };
  const aroundOf = (place: Place) => {
    let owner = owners[cover[place.first]! - 1];
    while (owner && !holds(owner.place, place)) owner = owner.within;
    return owner;
  };
  const isFree = (place: Place) =>
    [...ownedIn(place)].every((o) => {
      const isSame = o.place.first === place.first && o.place.end === place.end;
      return !isSame && (holds(o.place, place) || holds(place, o.place));
    });
  /**
   * Whether a place in `owner` is left once all that is around has become one thing; what is handed over stays with its place.
   * What is only listed may never become one, and takes nothing away from what can; nor do whole components from their logic,
   * nor loose groups, that a person may well leave, from what is closer alike.
   */
  const isLeft = (place: Place, owner: Owned | undefined, { listed, worth }: Weighed): boolean => {
    for (let at = owner; at; at = at.within) {
      const { alignment } = at.choice.weighed;
      if (at.place === alignment.places[alignment.reference]) continue;
      const around = at.choice.weighed;
      if (around.listed && (!listed || showsMarkup(forms, at.place))) continue;
      const isPart = (place.end - place.first) * NEARLY_SAME < at.place.end - at.place.first;
      if (isLoose(around) && isPart && worth.total * MUCH >= around.worth.total) continue;
      const content = (at.choice.content ??= contentOf(forms, alignment));
      if (!content.some((run) => holds(run, place))) return false;
    }
    return true;
  };
  const later = (less: Weighed | undefined) => {
    if (!less) return;
    const at = queue.findIndex((other) => perPlace(other) < perPlace(less));
    queue.splice(at < 0 ? queue.length : at, 0, less);
  };
  const leftOf = (choice: Choice) =>
    owners.filter((o) => o.choice === choice).filter((o) => isLeft(o.place, o.within, choice.weighed)).length;
  while (queue.length > 0) {
    const next = queue.shift()!;
    const { places, reference } = next.alignment;
    const free = places.filter(isFree);
    if (free.length < places.length) {
      if (free.length > 1) later(again(next, free));
      continue;
    }
    const left = places.filter((place) => isLeft(place, aroundOf(place), next));
    if (left.length < 2) continue;
    const isInside = new Set(places.map((place) => aroundOf(place)?.choice)).size === 1;
    if (
      left.length < places.length &&
      !isInside &&
      next.alike < LEAST_COMMON &&
      !((again(next, left)?.worth.total ?? 0) >= LEAST_WORTH)
    )
      continue;
    const choice: Choice = { weighed: next, around: undefined };
    // What stands in it may become one thing with it: then the better of the two is kept.
    const inner = new Set(places.flatMap((place) => [...ownedIn(place)].filter((o) => holds(place, o.place))));
    const content = inner.size > 0 ? (choice.content = contentOf(forms, next.alignment)) : [];
    const isKept = ({ place }: Owned) =>
      !inner.size || holds(places[reference]!, place) || content.some((run) => holds(run, place));
    const settled = [...new Set([...inner].map((o) => o.choice))].filter((c) => {
      if (next.listed && (!c.weighed.listed || showsMarkup(forms, places[0]!))) return false;
      if (isLoose(next) && c.weighed.worth.total * MUCH >= next.worth.total) return false;
      const left = owners.filter(
        (o) => o.choice === c && (!inner.has(o) || isKept(o)) && isLeft(o.place, o.within, c.weighed),
      );
      return left.length < 2;
    });
    if (settled.some((c) => c.weighed.worth.total > next.worth.total)) continue;
    for (const c of settled) chosen.delete(c);
    chosen.add(choice);
    for (const place of places) {
      const around = aroundOf(place);
      const owned: Owned = { choice, place, within: around };
      for (const o of inner) if (o.within === around && holds(place, o.place)) o.within = owned;
      const index = owners.push(owned);
      for (let node = place.first; node < place.end; node++) {
        const owner = owners[cover[node]! - 1];
        if (!owner || holds(owner.place, place)) cover[node] = index;
      }
    }
  }
  const kept = [...chosen].filter((choice) => leftOf(choice) > 1);
  for (const choice of kept) {
    const chains = owners.filter((o) => o.choice === choice).map((o) => chainOf(o).filter((c) => kept.includes(c)));
    choice.around = chains[0]!.find((c) => chains.every((chain) => chain.includes(c)));
  }
  return kept;
}

/** What is closer alike than this is one thing to a reader, and all in it with it. */
const CLOSE = 0.9;
/** A part that is worth less than one in so many of what is around it is not worth looking at beside it. */
const MUCH = 4;
/** A place that is so little larger is the same one to a reader: a statement, and the call in it. */
const NEARLY_SAME = 1.2;

function isLoose({ kind, alike }: Weighed): boolean {
  return kind !== 'frame' && alike < CLOSE;
}

function alikeIn(forms: Forms, alignment: Alignment): number {
  const { first, end } = alignment.places[alignment.reference]!;
  return fixedSize(forms, alignment) / weight(forms, first, end);
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

/** Those to keep, the best first, each with those inside of it right behind it. `shown`: the closest around that is kept. */
function nested(
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

/** Shapes beyond that are not told apart, nor those of more nodes in all pairs: the work grows with the square of either. */
const MOST_SHAPES = 24;
const MOST_COMPARED = 150_000;
/** How alike shapes are to be one group in a group, tried one after another. */
const CLOSER = [0.7, 0.8, 0.9];

/** The smaller groups in one that does not hold together; the places of one shape are never parted. */
function partsOf(forms: Forms, shapes: Shapes, places: readonly Place[]): Place[][] {
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

class Weighing {
  readonly #byPath = new Map<string, ComponentForm[]>();
  readonly #texts = new Map<string, string>();

  constructor(
    readonly project: Project,
    readonly forms: Forms,
    components: readonly ComponentForm[],
  ) {
    for (const entry of components) this.#byPath.set(entry.path, [...(this.#byPath.get(entry.path) ?? []), entry]);
  }

  /**
   * A group as a whole; where that holds no common form, or none that is worth anything, the groups in it that do, closest
   * first. What a reader sees and no input can carry is listed.
   */
  best(shapes: Shapes, { kind, places, listed }: CandidateGroup): Weighed[] {
    const whole = listed ? undefined : this.#together(kind, shapes, places);
    if (whole || kind === 'frame') return whole ? [whole] : [];
    const parts = partsOf(this.forms, shapes, places);
    const found = listed ? [] : parts.flatMap((part) => this.#together(kind, shapes, part) ?? []);
    if (found.length > 0 || (kind === 'logic' && !listed)) return found;
    const asWhole = this.listed(kind, shapes, places);
    return asWhole ? [asWhole] : parts.flatMap((part) => this.listed(kind, shapes, part) ?? []);
  }

  #together(kind: RepeatKind, shapes: Shapes, places: readonly Place[]): Weighed | undefined {
    const alignment = align(this.forms, shapes, places);
    return alignment && this.weigh(kind, alignment);
  }

  weigh(kind: RepeatKind, alignment: Alignment, literals = false): Weighed | undefined {
    const { forms } = this;
    const hosts = alignment.places.map((place) => this.#componentAt(place)?.component);
    const taken = (inputs: readonly Input[]) => new Set(this.#hostNames(alignment, inputs, hosts).map((h) => h.name));
    const inputs = inputsOf(forms, alignment, { textOf: (node) => this.#textOf(node), literals, taken });
    if (!inputs || isWorthNothing(forms, kind, alignment, inputs)) return undefined;
    if (kind === 'frame' && !isFrame(forms, alignment)) return undefined;
    if (kind === 'frame' && new Set(hosts).size < alignment.places.length) return undefined;
    const hostNames = this.#hostNames(alignment, inputs, hosts);
    const files = new Set(alignment.places.map((place) => forms.file(place.first).path)).size;
    const inScope = hosts.map((host) => (host ? host.bindings.length + host.props.length : 0));
    const worth = worthOf(forms, { alignment, inputs, hostNames: hostNames.length, inScope, files });
    return worth.total > 0 && worth.saved >= LEAST_SAVED
      ? { kind, alike: alikeIn(forms, alignment), alignment, inputs, hostNames, worth }
      : undefined;
  }

  /**
   * What no step makes one yet: no interface is known, so worth counts what all places have in common, less a use and a hole
   * for each difference at each place. Bodies that have a statement more or less have no common form, only a common share.
   */
  listed(kind: RepeatKind, shapes: Shapes, places: readonly Place[]): Weighed | undefined {
    const { forms } = this;
    const largest = places.reduce((x, y) => (y.end - y.first > x.end - x.first ? y : x));
    const found = align(forms, shapes, places);
    const alignment = found ?? { places, reference: places.indexOf(largest), holes: [], counterparts: [] };
    const { first, end } = places[alignment.reference]!;
    const whole = weight(forms, first, end);
    const { things, tokens } = differencesIn(forms, alignment);
    const alike = found
      ? 1 - tokens / whole
      : Math.min(...places.map((place) => similarity(forms, shapes, first, place.first)));
    const fixed = alike * whole;
    if (alike < LEAST_COMMON || things > fixed / TOKENS_A_HOLE[kind === 'logic' ? 'logic' : 'markup']) return undefined;
    const files = new Set(places.map((place) => forms.file(place.first).path)).size;
    const total = Math.round(fixed * (places.length - 1) - places.length * (USE + things) - IMPORT * files);
    const worth = { saved: total, lighter: 0, seam: 0, total };
    return total >= LEAST_LISTED[kind === 'logic' ? 'logic' : 'markup']
      ? { kind, alike, listed: true, alignment, inputs: [], hostNames: [], worth }
      : undefined;
  }

  finish({ weighed, around }: Choice): Repeat {
    const { kind, alike, listed, alignment, inputs, hostNames, worth } = weighed;
    const { forms } = this;
    const places = alignment.places.map((place): RepeatPlace => {
      const { path } = forms.file(place.first);
      return { path, ...this.#span(place), component: this.#componentAt(place)?.component.name };
    });
    const name = lazily(() => nameOfRepeat(this.project, kind, places, alignment, forms));
    return {
      id: this.#idOf(weighed),
      kind,
      // Worked out for those that are shown: it needs the files again.
      get name() {
        return name();
      },
      places,
      alike,
      inputs,
      hostNames,
      worth,
      alignment,
      leaving: kind === 'logic' && !listed && inputs.length === 0 ? topLevelNames(forms, alignment) : [],
      step:
        listed || (kind === 'logic' && !this.#hasLogicStep(places)) ? undefined : kind === 'frame' ? 'frame' : 'unify',
      ...(around ? { within: this.#idOf(around.weighed) } : {}),
    };
  }

  #hasLogicStep(places: readonly RepeatPlace[]): boolean {
    return places.every(({ path }) => languageOf(path)?.unifiesLogic === true);
  }

  #idOf({ kind, alignment }: Weighed): string {
    const texts = alignment.places.map((place) => {
      const { path } = this.forms.file(place.first);
      const { start, end } = this.#span(place);
      return `${path}\n${this.#text(path).slice(start, end)}`;
    });
    return kind[0]! + fingerprint(kind + texts.join('\n')).slice(0, 5);
  }

  #span({ first, end }: Place): Span {
    const { forms } = this;
    let last = first;
    for (let node = first; node < end; node += forms.size[node]!) last = node;
    return { start: forms.start[first]!, end: forms.end[last]! };
  }

  #textOf(node: number): string {
    return this.#text(this.forms.file(node).path).slice(this.forms.start[node], this.forms.end[node]);
  }

  #text(path: string): string {
    let text = this.#texts.get(path);
    if (text === undefined) {
      text = fileText(this.project.files, path) ?? '';
      if (this.#texts.size > 64) this.#texts.clear();
      this.#texts.set(path, text);
    }
    return text;
  }

  /** The innermost component around a place. */
  #componentAt(place: Place): ComponentForm | undefined {
    const { path } = this.forms.file(place.first);
    const { start, end } = this.#span(place);
    const around = (this.#byPath.get(path) ?? []).filter((c) => c.component.start <= start && c.component.end >= end);
    return around.sort((a, b) => a.component.end - a.component.start - (b.component.end - b.component.start))[0];
  }

  /** Names of the components around that are read outside of the holes. */
  #hostNames(
    alignment: Alignment,
    inputs: readonly Input[],
    hosts: readonly (ComponentForm['component'] | undefined)[],
  ): HostName[] {
    const { forms } = this;
    const host = hosts[alignment.reference];
    if (!host) return [];
    const bindings = new Map(host.bindings.map((b) => [b.name, b.kind]));
    const holes = new Set(
      inputs.flatMap((input) =>
        input.sites.flatMap(({ kind, hole }) => {
          if (hole.kind === 'value') return [hole.node];
          return hole.kind === 'attribute' ? (hole.node ?? []) : kind === 'guard' ? [] : hole.nodes;
        }),
      ),
    );
    const found = new Map<string, HostName>();
    const { first, end } = alignment.places[alignment.reference]!;
    for (let node = first; node < end; node++)
      if (forms.labelOf(node) === 'binding') bindings.delete(forms.valueOf(node));
    for (let node = first; node < end; node++) {
      if (holes.has(node)) {
        node += forms.size[node]! - 1;
        continue;
      }
      if (forms.labelOf(node) !== 'name') continue;
      const name = forms.valueOf(node);
      const kind = bindings.get(name);
      if (kind) found.set(name, { name, event: kind === 'setter' || kind === 'handler' });
    }
    return [...found.values()];
  }
}

function lazily<T>(make: () => T): () => T {
  let made: { value: T } | undefined;
  return () => (made ??= { value: make() }).value;
}

/** What is only said has to be worth saying. */
const LEAST_LISTED = { logic: 4, markup: 10 };

/** The share of a function that has to be common for it to be one with an edit, and how much of that goes with a hole. */
const LEAST_COMMON = 0.75;
const TOKENS_A_HOLE = { logic: 8, markup: 6 };

/** What a reader has to tell places apart by, where what differs in one word everywhere is one thing; and tokens that differ. */
function differencesIn(forms: Forms, { holes, reference }: Alignment): { things: number; tokens: number } {
  const found = new Set<string>();
  let tokens = 0;
  holes.forEach((hole, i) => {
    const nodes = hole.kind === 'value' ? hole.values.filter((v) => v !== undefined) : [];
    const first = hole.kind === 'value' ? hole.values[reference] : undefined;
    const size = first === undefined ? 0 : forms.size[first]!;
    const isOneShape = nodes.length === hole.values.length && nodes.every((n) => forms.size[n] === size);
    const steps = isOneShape ? Array.from({ length: size }, (_, step) => step) : [];
    const odd = steps.filter((step) => nodes.some((n) => forms.value[n + step] !== forms.value[first! + step]));
    if (odd.length === 0) found.add(`hole ${i}`);
    for (const step of odd) found.add(nodes.map((n) => forms.value[n + step]).join());
    tokens += odd.length || holeSize(forms, hole);
  });
  return { things: found.size, tokens };
}

/** Some content that is not shared, and more than one thing around it that is. */
function isFrame(forms: Forms, alignment: Alignment): boolean {
  const size = (nodes: readonly number[]) => nodes.reduce((n, node) => n + forms.size[node]!, 0);
  return alignment.holes.some((hole) => {
    if (hole.kind !== 'slot') return false;
    const filled = hole.values.filter((nodes) => size(nodes) >= 4).length * 2 > hole.values.length;
    const { first } = alignment.places[alignment.reference]!;
    const around = siblingsIn(forms, first).filter(
      (node) => forms.labelOf(node).startsWith('<') && !hole.nodes.includes(node),
    );
    return filled && around.length > 1;
  });
}
