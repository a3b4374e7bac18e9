/**
 * A plan: the steps that make the proposed cuts, in an order in which each can be found again after the ones before it.
 * Inner regions come before those that they stand in: as long as a region stays in its file, edits elsewhere only move it.
 */
import { textOf } from '../files/files.js';
import { componentNameFromFile, normalize } from '../files/paths.js';
import { isProblem, problem, type Problem } from '../problems/problems.js';
import type { Project } from '../project/project.js';
import type { RepeatKind } from '../analyze/repeats/candidates.js';
import type { ComponentPlan, RegionProposal } from '../propose/regions/propose.js';
import { repeatAt, type Repeat, type Repeats } from '../propose/repeats/repeats.js';
import { movedOffset, type Span } from '../text/edits.js';
import { fingerprint } from '../text/fingerprint.js';
import { Lines } from '../text/lines.js';
import { apart } from './apart.js';
import type { Change } from './change.js';
import { dissolve } from './dissolve.js';
import { extract, type ExtractChange } from './extract.js';
import { home, type HomeChange, type HomeStepRequest } from './home.js';
import type { HomeProposal } from './homes.js';
import type { ModuleProposal } from './modules.js';
import { forms, type FormsChange, type FormsStepRequest } from './forms.js';
import { through, type ThroughChange, type ThroughStepRequest } from './through.js';
import { inputs, type InputsChange, type InputsStepRequest } from './inputs.js';
import { toFunction, type FunctionChange } from './function.js';
import { hook, type HookChange } from './hook.js';
import { inline, type InlineChange } from './inline.js';
import { join, part, type JoinChange } from './join.js';
import { module, type ModuleChange, type ModuleRequest } from './module.js';
import { page, type PageChange, type PagesWritten } from './page.js';
import type { SplitProposal } from './splits.js';
import { unify, type UnifyChange } from './unify.js';
import type { WantedSeam } from './wanted-seam.js';
import type { PropsStyle, TypeOracle } from '../language/cutting.js';

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
  /** The function that gives the region back, and is gone afterwards. */
  readonly helper?: string;
  /** The region is all that `component` shows: what that keeps and does stays there. */
  readonly apart?: boolean;
  readonly seam?: PlanSeam;
}

/** What a person decides of what crosses; `slots` as `[start, end)`. */
export type PlanSeam = Omit<WantedSeam, 'slots'> & {
  readonly slots?: Readonly<Record<string, readonly [number, number]>>;
};

/** The component `name`, which stands in `path`, goes back where it is shown, in `component`. */
export interface InlineStep extends PlanPlace {
  readonly step: 'inline';
}

/** States of `component`, which stands in `path`, go to the component that is their home. */
export interface HomeStep extends PlanPlace {
  readonly step: 'home';
  readonly states: readonly string[];
  /** That component, where it is not the lowest one that all uses are in. */
  readonly in?: string;
  readonly newLifetime?: boolean;
}

/** Statements of `component` become the hook `name`; `range` is from the first of them to the last. */
export interface HookStep extends PlanPlace {
  readonly step: 'hook';
  /** `[start, end)` of each statement, in text order. */
  readonly statements: readonly (readonly [number, number])[];
  readonly to?: string;
}

/** The class `name` becomes a function. */
export interface FunctionStep extends PlanPlace {
  readonly step: 'function';
}

/** The component `name`, which asks the same in many places, becomes one for each of its forms. */
export interface FormsStep extends PlanPlace {
  readonly step: 'forms';
  readonly by: string;
  readonly names?: readonly string[];
  readonly newLifetime?: boolean;
}

/** What the component `name` only hands on goes through it as content. */
export interface ThroughStep extends PlanPlace {
  readonly step: 'through';
  readonly inputs?: readonly string[];
  readonly in?: string;
}

/** Inputs of the component `name` that say nothing go. */
export interface InputsStep extends PlanPlace {
  readonly step: 'inputs';
  readonly names?: readonly string[];
}

/** Code of `component`, or declarations of its file, leave for a module. */
export interface ModuleStep extends PlanPlace {
  readonly step: 'module';
  /** Of the declarations; the code at `range` where it is left out. */
  readonly names?: readonly string[];
  readonly to?: string;
}

