/** State of components with script setup, in the component that needs it: down. */
import { isProblem } from '../../../problems/problems.js';
import type { Homes } from '../../../language/homing.js';
import type { Edit } from '../../../text/edits.js';
import { isElement, spanOf } from '../markup.js';
import { directiveOf } from '../pieces.js';
import { parseSfc } from '../sfc.js';
import type { ElementNode, TemplateChildNode } from '../template.js';
import { down } from './down.js';

export const homes: Homes = {
  down,
  lasting({ file }, use, ports) {
    const sfc = parseSfc(file, ports);
    const around = isProblem(sfc) ? [] : elementsAround(sfc.shown, use.start);
    return around.flatMap(({ node, siblings }) => withoutCondition(file.text, node, siblings));
  },
};

/** The elements that hold a place, each with its siblings. */
function elementsAround(
  nodes: readonly TemplateChildNode[],
  offset: number,
): { node: ElementNode; siblings: readonly TemplateChildNode[] }[] {
  const node = nodes.filter(isElement).find((n) => spanOf(n).start <= offset && offset < spanOf(n).end);
  return node ? [{ node, siblings: nodes }, ...elementsAround(node.children, offset)] : [];
}

/** Its condition is taken away, and with it what is shown otherwise. */
function withoutCondition(text: string, node: ElementNode, siblings: readonly TemplateChildNode[]): Edit[] {
  const condition = directiveOf(node, 'if', 'else-if', 'else');
  if (!condition) return [];
  const elements = siblings.filter(isElement);
  const at = elements.indexOf(node);
  let first = at;
  while (first > 0 && directiveOf(elements[first]!, 'else-if', 'else')) first--;
  let end = at + 1;
  while (end < elements.length && directiveOf(elements[end]!, 'else-if', 'else')) end++;
  const others = elements.slice(first, end).filter((one) => one !== node);
  const { start } = spanOf(condition);
  return [
    { start: start - /\s*$/.exec(text.slice(0, start))![0].length, end: spanOf(condition).end, text: '' },
    ...others.map((one) => ({ ...spanOf(one), text: '' })),
  ];
}
