/**
 * A plan: the steps that make the proposed cuts, in an order in which each can be found again after the ones before it.
 * Inner regions come before those that they stand in: as long as a region stays in its file, edits elsewhere only move it.
 */
import { normalize } from '../files/paths.js';
import { isProblem, problem, type Problem } from '../problems/problems.js';
import type { Project } from '../project/project.js';
import type { RepeatKind } from '../analyze/repeats/candidates.js';
import { languageOf } from '../languages/registry.js';
import type { OutlineNode } from '../propose/regions/outline.js';
import type { ComponentPlan, RegionProposal, TurnedDown } from '../propose/regions/propose.js';
import { repeatAt, type Repeat, type RepeatPlace, type Repeats } from '../propose/repeats/repeats.js';
import { within } from '../script/walk.js';
import { movedOffset, type Span } from '../text/edits.js';
import { fingerprint } from '../text/fingerprint.js';
import { Lines } from '../text/lines.js';
import type { Change } from './change.js';
import { extract, type ExtractChange } from './extract.js';
import { hook, type HookChange } from './hook.js';
import { inline, type InlineChange } from './inline.js';
import type { SplitProposal } from './splits.js';
import { unify, type UnifyChange } from './unify.js';
import type { PropsStyle, TypeOracle } from './cutting.js';

interface PlanPlace {
  readonly name: string;
  readonly component: string;
  readonly path: string;
  /** 1-based, inclusive; for people. */
  readonly lines: readonly [number, number];
  /** `[start, end)` in UTF-16 offsets, in the text that the plan was made on. */
  readonly range: readonly [number, number];
}

/** A region of `component` becomes the component `name`. */
export interface ExtractStep extends PlanPlace {
  readonly step: 'extract';
  /** Where the new file goes; where the name says it if left out. */
  readonly to?: string;
}

/** The component `name`, which stands in `path`, goes back where it is shown, in `component`. */
export interface InlineStep extends PlanPlace {
  readonly step: 'inline';
}

/** Statements of `component` become the hook `name`; `range` is from the first of them to the last. */
export interface HookStep extends PlanPlace {
  readonly step: 'hook';
  /** `[start, end)` of each statement, in text order. */
  readonly statements: readonly (readonly [number, number])[];
  readonly to?: string;
}

/** What stands more than once becomes one; `path` and `range` are those of the first place. */
export interface UnifyStep extends PlanPlace {
  readonly step: 'unify';
  /** The group, by the name that `repeats` has for it. */
  readonly id: string;
  readonly kind: RepeatKind;
  readonly places: readonly {
    readonly path: string;
    readonly lines: readonly [number, number];
    readonly range: readonly [number, number];
  }[];
}

export type PlanStep = ExtractStep | HookStep | InlineStep | UnifyStep;

export interface Plan {
  /** The text that the plan was made on. */
  readonly files: readonly { readonly path: string; readonly fingerprint: string }[];
  readonly steps: readonly PlanStep[];
}

/** The steps that proposals come to: what repeats is made one first. `splits`: components to put back. */
export function planOf(
  project: Project,
  plans: readonly ComponentPlan[],
  splits: readonly SplitProposal[] = [],
  repeats: readonly Repeat[] = [],
): Plan {
  const prints = new Map<string, string>();
  const read = (path: string): string | undefined => {
    const file = project.source(path);
    if (isProblem(file)) return undefined;
    prints.set(path, fingerprint(file.text));
    return file.text;
  };
  const cuts = plans.flatMap(({ path, proposals, hooks }) => {
    const text = proposals.length + hooks.length > 0 ? read(path) : undefined;
    if (text === undefined) return [];
    const lines = new Lines(text);
    const regions = innermostFirst(proposals).map(({ name, component, region, target }): PlanStep => ({
      step: 'extract',
      name,
      component,
      path,
      lines: lines.range(region),
      range: [region.start, region.end],
      ...(target === undefined ? {} : { to: target }),
    }));
    // What regions take along is gone by then, and props are called after the state that they hand on.
    const logic = hooks.map(({ name, component, statements, target }): PlanStep => {
      const span = { start: statements[0]!.start, end: statements.at(-1)!.end };
      return {
        step: 'hook',
        name,
        component,
        path,
        lines: lines.range(span),
        range: [span.start, span.end],
        statements: statements.map(({ start, end }) => [start, end]),
        to: target,
      };
    });
    return [...regions, ...logic];
  });
  const back = splits.flatMap(({ name, path, component: { start, end }, hosts, uses }): PlanStep[] => {
    const text = read(path);
    if (text === undefined) return [];
    for (const use of uses) read(use.path);
    const lines = new Lines(text).range({ start, end });
    return [{ step: 'inline', name, component: hosts.join(', '), path, lines, range: [start, end] }];
  });
  const unified = repeats.flatMap(({ id, kind, name, places }): PlanStep[] => {
    const at = places.flatMap(({ path, start, end }): UnifyStep['places'] => {
      const text = read(path);
      return text === undefined ? [] : [{ path, lines: new Lines(text).range({ start, end }), range: [start, end] }];
    });
    const [first] = at;
    if (!first || at.length < places.length) return [];
    const hosts = [...new Set(places.flatMap((place) => place.component ?? []))];
    return [{ step: 'unify', id, kind, name, component: hosts.join(', '), ...first, places: at }];
  });
  return {
    files: [...prints].map(([path, print]) => ({ path, fingerprint: print })),
    steps: [...unified, ...cuts, ...back],
  };
}

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
  return { unified: ordered, plans: plans.map((plan) => besides(plan, unified, names)) };
}

