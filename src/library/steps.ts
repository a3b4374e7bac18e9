/** Every kind of step, registered once: the command line, plans and the library do it from here. */
import {
  apart,
  dissolve,
  extract,
  findComponent,
  forms,
  through,
  inputs,
  home,
  hook,
  inline,
  isProblem,
  join,
  Lines,
  loadLanguages,
  module,
  toFunction,
  page,
  part,
  problem,
  textOf,
  unify,
  type Change,
  type ExtractChange,
  type ExtractRequest,
  type HomeChange,
  type HookChange,
  type InlineChange,
  type JoinChange,
  type FormsChange,
  type ThroughChange,
  type InputsChange,
  type FunctionChange,
  type ModuleChange,
  type PageChange,
  type Problem,
  type Project,
  type ProofResult,
  type PropsStyle,
  type Repeat,
  type Repeats,
  type Seam,
  type Span,
  type TypeOracle,
  type UnifyChange,
  type RepeatSeam,
  type WantedSeam,
} from '../core/index.js';
import { pathsAsked, repeatCalled } from './asked.js';
import type { ChangeDocument } from './formats/index.js';
import { placesOf } from './places.js';
import { checkTypes, hasTypes, typesFor, type TypesAnswer } from './types.js';
import type { Workspace } from './workspace.js';

/** A piece of a file: its first and last line, 1-based and inclusive, or `[start, end)` in UTF-16 offsets. */
export type Place = { readonly lines: readonly [number, number] } | { readonly range: readonly [number, number] };

/** What only some requests say about the component, hook or function that comes of them. */
interface Made {
  /** Chosen from what the code says where it is left out. */
  readonly name?: string;
  /** Path of the new file, relative to the root. */
  readonly to?: string;
}

/**
 * What a person decides of what crosses. Names of inputs and events may take parameters, which stand for any code where the
 * expression is looked for: `{ 'choose(id)': 'setChosen(id)' }`.
 */
export interface SeamAsked extends Omit<WantedSeam, 'slots'> {
  /** Pieces of the region that stay written in the host, by the slot that takes them; `children` stands between the tags. */
  readonly slots?: Readonly<Record<string, Place>>;
}

interface UnifyRequested extends Made {
  /** Of a group, as `repeats` gives it. */
  readonly id: string;
  /** The files or folders that `repeats` was asked for. */
  readonly paths?: readonly string[];
  /** Numbers of the places, from 1; all where they are left out. */
  readonly only?: readonly number[];
  /** Id of the language to write in, for pages. */
  readonly into?: string;
  /** Places of slots are those of the first place's file. */
  readonly seam?: Pick<SeamAsked, 'inputs' | 'events' | 'slots'>;
}

/** What is cut out, by a name of the file. */
export type NamedPiece = { readonly helper: string } | { readonly component: string };

/** What is asked of each kind of step. */
export interface StepRequests {
  readonly extract: Made & {
    readonly path: string;
    /**
     * Or a function that gives markup back, by its name: it becomes a component, and is gone. Or a component, by its name: all that
     * it shows becomes one that only takes and reports, and what it keeps and does stays.
     */
    readonly at: Place | NamedPiece;
    readonly props?: PropsStyle;
    /** The component stays in the file. */
    readonly sameFile?: boolean;
    readonly into?: string;
    readonly seam?: SeamAsked;
  };
  readonly hook: Made & { readonly path: string; readonly statements: readonly Place[] };
  readonly module: Made & {
    readonly path: string;
    /** Code of a component, or declarations of the file by their names. */
    readonly what: Place | { readonly names: readonly string[] };
  };
  readonly home: {
    /** The component that keeps them: a name, or `path#Name` where several have it. */
    readonly component: string;
    readonly states: readonly string[];
    /** The component that is to keep them, below or above; the lowest one that all uses are in, where it is left out. */
    readonly in?: string;
    /** Do it although they would live for another time. */
    readonly newLifetime?: boolean;
  };
  /** A component that is a class: a name, or `path#Name` where several have it. */
  readonly function: { readonly component: string };
  /** A component that asks the same in many places. */
  readonly forms: {
    /** A name, or `path#Name` where several have it. */
    readonly component: string;
    /** The value that decides, or what it is compared with, as the component writes it. */
    readonly by: string;
    /** Of the new components, in the order in which it asks for the answers. */
    readonly names?: readonly string[];
    /** Do it although what stands in several forms would be made anew when the answer changes. */
    readonly newLifetime?: boolean;
  };
  /** A component with inputs that no place hands over, or every place alike. */
  readonly inputs: {
    /** A name, or `path#Name` where several have it. */
    readonly component: string;
    /** Of its inputs; all that say nothing, where they are left out. */
    readonly names?: readonly string[];
  };
  /** A component that hands on what it does not use. */
  readonly through: {
    /** A name, or `path#Name` where several have it. */
    readonly component: string;
    /** Names of its inputs; all that it only hands on, where they are left out. */
    readonly inputs?: readonly string[];
    /** The component above in which it is to be written; as far up as possible, where it is left out. */
    readonly in?: string;
  };
  readonly inline: {
    /** A name, or `path#Name` where several have it. */
    readonly component: string;
    /** The one use that goes back; the component stays. */
    readonly use?: { readonly path: string; readonly at: Place };
  };
  readonly unify: UnifyRequested & { readonly asList?: boolean };
  readonly frame: UnifyRequested;
  readonly join: { readonly path: string; readonly build?: boolean };
  readonly part: { readonly path: string };
  readonly page: { readonly path: string; readonly into: string };
}

