/** What the module step asks of a language: logic that can stand in a module, and the two texts afterwards. */
import type { Ports, SourceFile } from './ports.js';
import type { ProjectView } from './project.js';
import type { SeamEntry, TypeOracle } from './cutting.js';
import type { Problem } from '../problems/problems.js';
import type { Edit, Span } from '../text/edits.js';

/** What a person points at: declarations at the top of a script by their names, or code by its place. */
export type Wanted = { readonly names: readonly string[] } | { readonly span: Span };

export interface LeavingRequest {
  readonly project: ProjectView;
  readonly ports: Ports;
  readonly file: SourceFile;
  readonly wanted: Wanted;
  /** After what it sends or works out where it is left out. */
  readonly name: string | undefined;
  /** Project path of the module, which may be there already; one of its own where it is left out. */
  readonly target: string | undefined;
  readonly types: TypeOracle | undefined;
}

export interface LogicLeaving {
  /** Edits of the file. */
  readonly edits: readonly Edit[];
  readonly target: string;
  /** The whole text of the module. */
  readonly text: string;
  /** What the module gives that it did not give before, in its order. */
  readonly names: readonly string[];
  /** What the function takes; undefined where declarations went as they are. */
  readonly parameters: readonly SeamEntry[] | undefined;
  /** The code that went: from its beginning to its end in the file before. */
  readonly region: Span;
  readonly notes: readonly string[];
}

/** A request that a component sends by itself. */
export interface SentRequest {
  /** The code that can leave with it. */
  readonly span: Span;
  /** What a function of it is called. */
  readonly name: string;
  /** As it is written, without quotes: `/api/hives/${hive.id}/visits`. */
  readonly address: string;
  /** The module that it belongs in, by its address and the habits of the project. */
  readonly target: string;
}

export interface ToModule {
  readonly leave: (request: LeavingRequest) => LogicLeaving | Problem;
  /** In text order; none of those that cannot leave. */
  readonly requests: (project: ProjectView, file: SourceFile, ports: Ports) => readonly SentRequest[];
}
