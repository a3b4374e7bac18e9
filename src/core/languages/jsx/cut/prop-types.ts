/** `propTypes` for a new component in a file that uses them: taken over by name, else by what the value shows. */
import type { TSESTree } from '@typescript-eslint/types';
import { walk } from '../../../script/walk.js';
import type { Habits } from './habits.js';
import type { Interface, NamedProp } from './interface.js';
import type { Scene } from './scene.js';

export function writePropTypes(scene: Scene, shape: Interface, habits: Habits): string {
  const local = propTypesName(scene);
  if (!local || habits.typed || shape.props.length === 0) return '';
  const known = declaredPropTypes(scene, local);
  const nl = habits.lineEnd;
  const comma = habits.trailingComma ? ',' : '';
  const lines = shape.props.map(
    (p) =>
      `${habits.indent}${p.name}: ${known.get(p.crossing.value.replace(/^(?:this\.)?props\./, '')) ?? guess(scene, p, local)}`,
  );
  return `${scene.request.name}.propTypes = {${nl}${lines.join(`,${nl}`)}${comma}${nl}}${habits.semi}`;
}

/** The local name of the `prop-types` package, if the file imports it. */
export function propTypesName(scene: Scene): string | undefined {
  for (const statement of scene.script.program.body) {
    if (statement.type !== 'ImportDeclaration' || statement.source.value !== 'prop-types') continue;
    return statement.specifiers.find((s) => s.type === 'ImportDefaultSpecifier')?.local.name;
  }
  return undefined;
}

/** From how the value is used: called, read by member, gone through. */
function guess(scene: Scene, { crossing }: NamedProp, local: string): string {
  if (crossing.event) return `${local}.func`;
  if (crossing.slot) return `${local}.node`;
  const after = crossing.sites.map((s) => scene.text.slice(s.span.end, s.span.end + 12));
  if (after.some((text) => /^\??\.(?:map|filter|forEach|some|every|find|reduce)\b/.test(text))) return `${local}.array`;
  if (after.every((text) => /^\??\.[a-zA-Z]/.test(text))) return `${local}.object`;
  return after.some((text) => text.startsWith('(')) ? `${local}.func` : `${local}.any`;
}

/** What the file says of props by the same name, where it says it in terms of the package alone. */
function declaredPropTypes(scene: Scene, local: string): Map<string, string> {
  const result = new Map<string, string>();
  const read = (object: TSESTree.ObjectExpression) => {
    for (const property of object.properties) {
      if (property.type !== 'Property' || property.key.type !== 'Identifier') continue;
      const text = scene.slice(property.value);
      if (/^\w+(?:\.\w+)+$/.test(text) && text.startsWith(`${local}.`)) result.set(property.key.name, text);
    }
  };
  walk(scene.script.program, (node) => {
    if (
      node.type === 'AssignmentExpression' &&
      node.left.type === 'MemberExpression' &&
      node.left.property.type === 'Identifier' &&
      node.left.property.name === 'propTypes' &&
      node.right.type === 'ObjectExpression'
    )
      read(node.right);
    if (
      node.type === 'PropertyDefinition' &&
      node.key.type === 'Identifier' &&
      node.key.name === 'propTypes' &&
      node.value?.type === 'ObjectExpression'
    )
      read(node.value);
    return undefined;
  });
  return result;
}
