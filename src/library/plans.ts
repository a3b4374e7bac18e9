/** Plans: read from text, and their steps worked out one by one. */
import { getDotPath, safeParse } from 'valibot';
import {
  formsRequestOf,
  homeRequestOf,
  inputsRequestOf,
  isProblem,
  planTrouble,
  throughRequestOf,
  problem,
  repeatOf,
  Whereabouts,
  type Plan,
  type PlanStep,
  type Problem,
  type Span,
} from '../core/index.js';
import { Journal } from '../node/journal/journal.js';
import { planFormat, type AppliedDocument, type ChangeDocument, type PlanDocument } from './formats/index.js';
import { changeDocument, STEPS, stepTrouble, unifyFound, type Place, type StepDone } from './steps.js';
import { openWorkspace, type Workspace } from './workspace.js';

/** `path` is for messages. */
export function parsePlan(text: string, path: string): Plan | Problem {
  let data: unknown;
  try {
    data = JSON.parse(text);
  } catch (error) {
    return problem('plan-format', { path }, (error as Error).message);
  }
  return readPlan(data, path);
}

export function readPlan(data: unknown, path: string): Plan | Problem {
  const read = safeParse(planFormat, data);
  if (read.success) {
    const { files, steps } = read.output;
    return { files, steps: steps.map(withoutUndefined) };
  }
  const issue = read.issues[0];
  return problem('plan-format', { path }, `${getDotPath(issue) ?? 'the document'}: ${issue.message}`);
}

function withoutUndefined(step: PlanDocument['steps'][number]): PlanStep {
  const given = Object.entries(step).filter(([, value]) => value !== undefined);
  return Object.fromEntries(given) as unknown as PlanStep;
}

/** A step of a plan that was worked out and is not written yet. */
interface Planned extends StepDone {
  /** For a commit. */
  readonly message: string;
}

function placeAt({ start, end }: Span): Place {
  return { range: [start, end] };
}

/** `where`: how the text has moved by the steps before. */
async function planned(
  workspace: Workspace,
  step: PlanStep,
  where: Whereabouts,
  types: boolean,
): Promise<Planned | Problem> {
  const { name, path } = step;
  if (step.step === 'inline') {
    const done = await STEPS.inline(workspace, { component: `${path}#${name}` }, types);
    return isProblem(done) ? done : { ...done, message: `Put ${name} back into ${step.component}` };
  }
  if (step.step === 'function') {
    const done = await STEPS.function(workspace, { component: `${path}#${name}` }, types);
    return isProblem(done) ? done : { ...done, message: `Make ${name} a function` };
  }
  if (step.step === 'forms') {
    const done = await STEPS.forms(workspace, formsRequestOf(step), types);
    return isProblem(done) ? done : { ...done, message: `Write ${name} as one component for each form` };
  }
  if (step.step === 'inputs') {
    const done = await STEPS.inputs(workspace, inputsRequestOf(step), types);
    return isProblem(done) ? done : { ...done, message: `Take inputs that say nothing out of ${name}` };
  }
  if (step.step === 'through') {
    const done = await STEPS.through(workspace, throughRequestOf(step), types);
    return isProblem(done)
      ? done
      : { ...done, message: `Hand ${done.change.carried.join(', ')} through ${name} as content` };
  }
  if (step.step === 'home') {
    const { component, names, ...asked } = homeRequestOf(step);
    const done = await STEPS.home(workspace, { component, states: names, ...asked }, types);
    if (isProblem(done)) return done;
    const to = done.change.home.slice(done.change.home.lastIndexOf('#') + 1);
    return { ...done, message: `Keep ${name} of ${step.component} in ${to}` };
  }
  if (step.step === 'join' || step.step === 'part') {
    const done = await STEPS[step.step](workspace, { path }, types);
    const message =
      step.step === 'join' ? `Join template and script of ${path}` : `Part template and script of ${path}`;
    return isProblem(done) ? done : { ...done, message };
  }
  if (step.step === 'page') {
    const done = await STEPS.page(workspace, { path, into: step.into }, types);
    return isProblem(done) ? done : { ...done, message: `Write ${path} as the component ${name}` };
  }
  const span: Span = where.of(step);
  if (step.step === 'unify') {
    const found = repeatOf(workspace.project, step, where);
    if (!found) return problem('repeat-unknown', { path, span }, step.id, '');
    const wanted = where.seamOf(step);
    const more = { ...(step.asList ? { asList: true } : {}), ...(wanted ? { seam: wanted } : {}) };
    const done = await unifyFound(workspace, { ...found, name, ...more }, types);
    const message = `Make one ${name} of ${found.repeat.places.length} places`;
    return isProblem(done) ? done : { ...done, message };
  }
  const to = step.to === undefined ? {} : { to: step.to };
  if (step.step === 'hook') {
    const statements = where.partsOf(step).map(placeAt);
    const done = await STEPS.hook(workspace, { path, statements, name, ...to }, types);
    return isProblem(done) ? done : { ...done, message: `Take ${name} out of ${step.component}` };
  }
  if (step.step === 'module') {
    const what = step.names ? { names: step.names } : placeAt(span);
    const named = step.names ? {} : { name };
    const done = await STEPS.module(workspace, { path, what, ...named, ...to }, types);
    return isProblem(done) ? done : { ...done, message: `Take ${name} from ${path} to ${done.change.target}` };
  }
  const seam = where.seamOf(step);
  const slots = Object.entries(seam?.slots ?? {}).map(([slot, piece]) => [slot, placeAt(piece)] as const);
  const asked = seam ? { seam: { ...seam, slots: Object.fromEntries(slots) } } : {};
  const { helper, apart } = step;
  const at = helper === undefined ? (apart ? { component: step.component } : placeAt(span)) : { helper };
  const done = await STEPS.extract(workspace, { path, at, name, ...to, ...asked }, types);
  return isProblem(done) ? done : { ...done, message: `Extract ${name} from ${step.component}` };
}

