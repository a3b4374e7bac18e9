/** What the home step asks of a language: state of one component, kept in another one that it shows or that shows it. */
import type { Ports } from './ports.js';
import type { ProjectView } from './project.js';
import type { SeamEntry, TypeOracle } from './cutting.js';
import type { Putting } from './inlining.js';
import type { Problem } from '../problems/problems.js';
import type { Edit, Span } from '../text/edits.js';

export interface HomeRequest {
  readonly project: ProjectView;
  readonly ports: Ports;
  readonly types: TypeOracle | undefined;
  readonly outer: Putting;
  /** What `outer` shows at one place. */
  readonly inner: Putting;
  /** The tag of `inner`, with its content. */
  readonly use: Span;
  /** Names of what is kept. */
  readonly names: readonly string[];
  /** A person wants it although it would live for another time. */
  readonly newLifetime: boolean;
}

export interface Homing {
  readonly edits: ReadonlyMap<string, readonly Edit[]>;
  /** New files. */
  readonly files: ReadonlyMap<string, string>;
  /** Names that the one component no longer declares and the other does. */
  readonly moved: readonly string[];
  /** What was asked for, as the other component calls it. */
  readonly names: readonly string[];
  /** What the inner component is given now and was not before, and the other way round. */
  readonly added: readonly SeamEntry[];
  readonly dropped: readonly string[];
  /** Those edits of `outer` that take away calls which set a state back to what it begins with. */
  readonly resets: readonly Edit[];
  readonly notes: readonly string[];
}

/** Capability of a language: state goes to another component. */
export interface Homes {
  /** From `outer` into `inner`, with all that only it needs there. */
  readonly down: (request: HomeRequest) => Homing | Problem;
  /** From `inner` into `outer`, which hands it down again; absent where that is not written yet. */
  readonly up?: (request: HomeRequest) => Homing | Problem;
  /**
   * Edits after which the tag is shown as long as the component around it, for comparing what is written otherwise; nothing
   * where it is so already.
   */
  lasting(outer: Putting, use: Span, ports: Ports): readonly Edit[];
}
