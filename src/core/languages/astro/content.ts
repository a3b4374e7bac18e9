/** Content that is handed over by name: `<p slot="foot">` between the tags of a component is what it is given for that slot. */
import type { TSESTree } from '@typescript-eslint/types';
import { outletBinding } from '../../markup/syntax.js';
import * as make from '../../script/make.js';
import type { Node, Program } from '../../script/parser.js';
import { rewrite } from '../../script/rewrite.js';
import { childrenOf, spanOf } from '../../script/walk.js';
import { isComponentTag, isJsx } from '../jsx/markup.js';
import { nameOf } from './body.js';
import { slotName } from './unit.js';

/** The program as the proof compares it. */
export function contentPassed(program: Program): Program {
  return opened(program) as Program;
}

function opened(root: Node): Node {
  return rewrite(root, (node) => {
    if (isJsx(node) && node.children.some(isSheet))
      return opened({ ...node, children: node.children.filter((child) => !isSheet(child)) });
    if (node.type !== 'JSXElement' || !isComponentTag(node.openingElement.name)) return undefined;
    const bySlot = new Map<string, TSESTree.JSXChild[]>();
    const children: TSESTree.JSXChild[] = [];
    for (const child of node.children) {
      const name = slotFor(child);
      if (name === undefined) children.push(opened(child) as TSESTree.JSXChild);
      else bySlot.set(name, [...(bySlot.get(name) ?? []), opened(withoutSlot(child)) as TSESTree.JSXChild]);
    }
    const passed = [...bySlot].map(([name, list]) => {
      const span = { start: list[0]!.range[0], end: list.at(-1)!.range[1] };
      return make.jsxAttribute(outletBinding(name), make.jsxFragment(list, span), span);
    });
    const opening = { ...node.openingElement };
    const attributes = [...opening.attributes.map((a) => opened(a)), ...passed] as typeof opening.attributes;
    return { ...node, openingElement: { ...opening, attributes }, children };
  });
}

/** The slot that a piece of content is for: it says so itself, or every tag that its code can give does. */
export function slotFor(child: TSESTree.JSXChild & { readonly into?: string | undefined }): string | undefined {
  if (child.type === 'JSXElement') return slotName(child, 'slot');
  if (child.type !== 'JSXExpressionContainer' || child.into !== undefined) return child.into;
  const names = new Set(tagsIn(child.expression).map((tag) => slotName(tag, 'slot')));
  return names.size === 1 ? [...names][0] : undefined;
}

/** Elements in code, but for those in other elements. */
function tagsIn(code: Node): TSESTree.JSXElement[] {
  if (code.type === 'JSXElement') return [code];
  return childrenOf(code).flatMap(tagsIn);
}

/** The rules of a component are shown nowhere; where they belong is not for the expansion to say. */
function isSheet(node: Node): boolean {
  if (node.type !== 'JSXElement' || node.openingElement.name.type !== 'JSXIdentifier') return false;
  const { name, attributes } = node.openingElement;
  return name.name === 'style' && !attributes.some((a) => nameOf(a) === 'is:inline');
}

/** `<Fragment slot="foot">` is no more than its content. */
function withoutSlot(element: TSESTree.JSXChild): TSESTree.JSXChild {
  if (element.type !== 'JSXElement')
    return {
      ...rewrite(element, (node) => (node.type === 'JSXElement' ? withoutSlot(node) : undefined)),
      into: undefined,
    } as unknown as TSESTree.JSXChild;
  const { openingElement } = element;
  const attributes = openingElement.attributes.filter((a) => nameOf(a) !== 'slot');
  if (
    openingElement.name.type === 'JSXIdentifier' &&
    openingElement.name.name === 'Fragment' &&
    attributes.length === 0
  )
    return make.jsxFragment(element.children, spanOf(element));
  return { ...element, openingElement: { ...openingElement, attributes } };
}
