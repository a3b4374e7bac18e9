/**
 * Code as it leaves: statements beside one another, and what they come to. What they come to stands in the last of them, or in the
 * statement behind them: `const visits = await response.json()`, `setVisits(await response.json())`.
 */
import { problem, type Problem } from '../../problems/problems.js';
import { firstRun } from '../../script/first-run.js';
import type { Node } from '../../script/parser.js';
import type { Variable } from '../../script/scopes.js';
import { asksThis } from '../../script/this-members.js';
import { isSettled, waits, withoutAwait } from '../../script/waiting.js';
import { bare, isFunction, nodeWithin, spanOf, walk, within, type FunctionNode } from '../../script/walk.js';
import type { Span } from '../../text/edits.js';
import { isIn, tieOf, type Tie } from './bound.js';
import { statementAround, type ScriptHost } from './host.js';

export interface Piece {
  /** They leave whole. */
  readonly statements: readonly Node[];
  /** What the function gives back, without the `await` in front of it; it stands behind the statements. */
  readonly tail: Node | undefined;
  /** Names that the statements declare and the host goes on using, where there is no tail. */
  readonly results: readonly Variable[];
  /** Whether anything in it waits. */
  readonly waits: boolean;
  /** Set where the statements are all that a function does: it stays, and calls what they become. */
  readonly of?: FunctionNode;
}

/** Where the code stands; what is declared there is its own. */
export function spansOf({ statements, tail, of: fn }: Piece): Span[] {
  return fn ? [spanOf(fn.body)] : [...statements, ...(tail ? [tail] : [])].map(spanOf);
}

/** The piece that a person's range means, or what stands in the way. */
export function pieceAt(host: ScriptHost, wanted: Span, requests: readonly Piece[]): Piece | Problem {
  const { path } = host.request.file;
  const sent = requests.find((piece) => spansOf(piece).every((span) => within(span, wanted)));
  const node = nodeIn(host, wanted);
  const statements = statementsIn(host, wanted);
  const refused = (tie: Tie) => problem('module-tied', { path, span: spanOf(tie.node) }, tie.why);
  if (statements.length > 0) {
    const spans = statements.map(spanOf);
    const ties = statements.flatMap((s) => tieOf(host, s, spans) ?? []);
    if (ties.length === 0) {
      const piece = runOf(host, statements);
      // A function stays where its name is, and asks another one.
      const isMade = piece?.tail !== undefined && isFunction(piece.tail) && piece.statements.length === 0;
      const body = isMade ? bodyIn(host, piece.tail) : undefined;
      if (piece) return body ?? piece;
    }
    if (sent) return sent;
    const only = statements.length === 1 ? (valueOf(statements[0]!) ?? statements[0]!) : undefined;
    const body = only && bodyIn(host, only);
    if (body) return body;
    const tie = only ? tieOf(host, only, [spanOf(only)]) : ties[0];
    if (tie) return refused(tie);
    if (only && isExpression(only)) return alone(only);
    return problem('module-code', { path, span: wanted }, 'what they come to is used in more than one way');
  }
  if (sent && !(node && isExpression(node))) return sent;
  if (!node || !isExpression(node))
    return problem('module-code', { path, span: wanted }, 'these are no whole statements, and no expression');
  const tie = tieOf(host, node, [spanOf(node)]);
  return tie ? (sent ?? bodyIn(host, node) ?? refused(tie)) : alone(withoutAwait(node));
}

/** What a function does that is all of the code, or that the code hands to a call: `useMemo(() => { … }, [hives])`. */
function bodyIn(host: ScriptHost, code: Node): Piece | undefined {
  const node = bare(code);
  const first = node.type === 'CallExpression' ? node.arguments[0] : undefined;
  const fn = isFunction(node) ? node : first && isFunction(first) ? first : undefined;
  if (!fn || fn.generator) return undefined;
  const { body } = fn;
  const span = spanOf(body);
  if (body.type !== 'BlockStatement') return tieOf(host, body, [span]) ? undefined : alone(withoutAwait(body));
  if (body.body.length === 0 || (fn.type !== 'ArrowFunctionExpression' && asksThis(fn))) return undefined;
  if (body.body.some((s) => tieOf(host, s, [span], true))) return undefined;
  return { statements: body.body, tail: undefined, results: [], waits: fn.async, of: fn };
}

/** One expression by itself. */
export function alone(node: Node): Piece {
  return { statements: [], tail: node, results: [], waits: waits(node) };
}

