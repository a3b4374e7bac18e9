/** What the host hands in: parsers that are too heavy or too native for the core. */
import type { ScriptParser } from '../script/parser.js';
import type { StyleParser } from './stylesheet.js';

export interface Ports {
  readonly script: ScriptParser;
  /** Where the parser of a language is missing, its files are listed as not read. */
  readonly parsers?: Parsers;
  /** Without it, style sheets are kept whole. */
  readonly styles?: StyleParser;
  /** Tags of components that look at their children one by one, beside those that a language knows. */
  readonly readsChildren?: ReadonlySet<string>;
}

/** Parsers of single languages by the id of the language, which says in its folder what it takes. */
export type Parsers = Readonly<Record<string, unknown>>;

export interface SourceFile {
  readonly path: string;
  readonly text: string;
}
