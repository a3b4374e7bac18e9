/**
 * A scanner for plain markup with foreign parts in it, that loses nothing: every unit of the text stands in exactly one
 * leaf of the tree, and `print(scan(text))` is `text` for any input, broken input as well. End tags that the HTML standard
 * lets one leave out are implied; what belongs to another language (`{{ … }}`, `<% … %>`, `<?php … ?>`) is kept whole.
 */
import type { Span } from '../text/edits.js';

export type Piece = ElementPiece | LeafPiece;

export interface ElementPiece extends Span {
  readonly kind: 'element';
  /** As written. */
  readonly name: string;
  readonly attributes: readonly AttributePiece[];
  readonly opening: Span;
  /** Undefined where the end is implied, or the element is void. */
  readonly closing: Span | undefined;
  readonly children: readonly Piece[];
}

export interface LeafPiece extends Span {
  /** `stray`: an end tag that ends nothing. */
  readonly kind: 'text' | 'comment' | 'doctype' | 'foreign' | 'stray';
}

export interface AttributePiece extends Span {
  readonly name: string;
  /** With its quotes. */
  readonly value: Span | undefined;
}

export const VOID = words('area base br col embed hr img input link meta param source track wbr');
/** Elements whose content is text up to their end tag. */
const RAW = words('script style textarea title xmp iframe noembed noframes');
const BLOCKS = words(
  'address article aside blockquote details div dl fieldset figcaption figure footer form h1 h2 h3 h4 h5 h6 header hgroup hr main menu nav ol p pre section table ul',
);
/** What an opening tag ends, by its name: the HTML standard, optional tags. */
const ENDS: Record<string, ReadonlySet<string>> = {
  li: words('li'),
  dt: words('dt dd'),
  dd: words('dt dd'),
  option: words('option'),
  optgroup: words('option optgroup'),
  tr: words('tr td th'),
  td: words('td th'),
  th: words('td th'),
  tbody: words('thead tbody tr td th caption colgroup'),
  tfoot: words('thead tbody tr td th'),
  thead: words('caption colgroup'),
  rt: words('rt rp'),
  rp: words('rt rp'),
  body: words('head'),
};
/** Elements that an implied end does not reach across. */
const WALLS = words('ul ol dl table select optgroup ruby template svg math html');

function words(list: string): Set<string> {
  return new Set(list.split(' '));
}

export function scan(text: string): Piece[] {
  return new Scanner(text).run();
}

/** The text of a tree, leaf by leaf. */
export function print(pieces: readonly Piece[], text: string): string {
  const slice = ({ start, end }: Span) => text.slice(start, end);
  return pieces
    .map((p) =>
      p.kind === 'element'
        ? slice(p.opening) + print(p.children, text) + (p.closing ? slice(p.closing) : '')
        : slice(p),
    )
    .join('');
}

/** All elements, outermost first. */
export function elementsOf(pieces: readonly Piece[]): ElementPiece[] {
  return pieces.flatMap((p) => (p.kind === 'element' ? [p, ...elementsOf(p.children)] : []));
}

/** What stands between the tags of an element. */
export function contentOf({ opening, closing, end }: ElementPiece): Span {
  return { start: opening.end, end: closing?.start ?? end };
}

/** Elements that do something other than show, wherever they stand. */
export const DOING = words('script style link noscript template base meta title frameset plaintext');
/** Elements whose white space is content. */
export const AS_WRITTEN = words('pre textarea listing');

interface Open {
  readonly name: string;
  readonly lower: string;
  readonly attributes: readonly AttributePiece[];
  readonly opening: Span;
  readonly children: Piece[];
}

class Scanner {
  readonly #root: Piece[] = [];
  readonly #open: Open[] = [];
  #at = 0;

  constructor(readonly text: string) {}

  run(): Piece[] {
    const { text } = this;
    while (this.#at < text.length) {
      const start = this.#at;
      const foreign = this.#foreignEnd(start);
      if (foreign !== undefined) this.#leaf('foreign', foreign);
      else if (text.startsWith('<!--', start)) this.#leaf('comment', this.#behind('-->', start + 4));
      else if (/^<!/.test(text.slice(start, start + 2))) this.#leaf('doctype', this.#behind('>', start + 2));
      else if (/^<\/[A-Za-z]/.test(text.slice(start, start + 3))) this.#endTag();
      else if (/^<[A-Za-z]/.test(text.slice(start, start + 2))) this.#startTag();
      else this.#leaf('text', this.#textEnd(start + 1));
    }
    while (this.#open.length > 0) this.#close(undefined);
    return this.#root;
  }

  get #siblings(): Piece[] {
    return this.#open[this.#open.length - 1]?.children ?? this.#root;
  }

  #leaf(kind: LeafPiece['kind'], end: number): void {
    const siblings = this.#siblings;
    const last = siblings[siblings.length - 1];
    // Text that was cut by something that turned out to be text as well.
    if (kind === 'text' && last?.kind === 'text') siblings[siblings.length - 1] = { kind, start: last.start, end };
    else siblings.push({ kind, start: this.#at, end });
    this.#at = end;
  }

  /** Behind the next `mark`; the end of the text where there is none. */
  #behind(mark: string, from: number): number {
    const at = this.text.indexOf(mark, from);
    return at < 0 ? this.text.length : at + mark.length;
  }

