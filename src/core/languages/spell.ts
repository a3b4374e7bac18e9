/** Plain markup spelt as another language spells it: edits of the text as it stands, so that its lines stay what they were. */
import { problem, type Problem } from '../problems/problems.js';
import type { Edit } from '../text/edits.js';
import { isUnsayable, type SpaceSite, type Spelling } from '../language/hypertext.js';
import { gapsOf, partsOf, stepsOf, type DomNode, type Step } from '../plain/dom.js';
import { attributeValue } from '../plain/decode.js';
import { writtenBy } from '../plain/written.js';
import { AS_WRITTEN, contentOf, DOING, VOID, type ElementPiece, type Piece } from '../plain/scan.js';

export function spell(
  shown: readonly Piece[],
  file: { readonly path: string; readonly text: string },
  spelling: Spelling,
): readonly Edit[] | Problem {
  const speller = new Speller(file.path, file.text, spelling);
  speller.pieces(shown);
  if (speller.trouble) return speller.trouble;
  return [...speller.edits, ...spaces(shown, file.text, spelling)];
}

class Speller {
  readonly edits: Edit[] = [];
  trouble: Problem | undefined;

  constructor(
    readonly path: string,
    readonly source: string,
    readonly spelling: Spelling,
  ) {}

  #refuse(piece: { readonly start: number; readonly end: number }, what: string): void {
    this.trouble ??= problem('into-unsayable', { path: this.path, span: { start: piece.start, end: piece.end } }, what);
  }

  pieces(pieces: readonly Piece[], asWritten = false, parent?: ElementPiece, inForeign = false): void {
    for (const piece of pieces) {
      const written = this.source.slice(piece.start, piece.end);
      if (piece.kind === 'foreign') this.#refuse(piece, `\`${written.slice(0, 30)}\`, which a server fills in`);
      else if (piece.kind === 'stray') this.#stray(piece, written);
      else if (piece.kind === 'comment') this.edits.push({ ...spanOf(piece), text: this.spelling.comment(written) });
      else if (piece.kind === 'text') this.edits.push(...this.spelling.text(piece, this.source, asWritten));
      else if (piece.kind === 'element') this.#element(piece, asWritten, parent, inForeign);
    }
  }

  /** An end tag that ends nothing means nothing, but for two that a browser makes elements of. */
  #stray(piece: Piece, written: string): void {
    if (/^<\/(?:p|br)\b/i.test(written)) this.#refuse(piece, `\`${written}\` with no tag that it ends`);
    else this.edits.push({ ...spanOf(piece), text: '' });
  }

  #element(element: ElementPiece, asWritten: boolean, parent: ElementPiece | undefined, inForeign: boolean): void {
    const { source, spelling } = this;
    const lower = element.name.toLowerCase();
    const code = codeIn(element, source);
    if (code !== undefined) return void this.edits.push({ ...spanOf(element), text: spelling.code(code) });
    // In SVG a title is what a picture is called, and not the page.
    const isTitle = inForeign && lower === 'title';
    if (DOING.has(lower) && !isTitle) return this.#refuse(element.opening, `<${lower}> inside of its markup`);
    const name = inForeign ? element.name : lower;
    const at = element.opening.start + 1;
    if (name !== element.name) this.edits.push({ start: at, end: at + element.name.length, text: name });
    const seen = new Set<string>();
    for (const attribute of element.attributes) {
      const key = attribute.name.toLowerCase();
      const text = seen.has(key) ? '' : spelling.attribute(attribute, element, source);
      seen.add(key);
      if (/<[?%]|\{\{|\{%/.test(source.slice(attribute.start, attribute.end)))
        this.#refuse(
          attribute,
          `\`${source.slice(attribute.start, attribute.end).slice(0, 30)}\`, which a server fills in`,
        );
      else if (isUnsayable(text)) this.#refuse(attribute, text.unsayable);
      else if (text === '') {
        const before = /\s*$/.exec(source.slice(0, attribute.start))![0].length;
        this.edits.push({ start: attribute.start - before, end: attribute.end, text: '' });
      } else if (text !== undefined && text !== source.slice(attribute.start, attribute.end))
        this.edits.push({ ...spanOf(attribute), text });
    }
    if (spelling.element) this.edits.push(...spelling.element(element, source));
    const isInForeign = inForeign || lower === 'svg' || lower === 'math';
    if (!spelling.takes?.has(lower))
      this.pieces(element.children, asWritten || AS_WRITTEN.has(lower), element, isInForeign);
    // After its content: where several end at one place, the inner ones come first.
    this.#ends(element, name, lower, isInForeign);
    this.#rows(element, lower, parent);
  }

  /** End tags that the standard implies are written, void elements closed. */
  #ends(element: ElementPiece, name: string, lower: string, inForeign: boolean): void {
    const { opening, closing, end, name: written } = element;
    const { source } = this;
    const selfClosed = source.slice(opening.start, opening.end).endsWith('/>');
    // Only SVG and MathML know a tag that closes itself: elsewhere the slash means nothing.
    if (selfClosed && inForeign) return;
    if (selfClosed && !VOID.has(lower)) this.edits.push({ start: opening.end - 2, end: opening.end, text: '>' });
    if (VOID.has(lower)) {
      const slash = source.slice(0, opening.end - 1).endsWith(' ') ? '/' : ' /';
      if (!selfClosed && this.spelling.closesVoid)
        this.edits.push({ start: opening.end - 1, end: opening.end - 1, text: slash });
    } else if (closing) {
      const from = closing.start + 2;
      if (written !== name || source.slice(from, from + name.length) !== name)
        this.edits.push({ start: from, end: from + written.length, text: name });
    } else {
      const at = this.#trimmed(end);
      this.edits.push({ start: at, end: at, text: `</${name}>` });
    }
  }

  /** Before the white space at an implied end: that belongs to what follows. */
  #trimmed(end: number): number {
    let at = end;
    while (/\s/.test(this.source[at - 1]!)) at--;
    return at;
  }

  /** Rows that stand directly in a table are in a body that the standard puts around them. */
  #rows(row: ElementPiece, lower: string, table: ElementPiece | undefined): void {
    if (lower !== 'tr' || table?.name.toLowerCase() !== 'table') return;
    const rows = table.children.filter((c) => c.kind === 'element');
    const isRow = (piece: Piece | undefined) => piece?.kind === 'element' && piece.name.toLowerCase() === 'tr';
    const index = rows.indexOf(row);
    if (!isRow(rows[index - 1])) this.edits.push({ start: row.start, end: row.start, text: '<tbody>' });
    const end = row.closing ? row.end : this.#trimmed(row.end);
    if (!isRow(rows[index + 1])) this.edits.push({ start: end, end, text: '</tbody>' });
  }
}

