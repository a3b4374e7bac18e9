/** What the extract step asks of a language where a function that gives markup back is to become a component, and the answers. */
import type { Ports, SourceFile } from './ports.js';
import type { Problem } from '../problems/problems.js';
import type { ProjectView } from './project.js';
import type { Edit, Span } from '../text/edits.js';

export interface HelperRequest {
  readonly project: ProjectView;
  readonly ports: Ports;
  readonly file: SourceFile;
  /** The function: `renderNote`, or `Harvest.renderNote` where several have that name. */
  readonly name: string;
}

export interface Helper {
  /** Without the component that it is in. */
  readonly name: string;
  /** What it shows where it shows something. */
  readonly shown: Span;
  /** The component that it shows, where one tag with nothing in it is all. */
  readonly tag: string | undefined;
  /** Where it is called, or handed over. */
  readonly uses: readonly Span[];
}

export interface Dissolving {
  /** Where the function began. */
  readonly start: number;
  readonly edits: readonly Edit[];
  /** The comment above it, its lines as far to the left as they go; empty where there is none. */
  readonly above: string;
  /** Comments in it that nothing is left for, each on one line. */
  readonly comments: readonly string[];
}

/** Capability of a language: functions that give markup back, and that can go. */
export interface Dissolves {
  /** Names of all such functions of a file, those that cannot go among them; each means one of them. */
  list(request: Omit<HelperRequest, 'name'>): readonly string[];
  /** A function by its name, or why it cannot go. */
  find(request: HelperRequest): Helper | Problem;
  /** What the function gives back in the place of each of its calls, and the function gone. */
  dissolve(request: HelperRequest): Dissolving | Problem;
}
