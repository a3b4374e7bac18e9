/** Logic that leaves its file for a module: declarations as they are, or code of a component as a function that is given what it reads. */
import { isProblem, problem, type Problem } from '../../problems/problems.js';
import type { LeavingRequest, LogicLeaving, SentRequest, ToModule } from '../../language/to-module.js';
import type { Node } from '../../script/parser.js';
import { spanOf, within, type FunctionNode } from '../../script/walk.js';
import type { Edit, Span } from '../../text/edits.js';
import { indentAt, withComments } from '../../text/layout.js';
import { fileFor } from '../naming.js';
import { tieOf } from './bound.js';
import { givenTo, namesIn } from './given.js';
import { statementAround, type OpenHost, type ScriptHost } from './host.js';
import { addressModule, nameOfPiece, nameOfRequest } from './naming.js';
import { needsOf, whyItStays, type Needs } from './needs.js';
import { pieceAt, spansOf, type Piece } from './piece.js';
import { maySend, requestsIn } from './requests.js';
import { callText, declarationText, functionText, hostEdits, importsFor, moduleText, requiresFor } from './write.js';

export function toModule(open: OpenHost): ToModule {
  return {
    leave(request) {
      const host = open(request.project, request.file, request.ports, request.wanted);
      if (isProblem(host)) return host;
      if (isCommonJs(host)) return problem('module-commonjs', { path: request.file.path });
      return 'names' in request.wanted
        ? declarations(request, host, request.wanted.names)
        : code(request, host, request.wanted.span);
    },
    requests(project, file, ports) {
      if (!maySend(file.text)) return [];
      const host = open(project, file, ports, { names: [] });
      if (isProblem(host) || isCommonJs(host)) return [];
      return requestsIn(host).flatMap((sent): SentRequest[] => {
        const name = nameOfRequest(host, sent);
        const target = addressModule(project, host, sent, name);
        const span = hullOf(spansOf(sent.piece));
        // What stands in such a module already is where it belongs.
        return target === file.path ? [] : [{ span, name, address: sent.address, target }];
      });
    },
  };
}

function isCommonJs({ script: { program }, scopes }: ScriptHost): boolean {
  const isOpen = program.body.some((s) => s.type === 'ImportDeclaration' || s.type.startsWith('Export'));
  return !isOpen && scopes.moduleScope.variables.some((v) => scopes.isImport(v));
}

function hullOf(spans: readonly Span[]): Span {
  return { start: Math.min(...spans.map((s) => s.start)), end: Math.max(...spans.map((s) => s.end)) };
}

/** Declarations of the top, by their names. */
function declarations(request: LeavingRequest, host: ScriptHost, names: readonly string[]): LogicLeaving | Problem {
  const { project, ports } = request;
  const { path } = request.file;
  const statements: Node[] = [];
  for (const name of names) {
    const variable = host.scopes.moduleScope.set.get(name);
    const statement = variable && host.scopes.statementOf(variable);
    if (!statement || host.scopes.isImport(variable)) return problem('module-name-unknown', { path }, name);
    const why = whyItStays(host, statement, variable, []);
    if (why !== undefined) return problem('module-needs', { path, span: spanOf(variable.identifiers[0]!) }, name, why);
    const tie = tieOf(host, statement, [spanOf(statement)]);
    if (tie) return problem('module-tied', { path, span: spanOf(tie.node) }, tie.why);
    if (!statements.includes(statement)) statements.push(statement);
  }
  const needs = needsOf(host, statements, [], []);
  if (isProblem(needs)) return needs;
  const target = request.target ?? fileFor(project, path, names[0]!, host.extension);
  const wanted = new Set(statements.flatMap((s) => host.scopes.declaredBy(s)));
  const isGiven = (s: Node) => host.scopes.declaredBy(s).some((v) => wanted.has(v) || needs.kept.includes(v));
  const sections = [
    ...requiresFor(host, needs, target),
    ...needs.going.map((s) => declarationText(host, s, isGiven(s), target)),
  ];
  const given = needs.going.filter(isGiven).flatMap((s) => host.scopes.declaredBy(s).map((v) => v.name));
  const text = moduleText(project, ports, host, target, importsFor(host, needs, [], target), sections, given);
  if (isProblem(text)) return text;
  const along = needs.going.flatMap((s) =>
    statements.includes(s) ? [] : host.scopes.declaredBy(s).map((v) => v.name),
  );
  return {
    edits: hostEdits(host, [], [], needs, target, []),
    target,
    text,
    names: given,
    parameters: undefined,
    region: hullOf(statements.map(spanOf)),
    notes: [
      ...notesOf(needs, path),
      ...(along.length > 0 ? [`${along.join(', ')} went along: it is needed there`] : []),
    ],
  };
}

function notesOf({ given }: Needs, path: string): string[] {
  const names = given.map((v) => v.name).join(', ');
  return given.length > 0 ? [`${names} can still be had from ${path}, for those who import it there`] : [];
}

