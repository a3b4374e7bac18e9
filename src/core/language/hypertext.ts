/** How plain markup goes into a language that has components: what the page gives, and what the language makes of it. */
import type { FileSet } from '../files/files.js';
import type { Markup } from '../markup/model.js';
import type { Problem } from '../problems/problems.js';
import type { Edit, Span } from '../text/edits.js';
import type { DomNode } from '../plain/dom.js';
import type { AttributePiece, ElementPiece, Piece } from '../plain/scan.js';

/** A page: what it shows, and what stays with it when that becomes a component. */
export interface PlainPage {
  readonly shown: readonly Piece[];
  /** From the first to the last of what is shown. */
  readonly span: Span;
  /** What is shown as a browser reads it. */
  readonly dom: readonly DomNode[];
  /** Edits that leave a place to mount in, and the script that mounts; scripts of the page follow in their order. */
  emptied(root: string, script: string): Emptied;
}

export interface Emptied {
  readonly edits: readonly Edit[];
  /** Scripts that stood inside of the page, by the end of their names. */
  readonly scripts: readonly { readonly suffix: string; readonly text: string }[];
  readonly notes: readonly string[];
}

/** White space in plain markup, with what decides whether it stays. */
export interface SpaceSite {
  readonly text: string;
  /** Nothing else stands in this text. */
  readonly alone: boolean;
  /** First or last in its element. */
  readonly edge: boolean;
  readonly besideComment: boolean;
}

/** Why something cannot be said in the language: in words, to stand behind "the page has". */
export interface Unsayable {
  readonly unsayable: string;
}

/** How a language spells plain markup. */
export interface Spelling {
  /** Undefined: as it is. Empty: left out. */
  attribute(attribute: AttributePiece, element: ElementPiece, source: string): string | Unsayable | undefined;
  /** Edits within a text; `asWritten` where white space counts. */
  text(span: Span, source: string, asWritten: boolean): readonly Edit[];
  comment(text: string): string;
  readonly closesVoid: boolean;
  /** White space that would be lost otherwise. */
  readonly space: string;
  keeps(site: SpaceSite): boolean;
  /** An expression whose value is shown as text. */
  code(code: string): string;
  /** Values and children that are written together, as in a choice list. */
  element?(element: ElementPiece, source: string): readonly Edit[];
  /** Elements whose content `element` writes. */
  readonly takes?: ReadonlySet<string>;
}

export interface PageStyle {
  /** One step of indentation. */
  readonly unit: string;
  readonly lineEnd: string;
  /** How many roots the component has. */
  readonly roots: number;
}

export interface Hypertext {
  readonly spelling: Spelling;
  /** With the dot. */
  extension(files: FileSet): string;
  /** The file of a component that shows markup whose lines begin at `margin`. */
  component(name: string, markup: string, style: PageStyle): string;
  margin(style: PageStyle): string;
  /** Statements of a module that mounts the component from `source` in the element with the id `root`. */
  mount(name: string, source: string, root: string): readonly string[];
  /** Markup that was read afresh, as plain markup; undefined with the place of what says more than that. */
  plain(nodes: readonly Markup[]): readonly DomNode[] | Span;
  /** What a person should know about the markup in this language. */
  notes(shown: readonly Piece[]): readonly string[];
}

export function isUnsayable(value: unknown): value is Unsayable {
  return typeof value === 'object' && value !== null && 'unsayable' in value;
}

/** A language whose files are pages. */
export type ReadPage = (file: { readonly path: string; readonly text: string }) => PlainPage | Problem;
