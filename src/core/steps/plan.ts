/**
 * A plan: the steps that make the proposed cuts, in an order in which each can be found again after the ones before it.
 * Inner regions come before those that they stand in: as long as a region stays in its file, edits elsewhere only move it.
 */
import { normalize } from '../files/paths.js';
import { isProblem, problem, type Problem } from '../problems/problems.js';
import type { Project } from '../project/project.js';
import type { ComponentPlan, RegionProposal } from '../propose/regions/propose.js';
import { movedOffset, type Span } from '../text/edits.js';
import { fingerprint } from '../text/fingerprint.js';
import { Lines } from '../text/lines.js';
import type { Change } from './change.js';
import { extract, type ExtractChange } from './extract.js';
import { hook, type HookChange } from './hook.js';
import { inline, type InlineChange } from './inline.js';
import type { SplitProposal } from './splits.js';
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

export type PlanStep = ExtractStep | HookStep | InlineStep;

export interface Plan {
  /** The text that the plan was made on. */
  readonly files: readonly { readonly path: string; readonly fingerprint: string }[];
  readonly steps: readonly PlanStep[];
}

/** The steps that proposals come to; `splits`: components to put back. */
export function planOf(project: Project, plans: readonly ComponentPlan[], splits: readonly SplitProposal[] = []): Plan {
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
  return { files: [...prints].map(([path, print]) => ({ path, fingerprint: print })), steps: [...cuts, ...back] };
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
    if (!known.has(step.path)) return problem('plan-other-text', { path: step.path });
    if (step.step !== 'inline' && step.to !== undefined && normalize(step.to) === undefined)
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

/** Where the regions of the steps stand now, after the changes so far. */
export class Whereabouts {
  readonly #spans: Map<PlanStep, readonly Span[]>;

  constructor(steps: readonly PlanStep[]) {
    this.#spans = new Map(
      steps.map((step) => [
        step,
        (step.step === 'hook' ? step.statements : [step.range]).map(([start, end]) => ({ start, end })),
      ]),
    );
  }

  of(step: PlanStep): Span {
    const spans = this.#spans.get(step)!;
    return { start: spans[0]!.start, end: spans.at(-1)!.end };
  }

  /** What a step is about: its region, or its statements. */
  partsOf(step: PlanStep): readonly Span[] {
    return this.#spans.get(step)!;
  }

  /** Follows the regions through a change. */
  after(change: Pick<Change, 'files'>): void {
    for (const [step, spans] of this.#spans) {
      const file = change.files.find((f) => f.path === step.path && f.change === 'edit');
      if (!file) continue;
      // What is put in right before or right behind a region does not belong to it.
      const now = spans.map(({ start, end }) => ({
        start: movedOffset(
          file.edits.filter((edit) => edit.end <= start),
          start,
        ),
        end: movedOffset(
          file.edits.filter((edit) => edit.start < end),
          end,
        ),
      }));
      this.#spans.set(step, now);
    }
  }
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
): ExtractChange | HookChange | InlineChange | Problem {
  const { name, path } = step;
  if (step.step === 'inline') return inline(project, { component: `${path}#${name}` });
  const { to } = step;
  if (step.step === 'hook') {
    const { types } = options;
    const statements = where.partsOf(step);
    return hook(project, { path, statements, name, ...(to === undefined ? {} : { to }), ...(types ? { types } : {}) });
  }
  return extract(project, { path, range: where.of(step), name, ...(to === undefined ? {} : { to }), ...options });
}
