/** Candidates with an interface and a worth; those that hold no common form are parted, or only listed. */
import type { CandidateGroup, RepeatKind } from '../../analyze/repeats/candidates.js';
import { textOf as fileText } from '../../files/files.js';
import { align, similarity, type Alignment, type Place } from '../../forms/align.js';
import type { Forms } from '../../forms/forms.js';
import type { Shapes } from '../../forms/hash.js';
import type { ComponentForm } from '../../forms/lower.js';
import { siblingsIn } from '../../forms/parts.js';
import { languageOf } from '../../language/registry.js';
import { isProblem } from '../../problems/problems.js';
import type { Project } from '../../project/project.js';
import type { Span } from '../../text/edits.js';
import { fingerprint } from '../../text/fingerprint.js';
import type { Input } from './input.js';
import { inputsOf } from './inputs.js';
import { isMereCall, isTooDifferent, isUsedAlready, isWorthNothing, takesTooMuch } from './left-out.js';
import { acrossParts, partsOf } from './parts.js';
import type { ByHand, HostName, Repeat, RepeatPlace } from './repeat.js';
import { nameOfRepeat, topLevelNames } from './repeat-names.js';
import { fixedSize, holeSize, IMPORT, USE, weight, worthOf, type Worth } from './worth.js';

export interface Weighed {
  readonly kind: RepeatKind;
  /** Share of the nodes that is the same everywhere. */
  readonly alike: number;
  /** Only said: it saves nothing, or no step makes it one. */
  readonly listed?: true;
  /** Why no step makes it one. */
  readonly byHand?: ByHand;
  /** Logic that is the same, or differs in what could be given, and may ask for more of what stands around it. */
  readonly hangs?: true;
  readonly alignment: Alignment;
  readonly inputs: readonly Input[];
  readonly hostNames: readonly HostName[];
  readonly worth: Worth;
}

/** Unifying may make a file a little longer, for the sake of one shape in one place; not by more than this. */
const LEAST_SAVED = -3;

/** What is only said has to be worth saying. */
const LEAST_LISTED = { logic: 4, markup: 8 };

/** The share of a function that has to be common for it to be one with an edit, and how much of that goes with a hole. */
export const LEAST_COMMON = 0.75;
const TOKENS_A_HOLE = { logic: 6, markup: 6 };

/** Pages beyond that are not told apart by their frames: each is compared with each. */
const MOST_PAGES = 30;
/** Pairs of pages that a frame is looked for in, the closest first. */
const SEEDS = 8;

export class Weighing {
  readonly #byPath = new Map<string, ComponentForm[]>();
  readonly #texts = new Map<string, string>();
  readonly #known = new Map<number, number>();

  constructor(
    readonly project: Project,
    readonly forms: Forms,
    components: readonly ComponentForm[],
  ) {
    for (const entry of components) this.#byPath.set(entry.path, [...(this.#byPath.get(entry.path) ?? []), entry]);
  }

