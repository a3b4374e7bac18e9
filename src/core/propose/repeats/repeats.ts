/**
 * What stands more than once in a project: candidates from fingerprints, aligned, given an interface, weighed, and the
 * best chosen so that no place is counted twice.
 */
import { collectForms } from '../../analyze/repeats/collect.js';
import { findCandidates, type CandidateGroup, type RepeatKind } from '../../analyze/repeats/candidates.js';
import { align, type Place } from '../../forms/align.js';
import type { Forms } from '../../forms/forms.js';
import { shapesOf, type Shapes } from '../../forms/hash.js';
import type { ComponentForm } from '../../forms/lower.js';
import { problem, type Problem } from '../../problems/problems.js';
import type { Project } from '../../project/project.js';
import { choose, LEAST_WORTH, nested, type Choice } from './choose.js';
import { copiedFiles, isBuilt, isOthers, stemOf } from './left-out.js';
import { textOf } from '../../files/files.js';
import type { Repeat } from './repeat.js';
import { Weighing } from './weighing.js';

export type { ByHand, HostName, Repeat, RepeatPlace } from './repeat.js';
export type { RepeatKind };

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

export function findRepeats(project: Project, options: RepeatOptions = {}): Repeats {
  const paths = options.paths ?? project.sources();
  const leftOut: string[] = [];
  const stems = new Set(project.sources().map(stemOf));
  const copied = copiedFiles(paths, (path) => textOf(project.files, path));
  const collected = collectForms(project, paths, (path, text) => {
    const others = !options.named?.has(path) && (copied.has(path) || isOthers(path, text) || isBuilt(path, stems));
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
  const chosen = choose(forms, weighed, ({ kind, byHand }, places) =>
    places.length < 2
      ? []
      : weighing.best(shapes, { kind, places, ...(kind === 'logic' && byHand ? { listed: true } : {}) }),
  );
  const isKept = ({ weighed: { worth } }: Choice) => worth.total >= least;
  const groups = nested(chosen, isKept)
    .slice(0, options.limit ?? Infinity)
    .map(({ weighed, around }) => weighing.finish(weighed, around?.weighed));
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
  const alignment = align(forms, shapes, places, repeat.kind === 'frame');
  const weighing = new Weighing(project, forms, components);
  const weighed =
    alignment && repeat.step
      ? (weighing.weigh(repeat.kind, alignment, literals) ?? weighing.listed(repeat.kind, shapes, places))
      : undefined;
  const found = weighed && weighing.finish(weighed, undefined);
  return !found || found.byHand
    ? problem('unify-hole', at, 'too much')
    : { ...found, id: repeat.id, name: repeat.name };
}

/** The repeat that some places are, whatever else stands more than once; undefined where no step makes them one. */
export function repeatAt(
  project: Project,
  kind: RepeatKind,
  stretches: readonly { readonly path: string; readonly start: number; readonly end: number }[],
): { readonly repeats: Repeats; readonly repeat: Repeat } | undefined {
  const paths = [...new Set(stretches.map(({ path }) => path))];
  const { forms, components, unread } = collectForms(project, paths, () => false);
  const shapes = shapesOf(forms);
  const found = stretches.map((stretch) => placeOf(forms, stretch));
  const places = found.filter((place) => place !== undefined).sort((x, y) => x.first - y.first);
  if (places.length < stretches.length || places.length < 2) return undefined;
  const weighing = new Weighing(project, forms, components);
  const alignment = align(forms, shapes, places, kind === 'frame');
  const weighed = (alignment && weighing.weigh(kind, alignment)) ?? weighing.listed(kind, shapes, places);
  const repeat = weighed && weighing.finish(weighed, undefined);
  if (!repeat || repeat.byHand) return undefined;
  return { repeats: { groups: [repeat], forms, shapes, components, leftOut: [], unread }, repeat };
}

/** The nodes that a stretch of a file consists of. */
function placeOf(forms: Forms, { path, start, end }: { path: string; start: number; end: number }): Place | undefined {
  for (let node = 0; node < forms.length; node++) {
    if (forms.start[node] !== start || forms.end[node]! > end || forms.file(node).path !== path) continue;
    let last = node;
    while (last < forms.length && forms.end[last]! < end) last += forms.size[last]!;
    if (last < forms.length && forms.end[last] === end) return { first: node, end: last + forms.size[last]! };
  }
  return undefined;
}

/** No alignment can save more than all places but one. */
function upperBound({ places }: CandidateGroup): number {
  return places.slice(1).reduce((sum, place) => sum + place.end - place.first, 0);
}
