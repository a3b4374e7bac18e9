/**
 * What differs between languages whose markup is tags in a script. They are read into the same syntax, with offsets of their own
 * files, so that regions, what crosses, what moves and what becomes one are found alike; a dialect says how the rest is written.
 */
import type { Ports, SourceFile } from '../../language/ports.js';
import type { Problem } from '../../problems/problems.js';
import type { ParsedScript } from '../../script/parser.js';
import { isTyped, parseFile } from './source.js';
import { renderedText, type RenderedText } from './text.js';

export interface Dialect {
  parse(file: SourceFile, ports: Ports): ParsedScript | Problem;
  /** Text between tags as it is shown. */
  rendered(raw: string): RenderedText;
  typed(path: string): boolean;
  /** The attribute of a root that belongs to the place where it stands. */
  readonly own: 'key' | 'slot';
  /** Where a file is a component; absent where components are functions in a module. */
  readonly asFile?: AsFile;
}

/** How a language whose files are components writes what a module would say in code. */
export interface AsFile {
  /** Where an import goes into a file that has none yet, and what then stands around it. */
  firstImport(text: string, lineEnd: string): FirstImport;
  /** What shows the content of a slot; `tag`: what did in the host. */
  outlet(name: string, tag?: string): string;
  /** Content for a slot, between the tags of a use. */
  content(name: string, text: string): string;
}

export interface FirstImport {
  readonly offset: number;
  readonly around: readonly [string, string];
}

export const JSX: Dialect = { parse: parseFile, rendered: renderedText, typed: isTyped, own: 'key' };