export interface StepChanges {
  readonly extract: ExtractChange;
  readonly forms: FormsChange;
  readonly through: ThroughChange;
  readonly inputs: InputsChange;
  readonly function: FunctionChange;
  readonly home: HomeChange;
  readonly hook: HookChange;
  readonly inline: InlineChange;
  readonly unify: UnifyChange;
  readonly frame: UnifyChange;
  readonly join: JoinChange;
  readonly module: ModuleChange;
  readonly part: JoinChange;
  readonly page: PageChange;
}

export type StepName = keyof StepRequests;

/** What every step's change has. */
export interface StepChange extends Change {
  readonly name: string;
  readonly target: string;
  readonly seam: Seam;
  readonly proof: ProofResult;
}

/** A step that was worked out; nothing is written. */
export interface StepDone<C extends StepChange = StepChange> {
  readonly change: C;
  readonly types: TypesAnswer;
  /** The place that a refusal points to. */
  readonly at: { readonly path: string; readonly span: Span };
  /** For the record. */
  readonly title: string;
  /** What only this kind of step says of its change. */
  readonly document: Partial<ChangeDocument>;
}

type Steps = {
  readonly [K in StepName]: (
    workspace: Workspace,
    request: StepRequests[K],
    wantsTypes: boolean,
  ) => Promise<StepDone<StepChanges[K]> | Problem>;
};

/** The types of the first changed file that has any. */
async function typesOf(workspace: Workspace, { files }: Pick<Change, 'files'>, wantsTypes: boolean) {
  const typed = files.map((f) => f.path).find((path) => hasTypes(workspace.project, path));
  return wantsTypes && typed !== undefined ? typesFor(workspace, typed) : undefined;
}

