/**
 * Where to cut a component, all cuts together: read, weigh every region by its names, choose the best set, ask the
 * language whether each chosen one can be cut and what crosses there, name it.
 */
import type { Language } from '../../language/language.js';
import { importKey } from '../../files/paths.js';
import type { SourceFile } from '../../language/ports.js';
import type { ComponentModel, ElementNode, ImportModel, Markup } from '../../markup/model.js';
import { regionOf, type Region } from '../../markup/region.js';
import { walkMarkup } from '../../markup/walk.js';
import { isProblem, withinDepth, type Problem } from '../../problems/problems.js';
import type { Project } from '../../project/project.js';
import type { Seam } from '../../language/cutting.js';
import { within } from '../../script/walk.js';
import type { Edit, Span } from '../../text/edits.js';
import { Lines } from '../../text/lines.js';
import type { Worth } from '../repeats/worth.js';
import { saysWhatItIs } from '../identifiers.js';
import { saidFirst } from '../said.js';
import { freeName, Surroundings } from '../naming.js';
import type { Resolved } from '../../analyze/uses.js';
import { Boundaries, type Boundary } from './boundary.js';
import { choose, LEAST_WORTH, type Choice, type Run } from './choose.js';
import { hooksOf, type HookProposal } from './hooks.js';
import { outlineOf, type OutlineNode } from './outline.js';
import { tokensIn, tokensOf, type Tokens } from './tokens.js';
import { hasHeading, holdsElements, isHolder, isLandmark, isThing, onlyChild, onlyRegion, shown } from './shapes.js';
import { SCREEN, worthOfRegion } from './worth.js';

export interface Goal {
  /** Components of more lines are cut even where that costs more than it brings. */
  readonly lines?: number;
  /** No new component takes more than that many props, events and slots together. */
  readonly props?: number;
}

export interface RegionProposal {
  readonly name: string;
  readonly path: string;
  /** The component that it is cut out of, as it stands now. */
  readonly component: string;
  readonly region: Region;
  readonly target: string | undefined;
  readonly seam: Seam;
  readonly worth: Worth;
  /** Lines that its host is shorter by. */
  readonly relief: number;
  readonly why: readonly string[];
  /** The first words that it shows. */
  readonly says?: string;
  /** Names of the component that go along. */
  readonly moved: readonly string[];
  /** Index of the proposal that this one stands in. */
  readonly inside: number | undefined;
  /** The function that gives it back and can go with it. */
  readonly helper?: string;
  /** A piece that could stay written in the host, and what would cross then. */
  readonly content?: { readonly span: Span; readonly seam: Seam };
}

export interface ComponentPlan {
  readonly path: string;
  readonly component: string;
  /** 1-based, inclusive. */
  readonly lines: readonly [number, number];
  /** Lines that the component has now, and about as many as it will have. */
  readonly size: { readonly before: number; readonly after: number };
  /** Outermost first; empty where the component is fine. */
  readonly proposals: readonly RegionProposal[];
  /** Logic that could stand in hooks of its own. */
  readonly hooks: readonly HookProposal[];
  readonly outline: readonly OutlineNode[];
  /** Why nothing is proposed. */
  readonly fine: readonly string[];
  /** What was considered and turned down, the largest first. */
  readonly turnedDown: readonly TurnedDown[];
}

export interface TurnedDown {
  readonly region: Span;
  /** `refused`: it cannot be cut as it is; `wide`: too much would have to be known; `worth`: more to read than now. */
  readonly reason: 'refused' | 'wide' | 'worth';
  readonly why: string;
  /** What would open it. */
  readonly instead?: string;
}

type File = SourceFile & { readonly language: Language };

/** Lines that a cut adds to its host beside the use: an import, and what stands around it. */
const ADDED_LINES = 3;
/** Tokens that a line less is worth, one after another, until the goal is met. */
const PRICES = [1, 2, 4, 8, 16];

/** What a component is called while it is only asked whether it can be cut. */
const PLACEHOLDER = 'NotYetNamed';

