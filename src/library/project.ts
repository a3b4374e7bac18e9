/**
 * Verkstad as a library: a project that is opened, looked at, changed in proven steps, and taken back. Everything that it gives is
 * data in the formats of docs/formats.md, or a problem with a code, a place and a way out.
 */
import { realpathSync, statSync } from 'node:fs';
import { resolve } from 'node:path';
import {
  buildGraph,
  DEFAULT_LIMITS,
  diffOf,
  findRepeats,
  isProblem,
  Lines,
  problem,
  summarizeFile,
  survey,
  textOf,
  type FileChange,
  type Problem,
  type RepeatKind,
} from '../core/index.js';
import { readBefore } from '../node/check/before.js';
import { check } from '../node/check/check.js';
import type { Level } from '../node/check/report.js';
import { Journal } from '../node/journal/journal.js';
import { pathsAsked } from './asked.js';
import { checkDocument, repeatsDocument, surveyDocument, treeDocument, undoDocument } from './documents.js';
import type {
  AppliedDocument,
  ChangeDocument,
  CheckDocument,
  PlanDocument,
  ProposeDocument,
  RepeatsDocument,
  SurveyDocument,
  TreeDocument,
  UndoDocument,
} from './formats/index.js';
import { readPlan, takePlan } from './plans.js';
import { planDocument, proposeDocument } from './proposal-documents.js';
import { proposed, type ProposeAsked } from './propose.js';
import { changeDocument, STEPS, stepTrouble, type StepDone, type StepName, type StepRequests } from './steps.js';
import { openWorkspace, type Workspace } from './workspace.js';

/** A problem with its place as people count it: from 1. */
export type Refusal = Problem & { readonly line?: number; readonly column?: number };

/** A step that was worked out on the files as they are; nothing is written. */
export class Step {
  readonly #workspace: Workspace;
  readonly #done: StepDone;

  constructor(workspace: Workspace, done: StepDone) {
    this.#workspace = workspace;
    this.#done = done;
  }

