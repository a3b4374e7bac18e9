/** What the through step asks of a language: a tag that goes through a component as content instead of what it takes. */
import type { Problem } from '../problems/problems.js';
import type { Edit, Span } from '../text/edits.js';
import type { Putting } from './inlining.js';
import type { Ports, SourceFile } from './ports.js';
import type { ProjectView } from './project.js';

export interface CarryRequest {
  readonly project: ProjectView;
  readonly ports: Ports;
  /** The component that hands on what it does not use. */
  readonly component: Putting;
  /** A tag in it without content, of a component that stands in the file or is imported; what it is given are names of the component. */
  readonly part: Span;
  /** Whether what the tag's component shows is written in its place afterwards. */
  readonly opens: boolean;
  /** Every tag that shows the component. */
  readonly uses: readonly { readonly file: SourceFile; readonly span: Span }[];
  /** What the content is called; undefined for what stands between the tags. */
  readonly slot: string | undefined;
}

export interface Carrying {
  /** By path: the tag where the component is shown, and a place for content where it was. */
  readonly edits: ReadonlyMap<string, readonly Edit[]>;
  /** What the component is no longer given. */
  readonly dropped: readonly string[];
  /** What the text alone does not decide. */
  readonly notes: readonly string[];
}

/** Capability of a language: content that goes through a component. */
export interface Carries {
  /** Whether components may stand in one file, so that the tag's can stand where the component does. */
  readonly together: boolean;
  /** Undefined where the tag cannot stand elsewhere as it is. */
  asContent(request: CarryRequest): Carrying | Problem | undefined;
}
