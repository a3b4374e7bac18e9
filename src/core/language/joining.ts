/** Template and script of a component in one file or in files of their own: what the steps ask, and what a language answers. */
import type { ProjectView } from './project.js';
import type { Problem } from '../problems/problems.js';
import type { Edit } from '../text/edits.js';

export interface Joining {
  /** Names of the components that were written anew. */
  readonly components: readonly string[];
  /** By path. */
  readonly edits: ReadonlyMap<string, readonly Edit[]>;
  readonly created: ReadonlyMap<string, string>;
  readonly deleted: readonly string[];
  readonly notes: readonly string[];
  /** Components as the files before say them, each as one file: what the written ones are compared with. */
  readonly before: ReadonlyMap<string, string>;
}

export interface JoinOptions {
  /** What comes out may need a bundler, even where the project names none. */
  readonly build?: boolean;
}

export interface Joined {
  /** Of any file of the project: undefined where it holds nothing to join. */
  join(project: ProjectView, path: string, options: JoinOptions): Joining | Problem | undefined;
  part(project: ProjectView, path: string): Joining | Problem;
  /** The text of a component with all that stands elsewhere for it. */
  whole(project: ProjectView, path: string): string | Problem;
}