/** Code of a component, as a function. */
function code(request: LeavingRequest, host: ScriptHost, wanted: Span): LogicLeaving | Problem {
  const { project, ports, types } = request;
  const { path } = request.file;
  const all = requestsIn(host, wanted);
  const piece = pieceAt(
    host,
    wanted,
    all.map((sent) => sent.piece),
  );
  if (isProblem(piece)) return piece;
  const spans = spansOf(piece);
  const sent = all.find(({ call }) => spans.some((span) => within(spanOf(call), span)));
  const at = { path, span: hullOf(spans) };
  const name = request.name ?? (sent ? nameOfRequest(host, sent) : nameOfPiece(host, piece));
  if (name === undefined) return problem('module-name', at);
  if (isTaken(host, name, spans)) return problem('module-taken', at, name);
  const target =
    request.target ?? (sent ? addressModule(project, host, sent, name) : fileFor(project, path, name, host.extension));
  const given = givenTo(host, spans, [...namesIn(host, spans), name], types);
  const local = given.types.filter((t) => t.from === 'here').map((t) => t.name);
  const needs = needsOf(host, [], spans, local);
  if (isProblem(needs)) return needs;
  const isGiven = (s: Node) => host.scopes.declaredBy(s).some((v) => needs.kept.includes(v));
  const sections = [
    ...requiresFor(host, needs, target),
    ...needs.going.map((s) => declarationText(host, s, isGiven(s), target)),
    functionText(host, name, piece, given, target),
  ];
  const names = [...needs.kept.map((v) => v.name), name];
  const text = moduleText(project, ports, host, target, importsFor(host, needs, given.types, target), sections, [
    ...needs.going.flatMap((s) => host.scopes.declaredBy(s).map((v) => v.name)),
    name,
  ]);
  if (isProblem(text)) return text;
  const edits = hostEdits(host, useEdits(host, piece, callText(host, name, given)), spans, needs, target, [name]);
  const notes = [...notesOf(needs, path), ...(piece.waits ? [LATER] : [])];
  return { edits, target, text, names, parameters: given.parameters, region: hullOf(spans), notes };
}

const LATER = 'what it waits for comes back a few microtasks later than before, in the same order';

/** Whether a name means something where the call is to stand, or in the file. */
function isTaken(host: ScriptHost, name: string, spans: readonly Span[]): boolean {
  const seen = host.scopes.visibleIn(host.scopes.scopeAt(spans[0]!), name);
  return seen !== undefined || host.isShown(name) || host.scopes.moduleScope.set.has(name);
}

/** What stands in the place of the code. */
function useEdits(host: ScriptHost, piece: Piece, call: string): Edit[] {
  const { statements, tail, results, waits } = piece;
  const first = statements[0];
  const from = first && withComments(host.text, spanOf(first)).start;
  const { semi, pad } = host.habits;
  if (piece.of) return [{ ...spanOf(piece.of.body), text: shellText(host, piece.of, call) }];
  if (!tail) {
    const start = first!.range[0];
    const end = statements.at(-1)!.range[1];
    const awaited = `${waits ? 'await ' : ''}${call}${semi}`;
    const only = results.length === 1 ? results[0]!.name : undefined;
    const text =
      results.length === 0
        ? awaited
        : `const ${only ?? `{${pad}${results.map((v) => v.name).join(', ')}${pad}}`} = ${awaited}`;
    return [{ start: from ?? start, end, text }];
  }
  const span = { start: tail.range[0], end: tail.range[1] };
  const awaited = waits && needsAwait(host, tail) ? `await ${call}` : call;
  const parent = host.scopes.parentOf(tail);
  const text = awaited !== call && parent?.type === 'MemberExpression' ? `(${awaited})` : awaited;
  const around = first && statementAround(host, tail);
  // From the first statement to the one that stays.
  const gap = around && from !== undefined ? [{ start: from, end: startOf(host, around.statement), text: '' }] : [];
  return [...gap, { ...span, text }];
}

/** What is left of a function whose statements are gone. */
function shellText(host: ScriptHost, fn: FunctionNode, call: string): string {
  if (fn.type === 'ArrowFunctionExpression') return call;
  const { lineEnd: nl, indent, semi } = host.habits;
  const outer = indentAt(host.text, fn.range[0]);
  return `{${nl}${outer}${indent}return ${call}${semi}${nl}${outer}}`;
}

/** Where a statement begins that stays, with the comments above it. */
function startOf(host: ScriptHost, statement: Node): number {
  return withComments(host.text, spanOf(statement)).start;
}

/** What an asynchronous function gives back is waited for by whoever asked; a `try` around it has to see what fails. */
function needsAwait(host: ScriptHost, tail: Node): boolean {
  const above = host.scopes.ancestorsOf(tail);
  if (above[0]?.type === 'AwaitExpression') return false;
  if (above[0]?.type !== 'ReturnStatement') return true;
  const fn = above.findIndex((n) => /Function/.test(n.type));
  return above.slice(0, fn).some((n) => n.type === 'TryStatement');
}
