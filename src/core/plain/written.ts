/** Code that stands in markup and shows a text: a literal, or today's date as footers have it. */
import type { Node } from '../script/parser.js';

/** `new Date().getFullYear()` where a script does nothing but write that. */
export function writtenBy(script: string): string | undefined {
  return /^\s*document\s*\.\s*write(?:ln)?\(\s*(new Date\(\)\.get\w+\(\))\s*\)\s*;?\s*$/.exec(script)?.[1];
}

/** What stands in a tree in the place of such code. */
export function placeholder(code: string): string {
  return `{${code.replace(/\s+/g, '')}}`;
}

export function literalText(node: Node): string | undefined {
  if (node.type === 'Literal' && typeof node.value === 'string') return node.value;
  if (node.type === 'TemplateLiteral' && node.expressions.length === 0)
    return node.quasis[0]!.value.cooked ?? undefined;
  return undefined;
}

/** A literal's text, or the placeholder of what a script wrote. */
export function shownText(node: Node): string | undefined {
  if (node.type !== 'CallExpression' || node.arguments.length > 0) return literalText(node);
  const { callee } = node;
  if (callee.type !== 'MemberExpression' || callee.computed || callee.property.type !== 'Identifier') return undefined;
  const made = callee.object;
  const isNow = made.type === 'NewExpression' && made.arguments.length === 0;
  if (!isNow || made.callee.type !== 'Identifier' || made.callee.name !== 'Date') return undefined;
  return placeholder(`new Date().${callee.property.name}()`);
}
