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
import { findCandidates, type CandidateGroup, type RepeatKind } from '../../analyze/repeats/candidates.js';
import { textOf as fileText } from '../../files/files.js';
import { problem, type Problem } from '../../problems/problems.js';
import type { Project } from '../../project/project.js';
import { fingerprint } from '../../text/fingerprint.js';
import type { Span } from '../../text/edits.js';
import { inputsOf, type Input } from './inputs.js';
import { isBuilt, isOthers, isWorthNothing, stemOf } from './left-out.js';
import { nameOfRepeat, topLevelNames } from './repeat-names.js';
import { fixedSize, IMPORT, USE, weight, worthOf, type Worth } from './worth.js';
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
    .flatMap((candidate) => {
      if (candidate.listed) return weighing.listed(shapes, candidate.places) ?? [];
      const alignment = align(forms, shapes, candidate.places);
      return alignment ? (weighing.weigh(candidate.kind, alignment) ?? []) : [];
    });
  const least = options.minWorth ?? LEAST_WORTH;
  const chosen = choose(forms, weighed, ({ kind, listed }, places) => {
    if (places.length < 2) return undefined;
    if (listed !== undefined) return weighing.listed(shapes, places);
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
  /** Set for what no step makes one: the share that is the same everywhere. */
  readonly listed?: number;
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
function perPlace({ kind, listed, worth, alignment }: Weighed): number {
  return (
    (worth.total / alignment.places.length) * (listed !== undefined ? LISTED_LAST : kind === 'frame' ? FRAME_FIRST : 1)
  );
}

interface Choice {
  readonly weighed: Weighed;
  /** The choice that has all places of this one inside of its own. */
  readonly around: Choice | undefined;
}

/**
 * The best first; what is left of a group after others took some of its places is weighed again. Places that stand whole
 * inside of those of a better group are no loss: once that is one thing, they stand in it. They count as often as the one
 * copy holds them.
 */
function choose(
  forms: Forms,
  weighed: readonly Weighed[],
  again: (group: Weighed, places: readonly Place[]) => Weighed | undefined,
): Choice[] {
  /** By node: the place of a chosen group that it belongs to, the innermost one; 0 where there is none. */
  const cover = new Int32Array(forms.length);
  const owners: { readonly choice: Choice; readonly place: Place }[] = [];
  const ownerOf = ({ first }: Place) => owners[cover[first]! - 1];
  const queue = [...weighed].sort((x, y) => perPlace(y) - perPlace(x));
  const chosen: Choice[] = [];
  const isFree = (place: Place) => {
    const owner = ownerOf(place)?.place;
    const isWhole = owner && owner.first === place.first && owner.end === place.end;
    return !isWhole && !cover.subarray(place.first, place.end).some((c) => c !== cover[place.first]);
  };
  /** Places that are left once all that is chosen has become one thing each. */
  const isLeft = (place: Place) => {
    const owner = ownerOf(place);
    if (!owner) return true;
    const { places, reference } = owner.choice.weighed.alignment;
    return owner.place === places[reference];
  };
  const later = (less: Weighed | undefined) => {
    if (!less) return;
    const at = queue.findIndex((other) => perPlace(other) < perPlace(less));
    queue.splice(at < 0 ? queue.length : at, 0, less);
  };
  while (queue.length > 0) {
    const next = queue.shift()!;
    const { places } = next.alignment;
    const free = places.filter(isFree);
    if (free.length < places.length) {
      if (free.length > 1) later(again(next, free));
      continue;
    }
    const left = places.filter(isLeft);
    if (left.length < 2) continue;
    if (left.length < places.length && !((again(next, left)?.worth.total ?? 0) >= LEAST_WORTH)) continue;
    const around = new Set(places.map((place) => ownerOf(place)?.choice));
    const choice = { weighed: next, around: around.size === 1 ? [...around][0] : undefined };
    chosen.push(choice);
    // The content of a frame stays where it is, and may hold repeats of its own.
    const open = next.kind === 'frame' ? contentOf(forms, next.alignment) : [];
    const before = open.map(({ first, end }) => cover.slice(first, end));
    for (const place of places) cover.fill(owners.push({ choice, place }), place.first, place.end);
    open.forEach(({ first }, i) => cover.set(before[i]!, first));
  }
  return chosen;
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
    .sort((x, y) => y.weighed.worth.total - x.weighed.worth.total)
    .flatMap((choice) => {
      const kept = isKept(choice);
      const inside = nested(choices, isKept, choice, kept ? choice : shown);
      return kept ? [{ ...choice, around: shown }, ...inside] : inside;
    });
}

function contentOf(forms: Forms, alignment: Alignment): Place[] {
  return alignment.holes.flatMap((hole) =>
    hole.kind === 'slot'
      ? hole.values.flatMap((nodes) => nodes.map((node) => ({ first: node, end: node + forms.size[node]! })))
      : [],
  );
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
    return worth.total > 0 && worth.saved >= LEAST_SAVED ? { kind, alignment, inputs, hostNames, worth } : undefined;
  }

  /**
   * What no step makes one yet: no interface is known, so worth counts what all places have in common, less a use and a hole
   * for each difference at each place. Bodies that have a statement more or less have no common form, only a common share.
   */
  listed(shapes: Shapes, places: readonly Place[]): Weighed | undefined {
    const { forms } = this;
    const largest = places.reduce((x, y) => (y.end - y.first > x.end - x.first ? y : x));
    const found = align(forms, shapes, places);
    const alignment = found ?? { places, reference: places.indexOf(largest), holes: [], counterparts: [] };
    const { holes } = alignment;
    const { first, end } = places[alignment.reference]!;
    const whole = weight(forms, first, end);
    const alike = found
      ? fixedSize(forms, found) / whole
      : Math.min(...places.map((place) => similarity(forms, shapes, first, place.first)));
    const fixed = alike * whole;
    if (alike < LEAST_COMMON || holes.length > fixed / TOKENS_A_HOLE) return undefined;
    const files = new Set(places.map((place) => forms.file(place.first).path)).size;
    const total = Math.round(fixed * (places.length - 1) - places.length * (USE + holes.length) - IMPORT * files);
    const worth = { saved: total, lighter: 0, seam: 0, total };
    return total > 0 ? { kind: 'logic', listed: alike, alignment, inputs: [], hostNames: [], worth } : undefined;
  }

  finish({ weighed, around }: Choice): Repeat {
    const { kind, listed, alignment, inputs, hostNames, worth } = weighed;
    const { forms } = this;
    const places = alignment.places.map((place): RepeatPlace => {
      const { path } = forms.file(place.first);
      return { path, ...this.#span(place), component: this.#componentAt(place)?.component.name };
    });
    const reference = alignment.places[alignment.reference]!;
    const name = lazily(() => nameOfRepeat(this.project, kind, places, alignment, forms));
    return {
      id: this.#idOf(weighed),
      kind,
      // Worked out for those that are shown: it needs the files again.
      get name() {
        return name();
      },
      places,
      alike: listed ?? fixedSize(forms, alignment) / weight(forms, reference.first, reference.end),
      inputs,
      hostNames,
      worth,
      alignment,
      leaving: kind === 'logic' && listed === undefined && inputs.length === 0 ? topLevelNames(forms, alignment) : [],
      step:
        listed !== undefined || (kind === 'logic' && !this.#hasLogicStep(places))
          ? undefined
          : kind === 'frame'
            ? 'frame'
            : 'unify',
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

/** The share of a function that has to be common for it to be one with an edit, and how much of that goes with a hole. */
const LEAST_COMMON = 0.75;
const TOKENS_A_HOLE = 8;

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