export const STEPS: Steps = {
  async extract(workspace, { at, ...request }, wantsTypes) {
    const piece = isNamed(at) ? at : spanIn(workspace, request.path, at);
    if (isProblem(piece)) return piece;
    const { seam: asked, ...rest } = request;
    const seam = asked && seamIn(workspace, request.path, asked);
    if (isProblem(seam)) return seam;
    return cut(workspace, { ...rest, piece, ...(seam ? { seam } : {}) }, wantsTypes);
  },

  async hook(workspace, { path, statements: places, ...made }, wantsTypes) {
    const statements: Span[] = [];
    for (const place of places) {
      const span = spanIn(workspace, path, place);
      if (isProblem(span)) return span;
      statements.push(span);
    }
    const oracle = await typesFor(workspace, path);
    const change = hook(workspace.project, { path, statements, ...made, ...(oracle ? { types: oracle } : {}) });
    if (isProblem(change)) return change;
    return {
      change,
      types: await checkTypes(workspace, change, oracle, wantsTypes),
      at: { path, span: change.region },
      title: `take ${change.name} out of ${path}`,
      document: { taken: takenOf(workspace, path, change.region) },
    };
  },

  async module(workspace, { path, what, ...made }, wantsTypes) {
    const span = 'names' in what ? undefined : spanIn(workspace, path, what);
    if (isProblem(span)) return span;
    const wanted = 'names' in what ? what : { span: span! };
    const oracle = await typesFor(workspace, path);
    const change = module(workspace.project, { path, wanted, ...made, ...(oracle ? { types: oracle } : {}) });
    if (isProblem(change)) return change;
    return {
      change,
      types: await checkTypes(workspace, change, oracle, wantsTypes),
      at: { path, span: change.region },
      title: `take ${change.name} from ${path} to ${change.target}`,
      document: { taken: takenOf(workspace, path, change.region) },
    };
  },

  async function(workspace, { component }, wantsTypes) {
    const from = findComponent(workspace.project, component);
    if (isProblem(from)) return from;
    const { path } = from;
    const change = toFunction(workspace.project, { path, component: from.component.name });
    if (isProblem(change)) return change;
    const oracle = wantsTypes ? await typesFor(workspace, path) : undefined;
    return {
      change,
      types: await checkTypes(workspace, change, oracle, wantsTypes),
      at: { path, span: change.region },
      title: `make ${change.name} a function`,
      document: { taken: takenOf(workspace, path, change.region) },
    };
  },

  async forms(workspace, asked, wantsTypes) {
    const from = findComponent(workspace.project, asked.component);
    if (isProblem(from)) return from;
    const { path } = from;
    const oracle = await typesFor(workspace, path);
    const types = (project: Project, at: string) => {
      oracle!.use(project.files, [at]);
      return oracle;
    };
    const change = forms(workspace.project, { ...asked, ...(oracle ? { types } : {}) });
    if (isProblem(change)) return change;
    return {
      change,
      types: await checkTypes(workspace, change, oracle, wantsTypes),
      at: { path, span: change.region },
      title: `write ${change.forms.map((form) => form.name).join(', ')} for ${change.name}`,
      document: { taken: takenOf(workspace, path, change.region) },
    };
  },

  async inputs(workspace, asked, wantsTypes) {
    const from = findComponent(workspace.project, asked.component);
    if (isProblem(from)) return from;
    const change = inputs(workspace.project, asked);
    if (isProblem(change)) return change;
    return {
      change,
      types: await checkTypes(workspace, change, await typesOf(workspace, change, wantsTypes), wantsTypes),
      at: { path: from.path, span: { start: from.component.start, end: from.component.end } },
      title: `take ${change.fixed.map((f) => f.name).join(', ')} out of ${change.name}`,
      document: {},
    };
  },

  async through(workspace, asked, wantsTypes) {
    const from = findComponent(workspace.project, asked.component);
    if (isProblem(from)) return from;
    const change = through(workspace.project, asked);
    if (isProblem(change)) return change;
    const oracle = await typesOf(workspace, change, wantsTypes);
    return {
      change,
      types: await checkTypes(workspace, change, oracle, wantsTypes),
      at: { path: from.path, span: { start: from.component.start, end: from.component.end } },
      title: `hand ${change.carried.join(', ')} through ${change.name} as content`,
      document: {},
    };
  },

  async home(workspace, { states: names, ...asked }, wantsTypes) {
    const from = findComponent(workspace.project, asked.component);
    if (isProblem(from)) return from;
    const { path, component } = from;
    const oracle = await typesFor(workspace, path);
    const change = home(workspace.project, { ...asked, names, ...(oracle ? { types: oracle } : {}) });
    if (isProblem(change)) return change;
    return {
      change,
      types: await checkTypes(workspace, change, oracle, wantsTypes),
      at: { path, span: { start: component.start, end: component.end } },
      title: `keep ${change.name} in ${change.home}`,
      document: {},
    };
  },

  async inline(workspace, { component, use }, wantsTypes) {
    const range = use && spanIn(workspace, use.path, use.at);
    if (isProblem(range)) return range;
    const at = use && range ? { at: { path: use.path, range } } : {};
    const change = inline(workspace.project, { component, ...at });
    if (isProblem(change)) return change;
    const oracle = await typesOf(workspace, change, wantsTypes);
    const [first] = change.uses;
    return {
      change,
      types: await checkTypes(workspace, change, oracle, wantsTypes),
      at: { path: first!.path, span: first!.span },
      title: `inline ${change.name} into ${change.target}`,
      document: { places: change.uses.map(({ path, span }) => takenOf(workspace, path, span)) },
    };
  },

  unify: (workspace, request, wantsTypes) => madeOne(workspace, 'unify', request, wantsTypes),
  frame: (workspace, request, wantsTypes) => madeOne(workspace, 'frame', request, wantsTypes),

  async join(workspace, { path, ...options }) {
    // Files of any language can hold pieces of a component.
    await loadLanguages();
    return placed(path, join(workspace.project, path, options));
  },

  async part(workspace, { path }) {
    await loadLanguages();
    return placed(path, part(workspace.project, path));
  },

  async page(workspace, { path, into }, wantsTypes) {
    const change = page(workspace.project, { path, into });
    if (isProblem(change)) return change;
    const types = await checkTypes(workspace, change, await typesFor(workspace, path), wantsTypes);
    const span = { start: 0, end: textOf(workspace.project.files, path)?.length ?? 0 };
    return { change, types, at: { path, span }, title: `write ${path} as ${change.name}`, document: {} };
  },
};