  /** What comes of it: seam, proof, types, notes. */
  get document(): ChangeDocument {
    return changeDocument(this.#done);
  }

  /** The files as they would be: `text` is the whole of each, undefined for one that goes. */
  get files(): readonly FileChange[] {
    return this.#done.change.files;
  }

  /** Why it cannot be written as it stands; undefined where it is proven and brings no type errors. */
  get trouble(): Refusal | undefined {
    const trouble = stepTrouble(this.#done);
    return trouble && located(this.#workspace, trouble);
  }

  /** For the record. */
  get title(): string {
    return this.#done.title;
  }

  /** One unified diff, with `a/` and `b/`. */
  diff(): string {
    return diffOf(this.#workspace.project.files, this.#done.change);
  }
}

export interface Written {
  /** What `undo` takes. */
  readonly id: number;
  readonly title: string;
}

/**
 * Opens what stands below a folder. Nothing is written, and nothing that the project holds is run.
 * A problem where the folder is not there or its configuration cannot be read.
 */
export async function openProject(root: string, env: Workspace['env'] = process.env): Promise<OpenProject | Refusal> {
  const at = resolve(root);
  if (!statSync(at, { throwIfNoEntry: false })?.isDirectory()) return problem('root-missing', { path: root }, root);
  const real = realpathSync(at);
  const recovered = new Journal(real).recover();
  if (isProblem(recovered)) return recovered;
  const workspace = await openWorkspace(real, env);
  return isProblem(workspace) ? workspace : new OpenProject(workspace);
}

export class OpenProject {
  #workspace: Workspace;

  constructor(workspace: Workspace) {
    this.#workspace = workspace;
  }

  /** Absolute path. */
  get root(): string {
    return this.#workspace.root;
  }

  /** The whole at a glance. `paths`: files or folders, relative to the root. */
  survey({ paths = [] }: { readonly paths?: readonly string[] } = {}): SurveyDocument | Refusal {
    const only = pathsAsked(this.#workspace, paths);
    if (isProblem(only)) return this.#located(only);
    const { project, config } = this.#workspace;
    const asked = only.paths && new Set(only.paths);
    const given = Object.entries(config.limits ?? {}).filter(([, limit]) => limit !== undefined);
    const limits = { ...DEFAULT_LIMITS, ...Object.fromEntries(given) };
    const found = survey(project, { limits, ...(asked ? { only: (path) => asked.has(path) } : {}) });
    return surveyDocument(this.#workspace, found);
  }

  /** Which component shows which. */
  tree(): TreeDocument {
    const { project } = this.#workspace;
    const graph = buildGraph(
      project,
      project.sources().map((path) => summarizeFile(project, path)),
    );
    return treeDocument(graph, graph.roots);
  }

  /** What stands more than once. */
  repeats({
    paths = [],
    ...asked
  }: {
    readonly paths?: readonly string[];
    readonly kinds?: readonly RepeatKind[];
    /** In tokens; what saves nothing is listed as well where it is below zero. */
    readonly minWorth?: number;
  } = {}): RepeatsDocument | Refusal {
    const only = pathsAsked(this.#workspace, paths);
    if (isProblem(only)) return this.#located(only);
    return repeatsDocument(this.#workspace, findRepeats(this.#workspace.project, { ...only, ...asked }));
  }

  /** Where to cut, all cuts together, with the plan that takes them. */
  async propose(
    asked: ProposeAsked = {},
  ): Promise<{ readonly proposals: ProposeDocument; readonly plan: PlanDocument } | Refusal> {
    const found = await proposed(this.#workspace, asked);
    if (isProblem(found)) return this.#located(found);
    const { workspace, found: all } = found;
    return { proposals: proposeDocument(workspace, all), plan: planDocument(workspace, all) };
  }

  /** Works one step out and proves it; `types: false` leaves the type checker out. */
  async step<K extends StepName>(
    kind: K,
    request: StepRequests[K],
    { types = true }: { readonly types?: boolean } = {},
  ): Promise<Step | Refusal> {
    const done = await STEPS[kind](this.#workspace, request, types);
    return isProblem(done) ? this.#located(done) : new Step(this.#workspace, done);
  }

  /**
   * Writes a step, all of it or nothing. What is not proven, or brings type errors, is refused, unless `unproven` says that
   * it is meant. The files are read anew: what was found before is about other text.
   */
  async write(step: Step, { unproven = false }: { readonly unproven?: boolean } = {}): Promise<Written | Refusal> {
    const trouble = unproven ? undefined : step.trouble;
    if (trouble) return trouble;
    const entry = new Journal(this.root).write({ step: step.document.step, files: step.files }, step.title);
    if (isProblem(entry)) return this.#located(entry);
    const reread = await this.#reread();
    return reread ?? { id: entry.id, title: entry.title };
  }

  /**
   * Takes the steps of a plan in their order, each proven before the next and written with a record of its own. Where one is refused
   * it stops there: `stopped` says why, `left` what was not taken, and what was taken stays.
   */
  async apply(
    plan: PlanDocument,
    { types = true }: { readonly types?: boolean } = {},
  ): Promise<AppliedDocument | Refusal> {
    const read = readPlan(plan, 'the plan');
    if (isProblem(read)) return read;
    const applied = await takePlan(this.#workspace, read, types);
    if (isProblem(applied)) return this.#located(applied);
    return (await this.#reread()) ?? applied;
  }

  /** Takes back the last change, or all down to the one of an id. */
  async undo(id?: number): Promise<UndoDocument | Refusal> {
    const undone = new Journal(this.root).undo(id);
    if (isProblem(undone)) return this.#located(undone);
    return (await this.#reread()) ?? undoDocument(undone);
  }

  /**
   * Whether the program does what it did: `against` a folder, a revision of git, or `last`, the last change. From the level
   * `render` on the project is run.
   */
  async check({
    against,
    level = 'types',
    steps = 60,
    seconds = 45,
  }: {
    readonly against?: string;
    readonly level?: Level;
    /** In the browser, at most. */
    readonly steps?: number;
    readonly seconds?: number;
  } = {}): Promise<CheckDocument | Refusal> {
    const { root, project } = this.#workspace;
    const before = await readBefore(root, root, against);
    if (isProblem(before)) return this.#located(before);
    return checkDocument(await check({ root, project, before, level, browser: { steps, seconds } }));
  }

  async #reread(): Promise<Refusal | undefined> {
    const workspace = await openWorkspace(this.root, this.#workspace.env);
    if (isProblem(workspace)) return workspace;
    this.#workspace = workspace;
    return undefined;
  }

  #located(found: Problem): Refusal {
    return located(this.#workspace, found);
  }
}

function located({ project }: Workspace, found: Problem): Refusal {
  const text = found.span && textOf(project.files, found.path);
  if (text === undefined || !found.span) return found;
  const { line, column } = new Lines(text).position(found.span.start);
  return { ...found, line, column };
}
