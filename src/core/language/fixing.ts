/** What the inputs step asks of a language: inputs that are the same everywhere, or handed over nowhere, written out in the component. */
import type { Problem } from '../problems/problems.js';
import type { Edit, Span } from '../text/edits.js';
import type { Putting } from './inlining.js';
import type { Ports, SourceFile } from './ports.js';
import type { ProjectView } from './project.js';

export interface FixRequest {
  readonly project: ProjectView;
  readonly ports: Ports;
  readonly component: Putting;
  /** Names of inputs, as the component calls them. */
  readonly names: readonly string[];
  /** Every tag that shows the component. */
  readonly uses: readonly { readonly file: SourceFile; readonly span: Span }[];
}

export interface Fixed {
  readonly name: string;
  /** As it was written at every use; undefined for what none handed over. */
  readonly value: string | undefined;
}

export interface Fixing {
  /** By path. */
  readonly edits: ReadonlyMap<string, readonly Edit[]>;
  readonly fixed: readonly Fixed[];
}

/** Capability of a language: a component without inputs that say nothing. */
export interface Fixes {
  fix(request: FixRequest): Fixing | Problem;
}