/** The offsets of a place, or why there is no such place. */
function spanIn({ project }: Workspace, path: string, place: Place): Span | Problem {
  const text = textOf(project.files, path);
  if (text === undefined) return problem('file-unknown', { path });
  const lines = new Lines(text);
  if ('range' in place) {
    const [start, end] = place.range;
    return start <= end && end <= text.length ? { start, end } : problem('range-outside', { path }, lines.count);
  }
  const [from, to] = place.lines;
  const start = lines.lineStart(from);
  if (start === undefined || to < from || to > lines.count) return problem('range-outside', { path }, lines.count);
  return { start, end: lines.lineEnd(to) };
}

function seamIn(workspace: Workspace, path: string, { slots, ...seam }: SeamAsked): WantedSeam | Problem {
  const pieces: Record<string, Span> = {};
  for (const [name, place] of Object.entries(slots ?? {})) {
    const span = spanIn(workspace, path, place);
    if (isProblem(span)) return span;
    pieces[name] = span;
  }
  return { ...seam, slots: pieces };
}

function isNamed(piece: Place | Span | NamedPiece): piece is NamedPiece {
  return 'helper' in piece || 'component' in piece;
}

function cutOf(project: Project, request: Omit<ExtractRequest, 'range'>, piece: Span | NamedPiece) {
  if (!isNamed(piece)) return extract(project, { ...request, range: piece });
  return 'helper' in piece ? dissolve(project, { ...request, ...piece }) : apart(project, { ...request, ...piece });
}

/** Cuts with whole objects first; where that loses a narrowed type, once more member by member. */
async function cut(
  workspace: Workspace,
  {
    path,
    piece,
    props,
    ...asked
  }: Omit<StepRequests['extract'], 'at' | 'seam'> & {
    readonly piece: Span | NamedPiece;
    readonly seam?: WantedSeam;
  },
  wantsTypes: boolean,
): Promise<StepDone<ExtractChange> | Problem> {
  const file = workspace.project.source(path);
  if (isProblem(file)) return file;
  const oracle = await typesFor(workspace, path);
  const style = props ?? workspace.config.props ?? 'auto';
  const attempt = async (own: PropsStyle, types: TypeOracle | undefined) => {
    const request = { path, props: own, ...asked, ...(types ? { types } : {}) };
    const change = cutOf(workspace.project, request, piece);
    if (isProblem(change)) return change;
    return { change, types: await checkTypes(workspace, change, oracle, wantsTypes) };
  };
  const first = await attempt(style, oracle);
  if (isProblem(first)) return first;
  const again = first.types.answer === 'worse' && style === 'auto' ? await attempt('members', oracle) : first;
  const { change, types } = isProblem(again) || again.types.answer === 'worse' ? first : again;
  return {
    change,
    types,
    at: { path, span: change.region },
    title: `extract ${change.name} from ${path}`,
    document: {
      taken: takenOf(workspace, path, change.region),
      ...(change.dissolved ? { dissolved: change.dissolved.name } : {}),
    },
  };
}