/** Regions of fewer tokens or lines, or that make their host shorter by fewer, are never worth a file. */
const LEAST_TOKENS = 20;
const LEAST_RELIEF = 4;
const LEAST_LINES = 8;
/** Lines of what is known on sight from which it need not make its host much shorter. */
const LEAST_KNOWN = 10;
/** What has a heading of its own, or is the row of a list, may be shorter. */
const LEAST_TITLED = 6;
/** Lines from which a row is a part even where there is hardly anything around it. */
const LEAST_ROW = 25;
/** Lines of what is too long for a list of parts in it to be enough. */
const LONG_SECTION = 100;
/** A component that takes more is no help, however much it holds; a person may say otherwise. */
const MOST_IDEAS = 14;
const MOST_WIDTH = 24;
/** What a part that stands by itself may cost, where the component shows a screen of markup or more. */
const MOST_COST = -45;
/** The share of what a component shows beyond which a part of it is the whole. */
const MOST_SHARE = 0.8;

/**
 * A plan for every component of a file; empty for a language that has none. `occupied`: paths (`importKey`) that no new
 * file may have, of one plan for several files; those of the proposals are added.
 */
export function proposeRegions(
  project: Project,
  path: string,
  goal: Goal = {},
  occupied: Set<string> = pathsOf(project),
): readonly ComponentPlan[] | Problem {
  return withinDepth(path, () => {
    const plannings = planningsOf(project, path, goal, occupied);
    return isProblem(plannings) ? plannings : plannings.map((planning) => planning.plan());
  });
}

/** The paths of a project as an import may write them (`importKey`). */
export function pathsOf(project: Project): Set<string> {
  return new Set(project.files.list().map(importKey));
}

/** What it would be worth to cut a region; undefined where it cannot be cut. */
export function worthOfCut(project: Project, path: string, region: Region): Worth | undefined {
  const plannings = withinDepth(path, () => planningsOf(project, path, {}, new Set()));
  if (isProblem(plannings)) return undefined;
  return plannings.find(({ component }) => within(region, component))?.worthAsked(region);
}

function planningsOf(project: Project, path: string, goal: Goal, occupied: Set<string>): Planning[] | Problem {
  const file = project.source(path);
  if (isProblem(file)) return file;
  const model = project.model(path);
  if (isProblem(model)) return model;
  const { cut, prove } = file.language;
  if (!cut || !prove) return [];
  const module = prove(file, project.ports);
  if (isProblem(module)) return module;
  const tokens = tokensOf(
    file.text,
    model.components.flatMap((c) => c.markup),
  );
  const taken = new Set(file.language.names(file, project.ports));
  // What the project holds is judged by its code when a cut is proven, anything else by its name.
  const isSeen = ({ source }: ImportModel) => project.resolver.resolve(path, source).kind === 'file';
  const seen = new Set(model.imports.filter(isSeen).map(({ local }) => local));
  return model.components
    .filter((component) => component.markup.length > 0)
    .map((component) => new Planning(project, file, module, component, tokens, { taken, occupied, seen }, goal));
}

interface NamesOfFile {
  /** Names of the file, and those of the proposals so far. */
  readonly taken: Set<string>;
  /** Paths (`importKey`) that no new file may have. */
  readonly occupied: Set<string>;
  /** Names of imports that the project holds. */
  readonly seen: ReadonlySet<string>;
}

class Planning {
  readonly #boundaries: Boundaries;
  readonly #around: Surroundings;
  readonly #lines: Lines;
  readonly #refused = new Set<string>();
  readonly #known = new Map<string, Boundary>();
  readonly #seams = new Map<string, Seam | Problem>();
  /** Lines that a cut really takes out of the host, where the language was asked. */
  readonly #taken = new Map<string, number>();
  readonly #titled = new Map<string, boolean>();
  readonly #turnedDown = new Map<string, TurnedDown>();
  readonly #size: number;
  readonly #shownTokens: number;
  /** Tokens that a line less is worth, where there are too many. */
  #price = 0;

  constructor(
    readonly project: Project,
    readonly file: File,
    module: Resolved,
    readonly component: ComponentModel,
    readonly tokens: Tokens,
    readonly names: NamesOfFile,
    readonly goal: Goal,
  ) {
    this.#boundaries = new Boundaries(module, component);
    this.#around = new Surroundings(project, file);
    this.#lines = new Lines(file.text);
    this.#size = this.#height(component);
    this.#shownTokens = component.markup.reduce((sum, node) => sum + tokensIn(tokens, node), 0);
  }

