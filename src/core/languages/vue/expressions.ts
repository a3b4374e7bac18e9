/**
 * The code in a template. All pieces of a file are parsed in one go and then moved to their places; only where that
 * fails are they parsed one by one, to find the one that is at fault.
 */
import type { Node, ScriptParser, ScriptSyntax } from '../../script/parser.js';
import { isScriptError } from '../../script/parser.js';
import { moved } from '../../script/rewrite.js';
import type { Span } from '../../text/edits.js';

/** `value`: one expression. `statements`: what an event runs. `parameters`: names that a slot or a loop binds. */
export type PieceKind = 'value' | 'statements' | 'parameters';

export interface Piece {
  readonly kind: PieceKind;
  /** UTF-16 offset of the source in the file. */
  readonly offset: number;
  readonly source: string;
}

export interface PieceError {
  readonly message: string;
  readonly span: Span;
}

const FUNCTION = /^\s*(?:async\s*)?(?:\([^)]*?\)|[\w$]+)\s*(?::[^=]+)?=>|^\s*(?:async\s+)?function(?:\s+[\w$]+)?\s*\(/;
const PATH = /^\s*[A-Za-z_$][\w$]*(?:\s*\??\.\s*[A-Za-z_$][\w$]*|\s*\[[^\]]+\]|!)*\s*$/;

/** Whether an event is given a function, by itself or by its name, rather than statements to run. */
export function isHandler(source: string): boolean {
  return FUNCTION.test(source) || PATH.test(source);
}

const WRAPS: Record<PieceKind, readonly [string, string]> = {
  value: ['(', '\n);\n'],
  statements: ['(async ($event) => {', '\n});\n'],
  parameters: ['((', '\n) => 0);\n'],
};

/** Syntax by the offset of its piece: an expression, the statements of a block, or a list of parameters. */
export type Pieces = ReadonlyMap<number, readonly Node[]>;

export function parsePieces(pieces: readonly Piece[], parser: ScriptParser, syntax: ScriptSyntax): Pieces | PieceError {
  const result = new Map<number, readonly Node[]>();
  if (pieces.length === 0) return result;
  const starts: number[] = [];
  let text = '';
  for (const { kind, source } of pieces) {
    const [head, tail] = WRAPS[kind];
    text += head;
    starts.push(text.length);
    text += source + tail;
  }
  const script = parser.parse(text, syntax);
  if (isScriptError(script))
    return onlyOne(pieces, parser, syntax) ?? { message: script.message, span: spanOf(pieces[0]!) };
  // A piece that closes its own bracket and opens another makes two statements of one.
  if (script.program.body.length !== pieces.length)
    return onlyOne(pieces, parser, syntax) ?? { message: 'one expression was expected', span: spanOf(pieces[0]!) };
  pieces.forEach(({ kind, offset }, i) => {
    const statement = script.program.body[i]!;
    if (statement.type !== 'ExpressionStatement') return;
    const by = offset - starts[i]!;
    result.set(
      offset,
      contentOf(statement.expression, kind).map((node) => moved(node, by)),
    );
  });
  return result;
}

function onlyOne(pieces: readonly Piece[], parser: ScriptParser, syntax: ScriptSyntax): PieceError | undefined {
  for (const piece of pieces) {
    const [head, tail] = WRAPS[piece.kind];
    const script = parser.parse(head + piece.source + tail, syntax);
    if (isScriptError(script)) {
      const start = Math.min(Math.max(script.offset - head.length, 0), piece.source.length) + piece.offset;
      return { message: script.message, span: { start, end: Math.min(start + 1, piece.offset + piece.source.length) } };
    }
    if (script.program.body.length !== 1) return { message: 'one expression was expected', span: spanOf(piece) };
  }
  return undefined;
}

function spanOf({ offset, source }: Piece): Span {
  return { start: offset, end: offset + source.length };
}

function contentOf(node: Node, kind: PieceKind): readonly Node[] {
  if (kind === 'value' || node.type !== 'ArrowFunctionExpression') return [node];
  if (kind === 'parameters') return node.params;
  return node.body.type === 'BlockStatement' ? node.body.body : [node.body];
}

const ENTITIES: Record<string, string> = { amp: '&', lt: '<', gt: '>', quot: '"', apos: "'", '#39': "'", '#34': '"' };

/**
 * The code behind an attribute value with entities in it, of the same length: what is saved in length becomes spaces
 * behind a run of entities, and in front of a quote that opens a string.
 */
export function decoded(source: string): string {
  let open = false;
  return source.replace(/(?:&(?:amp|lt|gt|quot|apos|#39|#34);)+/g, (run) => {
    const plain = run.replace(/&([#\w]+);/g, (_, name: string) => ENTITIES[name] ?? ' ');
    const pad = ' '.repeat(run.length - plain.length);
    if (!/^["']+$/.test(plain)) return plain + pad;
    open = plain.length % 2 === 1 ? !open : open;
    return open ? pad + plain : plain + pad;
  });
}
