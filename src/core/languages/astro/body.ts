/**
 * The body of a file, read into tags with code in braces. What stands in braces is JavaScript with tags in it, so tags and
 * code take turns; the code itself is parsed by the port, with a name in the place of each tag.
 */
import type { TSESTree } from '@typescript-eslint/types';
import { VOID } from '../../plain/scan.js';
import * as make from '../../script/make.js';
import { isScriptError, type Node, type ScriptParser } from '../../script/parser.js';
import { moved, rewrite } from '../../script/rewrite.js';
import { attributeName } from '../../script/walk.js';
import type { Span } from '../../text/edits.js';

export interface BodyError {
  readonly message: string;
  readonly offset: number;
}

export interface Body {
  readonly children: readonly TSESTree.JSXChild[];
  /** Elements whose content is text, whatever stands in it: style sheets and scripts. */
  readonly raw: readonly RawElement[];
}

export interface RawElement extends Span {
  readonly tag: string;
  readonly attributes: readonly make.JsxAttribute[];
  readonly inner: Span;
}

/** Elements whose content is no markup. */
const RAW = new Set(['script', 'style']);
/** A document type with the element that is the document. */
const DOCUMENT = /^<!doctype\b[^>]*>\s*(?=<html[\s>])/i;
/** What a tag is called in code until it is put in: a name as long as the tag, so that whatever holds it ends where it does. */
const TAG = '_';

/** Reads `text` from `start`; what stands before is left out. */
export function readBody(text: string, start: number, parser: ScriptParser): Body | BodyError {
  const reader = new Reader(text, start, parser);
  try {
    const children = reader.children(undefined);
    return { children, raw: reader.raw };
  } catch (error) {
    if (error instanceof Unreadable) return { message: error.message, offset: Math.min(error.offset, text.length) };
    throw error;
  }
}

class Unreadable extends Error {
  constructor(
    message: string,
    readonly offset: number,
  ) {
    super(message);
  }
}

class Reader {
  readonly raw: RawElement[] = [];
  /** Tags that are open, innermost last. */
  readonly #open: string[] = [];

  constructor(
    readonly text: string,
    public at: number,
    readonly parser: ScriptParser,
  ) {}

  /** Siblings up to an end tag that is not theirs, or to the end. */
  children(tag: string | undefined): TSESTree.JSXChild[] {
    const { text } = this;
    const list: TSESTree.JSXChild[] = [];
    let from = this.at;
    const textUntil = (end: number) => {
      if (end > from) list.push(make.jsxText(text.slice(from, end), { start: from, end }));
    };
    while (this.at < text.length) {
      const here = this.at;
      if (text[here] === '{') {
        textUntil(here);
        list.push(this.#container());
      } else if (text.startsWith('<!--', here)) {
        textUntil(here);
        const end = text.indexOf('-->', here + 4);
        if (end < 0) throw new Unreadable('a comment is not closed', here);
        this.at = end + 3;
        list.push(make.container(emptyAt(here, this.at), { start: here, end: this.at }));
      } else if (text.startsWith('</', here)) {
        const name = /^<\/\s*([^\s>]*)/.exec(text.slice(here, here + 200))![1]!;
        if (name === tag || this.#open.includes(name)) {
          textUntil(here);
          return list;
        }
        throw new Unreadable(`</${name}> closes nothing`, here);
      } else if (text[here] === '<' && DOCUMENT.test(text.slice(here, here + 300))) {
        // What a document is belongs to it: they go together.
        textUntil(here);
        this.at = here + DOCUMENT.exec(text.slice(here, here + 300))![0].length;
        list.push(this.element(here));
      } else if (text[here] === '<' && /[A-Za-z>_]/.test(text[here + 1] ?? '')) {
        textUntil(here);
        list.push(this.element());
      } else {
        this.at++;
        continue;
      }
      from = this.at;
    }
    textUntil(text.length);
    return list;
  }

  /** `from`: where it begins for whoever reads the file. */
  element(from = this.at): TSESTree.JSXElement | TSESTree.JSXFragment {
    const { text } = this;
    const name = /^<([^\s/>{]*)/.exec(text.slice(this.at, this.at + 200))![1]!;
    const start = from;
    this.at += 1 + name.length;
    const named = { start: this.at - name.length, end: this.at };
    const attributes = this.#attributes();
    if (text.startsWith('/>', this.at)) {
      this.at += 2;
      return elementOf({ name, ...named }, attributes, [], { start, end: this.at }, this.at, true);
    }
    this.at++;
    if (VOID.has(name)) return elementOf({ name, ...named }, attributes, [], { start, end: this.at }, this.at, true);
    const isRaw = RAW.has(name) || attributes.some((a) => nameOf(a) === 'is:raw');
    const inner = this.at;
    const children = isRaw ? this.#rawContent(name) : this.#content(name);
    if (isRaw) this.raw.push({ tag: name, attributes, inner: { start: inner, end: this.at }, start, end: start });
    const closing = new RegExp(`^</\\s*${name.replace(/[.$]/g, '\\$&')}\\s*>`).exec(text.slice(this.at));
    // An end tag may be left out where the one around it ends.
    if (closing) this.at += closing[0].length;
    if (isRaw) this.raw[this.raw.length - 1] = { ...this.raw.at(-1)!, end: this.at };
    return elementOf({ name, ...named }, attributes, children, { start, end: this.at }, inner, false);
  }

  #content(name: string): TSESTree.JSXChild[] {
    this.#open.push(name);
    const children = this.children(name);
    this.#open.pop();
    if (this.at >= this.text.length && name && !/^(?:html|body|p|li|dt|dd|option|t[rdh]|head)$/.test(name))
      throw new Unreadable(`<${name}> is not closed`, this.text.length);
    return children;
  }

  #rawContent(name: string): TSESTree.JSXChild[] {
    const end = this.text.indexOf(`</${name}`, this.at);
    if (end < 0) throw new Unreadable(`<${name}> is not closed`, this.at);
    const span = { start: this.at, end };
    this.at = end;
    return end > span.start ? [make.jsxText(this.text.slice(span.start, end), span)] : [];
  }

