/** What the function step asks of a language: a component that is a class, written as a function, and whether both are the same. */
import type { Ports, SourceFile } from './ports.js';
import type { ProjectView } from './project.js';
import type { Problem } from '../problems/problems.js';
import type { Edit, Span } from '../text/edits.js';

export interface FunctionRequest {
  readonly project: ProjectView;
  readonly ports: Ports;
  readonly file: SourceFile;
  /** The name of the class. */
  readonly component: string;
}

export interface WrittenFunction {
  readonly edits: readonly Edit[];
  /** The class, in the text before. */
  readonly region: Span;
  /** What the names in the function stand for in the class: states, functions and what it keeps, by the names there. */
  readonly names: ReadonlyMap<string, string>;
  /** States that it keeps, as the class calls them. */
  readonly states: readonly string[];
  /** Functions that are made anew with each rendering now, by the tags that they are handed to and as what. */
  readonly handed: ReadonlyMap<string, readonly { readonly tag: string; readonly prop: string }[]>;
  readonly notes: readonly string[];
}

/** Where the two say something else, in words. */
export type Deviation = { readonly detail: string } | undefined;

/** Capability of a language: components that are classes, and that can be functions. */
export interface ToFunction {
  /** Names of all classes of a file that are components. */
  readonly list: (file: SourceFile, ports: Ports) => readonly string[];
  readonly write: (request: FunctionRequest) => WrittenFunction | Problem;
  /** Both texts read anew: the class of the first with the function of the second. */
  readonly compare: (before: SourceFile, after: SourceFile, written: WrittenFunction, ports: Ports) => Deviation;
}