  /**
   * A group as a whole; where that holds no common form, or none that is worth anything, the groups in it that do, closest
   * first. What a reader sees and no input can carry is listed. Parts that each go through all pages leave out what stands
   * several times on one page: that is looked at as well.
   */
  best(shapes: Shapes, { kind, places, listed }: CandidateGroup): Weighed[] {
    if (kind === 'frame') return this.#framed(shapes, places);
    const { found, rest } = listed ? { found: [], rest: [places] } : this.#weighedIn(kind, shapes, places);
    if (kind === 'logic' && !listed) return found;
    return [...found, ...rest.flatMap((part) => this.#listedIn(kind, shapes, part))];
  }

  /** Pages with one frame; where some have another one, those that share most with the two that are closest. */
  #framed(shapes: Shapes, places: readonly Place[]): Weighed[] {
    const whole = this.#together('frame', shapes, places);
    if (whole.length > 0 || places.length < 3 || places.length > MOST_PAGES) return whole;
    const alike = (x: Place, y: Place) => this.#alike(shapes, x.first, y.first);
    const pairs = places
      .flatMap((x, i) => places.slice(i + 1).map((y) => ({ pages: [x, y], alike: alike(x, y) })))
      .sort((p, q) => q.alike - p.alike);
    for (const { pages } of pairs.slice(0, SEEDS)) {
      let best = this.#together('frame', shapes, pages);
      if (best.length === 0) continue;
      const others = places.filter((p) => !pages.includes(p)).sort((a, b) => alike(b, pages[0]!) - alike(a, pages[0]!));
      for (const other of others) {
        const more = [...best[0]!.alignment.places, other].sort((a, b) => a.first - b.first);
        const weighed = this.#together('frame', shapes, more);
        if (weighed.length > 0) best = weighed;
      }
      return best;
    }
    return [];
  }

  /** The groups in places that are worth something, and the parts in which there is none. */
  #weighedIn(
    kind: RepeatKind,
    shapes: Shapes,
    places: readonly Place[],
  ): { found: Weighed[]; rest: (readonly Place[])[] } {
    const whole = this.#together(kind, shapes, places);
    if (whole.length > 0) return { found: whole, rest: [] };
    const parts = this.#partsOf(shapes, places).map((part) => this.#weighedIn(kind, shapes, part));
    const found = parts.flatMap((part) => part.found);
    return { found, rest: found.length > 0 ? parts.flatMap((part) => part.rest) : [places] };
  }

