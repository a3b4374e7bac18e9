/** One use of a new component taken apart: what it shows, what it declares, what its parameters stand for. */
import type { TSESTree } from '@typescript-eslint/types';
import type { Node } from '../script/parser.js';
import { isPropsObject, type Variable } from '../script/scopes.js';
import { attributeName, type FunctionNode } from '../script/walk.js';
import { Mismatch, type MismatchPlace } from './mismatch.js';
import type { ProofModule } from '../language/proof-module.js';
import * as make from '../script/make.js';
import { statementsOf } from './known.js';
import { attributeValue, isKey, returns } from './questions.js';
import type { Code, Env, Value } from './values.js';

/** A component that the change made, where it was found. */
export interface NewComponent {
  readonly module: ProofModule;
  readonly variable: Variable;
  readonly fn: FunctionNode;
}

/** The use of a new component. */
export interface UsePlace {
  readonly use: TSESTree.JSXElement;
  readonly module: ProofModule;
  /** What the component shows, where it is defined. */
  readonly shown: Node;
  readonly component: NewComponent;
  readonly keyed: boolean;
}

export interface ExpandedUse {
  readonly shown: Node;
  /** Everything before the return. */
  readonly statements: readonly Node[];
  readonly env: Env;
  readonly key: Code | undefined;
}

/** `later`: how many functions that run later stand around the use; `returnsEarly`: the component may return in several places. */
export function expandUse(
  use: TSESTree.JSXElement,
  code: Code,
  component: NewComponent,
  outerKey: Code | undefined,
  later: number,
  returnsEarly = false,
): ExpandedUse {
  const { fn, module, variable } = component;
  const spread = handedOnWhole(use, fn, code);
  const { attributes, key } = readAttributes(use, code, variable.name, spread);
  const env = spread ? bindWhole(component, spread, code, later) : bindProps(component, attributes, code, later);
  const body: readonly Node[] = fn.body.type === 'BlockStatement' ? fn.body.body : [];
  // An `if` that the use decides is no more than the side that is taken; behind a return nothing runs.
  const left = body.flatMap((s) => statementsOf({ node: s, module, env }));
  const end = left.findIndex((s) => s.type === 'ReturnStatement');
  const own = end < 0 ? left : left.slice(0, end + 1);
  const last = own[own.length - 1];
  const shown =
    fn.body.type === 'BlockStatement' ? (last?.type === 'ReturnStatement' ? last.argument : undefined) : fn.body;
  if (!shown)
    throw new Mismatch('component-return', `<${variable.name}> does not end in a return`, undefined, {
      module,
      node: fn,
    });
  const early = returnsEarly ? own.findIndex((s) => returns(s)) : -1;
  const isEarly = early >= 0 && early < own.length - 1;
  return {
    shown: isEarly ? calledHere(own.slice(early)) : shown,
    statements: isEarly ? own.slice(0, early) : own.slice(0, -1),
    env,
    key: key ?? outerKey,
  };
}

/** Statements that return, as a function that is called on the spot. */
function calledHere(statements: readonly Node[]): Node {
  const span = { start: statements[0]!.range[0], end: statements.at(-1)!.range[1] };
  return make.call(make.arrow([], make.block(statements, span), span), [], span);
}

/** What is passed, by name; content between the tags is `children`. */
function readAttributes(
  use: TSESTree.JSXElement,
  code: Code,
  name: string,
  spread: TSESTree.JSXSpreadAttribute | undefined,
): { attributes: Map<string, Value>; key: Code | undefined } {
  const attributes = new Map<string, Value>();
  let key: Code | undefined;
  for (const attribute of use.openingElement.attributes) {
    if (attribute === spread) continue;
    const at = { module: code.module, node: attribute };
    if (attribute.type === 'JSXSpreadAttribute')
      throw new Mismatch('use-spread', `<${name}> is given a spread`, undefined, at);
    const value = attributeValue(attribute);
    const passed = attributeName(attribute);
    if (passed === 'key') key = { ...code, node: value ?? attribute };
    else if (attributes.has(passed) || attributes.has(otherWay(passed)))
      throw new Mismatch('use-passed-twice', `"${passed}" is passed twice`, undefined, at);
    else attributes.set(passed, { kind: 'code', code: { ...code, node: value ?? attribute } });
  }
  const content = use.children.filter(
    (c) => c.type !== 'JSXText' || code.module.renderedText(code.module.text.slice(c.range[0], c.range[1])),
  );
  const [only] = content.length === 1 && !code.module.fallsThrough ? content : [];
  // One expression by itself is handed over as it is, a function as well; where content fills an outlet, it is never that.
  if (only?.type === 'JSXExpressionContainer' && only.expression.type !== 'JSXEmptyExpression')
    attributes.set('children', { kind: 'code', code: { ...code, node: only.expression } });
  else if (content.length > 0)
    attributes.set('children', { kind: 'children', children: content, module: code.module, env: code.env });
  return { attributes, key };
}

