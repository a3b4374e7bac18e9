/** Values that are written out. */
import type { Node } from './parser.js';
import { bare } from './walk.js';

/** Whether a list holds records of literals and nothing else. */
export function isListOfRecords(node: Node): boolean {
  const list = bare(node);
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
