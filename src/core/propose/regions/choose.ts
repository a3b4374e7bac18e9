/**
 * Which regions of a component to cut, all together: the set of disjoint or nested regions whose summed worth is
 * greatest, by dynamic programming over the markup tree. What a cut is worth depends on the component that it is cut out
 * of: the host, or the closest chosen region around it.
 */
import type { Markup } from '../../markup/model.js';
import { regionOf, type Region } from '../../markup/region.js';
import { childLists } from '../../markup/walk.js';
import { within } from '../../script/walk.js';
import type { Worth } from '../repeats/worth.js';
import { isClosing } from './shapes.js';

export interface Choice {
  readonly region: Region;
  readonly worth: Worth;
  readonly inner: readonly Choice[];
}

export interface Weighing {
  /** Whether a run of siblings may become a component; `above`: what stands around it, outermost first. */
  mayCut(region: Region, above: readonly Markup[]): boolean;
  /** What it is worth to cut a region out of another one, or out of the component where there is none. */
  worth(region: Region, host: Region | undefined): Worth;
  /** Tokens of a region. */
  size(region: Region): number;
  /** Whether a region says what it is. */
  isSection(region: Region): boolean;
  /**
   * What a part that stands by itself may cost, at most 0: the more there is to look through, the more. In a component that
   * fits on a screen, undefined.
   */
  readonly leastApart: number | undefined;
  /** Siblings that belong together although no title says so. */
  together(list: readonly Markup[]): readonly Run[];
}

/** Siblings by their index, `[start, end)`. */
export interface Run {
  readonly start: number;
  readonly end: number;
}

interface Best {
  readonly worth: number;
  readonly choices: readonly Choice[];
}

/** What is worth less is not worth a second look. */
export const LEAST_WORTH = 4;

/** What holds several parts may be as much to read as before, and they are not all of it. */
const LEAST_LEVEL = -30;
const MOST_HELD = 0.95;

/** The share of what its parts are worth that a section may be worth itself, to be preferred. */
const NEARLY = 0.7;

const NOTHING: Best = { worth: 0, choices: [] };

export function choose(roots: readonly Markup[], weighing: Weighing): readonly Choice[] {
  const known = new Map<string, Best>();
  const remember = (key: string, find: () => Best): Best => {
    let best = known.get(key);
    if (!best) known.set(key, (best = find()));
    return best;
  };
  /** The best of a list of siblings. */
  const ofList = (list: readonly Markup[], host: Region | undefined, above: readonly Markup[]): Best => {
    const titled = sections(list);
    const isKnown = (run: Run) => titled.some(({ start, end }) => start === run.start && end === run.end);
    const runs = [...titled, ...weighing.together(list).filter((run) => !isKnown(run) && isOnePart(list, run))];
    const upTo: Best[] = [NOTHING];
    list.forEach((node, i) => {
      let best = sum(upTo[i]!, ofNode(node, host, above));
      for (const run of runs) {
        if (run.end !== i + 1) continue;
        const cut = ofCut(regionOf(list.slice(run.start, run.end)), host, above);
        if (cut && upTo[run.start]!.worth + cut.worth > best.worth) best = sum(upTo[run.start]!, cut);
      }
      upTo.push(best);
    });
    return upTo[list.length]!;
  };

  const ofNode = (node: Markup, host: Region | undefined, above: readonly Markup[]): Best =>
    remember(`${node.kind} ${node.start}-${node.end} in ${keyOf(host)}`, () => {
      const whole = sumAll(childLists(node).map((list) => ofList(list, host, [...above, node])));
      const region = regionOf([node]);
      const cut = ofCut(region, host, above);
      // A flat list of parts without the section around them helps nobody, though the parts may weigh more one by one.
      const isLevel = whole.choices.length > 1 && weighing.isSection(region);
      return cut && cut.worth > whole.worth * (isLevel ? NEARLY : 1) ? cut : whole;
    });

  /** Cutting here, and the best inside of what was cut. */
  const ofCut = (region: Region, host: Region | undefined, above: readonly Markup[]): Best | undefined => {
    if ((host && keyOf(host) === keyOf(region)) || !weighing.mayCut(region, above)) return undefined;
    const worth = weighing.worth(region, host);
    if (worth.total < LEAST_WORTH) return undefined;
    const inner = sumAll(
      region.nodes.flatMap((node) => childLists(node).map((list) => ofList(list, region, [...above, node]))),
    );
    return { worth: worth.total + inner.worth, choices: [{ region, worth, inner: inner.choices }] };
  };

  const best = ofList(roots, undefined, []).choices;
  return weighing.leastApart === undefined ? best : withLevels(roots, withApart(roots, best, weighing), weighing);
}