/** Statements as a piece; undefined where no one value says what they come to. */
export function runOf(host: ScriptHost, statements: readonly Node[]): Piece | undefined {
  const last = statements.at(-1)!;
  const before = statements.slice(0, -1);
  const given = (value: Node): Piece | undefined => {
    const tail = withoutAwait(value);
    const isWaiting = before.some(waits) || waits(tail);
    // What an asynchronous function gives is waited for.
    const isSame = !isWaiting || last.type === 'ReturnStatement' || isSettled(value, host.scopes);
    return isSame ? { statements: before, tail, results: [], waits: isWaiting } : undefined;
  };
  if (last.type === 'ReturnStatement') return last.argument ? given(last.argument) : undefined;
  const results = resultsOf(host, statements);
  const value = valueOf(last);
  if (value && results.length === 0 && statements.length === 1) return given(value);
  const declared = last.type === 'VariableDeclaration' ? resultsOf(host, [last]) : [];
  const isLast = results.length > 0 && results.every((v) => declared.includes(v));
  if (value && isLast && isPlainPattern(last)) return given(value);
  const isWaiting = statements.some(waits);
  const isSame = (variable: Variable) =>
    !host.scopes.isReassigned(variable) && (!isWaiting || isSettled(variable.identifiers[0]!, host.scopes));
  return results.every(isSame) ? { statements, tail: undefined, results, waits: isWaiting } : undefined;
}

/** The value of a statement that is nothing else. */
export function valueOf(statement: Node): Node | undefined {
  if (statement.type === 'ExpressionStatement') return statement.expression;
  if (statement.type === 'ReturnStatement') return statement.argument ?? undefined;
  return statement.type === 'VariableDeclaration' && statement.declarations.length === 1
    ? (statement.declarations[0].init ?? undefined)
    : undefined;
}

/** Whether what a declaration binds is taken as it is: a default or a computed key would stay, and might need the statements. */
function isPlainPattern(statement: Node): boolean {
  let isPlain = statement.type === 'VariableDeclaration';
  if (statement.type === 'VariableDeclaration')
    walk(statement.declarations[0].id, (node) => {
      if (node.type === 'AssignmentPattern' || (node.type === 'Property' && node.computed)) isPlain = false;
    });
  return isPlain;
}

/** Names that statements declare and something else reads. */
function resultsOf(host: ScriptHost, statements: readonly Node[]): Variable[] {
  const spans = statements.map(spanOf);
  const isInside = (node: Node) => spans.some((span) => nodeWithin(node, span));
  const read = host.scopes.references.filter((r) => r.resolved && isIn(r.resolved, spans) && !isInside(r.identifier));
  return [...new Set(read.map((r) => r.resolved!))];
}

/** The statements of one list that a range holds whole, where it holds nothing else. */
function statementsIn(host: ScriptHost, wanted: Span): readonly Node[] {
  let found: readonly Node[] = [];
  const text = host.text.slice(wanted.start, wanted.end);
  const first = wanted.start + /^[\s;]*/.exec(text)![0].length;
  const last = wanted.start + text.replace(/[\s;]+$/, '').length;
  walk(host.script.program, (node) => {
    if (node.range[0] > first || node.range[1] < last) return node.type === 'Program' ? undefined : false;
    if (node.type !== 'BlockStatement' && node.type !== 'Program') return undefined;
    const inside = node.body.filter((s) => nodeWithin(s, wanted));
    const touched = node.body.filter((s) => s.range[0] < wanted.end && s.range[1] > wanted.start);
    if (inside.length > 0 && inside.length === touched.length && found.length === 0) found = inside;
    return undefined;
  });
  return found;
}

/** The largest node in a range, where one node is all that stands there. */
function nodeIn(host: ScriptHost, wanted: Span): Node | undefined {
  let found: Node | undefined;
  walk(host.script.program, (node) => {
    if (found || node.range[1] <= wanted.start || node.range[0] >= wanted.end) return false;
    if (!nodeWithin(node, wanted)) return undefined;
    const rest = host.text.slice(wanted.start, node.range[0]) + host.text.slice(node.range[1], wanted.end);
    if (/^[\s;,]*$/.test(rest)) found = node;
    return false;
  });
  return found;
}

function isExpression({ type }: Node): boolean {
  return /Expression$|^(?:Identifier|Literal|TemplateLiteral)$/.test(type) && !/^TS|^JSX/.test(type);
}

/** Whether code stands where nothing of its statement has run before it. */
export function isFirst(host: ScriptHost, node: Node): boolean {
  const around = statementAround(host, node);
  return around !== undefined && firstRun(around.statement, host.scopes, (n) => n === node) === node;
}
