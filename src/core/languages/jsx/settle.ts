/**
 * What a formatter would write in one line is written in one line. Code that moves stands further left than it did, and a
 * use takes less room than what it stands for, so that tags, parameters and parentheses which were broken for want of room
 * often fit. Only where the project says how wide its lines are: who formats by hand broke them on purpose.
 */
import type { TSESTree } from '@typescript-eslint/types';
import { isProblem } from '../../problems/problems.js';
import { walk } from '../../script/walk.js';
import type { Node } from '../../script/parser.js';
import { applyEdits, composeEdits, movedOffset, type Edit, type Span } from '../../text/edits.js';
import { indentUnitOf, lineEndOf } from '../../text/layout.js';
import { formattingOf } from '../formatting.js';
import type { SettleRequest } from '../../language/language.js';
import { parseFile } from './source.js';
import { isJsx } from './markup.js';

/** Joining one thing may make room for the one around it; nothing real is nested deeper. */
const ROUNDS = 6;

/** Edits that join the lines in and right around the `changed` spans of a file. */
export function settle({ file, changed, files, ports }: SettleRequest): readonly Edit[] {
  const { width, pad = ' ', trailingComma } = formattingOf(files, file.path);
  if (width === undefined) return [];
  let done: readonly Edit[] = [];
  for (let round = 0; round < ROUNDS; round++) {
    const text = applyEdits(file.text, done);
    const script = parseFile({ path: file.path, text }, ports);
    if (isProblem(script)) break;
    const spans = changed.map((s) => ({ start: movedOffset(done, s.start), end: movedOffset(done, s.end) }));
    const edits = joins(text, script.program, script.comments, spans, {
      width,
      pad,
      indent: indentUnitOf(text),
      comma: trailingComma === false ? '' : ',',
    });
    if (edits.length === 0) break;
    done = composeEdits(file.text, done, edits);
  }
  return done;
}

interface Room {
  /** Columns. */
  readonly width: number;
  readonly pad: string;
  readonly indent: string;
  /** After the last of a list in lines. */
  readonly comma: string;
}

/** Joined, that is, or for an import that became too long broken. The innermost first, never two in one another. */
function joins(text: string, program: Node, comments: readonly Span[], changed: readonly Span[], room: Room): Edit[] {
  const edits: Edit[] = [];
  const offer = (span: Span, flat: string | undefined) => {
    if (flat === undefined || flat.includes('\n') || !text.slice(span.start, span.end).includes('\n')) return;
    if (!fits(text, span, flat, room.width)) return;
    if (comments.some((c) => c.start < span.end && c.end > span.start)) return;
    if (edits.some((e) => e.start < span.end && e.end > span.start)) return;
    edits.push({ ...span, text: flat });
  };
  const rebreak = (node: TSESTree.ImportDeclaration) => {
    const [start, end] = node.range;
    const lists = importLists(text, node, room);
    if (!lists) return;
    const tooLong = text.slice(start, end) === lists.flat && !fits(text, { start, end }, lists.flat, room.width);
    if (tooLong) edits.push({ start, end, text: lists.broken });
    else offer({ start, end }, lists.flat);
  };
  walk(program, (node, ancestors) => {
    const parent = ancestors.at(-1);
    const [start, end] = node.range;
    if (!changed.some((s) => s.start <= end && s.end >= start)) return false;
    if (isJsx(node) && parent && !isJsx(parent)) offer(parenthesesAround(text, node), unwrapped(text, node, ancestors));
    if (node.type === 'JSXElement') offer({ start, end }, flatElement(text, node));
    if (node.type === 'JSXOpeningElement') offer({ start, end }, flatTag(text, node));
    if (node.type === 'ImportDeclaration') rebreak(node);
    // A choice in a choice is broken for the eye.
    if (node.type === 'ConditionalExpression' && parent?.type !== 'ConditionalExpression')
      offer({ start, end }, flatChoice(text, node));
    if (node.type === 'ArrayExpression') offer({ start, end }, flatArray(text, node));
    if (node.type === 'JSXExpressionContainer') offer({ start, end }, `{${text.slice(start + 1, end - 1).trim()}}`);
    if (node.type === 'VariableDeclarator' && node.init)
      offer(
        { start, end },
        `${text.slice(start, node.init.range[0]).trimEnd()} ${text.slice(node.init.range[0], end)}`,
      );
    if (node.type === 'ArrowFunctionExpression' && node.body.type !== 'BlockStatement' && !isJsx(node.body))
      offer({ start, end }, bodyBesideArrow(text, node));
    if (node.type === 'CallExpression') offer({ start: node.callee.range[1], end }, flatCall(text, node));
    if (node.type === 'ObjectPattern') {
      const given = node.typeAnnotation?.range[0] ?? end;
      if (parent && 'params' in parent && parent.params.length === 1)
        offer({ start, end: given }, flatPattern(text, node, room));
    }
    return true;
  });
  return edits;
}

/** The rest of the line before and after is there as well. A tag that opens needs only its own end. */
function fits(text: string, { start, end }: Span, flat: string, width: number): boolean {
  const before = text.slice(text.lastIndexOf('\n', start - 1) + 1, start);
  const stop = text.indexOf('\n', end);
  const after = text.slice(end, stop < 0 ? text.length : stop).trimEnd();
  return before.length + flat.length + after.length <= width;
}

