/** What of the proposals a plan can hold: repeats that can be made one, and cuts and hooks that can be proven as they stand. */
import { textOf } from '../files/files.js';
import type { Forms } from '../forms/forms.js';
import { languageOf } from '../language/registry.js';
import { isProblem, problem, type Problem } from '../problems/problems.js';
import type { Project } from '../project/project.js';
import type { OutlineNode } from '../propose/regions/outline.js';
import type { ComponentPlan, RegionProposal, TurnedDown } from '../propose/regions/propose.js';
import type { Repeat, RepeatPlace, Repeats } from '../propose/repeats/repeats.js';
import { within } from '../script/walk.js';
import type { Span } from '../text/edits.js';
import { Lines } from '../text/lines.js';
import { extract, type ExtractChange } from './extract.js';
import type { HomeProposal } from './homes.js';
import { hook, type HookChange } from './hook.js';
import { spanOf } from './plan.js';
import { unify } from './unify.js';

/** Repeats that are worth less are left to a person. */
const LEAST_UNIFIED = 20;

/**
 * Repeats for a plan: those that a step makes one and that can be made one as they stand, inner ones before those that they
 * stand in, and the proposals that are left beside them. A region that is all of a place, or stands in one, goes with it.
 */
export function withRepeats(
  project: Project,
  repeats: Repeats,
  plans: readonly ComponentPlan[],
  most: number,
): { readonly unified: readonly Repeat[]; readonly plans: readonly ComponentPlan[] } {
  const frames = new Set(repeats.groups.filter((group) => group.kind === 'frame').map((group) => group.id));
  const isDue = (group: Repeat) =>
    group.step !== undefined &&
    group.worth.total >= LEAST_UNIFIED &&
    (group.within === undefined || frames.has(group.within)) &&
    !group.places.some(({ path }) => languageOf(path)?.page);
  const taken: (RepeatPlace & { readonly isFrame: boolean })[] = [];
  const names = new Set<string>();
  const unified: Repeat[] = [];
  for (const repeat of repeats.groups.filter(isDue)) {
    if (unified.length >= most) break;
    const isFrame = repeat.kind === 'frame';
    // What stands in the frame of a page is made one before the frame; of what stands in anything else too little may be left.
    const isBeside = (place: RepeatPlace, other: (typeof taken)[number]) =>
      other.path !== place.path ||
      place.start >= other.end ||
      other.start >= place.end ||
      (isFrame ? !other.isFrame && within(other, place) : other.isFrame && within(place, other));
    const crosses = !repeat.places.every((place) => taken.every((other) => isBeside(place, other)));
    if (crosses || names.has(repeat.name)) continue;
    const change = unify(project, { repeats, repeat });
    if (isProblem(change) || change.proof.answer !== 'same') continue;
    unified.push({ ...repeat, name: change.name });
    names.add(repeat.name);
    taken.push(...repeat.places.map((place) => ({ ...place, isFrame })));
  }
  const ordered = unified.sort((a, b) => Number(a.kind === 'frame') - Number(b.kind === 'frame'));
  const made = unified.flatMap((repeat) => {
    const contents = repeat.kind === 'frame' ? contentsOf(repeats.forms, repeat) : [];
    const isFrame = repeat.kind === 'frame';
    return repeat.places.map((place, i): MadeOne => ({
      ...place,
      name: repeat.name,
      isFrame,
      left: contents[i] ?? [],
    }));
  });
  return { unified: ordered, plans: plans.map((plan) => besides(project, plan, made, names)) };
}

/** A place that becomes one with others. */
interface MadeOne extends RepeatPlace {
  readonly name: string;
  readonly isFrame: boolean;
  /** What stays in its file all the same: the content of a frame. */
  readonly left: readonly Span[];
}