  /** Where a part in another language ends that begins here. */
  #foreignEnd(at: number): number | undefined {
    const { text } = this;
    if (text.startsWith('<?', at)) return this.#behind('?>', at + 2);
    if (text.startsWith('<%', at)) return this.#behind('%>', at + 2);
    if (text.startsWith('{{', at)) return this.#behind('}}', at + 2);
    if (text.startsWith('{%', at)) return this.#behind('%}', at + 2);
    return undefined;
  }

  #textEnd(from: number): number {
    for (let at = from; at < this.text.length; at++) {
      const c = this.text[at]!;
      if (c === '<' && /[A-Za-z!/?%]/.test(this.text[at + 1] ?? '')) return at;
      if (c === '{' && /[{%]/.test(this.text[at + 1] ?? '')) return at;
    }
    return this.text.length;
  }

  #startTag(): void {
    const start = this.#at;
    const name = /^[^\s/>]+/.exec(this.text.slice(start + 1))![0];
    const { attributes, end, selfClosed } = this.#attributes(start + 1 + name.length);
    const lower = name.toLowerCase();
    this.#imply(lower);
    const opening = { start, end };
    const isForeignElement =
      this.#open.some((o) => o.lower === 'svg' || o.lower === 'math') || lower === 'svg' || lower === 'math';
    this.#at = end;
    if (VOID.has(lower) || (selfClosed && isForeignElement)) {
      this.#siblings.push({ kind: 'element', start, end, name, attributes, opening, closing: undefined, children: [] });
      return;
    }
    this.#open.push({ name, lower, attributes, opening, children: [] });
    if (!RAW.has(lower)) return;
    const close = new RegExp(`</${lower}(?=[\\s/>])`, 'i').exec(this.text.slice(end));
    const stop = close ? end + close.index : this.text.length;
    if (stop > end) this.#leaf('text', stop);
  }

  #attributes(from: number): { attributes: AttributePiece[]; end: number; selfClosed: boolean } {
    const { text } = this;
    const attributes: AttributePiece[] = [];
    let at = from;
    for (;;) {
      while (/\s/.test(text[at] ?? '')) at++;
      if (at >= text.length) return { attributes, end: text.length, selfClosed: false };
      if (text[at] === '>') return { attributes, end: at + 1, selfClosed: text[at - 1] === '/' };
      const foreign = this.#foreignEnd(at);
      if (foreign !== undefined) {
        at = foreign;
        continue;
      }
      if (text[at] === '/') {
        at++;
        continue;
      }
      const start = at;
      at = this.#word(at, /[\s=>/]/);
      if (at === start) at++;
      const name = text.slice(start, at);
      const equals = /^\s*=\s*/.exec(text.slice(at));
      if (!equals) {
        attributes.push({ name, value: undefined, start, end: at });
        continue;
      }
      const first = at + equals[0].length;
      const quote = text[first];
      at = quote === '"' || quote === "'" ? this.#behindQuote(quote, first + 1) : this.#word(first, /[\s>]/);
      attributes.push({ name, value: { start: first, end: at }, start, end: at });
    }
  }

  /** The end of a run without a stop; foreign parts in it are passed over whole. */
  #word(from: number, stop: RegExp): number {
    let at = from;
    while (at < this.text.length && !stop.test(this.text[at]!)) at = this.#foreignEnd(at) ?? at + 1;
    return at;
  }

  #behindQuote(quote: string, from: number): number {
    let at = from;
    while (at < this.text.length && this.text[at] !== quote) at = this.#foreignEnd(at) ?? at + 1;
    return Math.min(at + 1, this.text.length);
  }

  /** Ends what the standard ends where a tag opens. */
  #imply(lower: string): void {
    const ended = BLOCKS.has(lower) ? words('p') : (ENDS[lower] ?? undefined);
    if (!ended) return;
    for (let i = this.#open.length - 1; i >= 0; i--) {
      const { lower: name } = this.#open[i]!;
      if (ended.has(name)) {
        while (this.#open.length > i) this.#close(undefined);
        if (!ENDS[lower]) return;
      } else if (WALLS.has(name) || (BLOCKS.has(lower) && name !== 'p' && BLOCKS.has(name))) return;
    }
  }

  #endTag(): void {
    const start = this.#at;
    const name = /^[^\s/>]+/.exec(this.text.slice(start + 2))![0].toLowerCase();
    const end = this.#attributes(start + 2 + name.length).end;
    const index = this.#open.map((o) => o.lower).lastIndexOf(name);
    if (index < 0) return this.#leaf('stray', end);
    while (this.#open.length > index + 1) this.#close(undefined);
    this.#at = end;
    this.#close({ start, end });
  }

  #close(closing: Span | undefined): void {
    const { name, attributes, opening, children } = this.#open.pop()!;
    const last = children[children.length - 1];
    const end = closing?.end ?? last?.end ?? opening.end;
    this.#siblings.push({ kind: 'element', start: opening.start, end, name, attributes, opening, closing, children });
  }
}