  plan(): ComponentPlan {
    let found = this.#search();
    // A limit is no score: lines have a price, which rises until the component keeps to it or nothing more can be cut.
    for (const price of PRICES) {
      if (this.goal.lines === undefined || this.#after(found) <= this.goal.lines) break;
      this.#price = price;
      const dearer = this.#search();
      if (this.#after(dearer) < this.#after(found)) found = dearer;
    }
    const names = new Map<Choice, string>();
    const proposals = this.#proposals(found, names);
    const { project, file, component, tokens } = this;
    const { taken, occupied } = this.names;
    const known = this.#boundaries.namesAt(regionOf(component.markup));
    const hooks = hooksOf({ project, file, component, tokens, taken, occupied, names: known });
    return {
      path: this.file.path,
      component: this.component.name,
      lines: this.#lines.range(this.component),
      size: { before: this.#size, after: hooks.reduce((n, { relief }) => n - relief, this.#after(found)) },
      proposals,
      hooks,
      outline: outlineOf(this.file.text, this.component.markup, found, (choice) => names.get(choice) ?? '…'),
      fine: proposals.length + hooks.length > 0 ? [] : this.#fine(),
      turnedDown: this.#turnedDownBut(proposals.map((p) => p.region)),
    };
  }

  worthAsked(region: Region): Worth | undefined {
    return isProblem(this.#seam(region)) ? undefined : this.worth(region, undefined);
  }

  /** The best set of which every region can be cut. */
  #search(): readonly Choice[] {
    // What a cut really hands over is known only when it is asked; the choice is then made again with that. Every round asks
    // about a region that was not asked about before, so there is a last one.
    for (;;) {
      const found = choose(this.component.markup, this);
      const changed = all(found).filter(({ region }) => this.#settle(region));
      if (changed.length === 0) return found;
    }
  }

  /** Asks the language about a region; true where that is news. */
  #settle(region: Region): boolean {
    const key = keyOf(region);
    const isKnown = this.#seams.has(key);
    const seam = this.#seam(region);
    if (isKnown) return false;
    if (isProblem(seam)) {
      this.#refused.add(key);
      return true;
    }
    return widthOf(seam) !== this.#boundary(region).names.length || this.#share(region) < 1;
  }

  mayCut(region: Region, above: readonly Markup[]): boolean {
    if (!this.#isPart(region, above)) return false;
    const seam = this.#seams.get(keyOf(region));
    if (this.#refused.has(keyOf(region)) && isProblem(seam)) {
      this.#turnDown({
        region,
        reason: 'refused',
        why: seam.message,
        ...(seam.instead[0] === undefined ? {} : { instead: seam.instead[0] }),
      });
      return false;
    }
    const [ideas, width] = [this.#ideas(region), this.#width(region)];
    if (ideas <= MOST_IDEAS && width <= (this.goal.props ?? MOST_WIDTH)) return true;
    const largest = this.#boundaries.recordsIn(region, this.#boundary(region).names, true)[0];
    const isRecord = largest !== undefined && largest.length > 3;
    this.#turnDown({
      region,
      reason: 'wide',
      why: `${width} names would have to be handed over`,
      instead: isRecord
        ? `${largest.length} of them are members of one record (${largest.slice(0, 3).join(', ')} …): hand it over whole`
        : 'move what only it needs into it, or cut what is around it',
    });
    return false;
  }

  #turnDown(one: TurnedDown): void {
    if (this.#height(one.region) >= LEAST_LINES) this.#turnedDown.set(keyOf(one.region), one);
  }

  /** The largest first; of what is in another one for the same reason, the outer one. */
  #turnedDownBut(cut: readonly Region[]): TurnedDown[] {
    const kept: TurnedDown[] = [];
    const all = [...this.#turnedDown.values()].sort((a, b) => this.#height(b.region) - this.#height(a.region));
    for (const one of all) {
      const isTold = kept.some((k) => k.why === one.why && within(one.region, k.region));
      if (!isTold && !cut.some((region) => keyOf(region) === keyOf(one.region))) kept.push(one);
    }
    return kept;
  }

  /** Whether it is a part of what the component shows that somebody could want by itself, whatever it takes. */
  #isPart(region: Region, above: readonly Markup[]): boolean {
    if (tokensIn(this.tokens, region) < LEAST_TOKENS) return false;
    const [first] = region.nodes;
    if (region.nodes.length === 1 && first!.kind !== 'element' && first!.kind !== 'fragment') return false;
    if (region.nodes.some((node) => node.kind === 'opaque')) return false;
    // One tag of a component with all that it is given: a component around it would only pass on.
    if (first!.kind === 'element' && first!.component && region.nodes.length === 1 && !holdsElements(first!))
      return false;
    const isHeadedRow = this.#isRow(region) && hasHeading(region);
    const least = this.#height(region) >= LEAST_KNOWN ? 1 : LEAST_RELIEF;
    if ((this.#relief(region) < least && !isHeadedRow) || this.#height(region) < this.#leastLines(region)) return false;
    // Turns of a loop and arms of a condition are children of what they stand in.
    const parent = above.findLast((node) => node.kind === 'element');
    if (parent?.kind === 'element' && this.#reads(parent) && !isHolder(region)) return false;
    // All that a component shows, or nearly all, is no part of it; the row of a list is one, when it is long.
    const isLongRow = this.#isRow(region) && this.#height(region) >= LEAST_ROW;
    return (
      !this.#isAll(region, above) && (isLongRow || tokensIn(this.tokens, region) <= MOST_SHARE * this.#shownTokens)
    );
  }

  /** Whether a component may look at what stands in it. */
  #reads({ name }: ElementNode): boolean {
    return this.file.language.readsChildren(name) && !this.names.seen.has(name.replace(/\..*$/, ''));
  }

  worth(region: Region, host: Region | undefined): Worth {
    const { moved, statements } = this.#boundary(region);
    const movedTokens = statements.reduce((sum, span) => sum + tokensIn(this.tokens, span), 0);
    const there = this.#boundaries.namesAt(region);
    const own = host && this.#boundary(host);
    const worth = worthOfRegion({
      tokens: (tokensIn(this.tokens, region) + movedTokens) * this.#share(region),
      rest: host ? 0 : tokensIn(this.tokens, this.component) - tokensIn(this.tokens, region) - movedTokens,
      namesThere: own ? own.names.length + own.moved.length + there - this.#boundaries.namesAt(host) : there,
      width: this.#width(region),
      ideas: this.#ideas(region),
      moved: moved.length,
      lines: this.#height(region) + statements.reduce((lines, span) => lines + this.#height(span), 0),
      // The row of a list is looked for from wherever the list is looked for.
      hostLines: host && !this.#isRow(region) ? this.#height(host) : this.#size,
      titled: this.#isTitled(region),
      row: this.#isRow(region),
      headed: hasHeading(region),
    });
    const total = worth.total + Math.round(this.#bonus(region, host ? this.#height(host) : this.#size));
    if (!host && total < LEAST_WORTH)
      this.#turnDown({ region, reason: 'worth', why: 'it would be more to read than now' });
    return { ...worth, total };
  }

  get leastApart(): number | undefined {
    if (this.#size <= SCREEN) return undefined;
    const lines = this.component.markup.reduce((sum, node) => sum + this.#height(node), 0);
    return MOST_COST * Math.min(1, lines / SCREEN);
  }

  size(region: Region): number {
    return tokensIn(this.tokens, region);
  }

  isSection(region: Region): boolean {
    return this.#isTitled(region) || this.#height(region) >= LONG_SECTION;
  }

  /** Siblings that share a state which would go along with them. */
  together(list: readonly Markup[]): readonly Run[] {
    if (list.length < 2) return [];
    const [from, to] = [list[0]!.start, list.at(-1)!.end];
    const runs = this.#boundaries.shared(this.component.markup).flatMap(({ name, places }): Run[] => {
      if (places.some((at) => at < from || at >= to)) return [];
      const holding = list.flatMap((node, i) => (places.some((at) => at >= node.start && at < node.end) ? [i] : []));
      const [start, end] = [holding[0] ?? 0, (holding.at(-1) ?? 0) + 1];
      const isIn = (at: number) => holding.length > 1 && at >= list[start]!.start && at < list[end - 1]!.end;
      if (!places.every(isIn) || end - start === list.length) return [];
      return this.#boundary(regionOf(list.slice(start, end))).moved.includes(name) ? [{ start, end }] : [];
    });
    return [...new Map(runs.map((run) => [`${run.start}-${run.end}`, run])).values()];
  }

  /** What lines less are worth in a host that is too long: the more, the further it is beyond the limit. */
  #bonus(region: Region, hostLines: number): number {
    const limit = this.goal.lines ?? Infinity;
    return hostLines > limit ? (this.#price * this.#relief(region) * (hostLines - limit)) / hostLines : 0;
  }

  #isAll(region: Region, above: readonly Markup[]): boolean {
    // Markup that a variable or a method holds is a part; what is returned in the end is the component.
    const main = shown(this.component.markup).at(-1);
    if (!above.every(onlyChild) || (above[0] ?? region.nodes[0]) !== main) return false;
    const parent = above.at(-1);
    return parent === undefined || onlyRegion(parent, region);
  }

  #boundary(region: Region): Boundary {
    const key = keyOf(region);
    let boundary = this.#known.get(key);
    if (!boundary) {
      boundary = this.#boundaries.of(region, this.#isLasting(region));
      this.#known.set(key, boundary);
    }
    return boundary;
  }

  /** Whether nothing around a region, and nothing on it, can take it away while its component stays. */
  #isLasting(region: Region): boolean {
    let lasting = true;
    walkMarkup(this.component.markup, (node) => {
      if (node.start > region.start || node.end < region.end) return false;
      const inside = region.nodes.includes(node);
      if (node.kind === 'loop' || node.kind === 'branch' || node.kind === 'expression') lasting = false;
      if (node.kind === 'element' && ((node.component && !inside) || node.attributes.some((a) => a.kind === 'key')))
        lasting = false;
      return undefined;
    });
    return lasting && this.component.markup.length === 1;
  }

