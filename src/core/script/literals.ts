/** Values that are written out. */
import type { Node } from './parser.js';
import type { Span } from '../text/edits.js';
import { bare, spanOf, walk } from './walk.js';

/** The made call around a value that a component keeps, where no call of the source says that it does. */
export const KEPT = '$kept';

/** What stands in such a call, or the code itself. */
export function unkept(node: Node): Node {
  const code = bare(node);
  const isKept = code.type === 'CallExpression' && code.callee.type === 'Identifier' && code.callee.name === KEPT;
  return isKept ? bare(code.arguments[0]!) : code;
}

/** Whether a list holds records of literals and nothing else. */
export function isListOfRecords(node: Node): boolean {
  const list = unkept(node);
  return list.type === 'ArrayExpression' && list.elements.every((e) => e && isRecord(bare(e)));
}

function isRecord(node: Node): boolean {
  return (
    node.type === 'ObjectExpression' &&
    node.properties.every((p) => p.type === 'Property' && !p.computed && isLiteral(bare(p.value)))
  );
}

function isLiteral(node: Node): boolean {
  return node.type === 'Literal' || (node.type === 'UnaryExpression' && node.argument.type === 'Literal');
}

/** Whether code is a value in which no name stands: literals, and lists and records of such. */
export function isWrittenOut(node: Node): boolean {
  const value = bare(node);
  if (value.type === 'ArrayExpression')
    return value.elements.every((e) => e && e.type !== 'SpreadElement' && isWrittenOut(e));
  if (value.type === 'ObjectExpression')
    return value.properties.every((p) => p.type === 'Property' && !p.computed && !p.method && isWrittenOut(p.value));
  if (value.type === 'TemplateLiteral') return value.expressions.length === 0;
  return isLiteral(value) || (value.type === 'Identifier' && value.name === 'undefined');
}

/** Texts in code whose lines are what they say. */
export function templateSpans(root: Node): Span[] {
  const spans: Span[] = [];
  walk(root, (node) => {
    if (node.type === 'TemplateLiteral') spans.push(spanOf(node));
  });
  return spans;
}
