/** The file of a new component: what it takes in the fence, what it shows below. */
import type { NewFile } from '../jsx/cut/cut.js';
import { isJsx } from '../jsx/markup.js';
import { movedText, withLeadingComments } from '../jsx/cut/write.js';
import { bare, spanOf } from '../../script/walk.js';

export function newFile({ parts, head }: NewFile): string {
  const { scene, moves, shape, habits } = parts;
  const { lineEnd: nl, indent, pad, semi, memberEnd } = habits;
  const taken = shape.props.filter((prop) => !prop.crossing.slot);
  const fence = [...head];
  if (taken.length > 0) {
    const members = taken.map((p) => `${indent}${p.name}${p.optional ? '?' : ''}: ${p.type ?? 'any'}${memberEnd}`);
    const bound = taken.map(({ name, crossing }) => {
      const given = crossing.given?.default;
      return given === undefined ? name : `${name} = ${given}`;
    });
    const line = `const {${pad}${bound.join(', ')}${pad}} = Astro.props${semi}`;
    const lines = `const {${nl}${bound.map((b) => `${indent}${b},${nl}`).join('')}} = Astro.props${semi}`;
    fence.push(`interface Props {${nl}${members.join(nl)}${nl}}`, line.length <= habits.width ? line : lines);
  }
  const statements = moves.statements.map((statement) => {
    const span = withLeadingComments(scene, spanOf(statement));
    return movedText(scene, span, [statement], shape.props, '');
  });
  if (statements.length > 0) fence.push(statements.join(nl));
  const only = scene.nodes.length === 1 ? bare(scene.nodes[0]!) : undefined;
  const shown = movedText(scene, scene.region, scene.nodes, shape.props, '', scene.keys);
  // A comment right above the region belongs to it.
  const above = scene.comment ? scene.slice(scene.comment) + nl : '';
  const body = scene.amongChildren || (only && isJsx(only)) ? shown : `{${shown}}`;
  const code = fence.filter(Boolean).join(nl + nl);
  return `${code ? `---${nl}${code}${nl}---${nl}${nl}` : ''}${above}${body}${nl}`;
}
