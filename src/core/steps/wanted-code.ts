/** What a person wrote of an input or an event: a name with parameters, and the code that it stands for. */
import { problem, type Problem } from '../problems/problems.js';
import type { Pattern } from '../script/matching.js';
import { isScriptError, type Node, type ScriptParser } from '../script/parser.js';
import { isFunction, walk } from '../script/walk.js';
import type { Span } from '../text/edits.js';

/** A name with its parameters and what it stands for, as a person wrote it. */
export interface Wanted {
  readonly name: string;
  readonly parameters: readonly string[];
  readonly code: string;
  readonly pattern: Pattern;
  /** Several statements. */
  readonly several: boolean;
}

/** `choose(id)` with `setChosen(id)`; `at`: where the region stands, for messages. */
export function readWanted(
  asked: string,
  code: string,
  parser: ScriptParser,
  at: { readonly path: string; readonly span: Span },
): Wanted | Problem {
  const head = /^\s*([A-Za-z_$][\w$]*)\s*(?:\(\s*([\w$\s,]*)\))?\s*$/.exec(asked);
  if (!head) return problem('seam-format', at, asked, 'it is no name');
  if (head[1] === 'children') return problem('seam-format', at, asked, 'what stands between the tags is a slot');
  const parameters = (head[2] ?? '').split(',').flatMap((p) => p.trim() || []);
  const text = code.trim().replace(/;$/, '');
  // An object is no block, and what is worked out is no statement.
  const forms = [`(${text}\n)`, text].flatMap((source) =>
    (['ts', 'tsx'] as const).map((syntax) => parser.parse(source, syntax)),
  );
  const read = forms.find((script) => !isScriptError(script));
  if (!read || isScriptError(read)) {
    const failed = forms.at(-1)!;
    return problem('seam-format', at, asked, isScriptError(failed) ? failed.message : '');
  }
  const { body } = read.program;
  const [statement] = body;
  if (!statement) return problem('seam-format', at, asked, 'it stands for nothing');
  const several = body.length > 1 || statement.type !== 'ExpressionStatement';
  const node: Node = several ? read.program : statement.expression;
  const order = namesOf(node).filter((name, i, all) => parameters.includes(name) && all.indexOf(name) === i);
  if (order.length < parameters.length) {
    const missing = parameters.find((p) => !order.includes(p))!;
    return problem('seam-format', at, asked, `${missing} does not stand in ${text}`);
  }
  if (order.join() !== parameters.join())
    return problem('seam-format', at, asked, `in ${text} they stand as ${order.join(', ')}`);
  return { name: head[1]!, parameters, code: text, pattern: { node, open: new Set(parameters) }, several };
}

/** How much else than just itself something may stand for: its parameters, the entries of a record. */
export function openIn(asked: string, code: string): number {
  return (/\(/.test(asked) ? asked.split(',').length : 0) + (code.trim().startsWith('{') ? code.split(',').length : 0);
}

/** Code that does something where it runs, rather than a function that is there to be called. */
export function isDone({ pattern: { node } }: Wanted): boolean {
  return !isFunction(node) && node.type !== 'Identifier' && node.type !== 'MemberExpression';
}

function namesOf(node: Node): string[] {
  const names: string[] = [];
  walk(node, (one) => {
    if (one.type === 'Identifier') names.push(one.name);
  });
  return names;
}