  #attributes(): make.JsxAttribute[] {
    const { text } = this;
    const list: make.JsxAttribute[] = [];
    for (;;) {
      while (/\s/.test(text[this.at] ?? '')) this.at++;
      const c = text[this.at];
      if (c === undefined) throw new Unreadable('a tag is not closed', this.at);
      if (c === '>' || text.startsWith('/>', this.at)) return list;
      list.push(this.#attribute());
    }
  }

  #attribute(): make.JsxAttribute {
    const { text } = this;
    const start = this.at;
    if (text[start] === '{') {
      const end = this.#codeEnd(start + 1);
      const inner = text.slice(start + 1, end);
      const spread = /^\s*\.\.\./.exec(inner);
      const from = start + 1 + (spread ? spread[0].length : 0);
      const code = this.#code(from, end);
      this.at = end + 1;
      const span = { start, end: this.at };
      if (spread) return make.jsxSpread(code, span);
      // `{title}` stands for `title={title}`.
      return make.jsxAttribute(inner.trim(), code, span);
    }
    const name = /^[^\s=>{/]+|^\//.exec(text.slice(start, start + 300))?.[0];
    if (name === undefined) throw new Unreadable('an attribute was expected', start);
    this.at = start + name.length;
    const equals = /^\s*=\s*/.exec(text.slice(this.at, this.at + 50));
    if (!equals) return make.jsxAttribute(name, undefined, { start, end: this.at });
    this.at += equals[0].length;
    const value = this.#value();
    return Object.assign(make.jsxAttribute(name, undefined, { start, end: this.at }), { value });
  }

