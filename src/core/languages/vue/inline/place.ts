/** The place of a use, and questions about the code at it. */
import type { TSESTree } from '@typescript-eslint/types';
import type { Node } from '../../../script/parser.js';
import { bare, calleeName, isFunction, spanOf, walk } from '../../../script/walk.js';
import type { Span } from '../../../text/edits.js';
import type { Lowered } from '../lower.js';
import { isElement, spanOf as placeOf } from '../markup.js';
import type { Sfc } from '../sfc.js';
import type { ElementNode, TemplateChildNode } from '../template.js';

export interface Place {
  readonly sfc: Sfc;
  readonly lowered: Lowered;
  readonly tag: ElementNode;
  /** The tag as it is lowered. */
  readonly use: TSESTree.JSXElement;
  readonly text: string;
}

export function useIn({ script }: Lowered, span: Span): TSESTree.JSXElement | undefined {
  let found: TSESTree.JSXElement | undefined;
  walk(script.program, (node) => {
    if (found || node.range[0] > span.start || node.range[1] < span.end) return false;
    if (node.type === 'JSXElement' && node.range[0] === span.start && node.range[1] === span.end) found = node;
    return undefined;
  });
  return found;
}

/** Functions, and values that are worked out when they are asked for. */
export function isWorkedOut(node: Node): boolean {
  if (node.type === 'FunctionDeclaration' || node.type === 'Property') return true;
  const isLazy = (init: Node | null) => init !== null && (isFunction(bare(init)) || calleeName(init) === 'computed');
  return node.type === 'VariableDeclaration' && node.declarations.every((d) => isLazy(d.init));
}

/** Text whose lines are not moved. */
export function fixedIn(nodes: readonly TemplateChildNode[], { script }: Lowered): Span[] {
  const fixed: Span[] = [];
  const visit = (node: TemplateChildNode): void => {
    if (!isElement(node)) return;
    if (node.tag === 'pre' || node.tag === 'textarea') fixed.push(placeOf(node));
    node.children.forEach(visit);
  };
  nodes.forEach(visit);
  walk(script.program, (node) => {
    if (node.type === 'TemplateElement') fixed.push(spanOf(node));
    return undefined;
  });
  return fixed;
}