/** What stands more than once becomes one; `path` and `range` are those of the first place. */
export interface UnifyStep extends PlanPlace {
  readonly step: 'unify';
  /** The group, by the name that `repeats` has for it. */
  readonly id: string;
  /** A list of records, and one use in a loop of it. */
  readonly asList?: boolean;
  /** `slots` are pieces of the first place. */
  readonly seam?: Pick<PlanSeam, 'inputs' | 'events' | 'slots'>;
  readonly kind: RepeatKind;
  readonly places: readonly {
    readonly path: string;
    readonly lines: readonly [number, number];
    readonly range: readonly [number, number];
  }[];
}

/** The page at `path` becomes the component `name`, in a language that has components. */
export interface PageStep extends PlanPlace {
  readonly step: 'page';
  /** Id of the language. */
  readonly into: string;
  /** Where the component goes: what later steps cut stands there. */
  readonly to: string;
}

/** Template and script of the components of a file come together in one. */
export interface JoinStep extends PlanPlace {
  readonly step: 'join';
}

/** They go into files of their own. */
export interface PartStep extends PlanPlace {
  readonly step: 'part';
}

export type PlanStep =
  | ThroughStep
  | InputsStep
  | ExtractStep
  | FormsStep
  | FunctionStep
  | HomeStep
  | HookStep
  | InlineStep
  | JoinStep
  | ModuleStep
  | PageStep
  | PartStep
  | UnifyStep;

export interface Plan {
  /** The text that the plan was made on. */
  readonly files: readonly { readonly path: string; readonly fingerprint: string }[];
  readonly steps: readonly PlanStep[];
}

/**
 * The steps that proposals come to: requests leave for modules and states go home first, then what repeats is made one. `splits`: components to put back.
 * `written`: the pages that the proposals are about, which become components before anything else.
 */
