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

/**
 * Syntax by the offset of its piece: an expression, the statements of a block, or a list of parameters. That the code
 * can be parsed is known; its tree is made when somebody asks for it, which a survey does for parameters alone.
 */
export interface Pieces {
  has(offset: number): boolean;
  get(offset: number): readonly Node[] | undefined;
}

export function parsePieces(pieces: readonly Piece[], parser: ScriptParser, syntax: ScriptSyntax): Pieces | PieceError {
  const batches: Batch[] = [];
  for (const isNames of [true, false]) {
    const own = pieces.filter((piece) => (piece.kind === 'parameters') === isNames);
    const batch = own.length > 0 ? parseBatch(own, parser, syntax) : undefined;
    if (batch && 'message' in batch) return batch;
    if (batch) batches.push(batch);
  }
  const find = (offset: number) => batches.find((b) => b.index.has(offset));
  return { has: (offset) => find(offset) !== undefined, get: (offset) => find(offset)?.nodes(offset) };
}

interface Batch {
  readonly index: ReadonlyMap<number, number>;
  nodes(offset: number): readonly Node[];
}

function parseBatch(pieces: readonly Piece[], parser: ScriptParser, syntax: ScriptSyntax): Batch | PieceError {
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
  // A piece that closes its own bracket and opens another makes two statements of one; a text that is open takes in the next.
  if (pieces.some((piece) => closesMore(piece) || leavesOpen(piece)) && script.program.body.length !== pieces.length)
    return onlyOne(pieces, parser, syntax) ?? { message: 'one expression was expected', span: spanOf(pieces[0]!) };
  const made = new Map<number, readonly Node[]>();
  const index = new Map(pieces.map(({ offset }, i) => [offset, i]));
  return {
    index,
    nodes(offset) {
      let nodes = made.get(offset);
      if (!nodes) {
        const i = index.get(offset)!;
        const statement = script.program.body[i]!;
        const by = offset - starts[i]!;
        nodes =
          statement.type === 'ExpressionStatement'
            ? contentOf(statement.expression, pieces[i]!.kind).map((node) => moved(node, by))
            : [];
        made.set(offset, nodes);
      }
      return nodes;
    },
  };
}

/** Whether a piece may close a bracket that it has not opened; brackets in strings count as well. */
function closesMore({ source }: Piece): boolean {
  let depth = 0;
  for (const c of source) {
    if (c === '(' || c === '[' || c === '{') depth++;
    else if ((c === ')' || c === ']' || c === '}') && --depth < 0) return true;
  }
  return false;
}

/** Whether a text over several lines, or a comment, may go on behind a piece. */
function leavesOpen({ source }: Piece): boolean {
  return source.includes('/*') || source.split('`').length % 2 === 0;
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
