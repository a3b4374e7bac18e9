/** What a use hands over where that is the same whenever it is shown. */
import type { TSESTree } from '@typescript-eslint/types';
import type { Node } from '../script/parser.js';
import { bare } from '../script/walk.js';

/** Text, a number, a truth, `null`, an attribute without a value. */
export function isConstantAttribute({ value }: TSESTree.JSXAttribute): boolean {
  const node = value?.type === 'JSXExpressionContainer' ? bare(value.expression) : value;
  const inner: Node | null | undefined = node?.type === 'UnaryExpression' ? bare(node.argument) : node;
  return !inner || inner.type === 'Literal';
}

/** The value without braces, text in single quotes, so that two ways to write one are one. `text`: of the file. */
export function attributeValueText({ value }: TSESTree.JSXAttribute, text: string): string {
  if (!value) return 'true';
  const node = value.type === 'JSXExpressionContainer' ? bare(value.expression) : value;
  return node.type === 'Literal' && typeof node.value === 'string' ? `'${node.value}'` : text.slice(...node.range);
}
