/**
 * The one interface of a language. Analyses and steps work on the model and call this; nothing outside the folder of a
 * language asks which language it is in.
 */
import type { ModuleModel, Markup } from '../markup/model.js';
import type { Dissolves } from './dissolving.js';
import type { Forms } from './forming.js';
import type { Carries } from './carrying.js';
import type { Fixes } from './fixing.js';
import type { Homes } from './homing.js';
import type { Hypertext, ReadPage } from './hypertext.js';
import type { Joined } from './joining.js';
import type { Problem } from '../problems/problems.js';
import type { Ports, SourceFile } from './ports.js';
import type { ProjectView } from './project.js';
import type { CutRequest, Cutting } from './cutting.js';
import type { Hooks } from './hooking.js';
import type { Inlines } from './inlining.js';
import type { UnifyPlace, UnifyRequest, Unifying } from './unifying.js';
import type { ToFunction } from './to-function.js';
import type { ToModule } from './to-module.js';
import type { ProofModule } from './proof-module.js';
import type { FileSet } from '../files/files.js';
import type { Edit, Span } from '../text/edits.js';

/** A file as TypeScript, for the type checker. */
export interface TypedText {
  readonly text: string;
  /** Where a span of the file stands in that text; undefined where it does not. */
  at(span: Span): Span | undefined;
}

export interface SettleRequest {
  readonly file: SourceFile;
  /** What is new in it. */
  readonly changed: readonly Span[];
  /** The project, for the formatter's configuration. */
  readonly files: FileSet;
  readonly ports: Ports;
}

export interface LogicModules {
  /** What the module ends in that takes logic of a file: `.ts`. */
  readonly extension: (file: SourceFile, ports: Ports) => string;
  /** Whether a piece that stands at several places can be made one. */
  readonly unifies: (piece: LogicPiece) => boolean;
  /**
   * What to call a function by the keys that it stands under, innermost first, where its own says only what it is for; undefined
   * where that says what it does.
   */
  readonly nameUnder?: (keys: readonly string[]) => string | undefined;
}

/** Logic as `repeats` knows it. */
export interface LogicPiece {
  readonly text: string;
  /** All of a function that is no part of another one. */
  readonly isFunction: boolean;
  /** It may ask for more than names that can be handed over: `this`, what a hook keeps, a name that is written. */
  readonly hangs: boolean;
  /** How many things differ between the places. */
  readonly inputs: number;
}

/** What is known of a language before it is loaded. */
export interface LanguageAbout {
  /** The name of its folder, of its fixtures, and of what `--into` is given. */
  readonly id: string;
  /** For people: "JSX and TSX". */
  readonly label: string;
  /** Ends of the files that are in it, with the dot; no two languages have one in common. */
  readonly extensions: readonly string[];
  /** Languages of files that its own files come with, by their ids: the modules that a component takes its logic from. */
  readonly needs?: readonly string[];
}

/** What a person can ask for in a language; docs/languages.md says of each language which of it there is. */
export const CAPABILITIES = [
  'cut',
  'dissolve',
  'apart',
  'unify',
  'list',
  'frame',
  'logic',
  'hook',
  'module',
  'function',
  'forms',
  'home',
  'raise',
  'through',
  'inputs',
  'inline',
  'join',
  'page',
  'styles',
  'types',
  'render',
] as const;
export type Capability = (typeof CAPABILITIES)[number];

export interface Language extends LanguageAbout {
  /** What there is none of, and why: words to stand behind the name of the language. */
  readonly lacks: Partial<Readonly<Record<Capability, string>>>;
  /** Whether a component that cannot be seen looks at its children one by one, by its tag. */
  readsChildren(tag: string): boolean;
  /** Reads a file into the model, or says why it cannot. */
  read(file: SourceFile, ports: Ports): ModuleModel | Problem;
  /** Every list of siblings in the file, outermost first, in which a region can be chosen. */
  lists(file: SourceFile, ports: Ports): readonly (readonly Markup[])[] | Problem;
  /** Every name that means something in the file: a new name must be none of them. */
  names(file: SourceFile, ports: Ports): ReadonlySet<string>;
  /**
   * Where a new component cut out of `hostPath` goes, by the habits of the project; with `logicExtension`, a module of logic
   * that ends so.
   */
  fileFor(project: ProjectView, hostPath: string, name: string, logicExtension?: string): string;
  /** Capability: cuts a region out into a component. Absent where the language has no components of its own. */
  readonly cut?: (request: CutRequest) => Cutting | Problem;
  /** Capability: one component for several places. Absent where `cut` is. */
  readonly unify?: (request: UnifyRequest) => Unifying | Problem;
  /** Capability: joins lines of new text that fit in one, as the project's formatter would; edits of the file's text. */
  readonly settle?: (request: SettleRequest) => readonly Edit[];
  /** Capability: logic in modules of its own. */
  readonly logic?: LogicModules;
  /** Capability: why a stretch of markup can become no component, whatever it is given, as far as that shows at little cost. */
  readonly barred?: (project: ProjectView, ports: Ports, place: UnifyPlace) => Problem | undefined;
  /** Capability: the ref of an element is a value like any other. */
  readonly refsAreValues?: true;
  /** Capability: an element takes a record of attributes beside those that it has. */
  readonly opensRecords?: true;
  /** Capability: content that is handed over may use names of the place where it is shown. */
  readonly scopedContent?: true;
  /** Capability: logic of a component in a hook of its own. */
  readonly hooks?: Hooks;
  /** Capability: a component that is a class becomes a function. */
  readonly functions?: ToFunction;
  /** Capability: one component for each form of one that asks the same in many places. */
  readonly forms?: Forms;
  /** Capability: requests, calculations and constants leave for modules. */
  readonly toModule?: ToModule;
  /** Capability: a function that gives markup back becomes a component, and is gone. */
  readonly dissolving?: Dissolves;
  /** Capability: a component put back where it is used. */
  readonly inlining?: Inlines;
  /** Capability: state goes to the component that is its home. */
  readonly homes?: Homes;
  /** Capability: what a component only hands on goes through it as content. */
  readonly carries?: Carries;
  /** Capability: inputs that say nothing leave a component. */
  readonly fixes?: Fixes;
  /** Capability: a file that the type checker cannot read as it is. */
  readonly typed?: (file: SourceFile, ports: Ports) => TypedText | undefined;
  /** Capability: a file that is a page, whose markup can become a component of another language. */
  readonly page?: ReadPage;
  /** Capability: plain markup written in this language. */
  readonly hypertext?: Hypertext;
  /** Capability: template and script of a component together, or in files of their own. */
  readonly joining?: Joined;
  /**
   * Capability: a module that components of this language take logic from, as the proof compares it, given as its own language
   * reads it; undefined where nothing in it is of this language.
   */
  readonly proveModule?: (module: ProofModule) => ProofModule | undefined;
  /** Capability: the written text as the proof compares it. */
  readonly prove?: (file: SourceFile, ports: Ports) => ProofModule | Problem;
}
