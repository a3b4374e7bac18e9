/** What the unify step asks of a language: one component, function or hook for several places. */
import type { Ports, SourceFile } from './ports.js';
import type { ProjectView } from './project.js';
import type { Edit, Span } from '../text/edits.js';
import type { Going, PropsStyle, Seam, TypeOracle } from './cutting.js';

/** Source text that a place hands over. */
export type Passed =
  | { readonly kind: 'string'; readonly text: string }
  | { readonly kind: 'flag' }
  | { readonly kind: 'code'; readonly span: Span }
  /** Code that stands nowhere as such. */
  | { readonly kind: 'source'; readonly text: string }
  /** Attributes by their names. */
  | { readonly kind: 'record'; readonly entries: readonly { readonly name: string; readonly value: Passed }[] }
  /** `braced`: one piece of code between tags; `several`: text, or siblings. */
  | { readonly kind: 'markup'; readonly span: Span; readonly form: 'element' | 'braced' | 'several' };

/** Where the common form takes an input; spans are of the reference's file. */
export type InputSite =
  /** In place of the span; a literal gets `head` and `tail` around the input. */
  | { readonly kind: 'whole'; readonly span: Span; readonly head: string; readonly tail: string }
  /** A call of the input, with the code at `given` as it stands there and then with names that the region binds. */
  | { readonly kind: 'call'; readonly span: Span; readonly given: readonly Span[]; readonly names: readonly string[] }
  /** A member of the input, which is a record. */
  | { readonly kind: 'member'; readonly span: Span; readonly name: string }
  /** Siblings that only some places have; `after` is the sibling before them, `parent` the element around. */
  | { readonly kind: 'gap'; readonly after: Span | undefined; readonly parent: Span }
  | { readonly kind: 'attribute'; readonly element: Span; readonly name: string; readonly span: Span | undefined }
  /** Attributes of an element, of which the reference has those at `spans`. */
  | { readonly kind: 'spread'; readonly element: Span; readonly tag: string; readonly spans: readonly Span[] }
  | { readonly kind: 'guard'; readonly span: Span }
  | {
      readonly kind: 'choice';
      readonly key: string;
      readonly on: Passed | undefined;
      readonly off: Passed | undefined;
      readonly element: Span;
      readonly name: string;
      readonly span: Span | undefined;
    };

export interface GivenInput {
  readonly name: string;
  readonly kind: 'prop' | 'event' | 'slot' | 'flag';
  readonly sites: readonly InputSite[];
  /** One for each place. */
  readonly values: readonly (Passed | undefined)[];
  readonly default: Passed | undefined;
  /** Names bound inside each place that its value needs: the input is then a function of them. */
  readonly parameters: readonly (readonly string[])[];
  /** Where the reference binds them. */
  readonly parameterSpans: readonly Span[];
  /** Set where the value is written for the input, a function: pieces of the reference that have the types of its parts. */
  readonly signature?: Signature;
  /** A person gave it its name. */
  readonly asked?: boolean;
  /** Set where the value is a record that is written for the input: pieces of the reference that its entries are. */
  readonly entries?: readonly { readonly name: string; readonly given: readonly Span[] }[];
}

export interface Signature {
  readonly parameters: readonly { readonly name: string; readonly given: readonly Span[] }[];
  /** Undefined where nobody reads what it gives back. */
  readonly result: Span | undefined;
  /** Its code is statements. */
  readonly several: boolean;
}

/** A component that already is what all places have in common: the whole of what it shows is one of them. */
export interface ExistingComponent {
  /** Index of the place that it shows. */
  readonly place: number;
  readonly name: string;
  readonly path: string;
  readonly exported: 'default' | 'named';
  /** What each place passes, by prop; `children` between the tags. */
  readonly passes: readonly ReadonlyMap<string, Passed>[];
}

export interface UnifyPlace {
  readonly file: SourceFile;
  readonly span: Span;
}

export interface UnifyRequest {
  readonly project: ProjectView;
  readonly ports: Ports;
  /** Markup becomes a component; logic a function, or a hook where it calls hooks. */
  readonly kind: 'markup' | 'logic';
  readonly places: readonly UnifyPlace[];
  /** Index of the place whose text the new component is made of. */
  readonly reference: number;
  readonly name: string;
  /** Undefined: the new component stays in the file of the reference. */
  readonly target: string | undefined;
  /** Set where functions that leave their files altogether could keep their name. */
  readonly whenMoved?: { readonly name: string; readonly target: string };
  /** Set where a component is used instead of a new one. */
  readonly existing?: ExistingComponent;
  readonly inputs: readonly GivenInput[];
  readonly types: TypeOracle | undefined;
  /** Where a piece of the reference stands at another place; undefined where it has no counterpart. */
  readonly counterpart: (place: number, span: Span) => Span | undefined;
  /** Makes a list of records and one use in a loop of it. */
  readonly asList: boolean;
  /** Set where a person says of one place what crosses: see `CutRequest.alone`. */
  readonly alone?: boolean;
  readonly going?: Going;
  readonly props?: PropsStyle;
}

export interface Unifying {
  /** By path; the reference's file among them. */
  readonly edits: ReadonlyMap<string, readonly Edit[]>;
  readonly files: ReadonlyMap<string, string>;
  /** What it came to be called. */
  readonly name: string;
  readonly seam: Seam;
  /** What a hook gives back. */
  readonly results?: readonly string[];
  readonly notes: readonly string[];
}