/** The expression whose value a script writes where it stands. */
function codeIn(element: ElementPiece, source: string): string | undefined {
  const { start, end } = contentOf(element);
  return /^script$/i.test(element.name) ? writtenBy(source.slice(start, end)) : undefined;
}

function spanOf({ start, end }: { readonly start: number; readonly end: number }) {
  return { start, end };
}

/** White space that a reader sees and that the language would drop is written out. */
function spaces(shown: readonly Piece[], source: string, spelling: Spelling): Edit[] {
  const sites = new Map<number, SpaceSite>();
  siteEach(shown, source, sites);
  const edits: Edit[] = [];
  for (const gap of gapsOf(stepsOf(plainOf(shown, source)))) {
    if (!('steps' in gap) || !gap.shown) continue;
    const runs: readonly Step[] = gap.steps.filter((s) => s.kind === 'space');
    // Of several that fold into one a browser shows the first, unless a style sheet makes a box of what it stands in.
    const outermost = runs.reduce((a, b) => (b.depth < a.depth ? b : a));
    for (const run of new Set([runs[0]!, outermost]))
      if (!spelling.keeps(sites.get(run.start)!))
        edits.push({ start: run.start, end: run.start, text: spelling.space });
  }
  return edits;
}

function plainOf(pieces: readonly Piece[], source: string): DomNode[] {
  return pieces.flatMap((piece): DomNode[] => {
    if (piece.kind === 'text') return [{ ...spanOf(piece), kind: 'text', text: source.slice(piece.start, piece.end) }];
    if (piece.kind !== 'element') return [];
    if (codeIn(piece, source)) return [{ ...spanOf(piece), kind: 'text', text: 'code' }];
    const children = plainOf(piece.children, source);
    const attributes = new Map(piece.attributes.map((a) => [a.name.toLowerCase(), attributeValue(a, source)]));
    return [{ ...spanOf(piece), kind: 'element', name: piece.name.toLowerCase(), attributes, children }];
  });
}

function siteEach(pieces: readonly Piece[], source: string, sites: Map<number, SpaceSite>): void {
  pieces.forEach((piece, i) => {
    if (piece.kind === 'element') return siteEach(piece.children, source, sites);
    if (piece.kind !== 'text') return;
    const text = source.slice(piece.start, piece.end);
    const beside = [pieces[i - 1], pieces[i + 1]];
    const around = { edge: beside.includes(undefined), besideComment: beside.some((p) => p?.kind === 'comment') };
    const { head, tail } = partsOf(text);
    if (head === text) sites.set(piece.start, { text, alone: true, ...around });
    else {
      sites.set(piece.start, { text: head, alone: false, ...around });
      sites.set(piece.end - tail.length, { text: tail, alone: false, ...around });
    }
  });
}