/** Parts in a row get what holds them around them, where that is a part too; so do some of those in it, but not all once more. */
function withLevels(
  list: readonly Markup[],
  chosen: readonly Choice[],
  weighing: Weighing,
  above: readonly Markup[] = [],
  most = Infinity,
): readonly Choice[] {
  for (const { region, worth, above: around } of regionsIn(list, weighing, LEAST_LEVEL, above)) {
    const inside = chosen.filter((choice) => within(choice.region, region));
    if (inside.length < 2 || inside.length > most || inside.some((choice) => keyOf(choice.region) === keyOf(region)))
      continue;
    // What only holds others would hand all that they take through.
    const held = inside.reduce((sum, choice) => sum + weighing.size(choice.region), 0);
    if (held > MOST_HELD * weighing.size(region)) continue;
    const weighed = inside.map((choice) => ({ ...choice, worth: weighing.worth(choice.region, region) }));
    const inner = region.nodes.reduce<readonly Choice[]>(
      (found, node) =>
        childLists(node).reduce(
          (all, children) => withLevels(children, all, weighing, [...around, node], weighed.length - 1),
          found,
        ),
      weighed,
    );
    const rest = chosen.filter((choice) => !inside.includes(choice));
    return withLevels(list, inOrder([...rest, { region, worth, inner }]), weighing, above, most);
  }
  return chosen;
}

/** The best of what overlaps nothing that is chosen. */
function withApart(roots: readonly Markup[], chosen: readonly Choice[], weighing: Weighing): readonly Choice[] {
  const kept = [...chosen];
  const apart = [...regionsIn(roots, weighing, weighing.leastApart!)].sort((a, b) => b.worth.total - a.worth.total);
  for (const { region, worth } of apart)
    if (!kept.some((choice) => overlap(choice.region, region))) kept.push({ region, worth, inner: [] });
  return inOrder(kept);
}

function inOrder(choices: readonly Choice[]): readonly Choice[] {
  return [...choices].sort((a, b) => a.region.start - b.region.start);
}

/** Every region that may be cut and is worth that much, outermost first. */
function* regionsIn(
  list: readonly Markup[],
  weighing: Weighing,
  least: number,
  above: readonly Markup[] = [],
): Generator<{ region: Region; worth: Worth; above: readonly Markup[] }> {
  const runs = sections(list).map(({ start, end }) => list.slice(start, end));
  for (const nodes of [...runs, ...list.map((node) => [node])]) {
    const region = regionOf(nodes);
    if (!weighing.mayCut(region, above)) continue;
    const worth = weighing.worth(region, undefined);
    if (worth.total >= least) yield { region, worth, above };
  }
  for (const node of list)
    for (const inner of childLists(node)) yield* regionsIn(inner, weighing, least, [...above, node]);
}

function overlap(a: Region, b: Region): boolean {
  return a.start < b.end && b.start < a.end;
}

function keyOf(region: Region | undefined): string {
  return region ? `${region.start}-${region.end}` : 'component';
}

function sum(a: Best, b: Best): Best {
  if (a.choices.length === 0) return b;
  if (b.choices.length === 0) return a;
  return { worth: a.worth + b.worth, choices: [...a.choices, ...b.choices] };
}

function sumAll(list: readonly Best[]): Best {
  return list.reduce(sum, NOTHING);
}

/** Runs of siblings under a title: from a heading, or a comment, to the next one. */
function sections(list: readonly Markup[]): Run[] {
  const titles = list.flatMap((node, i) => (isTitle(node) ? [i] : []));
  return titles.flatMap((at, i) => {
    const isComment = list[at]!.kind === 'comment';
    const start = isComment ? at + 1 : at;
    let end = titles[i + 1] ?? list.length;
    while (end > start && !isShown(list[end - 1]!)) end--;
    return isOnePart(list, { start, end }) ? [{ start, end }] : [];
  });
}

/** All of a list is what stands around it, one node is no run, and parts of a page by themselves are not one part. */
function isOnePart(list: readonly Markup[], { start, end }: Run): boolean {
  const shown = list.slice(start, end).filter(isShown);
  return shown.length > 1 && !(start === 0 && end === list.length) && shown.filter(isPart).length < 2;
}

function isTitle(node: Markup): boolean {
  if (node.kind === 'comment') return node.text.trim().length > 2 && !isClosing(node);
  return node.kind === 'element' && /^h[1-6]$/.test(node.name);
}

/** A part of a page by itself, whatever it is shown under, or something around such parts. */
function isPart(node: Markup): boolean {
  return (node.kind === 'element' && PARTS.test(node.name)) || childLists(node).some((list) => list.some(isPart));
}

const PARTS = /^(?:header|nav|main|aside|footer|form|table|dialog|section|article)$/;

function isShown(node: Markup): boolean {
  return node.kind !== 'comment' && !(node.kind === 'text' && node.text.trim() === '');
}