  #value(): TSESTree.JSXAttribute['value'] {
    const { text } = this;
    const start = this.at;
    const first = text[start];
    if (first === '{') return this.#container();
    if (first === '`') {
      const end = this.#templateEnd(start + 1);
      const code = this.#code(start, end + 1);
      this.at = end + 1;
      return make.container(code, { start, end: this.at });
    }
    if (first === '"' || first === "'") {
      const end = text.indexOf(first, start + 1);
      if (end < 0) throw new Unreadable('a text is not closed', start);
      this.at = end + 1;
      return make.literal(text.slice(start + 1, end), { start, end: this.at });
    }
    const word = /^[^\s>]*/.exec(text.slice(start, start + 2000))![0].replace(/\/$/, '');
    this.at = start + word.length;
    return make.literal(word, { start, end: this.at });
  }

  /** `{…}`, from its first brace. */
  #container(): TSESTree.JSXExpressionContainer {
    const start = this.at;
    const end = this.#codeEnd(start + 1);
    const span = { start, end: end + 1 };
    const isEmpty = !uncommented(this.text.slice(start + 1, end)).trim();
    const code = isEmpty ? emptyAt(start + 1, end) : this.#code(start + 1, end);
    this.at = end + 1;
    return make.container(code, span);
  }

  /** Tags met in the code that is being read, by where they begin. */
  #tags = new Map<number, TSESTree.JSXElement | TSESTree.JSXFragment>();

  #code(start: number, end: number): Node {
    const tags = [...this.#tags].filter(([at, node]) => at >= start && node.range[1] <= end);
    let source = this.text.slice(start, end);
    for (const [at, node] of tags) {
      const size = node.range[1] - at;
      source = source.slice(0, at - start) + TAG.repeat(size) + source.slice(at - start + size);
      this.#tags.delete(at);
    }
    const parsed = this.parser.parse(`(${source}\n)`, 'ts');
    if (isScriptError(parsed)) throw new Unreadable(parsed.message, Math.min(start + parsed.offset - 1, end));
    const [only, another] = parsed.program.body;
    if (only?.type !== 'ExpressionStatement' || another) throw new Unreadable('one expression was expected', start);
    const byPlace = new Map(tags);
    const code = moved(only.expression, start - 1);
    return byPlace.size === 0
      ? code
      : rewrite(code, (node) => (node.type === 'Identifier' ? byPlace.get(node.range[0]) : undefined));
  }

  /** Where the brace closes that was opened before `from`; tags on the way are read. */
  #codeEnd(from: number): number {
    const { text } = this;
    let depth = 0;
    let at = from;
    while (at < text.length) {
      const c = text[at]!;
      const two = text.slice(at, at + 2);
      if (c === '"' || c === "'") at = this.#stringEnd(at) + 1;
      else if (c === '`') at = this.#templateEnd(at + 1) + 1;
      else if (two === '//' && !isRegExp(text, from, at)) at = endOr(text.indexOf('\n', at), text.length);
      else if (two === '/*') at = endOr(text.indexOf('*/', at + 2), text.length) + 2;
      else if (c === '/' && isRegExp(text, from, at)) at = regExpEnd(text, at);
      else if (c === '{' || c === '(' || c === '[') {
        depth++;
        at++;
      } else if (c === '}' && depth === 0) return at;
      else if (c === '}' || c === ')' || c === ']') {
        depth--;
        at++;
      } else if (c === '<' && /[A-Za-z>_]/.test(text[at + 1] ?? '') && isValueNext(text, from, at)) {
        const kept = this.#tags;
        this.#tags = new Map();
        this.at = at;
        const node = this.#elements();
        this.#tags = kept;
        kept.set(at, node);
        at = this.at;
      } else at++;
    }
    throw new Unreadable('a brace is not closed', from - 1);
  }

  /** Where a value is expected, several elements side by side are one. */
  #elements(): TSESTree.JSXElement | TSESTree.JSXFragment {
    const start = this.at;
    const list: TSESTree.JSXChild[] = [this.element()];
    for (;;) {
      const space = /^\s*(?=<[A-Za-z>_])/.exec(this.text.slice(this.at, this.at + 500))?.[0];
      if (space === undefined) break;
      if (space) list.push(make.jsxText(space, { start: this.at, end: this.at + space.length }));
      this.at += space.length;
      list.push(this.element());
    }
    const [only] = list;
    if (list.length === 1) return only as TSESTree.JSXElement | TSESTree.JSXFragment;
    return make.jsxFragment(list, { start, end: this.at });
  }

  #stringEnd(start: number): number {
    const quote = this.text[start]!;
    for (let at = start + 1; at < this.text.length; at++) {
      if (this.text[at] === '\\') at++;
      else if (this.text[at] === quote) return at;
      else if (this.text[at] === '\n') break;
    }
    throw new Unreadable('a text is not closed', start);
  }

  #templateEnd(from: number): number {
    for (let at = from; at < this.text.length; at++) {
      if (this.text[at] === '\\') at++;
      else if (this.text[at] === '`') return at;
      else if (this.text.startsWith('${', at)) at = this.#codeEnd(at + 2);
    }
    throw new Unreadable('a text is not closed', from - 1);
  }
}

/** Whether what stands before a place makes that what follows is a value, and not the right side of an operator. */
function isValueNext(text: string, from: number, at: number): boolean {
  const before = uncommented(text.slice(from, at)).trimEnd();
  return before === '' || /(?:[=(,?:&|[{;>!}]|\breturn)$/.test(before);
}

function isRegExp(text: string, from: number, at: number): boolean {
  return text[at + 1] !== '/' && text[at + 1] !== '>' && isValueNext(text, from, at);
}

function regExpEnd(text: string, start: number): number {
  let inClass = false;
  for (let at = start + 1; at < text.length && text[at] !== '\n'; at++) {
    if (text[at] === '\\') at++;
    else if (text[at] === '[') inClass = true;
    else if (text[at] === ']') inClass = false;
    else if (text[at] === '/' && !inClass) return at + 1;
  }
  return start + 1;
}

function endOr(found: number, otherwise: number): number {
  return found < 0 ? otherwise : found;
}

function uncommented(code: string): string {
  return code.replace(/\/\*[\s\S]*?\*\//g, '').replace(/(^|[\s({,;])\/\/[^\n]*/g, '$1');
}

function emptyAt(start: number, end: number): Node {
  return { type: 'JSXEmptyExpression', range: [start, end], start, end } as unknown as Node;
}

export function nameOf(attribute: make.JsxAttribute): string | undefined {
  return attribute.type === 'JSXAttribute' ? attributeName(attribute) : undefined;
}

/** `opened`: where the opening tag ends. */
function elementOf(
  { name, ...at }: Span & { readonly name: string },
  attributes: readonly make.JsxAttribute[],
  children: readonly TSESTree.JSXChild[],
  span: Span,
  opened: number,
  selfClosing: boolean,
): TSESTree.JSXElement | TSESTree.JSXFragment {
  if ((name === '' || name === 'Fragment') && attributes.length === 0) {
    const fragment = make.jsxFragment(children, span);
    return { ...fragment, openingFragment: { ...fragment.openingFragment, range: [span.start, opened] } };
  }
  const element = make.jsxElement(make.jsxMember(name, at), attributes, children, span);
  return { ...element, openingElement: { ...element.openingElement, range: [span.start, opened], selfClosing } };
}
