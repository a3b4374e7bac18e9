/** What the hook step asks of a language: the logic of a component that can stand by itself, and its text in one piece. */
import type { Ports, SourceFile } from './ports.js';
import type { Problem } from '../problems/problems.js';
import type { Edit, Span } from '../text/edits.js';

/** Statements of a component that belong together: state, and the effects and functions that fill it. */
export interface LogicGroup {
  /** In text order; they need not stand beside one another. */
  readonly statements: readonly Span[];
  /** The state that the others are about. */
  readonly subject: string;
  /** Names of the component that the statements read. */
  readonly inputs: readonly string[];
  /** Names that they declare and the rest of the component uses. */
  readonly results: readonly string[];
  /** All names that they declare. */
  readonly declared: readonly string[];
  /** Whether they keep, work out or wait for something, and are not functions alone. */
  readonly keeps: boolean;
}

/** Statements brought together. */
export interface Gathered {
  readonly edits: readonly Edit[];
  /** Where the statements stand after the edits, as one run. */
  readonly span: Span;
  /** Where a piece of that run stood before. */
  readonly before: (span: Span) => Span | undefined;
  /** The statements as they stand now, and the first state among them. */
  readonly statements: readonly Span[];
  readonly subject: string | undefined;
}

export interface Hooks {
  /** Groups of a component, in text order; no statement is in two of them. */
  readonly groups: (file: SourceFile, ports: Ports, component: Span) => readonly LogicGroup[] | Problem;
  /** Brings the statements that lie in the ranges together where each of them does what it did. */
  readonly gather: (file: SourceFile, ports: Ports, statements: readonly Span[]) => Gathered | Problem;
  /** `useInspections` for `inspections`. */
  readonly nameFor: (subject: string) => string;
}
