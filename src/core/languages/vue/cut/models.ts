/** What is bound both ways across the boundary: a model of the new component. */
import type { TSESTree } from '@typescript-eslint/types';
import type { Attribute } from '../../../markup/model.js';
import { problem, type Problem } from '../../../problems/problems.js';
import type { Variable } from '../../../script/scopes.js';
import { bare, nodeWithin } from '../../../script/walk.js';
import { plainOf, propName, type Crossing, type Found } from './crossing.js';
import { attributesIn, isInner, isOuter, leaving, type Scene } from './scene.js';

/** Names of the host that the region binds both ways: the new component can change them by itself. */
export function modelled(scene: Scene): Set<Variable> {
  const found = new Set<Variable>();
  for (const { attribute } of attributesIn(scene)) {
    if (attribute.kind !== 'two-way' || !attribute.code || attribute.code.syntax.type !== 'Identifier') continue;
    const variable = leaving(scene, attribute.code)[0]?.resolved;
    if (variable && isOuter(scene, variable)) found.add(variable);
  }
  return found;
}

export function crossingModel(scene: Scene, attribute: Attribute, notes: string[]): Found | Problem | undefined {
  const code = attribute.code!;
  const references = leaving(scene, code);
  const outer = references.filter((r) => isOuter(scene, r.resolved));
  const inRegion = (id: TSESTree.Node) => nodeWithin(id, scene.region);
  const inner = references.some(
    (r) => r.resolved && isInner(scene, r.resolved) && r.resolved.identifiers.some(inRegion),
  );
  if (outer.length === 0) {
    if (inner)
      notes.push(
        `\`${scene.text.slice(code.start, code.end)}\` is bound both ways and changes an entry of a list that is passed in`,
      );
    return undefined;
  }
  const at = { path: scene.request.file.path, span: { start: code.start, end: code.end } };
  const expression = bare(code.syntax);
  if (inner || (expression.type !== 'Identifier' && expression.type !== 'MemberExpression'))
    return problem('region-model', at, scene.text.slice(code.start, code.end));
  const value = scene.text.slice(code.start, code.end).trim();
  const key = `model ${value}`;
  const last = expression.type === 'Identifier' ? plainOf(expression.name) : memberName(expression);
  const name = propName(last ?? 'value');
  return {
    key,
    draft: {
      kind: 'model',
      name,
      value,
      args: [],
      event: 'none',
      typed: code,
      variable: expression.type === 'Identifier' ? outer[0]!.resolved! : undefined,
    },
    site: { span: { start: code.start, end: code.end }, text: (as) => as },
  };
}

/** What is bound both ways is read by its model as well. */
export function mergeModels(found: Map<string, Crossing>): void {
  for (const model of [...found.values()].filter((c) => c.kind === 'model' && c.variable)) {
    const key = `value ${model.variable!.$id}`;
    const read = found.get(key);
    if (!read) continue;
    model.sites.push(...read.sites);
    found.delete(key);
  }
}

function memberName(node: TSESTree.MemberExpression): string | undefined {
  if (!node.computed && node.property.type === 'Identifier') return node.property.name;
  return node.property.type === 'Literal' && /^[A-Za-z_]\w*$/.test(String(node.property.value))
    ? String(node.property.value)
    : undefined;
}
