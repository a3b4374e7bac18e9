/**
 * The port through which the core gets syntax trees of JavaScript and TypeScript. Parsers are heavy and differ by
 * place (a native one in Node, a pure one in a browser), so the host hands one in.
 */
import type { TSESTree } from '@typescript-eslint/types';
import type { Span } from '../text/edits.js';

export type Node = TSESTree.Node;
export type Program = TSESTree.Program;

export type ScriptSyntax = 'js' | 'jsx' | 'ts' | 'tsx';

export interface ScriptComment extends Span {
  readonly block: boolean;
  /** Text between the comment marks. */
  readonly value: string;
}

export interface ParsedScript {
  /** TS-ESTree; each node has `start`, `end` and `range` in UTF-16 offsets; parentheses are not nodes. */
  readonly program: Program;
  readonly comments: readonly ScriptComment[];
}

export interface ScriptError {
  readonly message: string;
  readonly offset: number;
}

export interface ScriptParser {
  /** Never throws for bad source: it answers with the first error. */
  parse(text: string, syntax: ScriptSyntax): ParsedScript | ScriptError;
}

export function isScriptError(result: ParsedScript | ScriptError): result is ScriptError {
  return 'message' in result;
}

/** A parser that remembers its last results, for steps that look at one text several times. */
export function remembering(parser: ScriptParser, entries = 12): ScriptParser {
  const results = new Map<string, ParsedScript | ScriptError>();
  return {
    parse(text, syntax) {
      const key = `${syntax}\n${text}`;
      const known = results.get(key) ?? parser.parse(text, syntax);
      results.delete(key);
      results.set(key, known);
      if (results.size > entries) results.delete(results.keys().next().value!);
      return known;
    },
  };
}
