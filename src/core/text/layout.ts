/** How a text is laid out: line ends and indentation, read from it, so that new text can follow. */
import { applyEdits, type Edit, type Span } from './edits.js';

export function lineEndOf(text: string): '\n' | '\r\n' {
  return /\r\n/.test(text.slice(0, 4096)) ? '\r\n' : '\n';
}

/** One level of indentation, as most indented lines of the text have it. */
export function indentUnitOf(text: string): string {
  let tabs = 0;
  let spaces = 0;
  const steps = new Map<number, number>();
  let previous = 0;
  for (const line of text.split('\n')) {
    if (!line.trim() || /^\s*\*/.test(line)) continue;
    const indent = /^[ \t]*/.exec(line)![0];
    if (indent.startsWith('\t')) tabs++;
    else if (indent) spaces++;
    const step = Math.abs(indent.length - previous);
    if (step > 1 && step <= 8 && !indent.startsWith('\t')) steps.set(step, (steps.get(step) ?? 0) + 1);
    previous = indent.length;
  }
  if (tabs > spaces) return '\t';
  let best = 2;
  for (const [step, count] of steps) if (count > (steps.get(best) ?? 0)) best = step;
  return ' '.repeat(best);
}

/** The white space at the head of the line that holds `offset`. */
export function indentAt(text: string, offset: number): string {
  const lineStart = text.lastIndexOf('\n', offset - 1) + 1;
  return /^[ \t]*/.exec(text.slice(lineStart))![0];
}

/**
 * Moves the lines of `text` (all but the first, which stands where the caller puts it) from one indentation to another.
 * Lines that begin inside one of the `fixed` spans (template strings and the like, offsets into `text`) stay as they are.
 */
export function reindent(text: string, from: string, to: string, fixed: readonly Span[] = []): string {
  if (from === to) return text;
  let result = '';
  let at = 0;
  for (;;) {
    const next = text.indexOf('\n', at);
    if (next < 0) return result + text.slice(at);
    result += text.slice(at, next + 1);
    at = next + 1;
    if (fixed.some((span) => span.start < at && at <= span.end)) continue;
    const indent = /^[ \t]*/.exec(text.slice(at))![0];
    if (/^[ \t]*(\r?\n|$)/.test(text.slice(at))) continue;
    result += indent.startsWith(from) ? to + indent.slice(from.length) : shorten(indent, from, to);
    at += indent.length;
  }
}

/** A line that is indented less than `from` keeps its distance as far as there is room. */
function shorten(indent: string, from: string, to: string): string {
  const missing = from.length - indent.length;
  return missing > 0 ? to.slice(0, Math.max(0, to.length - missing)) : to + indent.slice(from.length);
}

/**
 * The text of a span with edits made in it, its lines moved to another indentation. Lines that begin inside one of the
 * `fixed` spans, or inside an edit, stay as they are. All offsets are those of `text`.
 */
export function relocated(
  text: string,
  span: Span,
  to: string,
  edits: readonly Edit[],
  fixed: readonly Span[],
  from = indentAt(text, span.start),
): string {
  return applyEdits(text.slice(span.start, span.end), relocation(text, span, to, edits, fixed, from));
}

/** The same as edits of the span's text: their offsets count from its beginning. */
export function relocation(
  text: string,
  span: Span,
  to: string,
  edits: readonly Edit[],
  fixed: readonly Span[],
  from = indentAt(text, span.start),
): Edit[] {
  const all = edits.filter((e) => e.start >= span.start && e.end <= span.end);
  const within = (list: readonly Span[], offset: number) => list.some((s) => s.start < offset && offset < s.end);
  const moves: Edit[] = [];
  for (let at = text.indexOf('\n', span.start) + 1; at > 0 && at < span.end; at = text.indexOf('\n', at) + 1) {
    const head = /^[ \t]*/.exec(text.slice(at))![0];
    if (/^[ \t]*(\r?\n|$)/.test(text.slice(at)) || within(fixed, at)) continue;
    if (all.some((e) => e.start < at + Math.max(head.length, 1) && at < e.end)) continue;
    const moved = reindent(`\n${head}x`, from, to).slice(1, -1);
    if (moved !== head) moves.push({ start: at, end: at + head.length, text: moved });
  }
  return [...all, ...moves].map((e) => ({ start: e.start - span.start, end: e.end - span.start, text: e.text }));
}

/** Comments that take whole lines, up to the very end of a text; `$` would be the end of any line. */
const COMMENTS = /(?:^[ \t]*(?:\/\/[^\n]*|\/\*(?:(?!\*\/)[\s\S])*\*\/[ \t]*)\r?\n)+[ \t]*(?![\s\S])/m;

/** A statement with the comments right above it. */
export function withComments(text: string, { start, end }: Span): Span {
  const lead = COMMENTS.exec(text.slice(0, start));
  return { start: lead ? lead.index + /^[ \t]*/.exec(lead[0])![0].length : start, end };
}

/** A type on one line: where a line ended a member of a record, a semicolon does. */
export function typeOnOneLine(type: string): string {
  return type
    .replace(/([^\s{(<[,;|&=:?])[ \t]*\r?\n\s*(?=(?:readonly\s+)?[\w$'"[]+['"\]]?\??\s*[:(])/g, '$1; ')
    .replace(/\s+/g, ' ');
}
