/** Lists of names between commas, and members of types, with some taken out and some put in. */
import type { Node } from '../script/parser.js';
import { applyEdits, type Edit, type Span } from '../text/edits.js';
import { indentAt } from '../text/layout.js';

/** Entries of a list between commas taken out, and names put behind the last one. */
export function listEdits<T extends Node>(
  text: string,
  entries: readonly T[],
  isGone: (entry: T) => boolean,
  names: readonly string[],
): Edit[] {
  const edits: Edit[] = [];
  const kept = entries.filter((entry) => !isGone(entry));
  entries.forEach((entry, i) => {
    if (!isGone(entry) || (i > 0 && isGone(entries[i - 1]!))) return;
    const next = entries.slice(i).find((e) => !isGone(e));
    const before = entries[i - 1];
    // With the comma behind them; at the end of the list with the one before them.
    if (next) edits.push({ start: entry.range[0], end: next.range[0], text: '' });
    else edits.push({ start: before?.range[1] ?? entry.range[0], end: entries.at(-1)!.range[1], text: '' });
  });
  if (names.length === 0) return edits;
  const last = kept.at(-1);
  if (!last) {
    const [first] = entries;
    // All are gone: the new ones take their room.
    const start = first?.range[0] ?? 0;
    return [{ start, end: entries.at(-1)?.range[1] ?? start, text: names.join(', ') }];
  }
  const isRest = last.type === 'RestElement';
  const isLong = text.slice(entries[0]!.range[0], entries.at(-1)!.range[1]).includes('\n');
  const gap = isLong ? `,\n${indentAt(text, last.range[0])}` : ', ';
  const joined = names.join(gap);
  const at = isRest ? last.range[0] : last.range[1];
  const put: Edit = { start: at, end: at, text: isRest ? `${joined}${gap}` : `${gap}${joined}` };
  return [...joinedAt(edits, put)];
}

/** An insertion where a deletion begins is one edit with it. */
function joinedAt(edits: readonly Edit[], put: Edit): Edit[] {
  const at = edits.findIndex((e) => e.start === put.start);
  return at < 0 ? [...edits, put] : edits.map((e, i) => (i === at ? { ...e, text: put.text + e.text } : e));
}

/** A member of a type with its line, or with what stands between it and the next one. */
export function memberGone(text: string, { start, end }: Span): Edit {
  const line = text.lastIndexOf('\n', start - 1) + 1;
  const rest = /^[ \t]*\r?\n/.exec(text.slice(end));
  if (!text.slice(line, start).trim() && rest) return { start: line, end: end + rest[0].length, text: '' };
  const gap = /^[;,]?[ \t]*/.exec(text.slice(end))![0].length;
  return { start, end: end + gap, text: '' };
}

/** `edits` with new members: behind the last of those that are left, else in the room of the last that went. */
export function withMembers(
  text: string,
  left: readonly Node[],
  edits: readonly Edit[],
  added: readonly { readonly name: string; readonly type?: string }[],
): Edit[] {
  const put = membersEdit(text, left, added);
  if (put) return [...edits, put];
  const room = edits.findLast((e) => e.text === '');
  if (!room) return [...edits];
  const [indent] = /^[ \t]*/.exec(text.slice(room.start))!;
  const gone = text.slice(room.start, room.end);
  const end = /[;,](?=\s*$)/.exec(gone)?.[0] ?? '';
  const [tail] = /(?:\r?\n)?$/.exec(gone)!;
  const written = added.map((p) => `${indent}${p.name}: ${p.type ?? 'any'}${end}`).join(tail || ' ');
  return edits.map((e) => (e === room ? { ...e, text: written + tail } : e));
}

/** Edits of a record of types in one line: where nothing stood behind its last member, nothing does afterwards. */
export function inOneLine(text: string, { type, range }: Node, edits: readonly Edit[]): Edit[] {
  const whole = text.slice(...range);
  const own = edits.filter((e) => e.start >= range[0] && e.end <= range[1]);
  if (type !== 'TSTypeLiteral' || own.length === 0 || whole.includes('\n') || /[;,]\s*\}$/.test(whole))
    return [...edits];
  const moved = own.map((e) => ({ ...e, start: e.start - range[0], end: e.end - range[0] }));
  const written = applyEdits(whole, moved).replace(/[;,](?=\s*\}$)/, '');
  return [...edits.filter((e) => !own.includes(e)), { start: range[0], end: range[1], text: written }];
}

/** New members behind the last of those that are left, as they are laid out; undefined where none is. */
function membersEdit(
  text: string,
  left: readonly Node[],
  added: readonly { readonly name: string; readonly type?: string }[],
): Edit | undefined {
  const last = left.at(-1);
  if (!last) return undefined;
  const end = /[;,]$/.exec(text.slice(...last.range))?.[0] ?? '';
  const isLong = text.slice(text.lastIndexOf('{', left[0]!.range[0]), last.range[1]).includes('\n');
  const gap = isLong ? `\n${indentAt(text, last.range[0])}` : end ? ' ' : '; ';
  const put = added.map((p) => `${gap}${p.name}: ${p.type ?? 'any'}${end}`).join('');
  return { start: last.range[1], end: last.range[1], text: put };
}
