/** Inputs that every use hands over alike, or none does, written out in the component: what they decide is decided. */
import type { Fixed, Fixes, Fixing, FixRequest } from '../../language/fixing.js';
import { isStyleProp } from '../../markup/syntax.js';
import { isProblem, problem, type Problem } from '../../problems/problems.js';
import type { Node } from '../../script/parser.js';
import { ScriptScopes } from '../../script/scopes.js';
import { attributeName, bare, nodeAt, spanOf } from '../../script/walk.js';
import type { Edit } from '../../text/edits.js';
import { constantOf, type Handed } from '../constants.js';
import { droppedImports, wholeLines } from '../imports.js';
import { Substitution, Unwritable, type Argument } from '../substitution.js';
import { habitsOf } from './cut/habits.js';
import { changedAttributes, changedProps } from './home/props.js';
import { takenApart, type Definition, type Prop } from './inline/definition.js';
import { asArgument } from './inline/inline.js';
import { inMarkup } from './inline/passed.js';
import { parseFile } from './source.js';

export const fixes: Fixes = {
  fix(request) {
    const { file, name, span } = request.component;
    const inner = takenApart(request.component, request.ports, true);
    if ('why' in inner) return problem('inputs-component', { path: file.path, span }, name, inner.why);
    if (isProblem(inner)) return inner;
    try {
      return fixedIn(request, inner);
    } catch (error) {
      if (!(error instanceof Unwritable)) throw error;
      const at = { path: file.path, span: spanOf(error.node) };
      return problem('inputs-component', at, name, `it has ${error.reason} there`);
    }
  },
};

function fixedIn(request: FixRequest, inner: Definition): Fixing | Problem {
  const { component, names, project } = request;
  const edits = new Map<string, Edit[]>();
  const add = (path: string, more: readonly Edit[]) => edits.set(path, [...(edits.get(path) ?? []), ...more]);
  const given = new Map<string, (Handed | undefined)[]>();
  for (const { file, span } of request.uses) {
    const script = parseFile(file, request.ports);
    if (isProblem(script)) return script;
    const use = nodeAt(script.program, span);
    const refuse = (why: string) => problem('inputs-use', { path: file.path, span }, component.name, why);
    if (use?.type !== 'JSXElement') return refuse('shows it by no plain tag');
    const attributes = use.openingElement.attributes.filter((a) => a.type === 'JSXAttribute');
    if (attributes.length < use.openingElement.attributes.length)
      return refuse('hands on what it does not name (a spread)');
    const styled = attributes.find((a) => isStyleProp(attributeName(a)) && !names.includes(attributeName(a)));
    if (styled && names.includes('className'))
      return refuse(`has ${attributeName(styled)}, which is turned into className`);
    for (const name of names) {
      const attribute = attributes.find((a) => attributeName(a) === name);
      given.set(name, [...(given.get(name) ?? []), attribute && { attribute, text: file.text }]);
    }
    const gone = attributes.filter((a) => names.includes(attributeName(a)));
    const { width } = habitsOf(file.path, file.text, script.program, project.files);
    add(file.path, changedAttributes(file.text, use, gone, [], width));
  }
  const values = new Map<string, Argument | undefined>();
  const fixed: Fixed[] = [];
  for (const name of names) {
    const one = constantOf(name, component, given.get(name) ?? []);
    if (isProblem(one)) return one;
    const { first, value } = one;
    values.set(name, first && argumentOf(first));
    fixed.push({ name, value });
  }
  add(inner.path, innerEdits(request, inner, values));
  return { edits, fixed };
}

function argumentOf({ attribute: { value }, text }: Handed): Argument {
  if (!value) return { kind: 'constant', value: true };
  const node = value.type === 'JSXExpressionContainer' ? bare(value.expression) : value;
  if (node.type === 'Literal' && (typeof node.value === 'string' || typeof node.value === 'boolean'))
    return { kind: 'constant', value: node.value };
  const written = text.slice(...node.range);
  // A constant has no names.
  const scopes = { variableOf: () => undefined } as unknown as ScriptScopes;
  return { kind: 'code', node, scopes, source: written, write: () => written };
}

function innerEdits(
  { project }: FixRequest,
  inner: Definition,
  values: ReadonlyMap<string, Argument | undefined>,
): Edit[] {
  const { path, text, script, scopes, props, whole, statements, returning, shown } = inner;
  const habits = habitsOf(path, text, script.program, project.files);
  const valueOf = ({ name, default: instead }: Prop): Argument | undefined => {
    if (!values.has(name)) return undefined;
    return values.get(name) ?? (instead ? asArgument(instead, inner) : { kind: 'constant', value: undefined });
  };
  const argument = (node: Node): Argument | undefined => {
    if (node.type === 'MemberExpression' && !node.computed && node.object.type === 'Identifier')
      return whole && scopes.variableOf(node.object) === whole && node.property.type === 'Identifier'
        ? valueOf({ name: node.property.name })
        : undefined;
    if (node.type !== 'Identifier' && node.type !== 'JSXIdentifier') return undefined;
    const variable = scopes.referenceOf(node)?.resolved;
    const prop = variable ? props.get(variable) : undefined;
    return prop && valueOf(prop);
  };
  const substitution = new Substitution(text, scopes, argument, new Map(), inMarkup(inner));
  const own = [...statements, ...(returning ?? [shown])]
    .flatMap((node) => substitution.edits(node))
    // A statement that goes takes its line along.
    .map((e) => (e.text === '' ? wholeLines(text, e) : e));
  const changed = changedProps(inner, new Set(values.keys()), [], habits);
  const gone = [...own, ...changed].filter((e) => e.text === '');
  return [...own, ...changed, ...droppedImports({ text, script, scopes, request: { file: { path } } }, gone)];
}