  #leastLines(region: Region): number {
    return this.#isRow(region) || hasHeading(region) ? LEAST_TITLED : LEAST_LINES;
  }

  #isRow(region: Region): boolean {
    return this.#around.hints(region, this.component).loop !== undefined;
  }

  #isTitled(region: Region): boolean {
    const key = keyOf(region);
    let titled = this.#titled.get(key);
    if (titled === undefined) {
      const hints = this.#around.hints(region, this.component);
      const root = region.nodes.length === 1 ? region.nodes[0]! : undefined;
      const isCalled =
        root?.kind === 'element' && (isLandmark(root) || saysWhatItIs(root) || isThing(root, this.file.text));
      titled = isCalled || hints.loop !== undefined || hints.comment !== undefined || hasHeading(region);
      this.#titled.set(key, titled);
    }
    return titled;
  }

  /** How many things cross: what the language said, or what the names tell where it was not asked. */
  #width(region: Region): number {
    const seam = this.#seams.get(keyOf(region));
    return seam && !isProblem(seam) ? widthOf(seam) : this.#boundary(region).names.length;
  }

  /** How many things there are to know about what crosses. */
  #ideas(region: Region): number {
    const { names } = this.#boundary(region);
    const more = Math.max(0, this.#width(region) - names.length);
    return Math.min(this.#width(region), this.#boundaries.ideasIn(region, names) + more);
  }

  /** What crosses when the language cuts the region, or why it does not. */
  #seam(region: Region): Seam | Problem {
    const key = keyOf(region);
    let seam = this.#seams.get(key);
    if (!seam) {
      const { project, file } = this;
      const target = file.language.fileFor(project, file.path, PLACEHOLDER);
      const asked = { project, ports: project.ports, file, region, name: PLACEHOLDER, target };
      const cutting = file.language.cut!({ ...asked, props: 'auto', types: undefined });
      seam = isProblem(cutting) ? cutting : cutting.seam;
      if (!isProblem(cutting)) this.#taken.set(key, shortened(file.text, cutting.edits, this.component));
      this.#seams.set(key, seam);
    }
    return seam;
  }

  #proposals(found: readonly Choice[], names: Map<Choice, string>): RegionProposal[] {
    const { project, file, component } = this;
    const pathOf = (name: string) => importKey(file.language.fileFor(project, file.path, name));
    const { taken, occupied } = this.names;
    const isFree = (name: string) => !taken.has(name) && !occupied.has(pathOf(name));
    // What says what it is has the first choice.
    const choices = all(found);
    const titled = choices.filter((choice) => this.#isTitled(choice.region));
    for (const choice of new Set([...titled, ...choices])) {
      const name = freeName(this.#around.names(choice.region, component), isFree);
      taken.add(name);
      occupied.add(pathOf(name));
      names.set(choice, name);
    }
    const proposals: RegionProposal[] = [];
    const add = (choice: Choice, inside: number | undefined): void => {
      const { region, worth } = choice;
      const seam = this.#seam(region);
      if (isProblem(seam)) return;
      const name = names.get(choice)!;
      const target = file.language.fileFor(project, file.path, name);
      const at = proposals.length;
      const why = this.#why(region, choice);
      const { moved } = this.#boundary(region);
      const where = { path: file.path, component: component.name, region, target, inside };
      const says = saidFirst(region.nodes, file.text);
      const relief = this.#relief(region);
      proposals.push({ name, ...where, seam, worth, relief, why, moved, ...(says === undefined ? {} : { says }) });
      for (const inner of choice.inner) add(inner, at);
    };
    for (const choice of found) add(choice, undefined);
    return proposals;
  }

  #why(region: Region, choice: Choice): string[] {
    const { names, moved } = this.#boundary(region);
    const there = this.#boundaries.namesAt(region);
    const hints = this.#around.hints(region, this.component);
    const why = [`${this.#height(region)} lines that know ${names.length} of ${there} names`];
    if (hints.loop) why.push(`the row of a loop over ${hints.loop.source.replace(/\s+/g, ' ').slice(0, 40)}`);
    else if (hints.comment) why.push('a comment titles it');
    else if (hasHeading(region)) why.push('a heading titles it');
    const plain = moved.map((name) => name.replace(/^(?:this|props)\./, ''));
    if (plain.length > 0)
      why.push(
        `${plain.slice(0, 4).join(', ')}${plain.length > 4 ? ` and ${plain.length - 4} more` : ''} ${plain.length > 1 ? 'go' : 'goes'} along`,
      );
    if (choice.inner.length > 0) why.push(`holds ${choice.inner.length} more`);
    if (choice.worth.total < LEAST_WORTH) why.push('costs a little, and leaves less to look through');
    return why;
  }

  #fine(): string[] {
    const root = regionOf(this.component.markup);
    const names = this.#boundaries.namesAt(root);
    const size = `${this.#size} ${this.#size === 1 ? 'line' : 'lines'}, ${names} ${names === 1 ? 'name' : 'names'} to know`;
    if (this.#size <= SCREEN) return [size, 'all of it fits on a screen'];
    const barred = [...this.#turnedDown.values()].some((one) => one.reason !== 'worth');
    return [size, barred ? 'what could be cut is barred' : 'no part of it would be easier to read by itself'];
  }

  #after(found: readonly Choice[]): number {
    return found.reduce((lines, { region }) => lines - this.#relief(region), this.#size);
  }

  /** How much of a region really leaves its host: what an outlet shows by itself stays there, with its content. */
  #share(region: Region): number {
    const taken = this.#taken.get(keyOf(region));
    if (taken === undefined) return 1;
    // The import of the new component, and the like, are lines more.
    const share = (taken + ADDED_LINES) / Math.max(1, this.#expected(region));
    return share >= 0.8 ? 1 : Math.max(0, share);
  }

  /** Lines that the host is shorter by. */
  #relief(region: Region): number {
    return this.#taken.get(keyOf(region)) ?? this.#expected(region);
  }

  #expected(region: Region): number {
    const { statements } = this.#boundary(region);
    const moved = statements.reduce((lines, span) => lines + this.#height(span), 0);
    return this.#height(region) + moved - useLines(this.#width(region));
  }

  #height({ start, end }: { readonly start: number; readonly end: number }): number {
    const [first, last] = this.#lines.range({ start, end });
    return last - first + 1;
  }
}

function all(choices: readonly Choice[]): Choice[] {
  return choices.flatMap((choice) => [choice, ...all(choice.inner)]);
}

/** Lines that edits take out of a component, less those that they bring. */
function shortened(text: string, edits: readonly Edit[], host: Span): number {
  const breaks = (part: string) => part.split('\n').length - 1;
  return edits
    .filter((edit) => within(edit, host))
    .reduce((sum, { start, end, text: now }) => sum + breaks(text.slice(start, end)) - breaks(now), 0);
}

/** A use on one line, or with each thing that it passes on a line of its own. */
function useLines(width: number): number {
  return width > 3 ? width + 2 : 1;
}

/** What is bound both ways is one thing. */
export function widthOf({ props, events, slots }: Seam): number {
  const changes = events.filter(({ name }) => props.some((prop) => name === `update:${prop.name}`));
  return props.length + events.length + slots.length - changes.length;
}

function keyOf(region: Span): string {
  return `${region.start}-${region.end}`;
}
