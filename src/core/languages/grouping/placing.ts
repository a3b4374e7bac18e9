/** Where statements of a component can stand together, and the text with them brought there. */
import { isProblem, problem, type Problem } from '../../problems/problems.js';
import { isQuiet, mayChangePlaces } from '../../script/quiet.js';
import { within } from '../../script/walk.js';
import type { Gathered } from '../../language/hooking.js';
import { applyEdits, movedOffset, type Edit, type Span } from '../../text/edits.js';
import { lineEndOf, withComments } from '../../text/layout.js';
import { wholeLines } from '../imports.js';
import { subjectOf } from './subject.js';
import type { Ports, SourceFile } from '../../language/ports.js';
import { bodyOf, reachedFrom, readOutside, type Body, type LogicReader, type Statement } from './statements.js';

/** The statement of a group in front of which all of it can stand; undefined where there is none. */
export function placeFor({ statements, words, givenFrom }: Body, group: readonly Statement[]): Statement | undefined {
  const declared = new Set(group.flatMap((s) => s.declared));
  const others = statements.filter((s) => !group.includes(s));
  const isShared = (s: Statement) =>
    s.isVariable && (group.includes(s) ? others : group).some((o) => s.declared.some((v) => o.uses.has(v)));
  if (statements.some(isShared)) return undefined;
  // What a function names it asks for when it is called, and nothing in between calls any.
  const mayWait = (other: Statement, place: Statement) => {
    const atOnce = [...other.uses].flatMap(([v, when]) => (when === 'at once' ? [v] : []));
    const isNeeded = [...reachedFrom(atOnce, statements)].some((v) => declared.has(v));
    const between = statements.slice(statements.indexOf(other), statements.indexOf(place));
    return !isNeeded && between.every((s) => group.includes(s) || isQuiet(s.node, words));
  };
  const from = Math.max(0, ...group.flatMap((s) => [...s.reaches].map((v) => givenFrom?.(v) ?? 0)));
  return group.find((place) => {
    const at = place.span.start;
    if (at < from) return false;
    const isBefore = (s: Statement) => s.span.start < at;
    return others.every((other) => {
      // What the group reads is declared before it, and what it declares is read at once only behind it.
      const isRead = other.declared.some((v) => group.some((s) => s.reaches.has(v)));
      // A function declaration is there from the start; what it names is asked for on its own.
      if (isRead && !isBefore(other) && other.node.type !== 'FunctionDeclaration') return false;
      if (isBefore(other) && [...other.reaches].some((v) => declared.has(v)) && !mayWait(other, place)) return false;
      // Effects and other calls keep their order.
      const passed = group.filter((s) => isBefore(other) !== other.span.start < s.span.start);
      return passed.every((s) => mayChangePlaces(s.node, other.node, words));
    });
  });
}

export function gather(
  reader: LogicReader,
  file: SourceFile,
  ports: Ports,
  wanted: readonly Span[],
): Gathered | Problem {
  const at = { path: file.path, span: wanted[0] ?? { start: 0, end: 0 } };
  const around = { start: wanted[0]?.start ?? 0, end: wanted.at(-1)?.end ?? 0 };
  const component = reader.around(file, ports, around);
  if (typeof component === 'string') return problem('hook-statements', { path: file.path, span: around }, component);
  const body = bodyOf(reader, file, ports, component);
  if (isProblem(body)) return body;
  const lies = (s: Statement, w: Span) => within(s.span, w);
  const group = body.statements.filter((s) => wanted.some((w) => lies(s, w)));
  const isWhole = (w: Span) => {
    const touched = body.statements.filter((s) => s.span.start < w.end && s.span.end > w.start);
    return touched.length > 0 && touched.every((s) => lies(s, w));
  };
  if (!wanted.every(isWhole))
    return problem('hook-statements', at, 'the lines hold no whole statements of one component');
  const place = placeFor(body, group);
  if (!place) return problem('hook-statements', at, 'no place is left at which all of them would do what they did');
  const given = group.flatMap((s) => s.declared).filter((v) => readOutside(group, v) > 0);
  const told = given.length > 0 ? subjectOf(given.map((v) => v.name)) : undefined;
  const kept = (how: 'state' | 'ref') => group.find((s) => s.keeps === how)?.declared[0]?.name;
  const subject = kept('state') ?? told ?? kept('ref');
  return { ...broughtTogether(file.text, group, place), statements: group.map((s) => s.span), subject };
}

/** Moves every other statement to the one at the place, in text order, with the comments right above it. */
function broughtTogether(
  text: string,
  group: readonly Statement[],
  place: Statement,
): Pick<Gathered, 'edits' | 'span' | 'before'> {
  const nl = lineEndOf(text);
  const own = withComments(text, place.span);
  const edits: Edit[] = [];
  const moved: { readonly from: Span; readonly index: number }[] = [];
  const pieces = { before: '', after: '' };
  const indent = text.slice(text.lastIndexOf('\n', own.start - 1) + 1, own.start);
  let isLong = text.slice(own.start, own.end).includes('\n');
  for (const [index, statement] of group.entries()) {
    if (statement === place) continue;
    const span = withComments(text, statement.span);
    const lines = wholeLines(text, span);
    // Two of them may both take the blank line in between.
    edits.push({ ...lines, start: Math.max(lines.start, edits.at(-1)?.end ?? 0) });
    const part = text.slice(span.start, span.end);
    const several = part.includes('\n');
    if (statement.span.start < place.span.start) pieces.before += `${part}${nl}${several ? nl : ''}${indent}`;
    else {
      pieces.after += `${nl}${several || isLong ? nl : ''}${indent}${part}`;
      isLong = several;
    }
    moved.push({ from: span, index });
  }
  edits.push({ start: own.start, end: own.start, text: pieces.before });
  edits.push({ start: own.end, end: own.end, text: pieces.after });
  const after = applyEdits(text, edits);
  // Insertions right at the edges of the place belong to the run.
  const shifted = (offset: number) =>
    movedOffset(
      edits.filter((e) => e.end <= own.start && e.text === ''),
      offset,
    );
  const start = shifted(own.start);
  const end = start + pieces.before.length + (own.end - own.start) + pieces.after.length;
  const spans = [...moved.map((m) => m.from), own].map((from) => {
    const piece = text.slice(from.start, from.end);
    const ahead = from.start < own.start || from === own ? start : start + pieces.before.length + own.end - own.start;
    return { from, to: after.indexOf(piece, from === own ? start + pieces.before.length : ahead) };
  });
  const before = (span: Span) => {
    const home = spans.find(({ from, to }) => span.start >= to && span.end <= to + (from.end - from.start));
    return home && { start: span.start - home.to + home.from.start, end: span.end - home.to + home.from.start };
  };
  return { edits: edits.filter((e) => e.start < e.end || e.text !== ''), span: { start, end }, before };
}