export function planOf(
  project: Project,
  plans: readonly ComponentPlan[],
  splits: readonly SplitProposal[] = [],
  repeats: readonly Repeat[] = [],
  written?: PagesWritten,
  homes: readonly HomeProposal[] = [],
  modules: readonly ModuleProposal[] = [],
): Plan {
  const prints = new Map<string, string>();
  // What a page becomes follows from its text.
  const made = new Set([...(written?.pages.values() ?? [])].map((one) => one.path));
  const read = (path: string): string | undefined => {
    const file = project.source(path);
    if (isProblem(file)) return undefined;
    if (!made.has(path)) prints.set(path, fingerprint(file.text));
    return file.text;
  };
  const cuts = plans.flatMap(({ path, proposals, hooks }) => {
    const text = proposals.length + hooks.length > 0 ? read(path) : undefined;
    if (text === undefined) return [];
    const lines = new Lines(text);
    const regions = innermostFirst(proposals).map(({ name, component, region, target, helper }): PlanStep => ({
      step: 'extract',
      name,
      component,
      path,
      lines: lines.range(region),
      range: [region.start, region.end],
      ...(target === undefined ? {} : { to: target }),
      ...(helper === undefined ? {} : { helper }),
    }));
    // What regions take along is gone by then, and props are called after the state that they hand on.
    const logic = hooks.map(({ name, component, statements, target }): PlanStep => {
      const span = spanOf(statements);
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
  const brought = homes.flatMap(({ name, states, path, component, home: to }): PlanStep[] => {
    const text = read(path);
    const isRead = text !== undefined && read(to.slice(0, to.lastIndexOf('#'))) !== undefined;
    if (!isRead) return [];
    const { start, end } = component;
    const lines = new Lines(text).range(component);
    return [{ step: 'home', name, component: component.name, path, lines, range: [start, end], states, in: to }];
  });
  const sent = modules.flatMap(({ name, component, path, region: { start, end }, target }): PlanStep[] => {
    const text = read(path);
    if (text === undefined) return [];
    // A module that is there already is edited, and has to be what it was.
    if (textOf(project.files, target) !== undefined) read(target);
    const lines = new Lines(text).range({ start, end });
    return [{ step: 'module', name, component, path, lines, range: [start, end], to: target }];
  });
  const unified = repeats.flatMap((repeat) => unifyStep(repeat, read) ?? []);
  // What a frame holds stays in its page, and is cut there as long as it can be found.
  const isFrame = ({ kind }: UnifyStep) => kind === 'frame';
  const used = new Set([...cuts, ...unified].flatMap(filesOf));
  const pages = written ? pageSteps(written, used) : [];
  for (const step of pages) prints.set(step.path, fingerprint(textOf(written!.before.files, step.path)!));
  return {
    files: [...prints].map(([path, print]) => ({ path, fingerprint: print })),
    steps: [
      ...pages,
      ...sent,
      ...brought,
      ...unified.filter((s) => !isFrame(s)),
      ...cuts,
      ...unified.filter(isFrame),
      ...back,
    ],
  };
}

/** Steps for the pages of which something is cut. */
function pageSteps({ into, before, pages }: PagesWritten, used: ReadonlySet<string>): PageStep[] {
  return [...pages].flatMap(([path, { name, path: to, shown }]): PageStep[] => {
    if (!used.has(to)) return [];
    const lines = new Lines(textOf(before.files, path)!).range(shown);
    const component = componentNameFromFile(path);
    return [{ step: 'page', name, component, path, lines, range: [shown.start, shown.end], into, to }];
  });
}

/** The files in which what a step is about stands. */
function filesOf(step: PlanStep): string[] {
  return [step.path, ...(step.step === 'unify' ? step.places.map(({ path }) => path) : [])];
}

/** The steps of a plan that are chosen, and the pages that have to be written for them. */
export function withPages(steps: readonly PlanStep[], isChosen: (step: PlanStep) => boolean): PlanStep[] {
  const used = new Set(steps.filter((step) => step.step !== 'page' && isChosen(step)).flatMap(filesOf));
  return steps.filter((step) => (step.step === 'page' ? used.has(step.to) : isChosen(step)));
}

/** Undefined where one of its files cannot be read. */
function unifyStep(
  { id, kind, name, places }: Repeat,
  read: (path: string) => string | undefined,
): UnifyStep | undefined {
  const at = places.flatMap(({ path, start, end }): UnifyStep['places'] => {
    const text = read(path);
    return text === undefined ? [] : [{ path, lines: new Lines(text).range({ start, end }), range: [start, end] }];
  });
  const [first] = at;
  if (!first || at.length < places.length) return undefined;
  const hosts = [...new Set(places.flatMap((place) => place.component ?? []))];
  return { step: 'unify', id, kind, name, component: hosts.join(', '), ...first, places: at };
}

/** From the first statement to the last. */
export function spanOf(statements: readonly Span[]): Span {
  return { start: statements[0]!.start, end: statements.at(-1)!.end };
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
    const unread = filesOf(step).find((path) => !known.has(path));
    if (unread !== undefined) return problem('plan-other-text', { path: unread });
    if (step.step === 'page') known.add(step.to);
    if ('to' in step && step.to !== undefined && normalize(step.to) === undefined)
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
    return { start: parts[0]!.start, end: (step.step === 'hook' ? parts.at(-1)! : parts[0]!).end };
  }

  /** What a person decided of the boundary, its pieces where they stand now. */
  seamOf(step: ExtractStep | UnifyStep): WantedSeam | undefined {
    if (!step.seam) return undefined;
    const pieces = this.#parts.get(step)!.slice(step.step === 'unify' ? step.places.length : 1);
    const names = Object.keys(step.seam.slots ?? {});
    return { ...step.seam, slots: Object.fromEntries(names.map((name, i) => [name, pieces[i]!])) };
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
  const slots = step.step === 'extract' || step.step === 'unify' ? Object.values(step.seam?.slots ?? {}) : [];
  if (step.step === 'unify')
    return [
      ...step.places.map(({ path, range }) => at(path, range)),
      ...slots.map((range) => at(step.places[0]!.path, range)),
    ];
  return (step.step === 'hook' ? step.statements : [step.range, ...slots]).map((range) => at(step.path, range));
}

/** The group of a step as it stands now; undefined where nothing of the kind stands at its places any more. */
export function repeatOf(
  project: Project,
  step: UnifyStep,
  where: Whereabouts,
): { readonly repeats: Repeats; readonly repeat: Repeat } | undefined {
  return repeatAt(project, step.kind, where.partsOf(step).slice(0, step.places.length));
}

/** What a plan says of states that go home, as the step is asked for it. */
export function homeRequestOf({ path, component, states: names, in: to, newLifetime }: HomeStep): HomeStepRequest {
  return {
    component: `${path}#${component}`,
    names,
    ...(to === undefined ? {} : { in: to }),
    ...(newLifetime ? { newLifetime } : {}),
  };
}

/** What a plan says of forms, as the step is asked for them. */
export function formsRequestOf({ path, name, by, names, newLifetime }: FormsStep): FormsStepRequest {
  return { component: `${path}#${name}`, by, ...(names ? { names } : {}), ...(newLifetime ? { newLifetime } : {}) };
}

/** What a plan says of what is handed on, as the step is asked for it. */
export function throughRequestOf({ path, name, inputs, in: top }: ThroughStep): ThroughStepRequest {
  return { component: `${path}#${name}`, ...(inputs ? { inputs } : {}), ...(top === undefined ? {} : { in: top }) };
}

/** What a plan says of inputs that go, as the step is asked for it. */
export function inputsRequestOf({ path, name, names }: InputsStep): InputsStepRequest {
  return { component: `${path}#${name}`, ...(names ? { names } : {}) };
}

/** What a plan says of logic that leaves, as the step is asked for it; `span`: where its code stands now. */
export function moduleRequestOf({ path, name, names, to }: ModuleStep, span: Span): ModuleRequest {
  const wanted = names ? { wanted: { names } } : { wanted: { span }, name };
  return { path, ...wanted, ...(to === undefined ? {} : { to }) };
}

/** What a step of a plan comes to. */
export type StepChange =
  | ExtractChange
  | FormsChange
  | FunctionChange
  | HomeChange
  | HookChange
  | InlineChange
  | JoinChange
  | ModuleChange
  | PageChange
  | ThroughChange
  | InputsChange
  | UnifyChange;

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
): StepChange | Problem {
  const { name, path } = step;
  if (step.step === 'page') return page(project, step);
  if (step.step === 'join' || step.step === 'part') return (step.step === 'join' ? join : part)(project, path);
  if (step.step === 'unify') {
    const found = repeatOf(project, step, where);
    const seam = where.seamOf(step);
    return found
      ? unify(project, {
          ...found,
          name,
          asList: step.asList ?? false,
          ...(seam ? { seam } : {}),
          ...(options.types ? { types: options.types } : {}),
        })
      : problem('repeat-unknown', { path }, step.id, '');
  }
  if (step.step === 'forms') return forms(project, formsRequestOf(step));
  if (step.step === 'function') return toFunction(project, { path, component: name });
  if (step.step === 'inputs') return inputs(project, inputsRequestOf(step));
  if (step.step === 'through') return through(project, throughRequestOf(step));
  if (step.step === 'inline') return inline(project, { component: `${path}#${name}` });
  if (step.step === 'home')
    return home(project, { ...homeRequestOf(step), ...(options.types ? { types: options.types } : {}) });
  if (step.step === 'hook') {
    const { to } = step;
    const { types } = options;
    const statements = where.partsOf(step);
    return hook(project, { path, statements, name, ...(to === undefined ? {} : { to }), ...(types ? { types } : {}) });
  }
  if (step.step === 'module') return module(project, { ...moduleRequestOf(step, where.of(step)), ...options });
  const { to } = step;
  const seam = where.seamOf(step);
  const made = { name, ...(to === undefined ? {} : { to }), ...(seam ? { seam } : {}) };
  if (step.helper !== undefined) return dissolve(project, { path, helper: step.helper, ...made, ...options });
  if (step.apart) return apart(project, { path, component: step.component, ...made, ...options });
  return extract(project, { path, range: where.of(step), ...made, ...options });
}