/** A step of a plan that was written. */
export interface Taken {
  readonly done: StepDone;
  readonly document: ChangeDocument;
  /** Number of the change in the journal. */
  readonly id: number;
  readonly message: string;
}

/** Works a step out on the files as they are, and writes it where it is proven. */
export async function takeStep(
  workspace: Workspace,
  step: PlanStep,
  where: Whereabouts,
  types: boolean,
  journal: Journal,
): Promise<Taken | Problem> {
  const done = await planned(workspace, step, where, types);
  if (isProblem(done)) return done;
  const isNamed = step.step !== 'join' && step.step !== 'part' && step.step !== 'home';
  if (isNamed && done.change.name !== step.name) return problem('name-taken', done.at, step.name);
  const refused = stepTrouble(done);
  if (refused) return refused;
  // Put into words before writing: afterwards the files are other files.
  const document = changeDocument(done);
  const entry = journal.write(done.change, done.title);
  return isProblem(entry) ? entry : { done, document, id: entry.id, message: done.message };
}

/** Takes the steps of a plan one after another, each proven on the files that the one before left; stops at the first trouble. */
export async function takePlan(workspace: Workspace, plan: Plan, types: boolean): Promise<AppliedDocument | Problem> {
  const { root, env, project } = workspace;
  const trouble = planTrouble(project, plan);
  if (trouble) return trouble;
  const where = new Whereabouts(plan.steps);
  const steps: AppliedDocument['steps'] = [];
  for (const [i, step] of plan.steps.entries()) {
    const now = await openWorkspace(root, env);
    const taken = isProblem(now) ? now : await takeStep(now, step, where, types, new Journal(root));
    if (isProblem(taken)) {
      const { code, message, path } = taken;
      const left = plan.steps.slice(i).map(({ name }) => name);
      return { format: 'verkstad/applied@1', steps, left, stopped: { code, message, path } };
    }
    where.after(taken.done.change);
    steps.push(taken.document);
  }
  return { format: 'verkstad/applied@1', steps, left: [] };
}
