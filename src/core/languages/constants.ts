/** What a use hands over where that is the same whenever it is shown. */
import type { TSESTree } from '@typescript-eslint/types';
import { problem, type Problem } from '../problems/problems.js';
import type { Putting } from '../language/inlining.js';
import type { Node } from '../script/parser.js';
import { bare } from '../script/walk.js';

/** Text, a number, a truth, `null`, an attribute without a value. */
function isConstantAttribute({ value }: TSESTree.JSXAttribute): boolean {
  const node = value?.type === 'JSXExpressionContainer' ? bare(value.expression) : value;
  const inner: Node | null | undefined = node?.type === 'UnaryExpression' ? bare(node.argument) : node;
  return !inner || inner.type === 'Literal';
}

/** The value without braces, text in single quotes, so that two ways to write one are one. `text`: of the file. */
function attributeValueText({ value }: TSESTree.JSXAttribute, text: string): string {
  if (!value) return 'true';
  const node = value.type === 'JSXExpressionContainer' ? bare(value.expression) : value;
  return node.type === 'Literal' && typeof node.value === 'string' ? `'${node.value}'` : text.slice(...node.range);
}

export interface Handed {
  readonly attribute: TSESTree.JSXAttribute;
  /** Of the file that the attribute stands in. */
  readonly text: string;
}

/** What every use hands over as an input, where that is one constant; undefined where none hands over anything. */
export function constantOf(
  input: string,
  { file, name, span }: Putting,
  uses: readonly (Handed | undefined)[],
): { readonly first: Handed | undefined; readonly value: string | undefined } | Problem {
  const values = new Set(uses.map((use) => use && attributeValueText(use.attribute, use.text)));
  const [first] = uses;
  if (values.size <= 1 && (!first || isConstantAttribute(first.attribute))) return { first, value: [...values][0] };
  const all = [...values].map((value) => value ?? 'nothing');
  return problem('inputs-differ', { path: file.path, span }, input, name, all);
}