async function madeOne(
  workspace: Workspace,
  step: 'unify' | 'frame',
  { id, paths, only, seam: wanted, ...asked }: StepRequests['unify'],
  wantsTypes: boolean,
): Promise<StepDone<UnifyChange> | Problem> {
  const among = pathsAsked(workspace, paths ?? []);
  if (isProblem(among)) return among;
  const found = repeatCalled(workspace, id, among);
  if (isProblem(found)) return found;
  const { repeat } = found;
  const wrong = only?.find((n) => n > repeat.places.length);
  if (wrong !== undefined) return problem('repeat-place', { path: '.' }, wrong, repeat.places.length);
  if ((repeat.kind === 'frame') !== (step === 'frame')) return problem('repeat-kind', { path: '.' }, id, repeat.kind);
  const chosen = only ? { only: only.map((n) => n - 1) } : {};
  const reference = repeat.places[repeat.alignment.reference]!.path;
  const seam = wanted && seamIn(workspace, reference, wanted);
  if (isProblem(seam)) return seam;
  return unifyFound(workspace, { ...found, ...asked, ...chosen, ...(seam ? { seam } : {}) }, wantsTypes);
}

/** The same of a group that was found before. */
export async function unifyFound(
  workspace: Workspace,
  asked: { readonly repeats: Repeats; readonly repeat: Repeat; readonly seam?: RepeatSeam } & Omit<
    StepRequests['unify'],
    'id' | 'paths' | 'seam'
  >,
  wantsTypes: boolean,
): Promise<StepDone<UnifyChange> | Problem> {
  const typed = asked.repeat.places.map((p) => p.path).find((path) => hasTypes(workspace.project, path));
  const oracle = typed === undefined ? undefined : await typesFor(workspace, typed);
  const change = unify(workspace.project, { ...asked, ...(oracle ? { types: oracle } : {}) });
  if (isProblem(change)) return change;
  const places = placesOf(workspace, change.repeat);
  return {
    change,
    types: await checkTypes(workspace, change, oracle, wantsTypes),
    at: { path: places[0]!.path, span: change.repeat.places[0]! },
    title: `${change.step} ${change.name} at ${places.length} places`,
    document: { places },
  };
}

function placed(path: string, change: JoinChange | Problem): StepDone<JoinChange> | Problem {
  if (isProblem(change)) return change;
  const types = { answer: 'skipped', errors: [], reason: 'the code is the same, in another file' } as const;
  const title = `${change.step} ${change.name} in ${path}`;
  return { change, types, at: { path, span: { start: 0, end: 0 } }, title, document: {} };
}

function takenOf({ project }: Workspace, path: string, { start, end }: Span): NonNullable<ChangeDocument['taken']> {
  const [first, last] = new Lines(textOf(project.files, path) ?? '').range({ start, end });
  return { path, lines: [first, last], range: [start, end] };
}

/** Why a step is not written: it is not proven, or brings type errors. */
export function stepTrouble({ change: { proof }, types, at }: StepDone): Problem | undefined {
  if (proof.answer !== 'same') {
    const code = proof.answer === 'different' ? 'proof-different' : 'proof-unknown';
    return problem(code, proof.before ?? at, proof.detail);
  }
  const first = types.answer === 'worse' ? types.errors[0]! : undefined;
  return first && problem('types-worse', at, `${first.path}: ${first.message}`);
}

export function changeDocument({ change, types, document }: StepDone): ChangeDocument {
  const { proof, seam } = change;
  return {
    format: 'verkstad/change@1',
    step: change.step,
    name: change.name,
    target: change.target,
    ...document,
    files: change.files.map(({ path, change: kind }) => ({ path, change: kind })),
    seam: { props: [...seam.props], events: [...seam.events], slots: [...seam.slots] },
    proof: { answer: proof.answer, ...(proof.answer === 'same' ? {} : { detail: proof.detail }) },
    types: {
      answer: types.answer,
      ...(types.reason ? { reason: types.reason } : {}),
      errors: types.errors.map(({ path, code, message }) => ({ path, code, message })),
    },
    notes: [...change.notes],
  };
}
