/** The function around a use that takes up what the component declares. */
import type { Node } from '../../../script/parser.js';
import { isFunction, nodeWithin, spanOf, walk, type FunctionNode } from '../../../script/walk.js';
import type { Span } from '../../../text/edits.js';
import { indentAt, indentUnitOf } from '../../../text/layout.js';
import { findComponents } from '../candidates.js';
import type { Place } from './passed.js';

export interface Home {
  readonly fn: FunctionNode;
  readonly isComponent: boolean;
  /** A condition between the function and the use, for people. */
  readonly under: string | undefined;
  /** Whether something is returned before the use. */
  readonly early: boolean;
  /** A function that is one expression. */
  readonly concise: boolean;
  /** Where the body stands, with the parentheses around it. */
  readonly body: Span;
  /** The statement that the declarations go before; the body where that is an expression. */
  readonly statement: Node;
  /** What stands before that. */
  readonly before: Node | undefined;
  /** Indentation of the statements. */
  readonly indent: string;
}

const UNDER: Partial<Record<Node['type'], string>> = {
  LogicalExpression: 'a condition',
  ConditionalExpression: 'a condition',
  IfStatement: 'a condition',
  SwitchStatement: 'a condition',
  ForStatement: 'a loop',
  ForOfStatement: 'a loop',
  ForInStatement: 'a loop',
  WhileStatement: 'a loop',
};

export function homeOf({ text, script, scopes, use }: Place): Home | undefined {
  const above = scopes.ancestorsOf(use);
  const fn = above.find(isFunction);
  if (!fn) return undefined;
  const between = above.slice(0, above.indexOf(fn));
  const under = between.map((node) => UNDER[node.type]).find((word) => word !== undefined);
  const { candidates } = findComponents(script.program);
  const isComponent = candidates.some((c) => c.node === fn && c.kind === 'function');
  if (fn.body.type !== 'BlockStatement') {
    const indent = indentAt(text, fn.range[0]) + indentUnitOf(text);
    return {
      fn,
      isComponent,
      under,
      early: false,
      concise: true,
      body: bodyOf(text, fn),
      statement: fn.body,
      before: undefined,
      indent,
    };
  }
  const statements = fn.body.body;
  const at = statements.findIndex((s) => nodeWithin(use, spanOf(s)));
  const statement = statements[at]!;
  const early = statements.slice(0, at).some((s) => returns(s));
  return {
    fn,
    isComponent,
    under,
    early,
    concise: false,
    body: spanOf(fn.body),
    statement,
    before: statements[at - 1],
    indent: indentAt(text, statement.range[0]),
  };
}

/** From behind the arrow to the end of the function. */
function bodyOf(text: string, fn: FunctionNode): Span {
  const arrow = text.lastIndexOf('=>', fn.body.range[0]);
  const start = arrow + 2 + /^\s*/.exec(text.slice(arrow + 2))![0].length;
  return { start, end: fn.range[1] };
}

function returns(statement: Node): boolean {
  let found = false;
  walk(statement, (node) => {
    if (isFunction(node)) return false;
    if (node.type === 'ReturnStatement') found = true;
    return undefined;
  });
  return found;
}
