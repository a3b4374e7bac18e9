/** Parsing a file of the JSX family, with a second try for Flow-free `.js` and a clear problem for bad syntax. */
import { problem, type Problem } from '../../problems/problems.js';
import { isScriptError, type ParsedScript, type ScriptSyntax } from '../../script/parser.js';
import type { Ports, SourceFile } from '../../language/ports.js';

const SYNTAX: Record<string, ScriptSyntax> = {
  '.tsx': 'tsx',
  '.ts': 'ts',
  '.mts': 'ts',
  '.cts': 'ts',
};

/** JSX is allowed in every JavaScript file: that is where many projects keep it. */
export function syntaxOf(path: string): ScriptSyntax {
  return SYNTAX[/\.[^.]*$/.exec(path)?.[0] ?? ''] ?? 'jsx';
}

export function isTyped(path: string): boolean {
  return syntaxOf(path).startsWith('ts');
}

export function parseFile(file: SourceFile, ports: Ports): ParsedScript | Problem {
  const result = ports.script.parse(file.text, syntaxOf(file.path));
  if (!isScriptError(result)) return result;
  const at = { path: file.path, span: { start: result.offset, end: Math.min(result.offset + 1, file.text.length) } };
  return problem('file-syntax', at, result.message);
}
