/** What the inline step asks of a language, and what a language answers. */
import type { Ports, SourceFile } from './ports.js';
import type { Problem } from '../problems/problems.js';
import type { ProjectView } from './project.js';
import type { Edit, Span } from '../text/edits.js';

/** A component that is put back. */
export interface Putting {
  readonly file: SourceFile;
  readonly name: string;
  /** Where it is declared. */
  readonly span: Span;
}

export interface InlineRequest {
  readonly project: ProjectView;
  readonly ports: Ports;
  readonly component: Putting;
  /** The file with the use, which can be that of the component. */
  readonly file: SourceFile;
  /** One tag that shows the component, with its content. */
  readonly use: Span;
  /** Whether what the component needs of its own file comes along; otherwise it is exported there. */
  readonly brings: boolean;
  /** Whether there are other uses. */
  readonly repeated: boolean;
  /** Names that came along with an earlier use. */
  readonly brought: ReadonlySet<string>;
  /** It may return in more than one place: the text is only for comparing. */
  readonly returnsEarly: boolean;
}

export interface Inlining {
  readonly edits: readonly Edit[];
  /** Edits to the component's own file, where that is another one. */
  readonly ownEdits: readonly Edit[];
  readonly brought: readonly string[];
  readonly notes: readonly string[];
}

/** Capability of a language: markup of a component in the place of a tag that shows it. */
export interface Inlines {
  /** A use written out. */
  inline(request: InlineRequest): Inlining | Problem;
  /**
   * What is left of the file when the component goes, and what came along with it; nothing, where that was all.
   * `shared`: other files take something else from it.
   */
  without(
    component: Putting,
    ports: Ports,
    brought: ReadonlySet<string>,
    shared: boolean,
  ): readonly Edit[] | 'nothing' | Problem;
}
