/** What the extract step asks of a language, and what a language answers. */
import type { Ports, SourceFile } from './ports.js';
import type { Region } from '../markup/region.js';
import type { ProjectView } from './project.js';
import type { Edit, Span } from '../text/edits.js';

export type PropsStyle = 'auto' | 'members' | 'objects';

export interface CutRequest {
  readonly project: ProjectView;
  readonly ports: Ports;
  readonly file: SourceFile;
  readonly region: Region;
  /** Free in the file and at the target. */
  readonly name: string;
  /** Undefined: the new component stays in the file of its host. */
  readonly target: string | undefined;
  readonly props: PropsStyle;
  readonly types: TypeOracle | undefined;
  /** Set where several places become one, or a person says what crosses: what stays with the uses. */
  readonly inputs?: readonly Crossed[];
  /** Set where the inputs are those that a person asked for: there is one place, and what only it uses goes along. */
  readonly alone?: boolean;
  /** Names of the host that a person wants to stay there, and those that are to go along. */
  readonly going?: Going;
}

export interface Going {
  readonly stays: readonly string[];
  readonly along: readonly string[];
  /** What the host keeps and what it does stay there: only what is worked out may go along. */
  readonly showing?: boolean;
}

/** An input as it crosses the boundary: where it stands in the region, and what the region's own place passes. */
export interface Crossed {
  readonly name: string;
  readonly event: boolean;
  readonly slot: boolean;
  /** Source text that the place of the region passes. */
  readonly value: string;
  readonly sites: readonly { readonly span: Span; readonly write: (prop: string) => string }[];
  /** Parts of the region that belong to the place. */
  readonly stays: readonly Span[];
  readonly type: string | undefined;
  /** Types that the type mentions, by the file or package that exports them. */
  readonly typeNames: readonly TypeName[];
  readonly optional: boolean;
  readonly default: string | undefined;
  /** A person gave it its name. */
  readonly asked?: boolean;
  /** What an event hands out. */
  readonly takes?: readonly { readonly name: string; readonly type: string | undefined }[];
}

export interface SeamEntry {
  readonly name: string;
  readonly type?: string;
  /** Not every use passes it. */
  readonly optional?: boolean;
}

/** The boundary of a region as an interface. Its width is the number of entries. */
export interface Seam {
  readonly props: readonly SeamEntry[];
  readonly events: readonly SeamEntry[];
  readonly slots: readonly { readonly name: string }[];
}

export interface Cutting {
  /** Edits to the host's file. */
  readonly edits: readonly Edit[];
  /** New files by path: the component, and modules that both sides need. */
  readonly files: ReadonlyMap<string, string>;
  readonly seam: Seam;
  readonly notes: readonly string[];
}

/** Type of an expression as text, with the names in it that a file must import. */
export interface TypeText {
  readonly text: string;
  /** Names in `text` that are not global: where each can be imported from, in terms of the asking file. */
  readonly names: readonly TypeName[];
}

export interface TypeName {
  readonly name: string;
  /** `here`: a name of the asking file, local or imported. Otherwise a module specifier or an absolute project path. */
  readonly from: 'here' | { readonly module: string } | { readonly path: string };
}

/** The port to a type checker. Offsets are those of the file as the project holds it. */
export interface TypeOracle {
  /** The type that holds at this place (narrowed, not declared). */
  typeAt(path: string, span: Span): TypeText | undefined;
  /** The type that is wanted of a value at this place. */
  expectedAt(path: string, span: Span): TypeText | undefined;
}
