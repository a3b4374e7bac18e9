/** A page taken apart: the markup that can become a component, and what stays with the page so that it goes on working. */
import { problem, type Problem } from '../../problems/problems.js';
import { basename } from '../../files/paths.js';
import type { Edit, Span } from '../../text/edits.js';
import { indentAt, indentUnitOf, lineEndOf, reindent } from '../../text/layout.js';
import type { Emptied, PlainPage } from '../../language/hypertext.js';
import { attributeIn } from '../../plain/decode.js';
import { contentOf, DOING, elementsOf, scan, type ElementPiece, type Piece } from '../../plain/scan.js';
import { writtenBy } from '../../plain/written.js';
import { bodyOf } from './standard.js';

interface File {
  readonly path: string;
  readonly text: string;
}

export function readPage(file: File): PlainPage | Problem {
  const pieces = scan(file.text);
  const body = findElement(pieces, 'body');
  if (!body) return problem('into-body', { path: file.path });
  const shown = shownIn(body.children, file.text);
  const first = shown[0];
  const last = shown[shown.length - 1];
  if (!first || !last) return problem('into-body', { path: file.path, span: body.opening });
  const amid = body.children.find((p) => isScript(p) && p.start > first.start && p.end < last.end);
  if (amid) return problem('into-unsayable', { path: file.path, span: amid }, 'a script between parts of its markup');
  const loud = elementsOf(pieces).find((p) => {
    const script = isScript(p) ? inner(p, file.text) : '';
    return /\bdocument\s*\.\s*write/.test(script) && writtenBy(script) === undefined;
  });
  if (loud)
    return problem('into-unsayable', { path: file.path, span: loud.opening }, 'a script that calls document.write');
  return {
    shown,
    span: { start: first.start, end: last.end },
    dom: bodyOf(file.text, (name) => DOING.has(name)),
    emptied: (root, script) => emptied(file, pieces, body, { start: first.start, end: last.end }, root, script),
  };
}

export function findElement(pieces: readonly Piece[], name: string): ElementPiece | undefined {
  for (const piece of pieces) {
    if (piece.kind !== 'element') continue;
    if (piece.name.toLowerCase() === name) return piece;
    const inside = piece.name.toLowerCase() === 'html' ? findElement(piece.children, name) : undefined;
    if (inside) return inside;
  }
  return undefined;
}

/** From the first to the last piece that shows something; what stays with the page is left out. */
function shownIn(children: readonly Piece[], text: string): Piece[] {
  const shows = (piece: Piece) =>
    piece.kind === 'element'
      ? !DOING.has(piece.name.toLowerCase())
      : piece.kind === 'foreign' || (piece.kind === 'text' && text.slice(piece.start, piece.end).trim() !== '');
  const first = children.findIndex(shows);
  if (first < 0) return [];
  const last = children.length - 1 - [...children].reverse().findIndex(shows);
  // A comment that heads the first part belongs to it.
  let from = first;
  while (from > 0 && isLead(children[from - 1]!, text)) from--;
  while (children[from]!.kind === 'text' && from < first) from++;
  return children.slice(from, last + 1).filter((p) => !isStaying(p));
}

function isLead(piece: Piece, text: string): boolean {
  return piece.kind === 'comment' || (piece.kind === 'text' && text.slice(piece.start, piece.end).trim() === '');
}

/** Belongs to the page, not to what it shows. */
export function isStaying(piece: Piece): boolean {
  return piece.kind === 'element' && DOING.has(piece.name.toLowerCase());
}

function isScript(piece: Piece): piece is ElementPiece {
  return piece.kind === 'element' && piece.name.toLowerCase() === 'script';
}

function inner(element: ElementPiece, text: string): string {
  const { start, end } = contentOf(element);
  return text.slice(start, end);
}

function emptied(
  file: File,
  pieces: readonly Piece[],
  body: ElementPiece,
  span: Span,
  root: string,
  script: string,
): Emptied {
  const { text } = file;
  const nl = lineEndOf(text);
  const indent = indentAt(text, span.start);
  const unit = indentUnitOf(text);
  const within = body.children.filter((p) => isStaying(p) && p.start > span.start && p.end < span.end);
  const mount = (at: string) =>
    ['<script type="module">', ...script.split('\n').map((line) => line && unit + line), '</script>']
      .map((line) => line && at + line)
      .join(nl)
      .trimStart();
  const kept = within.map((p) => nl + indent + text.slice(p.start, p.end)).join('');
  const edits: Edit[] = [];
  // A module and what is deferred run in the order in which they stand: the mounting has to be the first of them.
  const head = findElement(pieces, 'head');
  const early = head && elementsOf(head.children).find((p) => isScript(p) && isDeferred(p, text));
  const place = `<div id="${root}"></div>`;
  if (early) {
    edits.push({ ...span, text: place + kept });
    const at = indentAt(text, early.start);
    edits.push({ start: early.start, end: early.start, text: mount(at) + nl + at });
  } else edits.push({ ...span, text: `${place}${nl}${indent}${mount(indent)}${kept}` });
  const late = later(
    body.children.filter(isScript).filter((p) => p.start >= span.end),
    file,
  );
  return { edits: [...edits, ...late.edits], scripts: late.scripts, notes: late.notes };
}

/** The text of a script as a file: at the margin, unless a string over several lines would change. */
function ownFile(script: string, lineEnd: string): string {
  const text = script.replace(/^\s*\n/, '').trimEnd();
  return `${text.includes('`') ? text : reindent(text, indentAt(text, 0), '').trimStart()}${lineEnd}`;
}

function isDeferred(script: ElementPiece, text: string): boolean {
  const deferred = attributeIn(script, 'defer', text) !== undefined && attributeIn(script, 'src', text) !== undefined;
  return attributeIn(script, 'type', text)?.trim().toLowerCase() === 'module' || deferred;
}

/** Scripts that ran when the markup above them was there: they now wait for it, in the same order. */
function later(scripts: readonly ElementPiece[], file: File): Emptied {
  const { text } = file;
  const edits: Edit[] = [];
  const moved: { suffix: string; text: string }[] = [];
  for (const script of scripts) {
    const type = attributeIn(script, 'type', text)?.trim().toLowerCase() ?? '';
    if (!/^$|^(?:text|application)\/(?:x-)?(?:java|ecma)script$/.test(type) || isDeferred(script, text)) continue;
    const at = script.opening.start + '<script'.length;
    if (attributeIn(script, 'src', text) !== undefined) {
      if (attributeIn(script, 'async', text) === undefined) edits.push({ start: at, end: at, text: ' defer' });
      continue;
    }
    const suffix = moved.length === 0 ? '-script.js' : `-script-${moved.length + 1}.js`;
    moved.push({ suffix, text: ownFile(inner(script, text), lineEndOf(text)) });
    const name = basename(file.path).replace(/\.[^.]*$/, '') + suffix;
    edits.push({ start: at, end: at, text: ` defer src="./${name}"` });
    edits.push({ start: script.opening.end, end: script.closing?.start ?? script.end, text: '' });
  }
  const notes = [
    ...(edits.length > 0
      ? ['scripts at the end of the page wait now until it is mounted (`defer`), in their order']
      : []),
    ...(moved.length > 0
      ? [`a script that stood inside of the page is in a file of its own, because only a file can wait`]
      : []),
  ];
  return { edits, scripts: moved, notes };
}