  #listedIn(kind: RepeatKind, shapes: Shapes, places: readonly Place[]): Weighed[] {
    const whole = this.listed(kind, shapes, places);
    return whole ? [whole] : this.#partsOf(shapes, places).flatMap((part) => this.#listedIn(kind, shapes, part));
  }

  #partsOf(shapes: Shapes, places: readonly Place[]): Place[][] {
    const parts = partsOf(this.forms, shapes, places, (x, y) => this.#alike(shapes, x, y));
    return parts.length > 1 ? [...parts, ...acrossParts(this.forms, places, parts)] : parts;
  }

  /** Groups are parted again and again, and the same places compared. */
  #alike(shapes: Shapes, x: number, y: number): number {
    const [first, second] = x < y ? [x, y] : [y, x];
    const key = first * this.forms.length + second;
    let alike = this.#known.get(key);
    if (alike === undefined) this.#known.set(key, (alike = similarity(this.forms, shapes, first, second)));
    return alike;
  }

  #together(kind: RepeatKind, shapes: Shapes, places: readonly Place[]): Weighed[] {
    const alignment = align(this.forms, shapes, places, kind === 'frame');
    const weighed = alignment && this.weigh(kind, alignment);
    return weighed ? [weighed] : [];
  }

  weigh(kind: RepeatKind, alignment: Alignment, literals = false): Weighed | undefined {
    const { forms } = this;
    const hosts = this.#hostsOf(alignment);
    const found = this.#interfaceOf(kind, alignment, hosts, literals);
    if (typeof found === 'string') return undefined;
    if (kind === 'frame' && (!isFrame(forms, alignment) || new Set(hosts).size < alignment.places.length))
      return undefined;
    const files = new Set(alignment.places.map((place) => forms.file(place.first).path)).size;
    const inScope = hosts.map((host) => (host ? host.bindings.length + host.props.length : 0));
    const { inputs, hostNames } = found;
    const worth = worthOf(forms, { alignment, inputs, hostNames: hostNames.length, inScope, files });
    return worth.total > 0 && worth.saved >= LEAST_SAVED
      ? { kind, alike: alikeIn(forms, alignment), alignment, ...found, worth }
      : undefined;
  }

  #hostsOf({ places }: Alignment): (ComponentForm['component'] | undefined)[] {
    return places.map((place) => this.#componentAt(place)?.component);
  }

  /** What one thing for all places would be given, or why it cannot be one. */
  #interfaceOf(
    kind: RepeatKind,
    alignment: Alignment,
    hosts: readonly (ComponentForm['component'] | undefined)[],
    literals = false,
  ): Pick<Weighed, 'inputs' | 'hostNames'> | ByHand {
    const { forms } = this;
    if (isTooDifferent(forms, kind, alignment)) return 'differences';
    const taken = (inputs: readonly Input[]) => new Set(this.#hostNames(alignment, inputs, hosts).map((h) => h.name));
    const inputs = inputsOf(forms, alignment, { textOf: (node) => this.#textOf(node), literals, taken });
    if (!inputs) return 'input';
    // Pages whose parts have other attributes have more apart than their content.
    if (kind === 'frame' && inputs.some(({ sites }) => sites.some((site) => site.kind === 'spread'))) return 'input';
    if (takesTooMuch(forms, kind, alignment, inputs)) return 'differences';
    if (isWorthNothing(forms, alignment)) return 'step';
    if (kind === 'logic' && inputs.some((input) => !isPassed(forms, alignment, input))) return 'input';
    return { inputs, hostNames: this.#hostNames(alignment, inputs, hosts) };
  }

  /**
   * What a reader sees, and what saves nothing or what no step makes one yet. Worth counts what all places have in common, less
   * a use and a hole for each difference at each place. Bodies that have a statement more or less have no common form, only a
   * common share.
   */
  listed(kind: RepeatKind, shapes: Shapes, places: readonly Place[]): Weighed | undefined {
    const { forms } = this;
    const largest = places.reduce((x, y) => (y.end - y.first > x.end - x.first ? y : x));
    const found = align(forms, shapes, places);
    const alignment = found ?? { places, reference: places.indexOf(largest), holes: [], counterparts: [] };
    const { first, end } = places[alignment.reference]!;
    const whole = weight(forms, first, end);
    const { things, tokens } = differencesIn(forms, alignment);
    const pieces = () => Math.min(...places.map((place) => this.#alike(shapes, first, place.first)));
    const alike = found && kind !== 'logic' ? 1 - tokens / whole : Math.max(found ? 1 - tokens / whole : 0, pieces());
    const fixed = alike * whole;
    if (kind === 'logic' ? isMereCall(forms, first) : isUsedAlready(forms, places, fixed)) return undefined;
    if (alike < LEAST_COMMON || things > fixed / TOKENS_A_HOLE[kind === 'logic' ? 'logic' : 'markup']) return undefined;
    const files = new Set(places.map((place) => forms.file(place.first).path)).size;
    const total = Math.round(fixed * (places.length - 1) - places.length * (USE + things) - IMPORT * files);
    const worth = { saved: total, lighter: 0, seam: 0, total };
    if (total < LEAST_LISTED[kind === 'logic' ? 'logic' : 'markup']) return undefined;
    const known = found ? this.#interfaceOf(kind, found, this.#hostsOf(found)) : 'form';
    const shown = typeof known === 'string' ? { byHand: known, inputs: [], hostNames: [] } : known;
    const hangs =
      kind === 'logic' && typeof known !== 'string' ? { byHand: 'step' as const, hangs: true as const } : {};
    return { kind, alike, listed: true, alignment, ...shown, ...hangs, worth };
  }

  /** A group with its name and places; `around`: the one that it is shown under. */
  finish(weighed: Weighed, around: Weighed | undefined): Repeat {
    const { kind, alike, alignment, worth } = weighed;
    const { forms } = this;
    const places = alignment.places.map((place): RepeatPlace => {
      const { path } = forms.file(place.first);
      return { path, ...this.#span(place), component: this.#componentAt(place)?.component.name };
    });
    const reason = kind === 'logic' ? this.#logicByHand(places, weighed) : weighed.byHand;
    const isBarred = lazily(() => kind !== 'logic' && places.some((place) => this.#isBarred(place)));
    const { inputs, hostNames } = reason ? { inputs: [], hostNames: [] } : weighed;
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
      leaving: kind === 'logic' && !reason && inputs.length === 0 ? topLevelNames(forms, alignment) : [],
      // Asked where it is shown: a cut is worked out for it.
      get byHand() {
        return reason ?? (isBarred() ? 'barred' : undefined);
      },
      get step() {
        return this.byHand ? undefined : kind === 'frame' ? 'frame' : 'unify';
      },
      ...(around ? { within: this.#idOf(around) } : {}),
    };
  }

  /** Why logic is made one by hand: what hangs on its place is for the language to say. */
  #logicByHand(places: readonly RepeatPlace[], { byHand, hangs, alignment, inputs }: Weighed): ByHand | undefined {
    const modules = places.map(({ path }) => languageOf(path)?.logic);
    if (modules.some((module) => !module || module !== modules[0])) return 'language';
    if (byHand && !hangs) return byHand;
    const isMade = places.every(({ path, start, end }, i) => {
      const isFunction = isFunctionAtTop(this.forms, alignment.places[i]!);
      const text = this.#text(path).slice(start, end);
      return modules[i]!.unifies({ text, isFunction, hangs: hangs ?? false, inputs: inputs.length });
    });
    return isMade ? undefined : 'step';
  }

  #isBarred({ path, start, end }: RepeatPlace): boolean {
    const file = this.project.source(path);
    if (isProblem(file) || !file.language.barred) return false;
    return file.language.barred(this.project, this.project.ports, { file, span: { start, end } }) !== undefined;
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
        input.sites.flatMap((site) => {
          const { kind, hole } = site;
          if (site.kind === 'spread') return site.holes.flatMap(({ node }) => node ?? []);
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

/** Whether a place is all of a function that stands in no other one. */
function isFunctionAtTop(forms: Forms, { first, end }: Place): boolean {
  const isFunction = (node: number) => /^(?:Arrow)?Function(?:Expression|Declaration)/.test(forms.labelOf(node));
  if (!isFunction(first) || first + forms.size[first]! !== end) return false;
  for (let at = forms.file(first).first; at !== first;) {
    const part = forms.partsOf(at).find((p) => p <= first && p + forms.size[p]! >= end);
    if (part === undefined) return true;
    if (part !== first && isFunction(part)) return false;
    at = part;
  }
  return true;
}

function lazily<T>(make: () => T): () => T {
  let made: { value: T } | undefined;
  return () => (made ??= { value: make() }).value;
}

function alikeIn(forms: Forms, alignment: Alignment): number {
  const { first, end } = alignment.places[alignment.reference]!;
  return fixedSize(forms, alignment) / weight(forms, first, end);
}

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
    for (const step of odd) found.add(wordsApart(nodes.map((n) => forms.valueOf(n + step))));
    tokens += odd.length || holeSize(forms, hole);
  });
  return { things: found.size, tokens };
}

/** What is left of names and literals without the words that all begin and end with: `hasPrev` and `hasNext` are `prev` and `next`. */
function wordsApart(texts: readonly string[]): string {
  let words = texts.map((text) => text.split(/[^A-Za-z0-9]+|(?<=[a-z0-9])(?=[A-Z])/).map((word) => word.toLowerCase()));
  while (words.every((w) => w.length > 1 && w[0] === words[0]![0])) words = words.map((w) => w.slice(1));
  while (words.every((w) => w.length > 1 && w.at(-1) === words[0]!.at(-1))) words = words.map((w) => w.slice(0, -1));
  return words.map((w) => w.join(' ')).join();
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

/** Whether every place of logic has something to hand over that it knows outside of the place. */
function isPassed(forms: Forms, { places }: Alignment, { values }: Input): boolean {
  return values.every((value, p) => {
    if (value?.kind !== 'code') return value !== undefined;
    const { first, end } = places[p]!;
    const [from, to] = [value.node, value.node + forms.size[value.node]!];
    const bound = new Set<string>();
    for (let node = first; node < end; node++)
      if (forms.labelOf(node) === 'binding' && (node < from || node >= to)) bound.add(forms.valueOf(node));
    for (let node = from; node < to; node++)
      if (forms.labelOf(node) === 'name' && bound.has(forms.valueOf(node))) return false;
    return true;
  });
}
