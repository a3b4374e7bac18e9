/**
 * Text edits as data. An edit list is what every step returns, so it must be possible to check it, print it, apply it
 * in memory and take it back. All offsets are UTF-16 code units into the text before the edits.
 */

/** Half-open range `[start, end)` in UTF-16 code units. */
export interface Span {
  readonly start: number;
  readonly end: number;
}

/** Replaces `[start, end)` by `text`. An insertion has `start === end`. */
export interface Edit extends Span {
  readonly text: string;
}

/** Thrown where edits cannot be applied together. Steps answer with a problem instead; see `withinDepth`. */
export class EditConflict extends RangeError {}

/** Edits in text order. Insertions at one offset keep the order in which they were given. Throws `EditConflict` when two overlap. */
export function sortEdits(edits: readonly Edit[]): Edit[] {
  const sorted = edits.map((edit, order) => ({ edit, order }));
  sorted.sort((a, b) => a.edit.start - b.edit.start || a.edit.end - b.edit.end || a.order - b.order);
  const result = sorted.map(({ edit }) => edit);
  for (let i = 1; i < result.length; i++) {
    const before = result[i - 1]!;
    const edit = result[i]!;
    if (edit.start < before.end) {
      throw new EditConflict(`edits overlap: [${before.start}, ${before.end}) and [${edit.start}, ${edit.end})`);
    }
  }
  return result;
}

/** The text after the edits. Throws `EditConflict` when an edit lies outside the text or two overlap. */
export function applyEdits(text: string, edits: readonly Edit[]): string {
  let result = '';
  let at = 0;
  for (const edit of sortEdits(edits)) {
    if (edit.start < 0 || edit.end > text.length || edit.start > edit.end) {
      throw new EditConflict(`edit [${edit.start}, ${edit.end}) lies outside a text of ${text.length} units`);
    }
    result += text.slice(at, edit.start) + edit.text;
    at = edit.end;
  }
  return result + text.slice(at);
}

/** Where an offset of the text before the edits stands after them; one inside of an edit goes to its end. */
export function movedOffset(edits: readonly Edit[], offset: number): number {
  let shift = 0;
  for (const edit of sortEdits(edits)) {
    if (edit.start > offset) break;
    if (edit.end > offset) return edit.start + shift + edit.text.length;
    shift += edit.text.length - (edit.end - edit.start);
  }
  return offset + shift;
}

/** Edits that turn `applyEdits(text, edits)` back into `text`. */
export function invertEdits(text: string, edits: readonly Edit[]): Edit[] {
  let shift = 0;
  return sortEdits(edits).map((edit) => {
    const start = edit.start + shift;
    shift += edit.text.length - (edit.end - edit.start);
    return { start, end: start + edit.text.length, text: text.slice(edit.start, edit.end) };
  });
}

/** A run of the text before the edits that is kept, or text that is put in. */
type Piece = Span | string;

/** One edit list that does what `first` and then `second` do; the offsets of `second` are those after `first`. */
export function composeEdits(text: string, first: readonly Edit[], second: readonly Edit[]): Edit[] {
  const middle = piecesOf(text.length, first);
  const pieces: Piece[] = [];
  for (const piece of piecesOf(applyEdits(text, first).length, second)) {
    if (typeof piece === 'string') pieces.push(piece);
    else pieces.push(...slicePieces(middle, piece));
  }
  const result: Edit[] = [];
  let at = 0;
  let inserted = '';
  const close = (start: number) => {
    if (start > at || inserted) result.push({ start: at, end: start, text: inserted });
    inserted = '';
  };
  for (const piece of pieces) {
    if (typeof piece === 'string') inserted += piece;
    else {
      close(piece.start);
      at = piece.end;
    }
  }
  close(text.length);
  return result;
}

function piecesOf(length: number, edits: readonly Edit[]): Piece[] {
  const pieces: Piece[] = [];
  let at = 0;
  for (const edit of sortEdits(edits)) {
    if (edit.start > at) pieces.push({ start: at, end: edit.start });
    if (edit.text) pieces.push(edit.text);
    at = edit.end;
  }
  if (length > at) pieces.push({ start: at, end: length });
  return pieces;
}

/** The part of a text made of `pieces` that stands at `[range.start, range.end)` of that text. */
function slicePieces(pieces: readonly Piece[], range: Span): Piece[] {
  const result: Piece[] = [];
  let offset = 0;
  for (const piece of pieces) {
    const length = typeof piece === 'string' ? piece.length : piece.end - piece.start;
    const from = Math.max(range.start - offset, 0);
    const to = Math.min(range.end - offset, length);
    offset += length;
    if (from >= to) continue;
    result.push(
      typeof piece === 'string' ? piece.slice(from, to) : { start: piece.start + from, end: piece.start + to },
    );
  }
  return result;
}