/** For each place of a frame what it frames. */
function contentsOf(forms: Forms, { places, inputs }: Repeat): Span[][] {
  const slots = inputs.filter((input) => input.kind === 'slot');
  return places.map((_, i) =>
    slots.flatMap(({ values }): Span[] => {
      const value = values[i];
      const [first, last] = value?.kind === 'markup' ? [value.nodes[0], value.nodes.at(-1)] : [];
      return first === undefined ? [] : [{ start: forms.start[first]!, end: forms.end[last!]! }];
    }),
  );
}

/**
 * States that go home and hooks, without those that would take one another apart: what a hook holds together stays together,
 * and a hook of which nothing would be left is none.
 */
export function withoutClashes(
  plans: readonly ComponentPlan[],
  homes: readonly HomeProposal[],
): { readonly plans: readonly ComponentPlan[]; readonly homes: readonly HomeProposal[] } {
  const goes = (home: HomeProposal, plan: ComponentPlan) => (name: string) =>
    home.path === plan.path && home.component.name === plan.component && home.moved.includes(name);
  const parts = (home: HomeProposal) =>
    plans.some((plan) =>
      plan.hooks.some(({ declared }) => {
        const gone = declared.filter(goes(home, plan));
        return gone.length > 0 && gone.length < declared.length;
      }),
    );
  const left = homes.filter((home) => !parts(home));
  return {
    homes: left,
    plans: plans.map((plan) => {
      const hooks = plan.hooks.filter(({ declared }) => !left.some((home) => declared.some(goes(home, plan))));
      return hooks.length === plan.hooks.length ? plan : without(plan, () => true, hooks);
    }),
  };
}

/** Plans without the cuts and hooks that cannot be proven as they stand: those are turned down, with the reason. */
export function withProven(project: Project, plans: readonly ComponentPlan[]): readonly ComponentPlan[] {
  return plans.map((plan) => {
    const refused: TurnedDown[] = [];
    const isProven = (change: ExtractChange | HookChange | Problem, region: Span): boolean => {
      const trouble = troubleOf(change, { path: plan.path, span: region });
      if (!trouble) return true;
      const [instead] = trouble.instead;
      refused.push({ region, reason: 'refused', why: trouble.message, ...(instead === undefined ? {} : { instead }) });
      return false;
    };
    const proven = new Set(
      plan.proposals.filter(({ path, name, region }) =>
        isProven(extract(project, { path, range: region, name }), region),
      ),
    );
    const hooks = plan.hooks.filter(({ path, statements, name }) =>
      isProven(hook(project, { path, statements, name }), spanOf(statements)),
    );
    if (refused.length === 0) return plan;
    const left = without(plan, (p) => proven.has(p), hooks);
    const isEmpty = left.proposals.length + hooks.length === 0;
    const fine = isEmpty ? [`${plan.size.before} lines`, 'what could be cut is barred'] : plan.fine;
    return { ...left, fine, turnedDown: [...refused, ...plan.turnedDown] };
  });
}

function troubleOf(
  change: ExtractChange | HookChange | Problem,
  at: { readonly path: string; readonly span: Span },
): Problem | undefined {
  if (isProblem(change)) return change;
  return change.proof.answer === 'same' ? undefined : problem('proof-different', at, change.proof.detail);
}

/** A plan with some of its proposals only, each inside of the closest that is left. */
function without(
  plan: ComponentPlan,
  isLeft: (proposal: RegionProposal) => boolean,
  hooks: ComponentPlan['hooks'],
  instead: (proposal: RegionProposal) => readonly string[] = () => [],
): ComponentPlan {
  const left = plan.proposals.filter(isLeft);
  const outer = (at: number | undefined): number | undefined =>
    at === undefined || isLeft(plan.proposals[at]!) ? at : outer(plan.proposals[at]!.inside);
  const proposals = left.map((p) => {
    const inside = outer(p.inside);
    return { ...p, inside: inside === undefined ? undefined : left.indexOf(plan.proposals[inside]!) };
  });
  const gone = new Map(plan.proposals.filter((p) => !isLeft(p)).map((p) => [p.name, instead(p)]));
  const back = reliefOf(plan.proposals) + reliefOf(plan.hooks);
  const after = plan.size.after + back - reliefOf(proposals) - reliefOf(hooks);
  return { ...plan, size: { ...plan.size, after }, proposals, hooks, outline: outlineWithout(plan.outline, gone) };
}

