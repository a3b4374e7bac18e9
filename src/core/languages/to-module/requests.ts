/** Requests that a component sends by itself: where each stands, how much of the code around it is about it, what it is called. */
import type { Node } from '../../script/parser.js';
import type { Span } from '../../text/edits.js';
import { bare, isFunction, nodeWithin, spanOf, walk } from '../../script/walk.js';
import { firstRun } from '../../script/first-run.js';
import { isSettled, waits, withoutAwait } from '../../script/waiting.js';
import { tieOf } from './bound.js';
import { statementAround, type ScriptHost } from './host.js';
import { alone, isFirst, runOf, spansOf, valueOf, type Piece } from './piece.js';

export interface Sent {
  readonly call: Node;
  /** `GET` where nothing else is said. */
  readonly method: string;
  /** As it is written, without quotes; empty where it is worked out elsewhere. */
  readonly address: string;
  readonly piece: Piece;
}

const SENDERS = new Set(['fetch', '$fetch', 'ofetch', 'axios', 'ky', 'superagent', 'got']);
/** What is imported and sends where it is given an address. */
const MAY_SEND = /^(?:request|http|\w*[a-z]Fetch|fetch(?:er|Json|JSON)?)$/;
const METHODS: Readonly<Record<string, string>> = {
  get: 'GET',
  head: 'HEAD',
  post: 'POST',
  put: 'PUT',
  patch: 'PATCH',
  delete: 'DELETE',
  del: 'DELETE',
};