/** A prop that is bound both ways is the same prop. */
function otherWay(name: string): string {
  return name.startsWith('v-model:') ? name.slice('v-model:'.length) : `v-model:${name}`;
}

/** `<HiveRow {...props} />` of a component that takes `props`: the one stands for the other. */
function bindWhole({ fn, module }: NewComponent, spread: TSESTree.JSXSpreadAttribute, code: Code, later: number): Env {
  const variable = module.scopes.variableOf(fn.params[0]!);
  const value: Value = { kind: 'code', code: { ...code, node: spread.argument } };
  return {
    owner: fn,
    module,
    component: true,
    values: new Map(variable ? [[variable, value]] : []),
    parent: code.env,
    later,
  };
}

function bindProps(
  { fn, module }: NewComponent,
  attributes: ReadonlyMap<string, Value>,
  code: Code,
  later: number,
): Env {
  const parameter = fn.params[0];
  if (module.fallsThrough) checkTaken(attributes, parameter, { module: code.module, node: code.node });
  const values = new Map<Variable, Value>();
  const base: Env = { owner: fn, module, component: true, values, parent: code.env, later };
  if (!parameter) return base;
  if (parameter.type === 'Identifier') {
    const variable = module.scopes.variableOf(parameter);
    return variable ? { ...base, whole: { variable, attributes } } : base;
  }
  if (parameter.type !== 'ObjectPattern')
    throw new Mismatch('component-props', 'the new component takes its props in an unusual way', undefined, {
      module,
      node: fn,
    });
  for (const property of parameter.properties) {
    if (property.type === 'RestElement' || property.computed || property.key.type !== 'Identifier') {
      throw new Mismatch('component-props', 'the new component takes its props in an unusual way', undefined, {
        module,
        node: property,
      });
    }
    const passed = attributes.get(property.key.name) ?? { kind: 'absent' };
    const target = property.value.type === 'AssignmentPattern' ? property.value.left : property.value;
    if (target.type !== 'Identifier')
      throw new Mismatch('component-props-deeper', 'the new component takes its props apart further', undefined, {
        module,
        node: property,
      });
    const variable = module.scopes.variableOf(target);
    if (!variable) continue;
    if (property.value.type === 'AssignmentPattern' && passed.kind === 'absent')
      values.set(variable, { kind: 'code', code: { node: property.value.right, module, env: undefined } });
    else values.set(variable, passed);
  }
  return base;
}

/** Where what a component does not take lands on what it shows, everything that is passed must be taken. */
function checkTaken(attributes: ReadonlyMap<string, Value>, parameter: Node | undefined, at: MismatchPlace): void {
  const taken = new Set(
    parameter?.type === 'ObjectPattern'
      ? parameter.properties.flatMap((p) => (p.type === 'Property' && p.key.type === 'Identifier' ? [p.key.name] : []))
      : [],
  );
  for (const name of attributes.keys())
    if (!taken.has(name)) throw new Mismatch('use-passed-untaken', `"${name}" is passed and not taken`, undefined, at);
}

/** The spread of a use that hands over nothing else, to a component that takes its props as one name. */
function handedOnWhole(
  use: TSESTree.JSXElement,
  fn: FunctionNode,
  { module }: Code,
): TSESTree.JSXSpreadAttribute | undefined {
  const attributes = use.openingElement.attributes.filter((t) => !isKey(t));
  const only = attributes.length === 1 ? attributes[0]! : undefined;
  const hasContent = use.children.some((c) => c.type !== 'JSXText' || c.value.trim() !== '');
  if (only?.type !== 'JSXSpreadAttribute' || fn.params[0]?.type !== 'Identifier' || hasContent) return undefined;
  // Only props are known to be an object that nobody compares by identity.
  const variable = module.scopes.variableOf(only.argument);
  return variable && isPropsObject(module.scopes, variable) ? only : undefined;
}