/** Lines that a host is shorter by; of what stands inside of another one it knows nothing. */
function reliefOf(proposals: readonly { readonly relief: number; readonly inside?: number | undefined }[]): number {
  return proposals.reduce((lines, { relief, inside }) => (inside === undefined ? lines + relief : lines), 0);
}

/** What a component shows without some of its new ones, or with other ones in their place. */
function outlineWithout(nodes: readonly OutlineNode[], gone: ReadonlyMap<string, readonly string[]>): OutlineNode[] {
  const left = nodes.flatMap((node): OutlineNode[] => {
    const children = outlineWithout(node.children, gone);
    const others = node.made && gone.get(node.label);
    if (!others) return [{ ...node, children }];
    return others.length === 0 ? children : [...others.map(madeNode), ...children.filter(({ made }) => made)];
  });
  // What stands at several places is told once.
  const isBare = ({ made, children }: OutlineNode) => made === true && children.length === 0;
  return left.filter((node, i) => !isBare(node) || left.findIndex((n) => isBare(n) && n.label === node.label) === i);
}

function madeNode(label: string): OutlineNode {
  return { label, made: true, children: [] };
}

function isAcross(a: Span, b: Span): boolean {
  return a.start < b.end && b.start < a.end && !within(a, b) && !within(b, a);
}

/** A plan without what goes into places that become one, or goes by a name that they take. */
function besides(
  project: Project,
  plan: ComponentPlan,
  made: readonly MadeOne[],
  names: ReadonlySet<string>,
): ComponentPlan {
  const places = made.filter(({ path }) => path === plan.path);
  const isGone = (span: Span) =>
    places.some(
      (place) => (within(span, place) && !place.left.some((content) => within(span, content))) || isAcross(span, place),
    );
  const isLeft = ({ name, region }: RegionProposal) => !isGone(region) && !names.has(name);
  const hooks = plan.hooks.filter(
    ({ statements }) => !statements.some((s) => places.some((p) => s.start < p.end && p.start < s.end)),
  );
  if (plan.proposals.every(isLeft) && hooks.length === plan.hooks.length) return plan;
  const frame = places.find((place) => place.isFrame);
  const others = places.filter(
    (place) => !place.isFrame && !plan.proposals.some((p) => isLeft(p) && within(place, p.region)),
  );
  const left = without(plan, isLeft, hooks, ({ region }) => [
    ...new Set(others.filter((place) => within(place, region)).map(({ name }) => name)),
  ]);
  const after = left.size.after - linesOf(project, left, [...others, ...(frame ? [frame] : [])]);
  const outline = frame ? [{ ...madeNode(frame.name), children: left.outline }] : left.outline;
  return { ...left, size: { ...left.size, after }, outline };
}

/** Lines that a component is shorter by because of what becomes one, beside its proposals; each use is one. */
function linesOf(project: Project, { path, proposals }: ComponentPlan, places: readonly MadeOne[]): number {
  const lines = new Lines(textOf(project.files, path) ?? '');
  const gone = new Set<number>();
  const each = (span: Span, what: (line: number) => void): void => {
    const [first, last] = lines.range(span);
    for (let line = first; line <= last; line++) what(line);
  };
  for (const place of places) {
    const kept = new Set<number>();
    for (const content of place.left) each(content, (line) => kept.add(line));
    each(place, (line) => void (kept.has(line) || gone.add(line)));
  }
  for (const { region } of proposals) each(region, (line) => gone.delete(line));
  return Math.max(0, gone.size - places.length);
}
