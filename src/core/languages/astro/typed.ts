/**
 * An Astro file as TypeScript, for the type checker alone: its fence where it stands, and behind it the code of the body, with a list in the
 * place of each tag, so that names are bound where they are.
 */
import type { TypedText } from '../../language/language.js';
import type { Node } from '../../script/parser.js';
import { childrenOf, spanOf } from '../../script/walk.js';
import type { Span } from '../../text/edits.js';
import { isJsx } from '../jsx/markup.js';
import type { Unit } from './unit.js';

export function typedText({ fence, children, code }: Unit, source: string): TypedText {
  const isInFence = (offset: number) => fence !== undefined && fence.start <= offset && offset < fence.end;
  const writer = new Writer(
    source,
    source.replace(/[^\n]/g, (character, offset: number) => (isInFence(offset) ? character : ' ')),
    fence ? [{ ...fence, at: fence.start }] : [],
  );
  const declared = code.program.body.some((s) =>
    /^(?:export\s+)?(?:interface|type)\s+Props\b/.test(source.slice(...s.range)),
  );
  writer.add(`\ndeclare const Astro: { props: ${declared ? 'Props' : 'Record<string, any>'}; [name: string]: any };\n`);
  for (const child of children) {
    writer.add(';');
    writer.markup(child);
    writer.add('\n');
  }
  writer.add(`export default function component(props: ${declared ? 'Props' : 'any'}): any { return props; }\n`);
  return { text: writer.text, at: (span) => writer.at(span) };
}

interface Piece extends Span {
  /** Where it stands in what is written. */
  readonly at: number;
}

class Writer {
  constructor(
    readonly source: string,
    public text: string,
    readonly pieces: Piece[],
  ) {}

  at({ start, end }: Span): Span | undefined {
    const piece = this.pieces.find((p) => p.start <= start && end <= p.end);
    return piece && { start: start - piece.start + piece.at, end: end - piece.start + piece.at };
  }

  add(text: string): void {
    this.text += text;
  }

  /** Whatever is code in a tag and between tags, as a list. */
  markup(node: Node): void {
    if (node.type === 'JSXExpressionContainer') {
      if (node.expression.type === 'JSXEmptyExpression') return;
      this.add('(');
      this.code(node.expression);
      this.add(')');
      return;
    }
    if (!isJsx(node)) return;
    this.add('[');
    const attributes = node.type === 'JSXElement' ? node.openingElement.attributes : [];
    const codes = attributes.flatMap((a): Node[] => {
      if (a.type === 'JSXSpreadAttribute') return [a.argument];
      return a.value?.type === 'JSXExpressionContainer' ? [a.value.expression] : [];
    });
    for (const code of codes) {
      this.add('(');
      this.code(code);
      this.add('), ');
    }
    for (const child of node.children) {
      const before = this.text.length;
      this.markup(child);
      if (this.text.length > before) this.add(', ');
    }
    this.add(']');
  }

  /** Code as it is written, but for the tags in it. */
  code(node: Node): void {
    const tags: Node[] = [];
    const collect = (inner: Node): void => {
      if (isJsx(inner)) tags.push(inner);
      else childrenOf(inner).forEach(collect);
    };
    collect(node);
    const { start, end } = spanOf(node);
    let from = start;
    for (const tag of tags) {
      this.#copy(from, tag.range[0]);
      this.markup(tag);
      from = tag.range[1];
    }
    this.#copy(from, end);
  }

  #copy(start: number, end: number): void {
    this.pieces.push({ start, end, at: this.text.length });
    this.text += this.source.slice(start, end);
  }
}