function flatTag(text: string, tag: TSESTree.JSXOpeningElement): string | undefined {
  const name = text.slice(tag.name.range[0], (tag.typeArguments ?? tag.name).range[1]);
  const parts = [name, ...tag.attributes.map((a) => text.slice(...a.range))];
  return `<${parts.join(' ')}${tag.selfClosing ? ' />' : '>'}`;
}

/** An element that holds nothing but words and at most one expression, with at most one attribute, as a formatter joins it. */
function flatElement(text: string, element: TSESTree.JSXElement): string | undefined {
  const { openingElement: open, closingElement: close, children } = element;
  if (!close || open.attributes.length > 1) return undefined;
  if (children.some((c) => c.type === 'JSXElement' || c.type === 'JSXFragment')) return undefined;
  const values = children.filter((c) => c.type !== 'JSXText');
  // A string in braces is there to be a space that the formatter wanted to break at.
  if (values.length > 1 || values.some((c) => /^\{\s*["'`]/.test(text.slice(...c.range)))) return undefined;
  const inner = children.map((c) => {
    const own = text.slice(...c.range);
    return c.type === 'JSXText' ? own.replace(/[ \t\r\n]+/g, ' ') : own;
  });
  return flatTag(text, open)! + inner.join('').trim() + text.slice(...close.range);
}

function flatPattern(text: string, pattern: TSESTree.ObjectPattern, { pad }: Room): string | undefined {
  if (pattern.properties.length === 0) return undefined;
  if (pattern.properties.some((p) => p.type === 'Property' && p.value.type === 'ObjectPattern')) return undefined;
  return `{${pad}${pattern.properties.map((p) => text.slice(...p.range)).join(', ')}${pad}}`;
}

/** An element, with the parentheses right around it where there are any. */
function parenthesesAround(text: string, node: Node): Span {
  const [start, end] = node.range;
  const open = /\(\s*$/.exec(text.slice(0, start));
  const close = /^\s*\)/.exec(text.slice(end));
  return open && close ? { start: open.index, end: end + close[0].length } : { start, end };
}

/** Without parentheses, where they are there for the sake of lines only. What a list in markup shows for each has them always. */
function unwrapped(text: string, node: Node, ancestors: readonly Node[]): string | undefined {
  const [parent, call, braces] = [ancestors.at(-1)!, ancestors.at(-2), ancestors.at(-3)];
  const inList = call?.type === 'CallExpression' && braces?.type === 'JSXExpressionContainer';
  const wraps =
    parent.type === 'ReturnStatement' ||
    parent.type === 'LogicalExpression' ||
    parent.type === 'VariableDeclarator' ||
    (parent.type === 'ArrowFunctionExpression' && parent.body === node && !inList);
  return wraps ? text.slice(...node.range) : undefined;
}

function flatChoice(text: string, { test, consequent, alternate }: TSESTree.ConditionalExpression): string | undefined {
  if ([consequent, alternate].some((side) => side.type === 'ConditionalExpression')) return undefined;
  return `${text.slice(...test.range)} ? ${text.slice(...consequent.range)} : ${text.slice(...alternate.range)}`;
}

function flatArray(text: string, { elements }: TSESTree.ArrayExpression): string | undefined {
  if (elements.some((e) => !e || e.type === 'ObjectExpression' || e.type === 'ArrayExpression')) return undefined;
  return `[${elements.map((e) => text.slice(...e!.range)).join(', ')}]`;
}

/** The body where the arrow is, for one that stands on the line below without parentheses. */
function bodyBesideArrow(text: string, arrow: TSESTree.ArrowFunctionExpression): string | undefined {
  const [start, end] = arrow.range;
  const head = text.slice(start, arrow.body.range[0]);
  return /=>\s*\n\s*$/.test(head) ? `${head.trimEnd()} ${text.slice(arrow.body.range[0], end)}` : undefined;
}

/** The arguments in one line, where each stands on one of its own. */
function flatCall(text: string, { callee, arguments: given }: TSESTree.CallExpression): string | undefined {
  const first = given[0];
  if (!first || !/^\(\s*\n\s*$/.test(text.slice(callee.range[1], first.range[0]))) return undefined;
  return `(${given.map((g) => text.slice(...g.range)).join(', ')})`;
}

/** The declaration with its names in one line, and with one name in each. */
function importLists(
  text: string,
  node: TSESTree.ImportDeclaration,
  { pad, comma, indent }: Room,
): { flat: string; broken: string } | undefined {
  const names = node.specifiers.filter((s) => s.type === 'ImportSpecifier').map((s) => text.slice(...s.range));
  if (names.length < 2) return undefined;
  const [start, end] = node.range;
  const own = text.slice(start, end);
  const [open, close] = [own.indexOf('{'), own.lastIndexOf('}')];
  const lineEnd = lineEndOf(text);
  const list = names.map((n) => indent + n).join(`,${lineEnd}`);
  const around = (inside: string) => own.slice(0, open + 1) + inside + own.slice(close);
  return { flat: around(pad + names.join(', ') + pad), broken: around(lineEnd + list + comma + lineEnd) };
}
