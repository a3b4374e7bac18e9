/**
 * What the proof compares. The form is TS-ESTree with JSX nodes for markup; a language whose templates are written
 * otherwise lowers them to this form. Read afresh from the written text: nothing here comes from a step.
 */
import type { Node, ParsedScript } from '../script/parser.js';
import type { CallNames } from '../script/quiet.js';
import type { ScriptScopes } from '../script/scopes.js';

export interface ProofModule {
  readonly path: string;
  readonly text: string;
  readonly script: ParsedScript;
  readonly scopes: ScriptScopes;
  /** Text between tags as the language renders it; empty when nothing is rendered. */
  readonly renderedText: (raw: string) => string;
  /** Calls that keep something for as long as the component lives, beside those that are named like hooks. */
  readonly keeps?: ReadonlySet<string>;
  /** Attributes that a component does not take land on what it shows. */
  readonly fallsThrough?: boolean;
  /** What the file says of its elements: pragma comments, in their order. */
  readonly pragma?: string;
  /** Set where a component that cannot be seen looks at its children, by its tag. */
  readonly readsChildren?: (tag: string) => true | undefined;
  /** Names of the instance that mean another thing in another component. */
  readonly ownName?: (name: string) => boolean;
  /** Set where the component does something whenever it has been rendered again. */
  readonly rerenders?: boolean;
  /** Calls whose function runs when what it gives is read. */
  readonly lazy?: ReadonlySet<string>;
  /** Set where components can look at those around and inside of them, whatever these are given. */
  readonly neighbours?: Neighbours;
  /**
   * Set where a component calls the functions that it holds with itself as `this`: the made name behind a member of `this`, or
   * behind what a call on it calls; undefined for what is left as it is written.
   */
  readonly instance?: (node: Node) => string | undefined;
  /** Set where a made call gives something that holds a value: the name of the value, when it is asked for by `member`. */
  readonly held?: (call: Node, member?: string) => Node | undefined;
  /** Set where something that was handed over is called: what the call comes to calls, by its first argument. */
  readonly heldCallee?: (callee: Node, first: Node | undefined) => Node | undefined;
  /** Set where a name, at some places, gives what is held by what it stands for. */
  readonly opensAt?: (name: Node) => boolean;
  /** The calls that mean something for the order of statements, where they are not those of hooks. */
  readonly calls?: CallNames;
  /**
   * Set where what names stand for changes: `now` where code reads a name that whatever is called may change, `later` where
   * that takes until something else has run.
   */
  readonly changing?: (node: Node) => 'now' | 'later' | undefined;
  /** Names that the markup uses and that nothing in the file declares. */
  readonly undeclared?: readonly string[];
}

/** How the text of a component says that it looks at others. */
export interface Neighbours {
  /** At the component around it. */
  readonly outward: (text: string) => boolean;
  /** At the components inside of it. */
  readonly inward: (text: string) => boolean;
  /** Whether a tag of the framework's own stands in between; some only pass on what they hold. */
  readonly isBetween: (tag: string) => boolean;
  /** Sources of the modules that it gets members from. */
  readonly basesOf: (text: string) => readonly string[];
  /** The name behind an attribute that only the component around it may know, where a base of it says so. */
  readonly known: (text: string, attribute: string) => string | undefined;
}
