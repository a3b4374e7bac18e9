/** State of components of functions, in the component that needs it. */
import { isProblem } from '../../../problems/problems.js';
import type { Homes } from '../../../language/homing.js';
import type { Node } from '../../../script/parser.js';
import { spanOf } from '../../../script/walk.js';
import type { Edit } from '../../../text/edits.js';
import { applyEdits } from '../../../text/edits.js';
import { passingOf, type Passing } from '../../homes/lifetime.js';
import { wholeLines } from '../../imports.js';
import { down } from './down.js';
import { outerOf } from './scene.js';
import { up } from './up.js';

export const homes: Homes = {
  down,
  up,
  lasting(component, use, ports) {
    const outer = outerOf(component, use, ports);
    const passing = isProblem(outer) ? 'it is not shown' : passingOf(outer);
    if (isProblem(outer) || typeof passing === 'string') return [];
    return lastingEdits(outer.text, passing);
  },
};

/** From the inside out: what decides goes, and the tag is left. */
function lastingEdits(text: string, passing: readonly Passing[]): Edit[] {
  let edits: Edit[] = [];
  const put = (span: { start: number; end: number }, kept: Node) => {
    const inside = edits.filter((e) => e.start >= kept.range[0] && e.end <= kept.range[1]);
    const own = inside.map((e) => ({ ...e, start: e.start - kept.range[0], end: e.end - kept.range[0] }));
    edits = [
      ...edits.filter((e) => !inside.includes(e)),
      { ...span, text: applyEdits(text.slice(...kept.range), own) },
    ];
  };
  for (const { node, shownIf } of passing) {
    if (node.type === 'LogicalExpression') put(spanOf(node), node.right);
    else if (node.type === 'ConditionalExpression') put(spanOf(node), shownIf ? node.consequent : node.alternate);
    else if (node.type !== 'JSXElement') edits.push(wholeLines(text, spanOf(node)));
    else {
      const { openingElement: opening, closingElement: closing } = node;
      const key = opening.attributes.find((a) => a.type === 'JSXAttribute' && a.name.name === 'key');
      if (key) edits.push({ ...spanOf(key), text: '' });
      else if (closing) edits.push({ ...spanOf(opening), text: '<>' }, { ...spanOf(closing), text: '</>' });
    }
  }
  return edits;
}
