/** Markup that was read from a component, as plain markup: what is said by code has no plain form, but for texts. */
import type { ElementNode, Markup } from '../markup/model.js';
import type { Span } from '../text/edits.js';
import { isNodes, type DomElement, type DomNode } from './dom.js';
import { shownText } from './written.js';

/** The place of the first thing that is not plain, where there is one. `element`: how the language reads attributes back. */
export function plainTree(
  nodes: readonly Markup[],
  element: (node: ElementNode, children: readonly DomNode[]) => DomElement | Span,
): readonly DomNode[] | Span {
  const result: DomNode[] = [];
  for (const node of nodes) {
    const at = { start: node.start, end: node.end };
    if (node.kind === 'comment') continue;
    if (node.kind === 'text') result.push({ ...at, kind: 'text', text: node.text });
    else if (node.kind === 'fragment' || node.kind === 'element') {
      const children = plainTree(node.children, element);
      if (!isNodes(children)) return children;
      if (node.kind === 'fragment') result.push(...children);
      else {
        const made = element(node, children);
        if (!isElement(made)) return made;
        result.push(made);
      }
    } else if (node.kind === 'expression') {
      const text = shownText(node.code.syntax);
      if (text === undefined) return at;
      result.push({ ...at, kind: 'text', text });
    } else return at;
  }
  return result;
}

function isElement(value: DomElement | Span): value is DomElement {
  return 'kind' in value;
}
