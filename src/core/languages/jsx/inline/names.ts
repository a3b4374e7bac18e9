/** Names that a component declares, and those around the place where it is written out. */
import type { Variable } from '../../../script/scopes.js';
import { nodeWithin, spanOf, walk } from '../../../script/walk.js';
import type { Definition } from './definition.js';
import type { Place } from './passed.js';

/** What the component declares, parameters of its own left out. */
export function declaredIn({ scopes, fn, props, whole }: Definition): Variable[] {
  const found = new Set<Variable>();
  for (const { resolved } of scopes.within(spanOf(fn)))
    if (
      resolved &&
      resolved.identifiers.some((id) => nodeWithin(id, spanOf(fn.body))) &&
      !props.has(resolved) &&
      resolved !== whole
    )
      found.add(resolved);
  walk(fn.body, (node) => {
    const variable = node.type === 'Identifier' ? scopes.variableOf(node) : undefined;
    if (variable && variable.identifiers.includes(node as never) && !props.has(variable)) found.add(variable);
    return undefined;
  });
  return [...found];
}

/** Every name in the statement around the use, and every name of the module. */
export function namesAround({ script, scopes, use }: Place): Set<string> {
  const statement = script.program.body.find((s) => nodeWithin(use, spanOf(s)))!;
  const names = new Set(scopes.moduleScope.variables.filter((v) => v.defs.length > 0).map((v) => v.name));
  walk(statement, (node, ancestors) => {
    if (node.type !== 'Identifier' && node.type !== 'JSXIdentifier') return undefined;
    const parent = ancestors.at(-1);
    // Names of members, keys and attributes are no names of values.
    const isMember = parent?.type === 'MemberExpression' && parent.property === node && !parent.computed;
    const isKey = parent?.type === 'Property' && parent.key === node && !parent.computed && !parent.shorthand;
    if (!isMember && !isKey && parent?.type !== 'JSXAttribute') names.add(node.name);
    return undefined;
  });
  return names;
}
