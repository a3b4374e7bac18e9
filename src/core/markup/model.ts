/**
 * The one specification of the markup tree. Every language reads into it; every analysis and step works on it.
 *
 * All spans are UTF-16 offsets into the file of the component. A tree is immutable once read.
 */
import type { Node, ParsedScript } from '../script/parser.js';
import type { Span } from '../text/edits.js';

/** Code in the markup: where it stands, and its syntax as TS-ESTree with offsets into the file. */
export interface Code extends Span {
  readonly syntax: Node;
}

export type Markup =
  | ElementNode
  | TextNode
  | ExpressionNode
  | BranchNode
  | LoopNode
  | OutletNode
  | FragmentNode
  | CommentNode
  | OpaqueNode;

export interface ElementNode extends Span {
  readonly kind: 'element';
  /** As written: `div`, `HiveCard`, `Tabs.Panel`. */
  readonly name: string;
  /** A reference to a component, not a native element. */
  readonly component: boolean;
  /** The variable behind the tag, where that has a name of another kind. */
  readonly local?: string;
  readonly attributes: readonly Attribute[];
  readonly children: readonly Markup[];
}

/** `slot`: content for a named outlet of the component, in `parts`. */
export type AttributeKind = 'static' | 'bound' | 'event' | 'two-way' | 'spread' | 'ref' | 'key' | 'directive' | 'slot';

export interface Attribute extends Span {
  readonly kind: AttributeKind;
  /** Empty for a spread. */
  readonly name: string;
  /** The literal text of a static attribute; undefined where the attribute stands without a value. */
  readonly text?: string;
  /** The value of a static attribute, its quotes included. */
  readonly quoted?: Span;
  /** The text is a path, or a list of them, that the compiler asks for as it does for modules. */
  readonly asset?: boolean;
  /** The code of the value, without braces. */
  readonly code?: Code;
  /** Markup inside the value: a node-valued prop. */
  readonly parts: readonly Markup[];
  /** What the content of a slot is given: patterns of a parameter list. */
  readonly binds?: readonly Node[];
  /** Content of a slot: the code of a name that is not written out. */
  readonly named?: Code;
  /** Content of slots that a loop makes, one each turn. */
  readonly each?: { readonly source: Code; readonly binds: readonly Node[] };
}

export interface TextNode extends Span {
  readonly kind: 'text';
  /** As the language renders it: white space already folded or dropped by its rules. */
  readonly text: string;
}

export interface ExpressionNode extends Span {
  readonly kind: 'expression';
  readonly code: Code;
  /** Markup that stands somewhere inside the expression. */
  readonly parts: readonly Markup[];
}

export interface BranchNode extends Span {
  readonly kind: 'branch';
  readonly arms: readonly Arm[];
}

export interface Arm extends Span {
  /** Undefined for the last `else`. */
  readonly condition?: Code;
  /** Empty when the arm shows nothing. */
  readonly body: readonly Markup[];
}

export interface LoopNode extends Span {
  readonly kind: 'loop';
  readonly source: Code;
  /** The function that makes each turn, where the language writes one. */
  readonly turn?: Code;
  /** The names that each turn binds, in the order in which they are written. */
  readonly items: readonly string[];
  /** The same as patterns of a parameter list, where there is no `turn`. */
  readonly binds?: readonly Node[];
  readonly body: readonly Markup[];
}

/** The place where content that was passed in appears. */
export interface OutletNode extends Span {
  readonly kind: 'outlet';
  /** `children` or the name of the slot. */
  readonly name: string;
  /** What is handed to the content. */
  readonly attributes?: readonly Attribute[];
  /** What is shown where nothing was passed in. */
  readonly fallback?: readonly Markup[];
}

export interface FragmentNode extends Span {
  readonly kind: 'fragment';
  readonly children: readonly Markup[];
}

export interface CommentNode extends Span {
  readonly kind: 'comment';
  readonly text: string;
}

/** What a language has and the model does not. Kept byte for byte, never cut through. */
export interface OpaqueNode extends Span {
  readonly kind: 'opaque';
  readonly reason: string;
}

export interface Prop {
  readonly name: string;
  /** Type as written in the source. */
  readonly type?: string;
  readonly required: boolean;
  readonly default?: string;
}

export type BindingKind = 'prop' | 'state' | 'setter' | 'derived' | 'handler' | 'ref' | 'effect' | 'context' | 'hook';

export interface Binding extends Span {
  readonly kind: BindingKind;
  /** Empty for an effect. */
  readonly name: string;
}

/** What a component does besides showing. */
export type Deed = 'loads data' | 'holds a subscription' | 'touches refs' | 'runs timers' | 'keeps storage';

export interface ComponentModel extends Span {
  /** `helper`: a function that returns markup but is called, not used as a tag. `page`: a document that nothing shows. */
  readonly kind: 'function' | 'class' | 'helper' | 'page';
  readonly name: string;
  readonly exported: 'default' | 'named' | 'none';
  readonly props: readonly Prop[];
  /** Takes props that it does not name (`...rest`, or the whole object handed on). */
  readonly openProps: boolean;
  readonly bindings: readonly Binding[];
  readonly deeds: readonly Deed[];
  /** One entry for each piece of markup that the component can return or holds in a value. */
  readonly markup: readonly Markup[];
}

/** How a name came in from another file. */
export interface ImportModel extends Span {
  /** As written in the source. */
  readonly source: string;
  readonly local: string;
  /** `default`, `*`, or the exported name. */
  readonly imported: string;
  readonly typeOnly: boolean;
}

export interface ExportModel {
  /** `default`, `*`, or the name. */
  readonly name: string;
  /** The local name behind it; for a re-export the name in the other file. */
  readonly local: string;
  /** Set for a re-export. */
  readonly source?: string;
}

/** One file as its language reads it. */
export interface ModuleModel {
  readonly components: readonly ComponentModel[];
  readonly imports: readonly ImportModel[];
  readonly exports: readonly ExportModel[];
  /** Files that are loaded on demand or for their effect. */
  readonly loads: readonly string[];
  /** Component tags used outside every component, as at the place where an application mounts. */
  readonly mounts: readonly Markup[];
  /** Components that every file of the project may show by a name: registered for the whole application. */
  readonly registers: readonly { readonly name: string; readonly local: string }[];
  /** Names of components that calls mount, as at the place where an application begins. */
  readonly started: readonly string[];
  /** The scripts of the file: one for a file that is all script. */
  readonly scripts: readonly ParsedScript[];
}
