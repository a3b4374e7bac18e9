/** A Vue component taken apart, so that it can be put back. */
import { isProblem, problem, type Problem } from '../../../problems/problems.js';
import type { Node } from '../../../script/parser.js';
import type { Variable } from '../../../script/scopes.js';
import { isFunction, nodeWithin, walk } from '../../../script/walk.js';
import type { Putting } from '../../../language/inlining.js';
import type { Ports } from '../../../language/ports.js';
import type { Span } from '../../../text/edits.js';
import { keyName, macroCall, propertyOf } from '../definition.js';
import { lower, type Lowered } from '../lower.js';
import { isElement } from '../markup.js';
import { isDirective } from '../pieces.js';
import { attributeOf, hasAttribute, parseSfc, type Sfc } from '../sfc.js';
import type { TemplateChildNode } from '../template.js';
import type { FunctionNode } from '../../../script/walk.js';

export interface Definition {
  readonly path: string;
  readonly text: string;
  readonly sfc: Sfc;
  readonly lowered: Lowered;
  /** The function that the component is, as it is lowered. */
  readonly fn: FunctionNode;
  /** What the lowered names stand for that the component takes. */
  readonly props: ReadonlyMap<Variable, { readonly name: string; readonly default?: Node }>;
  /** What the template shows, without the white space around it. */
  readonly roots: readonly TemplateChildNode[];
  /** What the script declares: statements of a setup that are no macros, or members of options. */
  readonly declared: readonly { readonly node: Node; readonly option?: string }[];
}

export function definitionOf(component: Putting, ports: Ports): Definition | Problem {
  const { file, name, span } = component;
  const found = takenApart(component, ports);
  return 'why' in found ? problem('inline-component', { path: file.path, span }, name, found.why) : found;
}

/** The component, or why it cannot be taken apart: words to stand behind its name. */
export function takenApart({ file }: Putting, ports: Ports): Definition | { readonly why: string } | Problem {
  const sfc = parseSfc(file, ports);
  if (isProblem(sfc)) return sfc;
  const lowered = lower(sfc);
  const refuse = (why: string) => ({ why });
  const trouble = troubleOf(sfc, lowered);
  if (trouble !== undefined) return refuse(trouble);
  const { scopes } = lowered;
  const fn = scopes.moduleScope.set.get(lowered.name)?.defs[0]?.node;
  if (!fn || !('params' in fn) || !isFunction(fn)) return refuse('it is written in an unusual way');
  const props = new Map<Variable, { name: string; default?: Node }>();
  const pattern = fn.params[0];
  for (const property of pattern?.type === 'ObjectPattern' ? pattern.properties : []) {
    if (property.type !== 'Property' || property.key.type !== 'Identifier')
      return refuse('it takes its props in an unusual way');
    const { value } = property;
    const variable = scopes.variableOf(value.type === 'AssignmentPattern' ? value.left : value);
    if (!variable) return refuse('it takes its props in an unusual way');
    props.set(variable, {
      name: property.key.name,
      ...(value.type === 'AssignmentPattern' ? { default: value.right } : {}),
    });
  }
  const isBlank = (node: TemplateChildNode) =>
    file.text.slice(node.loc.start.offset, node.loc.end.offset).trim() === '';
  const roots = sfc.shown.filter((node, i) => !isBlank(node) || (i > 0 && i < sfc.shown.length - 1));
  if (roots.length === 0) return refuse('it shows nothing');
  return {
    path: file.path,
    text: file.text,
    sfc,
    lowered,
    fn: fn,
    props,
    roots,
    declared: declaredIn(sfc, lowered),
  };
}

function isMacroStatement(statement: Node): boolean {
  if (statement.type === 'ExpressionStatement') return macroCall(statement.expression) !== undefined;
  return (
    statement.type === 'VariableDeclaration' && statement.declarations.every((d) => macroCall(d.init) !== undefined)
  );
}

/** A ref belongs to the component that shows the element: put back, it would be another one's. */
function holdsRef(node: TemplateChildNode): boolean {
  return (
    isElement(node) &&
    (attributeOf(node, 'ref') !== undefined ||
      node.props.some((p) => isDirective(p) && p.name === 'bind' && p.arg?.loc.source === 'ref') ||
      node.children.some(holdsRef))
  );
}

/** Options that describe the component and do nothing. */
const DESCRIBES = new Set(['name', 'components', 'props', 'emits']);

function troubleOf(sfc: Sfc, { definition, sfc: { script, setup } }: Lowered): string | undefined {
  if (!sfc.template || sfc.template.src !== undefined || script?.src !== undefined)
    return 'parts of it stand in other files';
  if (sfc.template.lang !== undefined && sfc.template.lang !== 'html') return `its template is in ${sfc.template.lang}`;
  if (definition.macros.has('defineExpose')) return 'others reach into it';
  if (sfc.shown.some(holdsRef)) return 'its elements are reached by a ref';
  if (definition.macros.has('defineOptions')) return 'it has options beside its setup';
  if (definition.openProps) return 'its props are not written in its file';
  const plain =
    script?.script.program.body.filter((s) => s.type !== 'ImportDeclaration' && !s.type.startsWith('TS')) ?? [];
  if (setup && plain.length > 0) return 'it has a second script';
  if (!setup && script) {
    if (plain.some((s) => s.type !== 'ExportDefaultDeclaration')) return 'its script holds more than the component';
    if (!definition.options) return 'it is no plain object of options';
    for (const property of definition.options.properties) {
      const key =
        property.type === 'Property' && !property.computed && property.key.type === 'Identifier'
          ? property.key.name
          : 'something';
      const value = propertyOf(definition.options, key);
      if (
        MEMBERS.has(key) &&
        value?.type === 'ObjectExpression' &&
        value.properties.every((p) => p.type === 'Property')
      )
        continue;
      if (!DESCRIBES.has(key)) return `its options hold ${key}, which are not put back yet`;
    }
  }
  if (sfc.styles.some((block) => hasAttribute(block.node, 'module'))) return 'its styles are a module';
  return undefined;
}

/** Options whose members go over to a host that has options as well. */
const MEMBERS = new Set(['computed', 'methods']);

function declaredIn({ setup }: Sfc, { definition }: Lowered): Definition['declared'] {
  if (setup)
    return setup.script.program.body
      .filter((s) => s.type !== 'ImportDeclaration' && !s.type.startsWith('TS') && !isMacroStatement(s))
      .map((node) => ({ node }));
  return (definition.options?.properties ?? []).flatMap((property) => {
    const option = property.type === 'Property' ? keyName(property.key) : undefined;
    if (property.type !== 'Property' || option === undefined || property.value.type !== 'ObjectExpression') return [];
    return MEMBERS.has(option) ? property.value.properties.map((node) => ({ node: node, option })) : [];
  });
}

/** The outermost lowered nodes of a piece of the script. */
export function loweredIn({ fn }: Definition, span: Span): Node[] {
  const found: Node[] = [];
  walk(fn.body, (node) => {
    if (node.range[1] <= span.start || node.range[0] >= span.end)
      return node.range[0] === node.range[1] ? undefined : false;
    if (node.range[1] === node.range[0] || !nodeWithin(node, span)) return undefined;
    found.push(node);
    return false;
  });
  return found;
}