/** Plans without the cuts and hooks that cannot be proven as they stand: those are turned down, with the reason. */
export function withProven(project: Project, plans: readonly ComponentPlan[]): readonly ComponentPlan[] {
  return plans.map((plan) => {
    const refused: TurnedDown[] = [];
    const isProven = ({ path, name, region }: RegionProposal): boolean => {
      const change = extract(project, { path, range: region, name });
      if (!isProblem(change) && change.proof.answer === 'same') return true;
      const trouble = isProblem(change)
        ? change
        : problem('proof-different', { path, span: region }, change.proof.answer === 'same' ? '' : change.proof.detail);
      const [instead] = trouble.instead;
      refused.push({ region, reason: 'refused', why: trouble.message, ...(instead === undefined ? {} : { instead }) });
      return false;
    };
    const proven = new Set(plan.proposals.filter(isProven));
    const hooks = plan.hooks.filter(({ path, statements, name }) => {
      const change = hook(project, { path, statements, name });
      return !isProblem(change) && change.proof.answer === 'same';
    });
    if (refused.length === 0 && hooks.length === plan.hooks.length) return plan;
    const left = without(plan, (p) => proven.has(p), hooks);
    const isEmpty = left.proposals.length + hooks.length === 0;
    const fine = isEmpty ? [`${plan.size.before} lines`, 'what could be cut is barred'] : plan.fine;
    return { ...left, fine, turnedDown: [...refused, ...plan.turnedDown] };
  });
}

/** A plan with some of its proposals only, each inside of the closest that is left. */
function without(
  plan: ComponentPlan,
  isLeft: (proposal: RegionProposal) => boolean,
  hooks: ComponentPlan['hooks'],
  instead: (proposal: RegionProposal) => string | undefined = () => undefined,
): ComponentPlan {
  const left = plan.proposals.filter(isLeft);
  const outer = (at: number | undefined): number | undefined =>
    at === undefined || isLeft(plan.proposals[at]!) ? at : outer(plan.proposals[at]!.inside);
  const proposals = left.map((p) => {
    const inside = outer(p.inside);
    return { ...p, inside: inside === undefined ? undefined : left.indexOf(plan.proposals[inside]!) };
  });
  const gone = new Map(plan.proposals.filter((p) => !isLeft(p)).map((p) => [p.name, instead(p)]));
  return { ...plan, proposals, hooks, outline: outlineWithout(plan.outline, gone) };
}

/** What a component shows without some of its new ones, or with other ones in their place. */
function outlineWithout(nodes: readonly OutlineNode[], gone: ReadonlyMap<string, string | undefined>): OutlineNode[] {
  return nodes.flatMap((node): OutlineNode[] => {
    if (!node.made || !gone.has(node.label)) return [{ ...node, children: outlineWithout(node.children, gone) }];
    const other = gone.get(node.label);
    return other === undefined ? outlineWithout(node.children, gone) : [{ label: other, made: true, children: [] }];
  });
}

/** Repeats that are worth less are left to a person. */
const LEAST_UNIFIED = 20;

function isAcross(a: Span, b: Span): boolean {
  return a.start < b.end && b.start < a.end && !within(a, b) && !within(b, a);
}

/** A plan without what goes into places that become one, or goes by a name that they take. */
function besides(plan: ComponentPlan, unified: readonly Repeat[], names: ReadonlySet<string>): ComponentPlan {
  const taken = unified.flatMap(({ name, places }) => places.map((place) => ({ ...place, name })));
  const places = taken.filter(({ path }) => path === plan.path);
  const isGone = (span: Span) => places.some((place) => within(span, place) || isAcross(span, place));
  const isLeft = ({ name, region }: RegionProposal) => !isGone(region) && !names.has(name);
  const hooks = plan.hooks.filter(
    ({ statements }) => !statements.some((s) => places.some((p) => s.start < p.end && p.start < s.end)),
  );
  if (plan.proposals.every(isLeft) && hooks.length === plan.hooks.length) return plan;
  return without(plan, isLeft, hooks, ({ region }) => places.find((place) => within(place, region))?.name);
}