/** Whether a text may send any: most files of a project do not, and are not read for it. */
export function maySend(text: string): boolean {
  return /fetch|axios|\b(?:ky|superagent|got|request|http)\b|\.(?:get|head|post|put|patch|del(?:ete)?)\s*\(/i.test(
    text,
  );
}

/** All of them that can leave, in text order; `limit`: no statement outside of it leaves with one. */
export function requestsIn(host: ScriptHost, limit: Span = { start: 0, end: Infinity }): Sent[] {
  const found: Sent[] = [];
  walk(host.script.program, (node) => {
    const sent = node.type === 'CallExpression' ? sentBy(host, node) : undefined;
    if (!sent) return;
    // What stands at the top of a module runs when it is loaded.
    if (!host.scopes.ancestorsOf(node).some(isFunction)) return;
    const piece = pieceOf(host, node, limit);
    const isNew = piece && !found.some((f) => spansOf(f.piece).some((span) => nodeWithin(node, span)));
    if (isNew) found.push({ call: node, ...sent, piece });
  });
  return found;
}

function sentBy(host: ScriptHost, call: Node): { method: string; address: string } | undefined {
  if (call.type !== 'CallExpression') return undefined;
  const callee = bare(call.callee);
  const [first, second] = call.arguments;
  const address = first ? addressOf(host, first) : undefined;
  if (callee.type === 'Identifier') {
    if (!isOutside(host, callee)) return undefined;
    const given = first && bare(first).type === 'ObjectExpression' ? first : second;
    const url = given === first ? (entryOf(given, 'url') ?? entryOf(given, 'path')) : undefined;
    const where = address ?? (url && addressOf(host, url));
    const isSender = SENDERS.has(callee.name) || (MAY_SEND.test(callee.name) && isAddress(where));
    return isSender ? { method: methodIn(host, given), address: where ?? '' } : undefined;
  }
  if (callee.type !== 'MemberExpression' || callee.computed || callee.property.type !== 'Identifier') return undefined;
  const object = bare(callee.object);
  const { name } = callee.property;
  // `app.http.get(…)` of a global record.
  const root = object.type === 'MemberExpression' && !object.computed ? bare(object.object) : object;
  if (root.type !== 'Identifier' || !isOutside(host, root)) return undefined;
  if (object.type === 'Identifier' && /^(?:window|self|globalThis)$/.test(object.name) && name === 'fetch')
    return { method: methodIn(host, second), address: address ?? '' };
  const method = METHODS[name];
  const isKnown = (object.type === 'Identifier' && SENDERS.has(object.name)) || isAddress(address);
  return method !== undefined && isKnown && isText(first) ? { method, address: address ?? '' } : undefined;
}

function isAddress(text: string | undefined): boolean {
  return text !== undefined && /^(?:\/|https?:)|\/[\w$]/.test(text);
}

function isText(node: Node | undefined): boolean {
  return (
    node !== undefined &&
    /^(?:Literal|TemplateLiteral|BinaryExpression|Identifier|MemberExpression|CallExpression)$/.test(bare(node).type)
  );
}

/** Whether a name is imported, or nobody's: what a component was given has its address elsewhere already. */
function isOutside(host: ScriptHost, name: Node): boolean {
  const variable = host.scopes.variableOf(name);
  return !variable || variable.defs.length === 0 || host.scopes.isImport(variable);
}

/** The text of an address, with constants of the file followed. */
function addressOf(host: ScriptHost, given: Node, depth = 0): string | undefined {
  const node = bare(given);
  if (node.type === 'Literal') return typeof node.value === 'string' ? node.value : undefined;
  if (node.type === 'TemplateLiteral') {
    return node.quasis
      .map((q, i) => {
        const value = node.expressions[i];
        const known =
          value && /^[A-Z_0-9]+$/.test(host.text.slice(...value.range)) ? addressOf(host, value, depth + 1) : undefined;
        return q.value.raw + (value ? (known ?? `\${${host.text.slice(...value.range)}}`) : '');
      })
      .join('');
  }
  if (node.type === 'BinaryExpression' && node.operator === '+') {
    const [left, right] = [node.left, node.right].map((n) => addressOf(host, n, depth + 1));
    return left === undefined && right === undefined
      ? undefined
      : [node.left, node.right].map((n, i) => [left, right][i] ?? `\${${host.text.slice(...n.range)}}`).join('');
  }
  if (node.type !== 'Identifier' || depth > 4) return undefined;
  const definition = host.scopes.variableOf(node)?.defs[0];
  const isConstant = definition?.type === 'Variable' && definition.parent.kind === 'const';
  return isConstant && definition.node.init && definition.node.id.type === 'Identifier'
    ? addressOf(host, definition.node.init, depth + 1)
    : undefined;
}

function methodIn(host: ScriptHost, options: Node | undefined): string {
  const definition = options?.type === 'Identifier' ? host.scopes.variableOf(options)?.defs[0] : undefined;
  const record = definition?.type === 'Variable' ? (definition.node.init ?? undefined) : options;
  const value = entryOf(record, 'method');
  return value?.type === 'Literal' && typeof value.value === 'string' ? value.value.toUpperCase() : 'GET';
}

function entryOf(record: Node | undefined, name: string): Node | undefined {
  const node = record && bare(record);
  if (node?.type !== 'ObjectExpression') return undefined;
  for (const p of node.properties)
    if (p.type === 'Property' && p.key.type === 'Identifier' && p.key.name === name) return p.value;
  return undefined;
}

/** The code around a request that knows nothing of the component. */
function pieceOf(host: ScriptHost, call: Node, limit: Span): Piece | undefined {
  const node = grown(host, call);
  if (tieOf(host, node, [spanOf(node)])) return inRun(host, call, node, limit);
  return inRun(host, call, node, limit) ?? alone(node);
}

/** What is read of it and called on it, as far as that can leave: `fetch(…).then((r) => r.json())`; `own`: what leaves with it. */
function grown(host: ScriptHost, from: Node, own: readonly Span[] = []): Node {
  const node = allReadOf(host, from, own);
  const parent = host.scopes.parentOf(node);
  // A function that waits gives no promise, and here somebody wants one.
  const isPromise = waits(node) && !isSettled(node, host.scopes);
  return isPromise && parent?.type !== 'AwaitExpression' && parent?.type !== 'ReturnStatement' ? from : node;
}

function allReadOf(host: ScriptHost, from: Node, own: readonly Span[]): Node {
  let node = from;
  for (;;) {
    const parent = host.scopes.parentOf(node);
    if (parent?.type === 'TSNonNullExpression' || parent?.type === 'ChainExpression') node = parent;
    else if (parent?.type === 'AwaitExpression' && isRead(host, parent)) node = parent;
    else {
      const member =
        parent?.type === 'MemberExpression' && parent.object === node && !parent.computed ? parent : undefined;
      const above = member && host.scopes.parentOf(member);
      const isCall = above?.type === 'CallExpression' && above.callee === member;
      const next = isCall ? above : node.type === 'AwaitExpression' ? member : undefined;
      if (!next || tieOf(host, next, [...own, spanOf(next)]))
        return node.type === 'AwaitExpression' ? node.argument : node;
      node = next;
    }
  }
}

function isRead(host: ScriptHost, node: Node): boolean {
  const parent = host.scopes.parentOf(node);
  return parent?.type === 'MemberExpression' && parent.object === node && !parent.computed;
}

/** The request with the statements around it that only prepare it or read its answer. */
function inRun(host: ScriptHost, call: Node, node: Node, limit: Span): Piece | undefined {
  const around = statementAround(host, call);
  if (!around) return undefined;
  const { statement } = around;
  const siblings = around.siblings.filter(
    (s) => s === statement || (s.range[0] >= limit.start && s.range[0] < limit.end),
  );
  const at = siblings.indexOf(statement);
  const first = prepared(host, siblings, at, node);
  const value = valueOf(statement);
  const isAnswer = value !== undefined && withoutAwait(value) === node && statement.type === 'VariableDeclaration';
  if (!isAnswer || !waits(statement)) {
    // Nothing is read of it here: what prepares it goes, and the call of it stands where it stood.
    const before = siblings.slice(first, at);
    const spans = [...before, node].map(spanOf);
    const above = host.scopes.parentOf(node)?.type ?? '';
    // A function that waits is waited for, and here nobody does.
    const mayWait = /^(?:Await|Return)/.test(above) || !before.some(waits);
    const isWhole =
      before.length > 0 && mayWait && isFirst(host, node) && [...before, node].every((n) => !tieOf(host, n, spans));
    return isWhole
      ? { statements: before, tail: node, results: [], waits: before.some(waits) || waits(node) }
      : undefined;
  }
  let best: Piece | undefined;
  for (let end = at + 1; end <= siblings.length; end++) {
    const statements = siblings.slice(first, end);
    const spans = statements.map(spanOf);
    const last = statements.at(-1)!;
    if (end > at + 1 && (tieOf(host, last, spans) || !looksAt(host, last, spans))) break;
    if (tieOf(host, statements[0]!, spans) || statements.some((s) => tieOf(host, s, spans))) break;
    const run = runOf(host, statements);
    const piece = run && (run.tail ? run : withTail(host, run, siblings[end]));
    if (piece && piece.results.length <= 1) best = piece;
  }
  return best;
}

/** Constants right in front of a statement that only serve what leaves. */
function prepared(host: ScriptHost, siblings: readonly Node[], at: number, node: Node): number {
  let first = at;
  const statement = siblings[at]!;
  while (first > 0) {
    const before = siblings[first - 1]!;
    if (before.type !== 'VariableDeclaration' || before.kind !== 'const' || !worksOut(before)) break;
    const spans = [
      ...siblings.slice(first - 1, at).map(spanOf),
      spanOf(valueOf(statement) === undefined ? node : statement),
    ];
    const isOwn = host.scopes
      .scopeAt(spanOf(before))
      .variables.filter((v) => v.identifiers.some((id) => nodeWithin(id, spanOf(before))))
      .every((v) => v.references.every((r) => spans.some((s) => nodeWithin(r.identifier, s))));
    if (!isOwn || tieOf(host, before, spans)) break;
    first--;
  }
  return first;
}

/** Whether a declaration does more than read what is there: that the function is given as it is. */
function worksOut(statement: Node): boolean {
  const value = valueOf(statement);
  return value !== undefined && !/^(?:Identifier|MemberExpression|ThisExpression)$/.test(bare(value).type);
}

/** Whether a statement only reads what the others declare, or fails where that is not what it should be: what is done with it stays. */
function looksAt(host: ScriptHost, statement: Node, spans: readonly Span[]): boolean {
  const fails = (node: Node): boolean =>
    node.type === 'ThrowStatement' ||
    (node.type === 'BlockStatement' && node.body.length === 1 && fails(node.body[0]!));
  const isReading =
    (statement.type === 'VariableDeclaration' && statement.kind === 'const') ||
    (statement.type === 'IfStatement' && !statement.alternate && fails(statement.consequent));
  if (!isReading) return false;
  const others = spans.slice(0, -1);
  return host.scopes
    .within(spanOf(statement))
    .some(({ resolved }) => resolved?.identifiers.some((id) => others.some((span) => nodeWithin(id, span))));
}

/** The one thing that the statement behind a run reads of its answer: `setVisits(await response.json())`. */
function withTail(host: ScriptHost, run: Piece, next: Node | undefined): Piece {
  const only = run.results.length === 1 ? run.results[0]! : undefined;
  const spans = run.statements.map(spanOf);
  const reads = only?.references.filter((r) => !spans.some((s) => nodeWithin(r.identifier, s))) ?? [];
  const read = reads.length === 1 ? reads[0]!.identifier : undefined;
  if (!read || !next || !nodeWithin(read, spanOf(next))) return run;
  const tail = grown(host, read, spans);
  const parent = host.scopes.parentOf(tail);
  // What is given back is waited for in any case.
  const isWaited = parent?.type === 'AwaitExpression' || parent?.type === 'ReturnStatement';
  if (tail === read || !isWaited || tieOf(host, tail, [...spans, spanOf(tail)])) return run;
  const found = firstRun(next, host.scopes, (n) => n === tail);
  return found ? { ...run, tail, results: [] } : run;
}