function innermostFirst(proposals: readonly RegionProposal[]): RegionProposal[] {
  const depth = (p: RegionProposal): number => (p.inside === undefined ? 0 : 1 + depth(proposals[p.inside]!));
  return proposals
    .map((proposal, i) => ({ proposal, i, depth: depth(proposal) }))
    .sort((a, b) => b.depth - a.depth || a.i - b.i)
    .map(({ proposal }) => proposal);
}

/** Why a plan cannot be applied to a project as it is; undefined where it can. */
export function planTrouble(project: Project, plan: Plan): Problem | undefined {
  for (const { path, fingerprint: print } of plan.files) {
    if (normalize(path) !== path) return problem('target-outside', { path }, path);
    const file = project.source(path);
    if (isProblem(file)) return file;
    if (fingerprint(file.text) !== print) return problem('plan-other-text', { path });
  }
  const known = new Set(plan.files.map((f) => f.path));
  for (const [i, step] of plan.steps.entries()) {
    const at = { path: step.path, span: { start: step.range[0], end: step.range[1] } };
    const unread = [step, ...(step.step === 'unify' ? step.places : [])].find(({ path }) => !known.has(path));
    if (unread) return problem('plan-other-text', { path: unread.path });
    if ((step.step === 'extract' || step.step === 'hook') && step.to !== undefined && normalize(step.to) === undefined)
      return problem('target-outside', { path: step.to }, step.to);
    const isRegion = (s: PlanStep) => s.step === 'extract';
    const later = plan.steps
      .slice(i + 1)
      .find((s) => isRegion(s) && isRegion(step) && s.path === step.path && isInside(s.range, step.range));
    if (later) return problem('plan-order', at, later.name, step.name);
  }
  return undefined;
}

function isInside(inner: PlanStep['range'], outer: PlanStep['range']): boolean {
  return inner[0] >= outer[0] && inner[1] <= outer[1];
}

/** A stretch of a file. */
interface Part extends Span {
  readonly path: string;
}

/** Where the regions of the steps stand now, after the changes so far. */
export class Whereabouts {
  readonly #parts: Map<PlanStep, readonly Part[]>;

  constructor(steps: readonly PlanStep[]) {
    this.#parts = new Map(steps.map((step) => [step, partsOf(step)]));
  }

  of(step: PlanStep): Span {
    const parts = this.#parts.get(step)!;
    return { start: parts[0]!.start, end: (step.step === 'unify' ? parts[0]! : parts.at(-1)!).end };
  }

  /** What a step is about: its region, its statements, or its places. */
  partsOf(step: PlanStep): readonly Part[] {
    return this.#parts.get(step)!;
  }

  /** Follows the regions through a change. */
  after(change: Pick<Change, 'files'>): void {
    for (const [step, parts] of this.#parts) {
      const now = parts.map(({ path, start, end }): Part => {
        const file = change.files.find((f) => f.path === path && f.change === 'edit');
        if (!file) return { path, start, end };
        // What is put in right before or right behind a region does not belong to it.
        return {
          path,
          start: movedOffset(
            file.edits.filter((edit) => edit.end <= start),
            start,
          ),
          end: movedOffset(
            file.edits.filter((edit) => edit.start < end),
            end,
          ),
        };
      });
      this.#parts.set(step, now);
    }
  }
}

function partsOf(step: PlanStep): Part[] {
  const at = (path: string, [start, end]: readonly [number, number]): Part => ({ path, start, end });
  if (step.step === 'unify') return step.places.map(({ path, range }) => at(path, range));
  return (step.step === 'hook' ? step.statements : [step.range]).map((range) => at(step.path, range));
}

/** The group of a step as it stands now; undefined where nothing of the kind stands at its places any more. */
export function repeatOf(
  project: Project,
  step: UnifyStep,
  where: Whereabouts,
): { readonly repeats: Repeats; readonly repeat: Repeat } | undefined {
  return repeatAt(project, step.kind, where.partsOf(step));
}

export interface StepOptions {
  readonly props?: PropsStyle;
  readonly types?: TypeOracle;
}

/** One step of a plan on the project as it is now. */
export function runStep(
  project: Project,
  step: PlanStep,
  where: Whereabouts,
  options: StepOptions = {},
): ExtractChange | HookChange | InlineChange | UnifyChange | Problem {
  const { name, path } = step;
  if (step.step === 'unify') {
    const found = repeatOf(project, step, where);
    return found
      ? unify(project, { ...found, name, ...(options.types ? { types: options.types } : {}) })
      : problem('repeat-unknown', { path }, step.id, '');
  }
  if (step.step === 'inline') return inline(project, { component: `${path}#${name}` });
  const { to } = step;
  if (step.step === 'hook') {
    const { types } = options;
    const statements = where.partsOf(step);
    return hook(project, { path, statements, name, ...(to === undefined ? {} : { to }), ...(types ? { types } : {}) });
  }
  return extract(project, { path, range: where.of(step), name, ...(to === undefined ? {} : { to }), ...options });
}
