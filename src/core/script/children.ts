/** What a component does with the markup that is put between its tags: shows it, asks whether there is any, or looks into it. */
import type { TSESTree } from '@typescript-eslint/types';
import type { Node } from './parser.js';
import type { ScriptScopes, Variable } from './scopes.js';
import { attributeName, bare, calleeName, isFunction, walk, type FunctionNode } from './walk.js';

/** `read`: child by child, or their types and props; `tested`: whether there is anything. */
export type Reading = 'read' | 'tested' | 'shown';

export interface ComponentSource {
  /** The function, or the class. */
  readonly node: Node;
  readonly scopes: ScriptScopes;
  /** What another tag in that file stands for, where its text can be seen; `true`: known to look at its children. */
  readonly tag: (element: TSESTree.JSXElement) => ComponentSource | boolean;
}

const DEPTH = 4;
const ORDER: Record<Reading, number> = { shown: 0, tested: 1, read: 2 };

/** What a component does with one of its props; `children` where none is named. */
export function readingOf(source: ComponentSource, prop = 'children', depth = 0): Reading {
  let reading: Reading = 'shown';
  const note = (found: Reading) => {
    if (ORDER[found] > ORDER[reading]) reading = found;
  };
  if (depth > DEPTH) return reading;
  const { node, scopes } = source;
  const met = new Set<Variable>();
  const follow = (variable: Variable | undefined): void => {
    if (!variable || met.has(variable)) return;
    met.add(variable);
    for (const { identifier } of variable.references) if (!isDeclared(identifier, variable)) use(identifier);
  };
  const isDeclared = (identifier: Node, variable: Variable) =>
    (variable.identifiers as readonly Node[]).includes(identifier);

  const use = (value: Node): void => {
    const parent = scopes.parentOf(value);
    if (!parent) return;
    switch (parent.type) {
      case 'MemberExpression':
        return parent.object === value ? note('read') : undefined;
      case 'SpreadElement':
      case 'ForOfStatement':
        return note('read');
      case 'CallExpression': {
        if (parent.callee === value) return;
        const name = calleeName(parent) ?? '';
        return name === 'createElement' || name === 'createPortal' || name === 'Boolean' || /^use[A-Z]/.test(name)
          ? undefined
          : note('read');
      }
      case 'LogicalExpression':
        if (parent.left === value && parent.operator !== '??') note('tested');
        return parent.operator === '??' || parent.right === value ? use(parent) : undefined;
      case 'ConditionalExpression':
        return parent.test === value ? note('tested') : use(parent);
      case 'UnaryExpression':
        return parent.operator === '!' ? note('tested') : undefined;
      case 'IfStatement':
        return note('tested');
      case 'BinaryExpression':
        return note('tested');
      case 'JSXExpressionContainer': {
        const holder = scopes.parentOf(parent);
        if (holder?.type === 'JSXElement') return intoTag(holder, 'children');
        if (holder?.type !== 'JSXAttribute') return;
        const element = scopes.ancestorsOf(holder).find((n) => n.type === 'JSXElement');
        return element && intoTag(element, attributeName(holder));
      }
      case 'VariableDeclarator':
        return parent.init === value && parent.id.type === 'Identifier'
          ? follow(scopes.variableOf(parent.id))
          : undefined;
      default:
        if (bare(parent) !== parent) use(parent);
    }
  };
  const intoTag = (element: TSESTree.JSXElement, name: string): void => {
    const inner = source.tag(element);
    if (inner === true && name === 'children') note('read');
    if (typeof inner === 'object') note(readingOf(inner, name, depth + 1));
  };

  /** A pattern that takes props apart; what it leaves is handed on whole. */
  const takenApart = (pattern: TSESTree.ObjectPattern): void => {
    let named = false;
    for (const property of pattern.properties) {
      if (property.type === 'RestElement') {
        if (!named && property.argument.type === 'Identifier') handedOn(scopes.variableOf(property.argument));
      } else if (property.key.type === 'Identifier' && property.key.name === prop) {
        named = true;
        const target = property.value.type === 'AssignmentPattern' ? property.value.left : property.value;
        if (target.type === 'Identifier') follow(scopes.variableOf(target));
      }
    }
  };
  /** `props` as a whole: its member, or all of it spread on another tag. */
  const handedOn = (variable: Variable | undefined): void => {
    for (const { identifier } of variable?.references ?? []) ofProps(identifier);
  };
  const ofProps = (props: Node): void => {
    const parent = scopes.parentOf(props);
    if (parent?.type === 'MemberExpression' && parent.object === props) {
      if (parent.property.type === 'Identifier' && parent.property.name === prop && !parent.computed) use(parent);
    } else if (parent?.type === 'VariableDeclarator' && parent.init === props && parent.id.type === 'ObjectPattern')
      takenApart(parent.id);
    else if (parent?.type === 'JSXSpreadAttribute') {
      const element = scopes.ancestorsOf(parent).find((n) => n.type === 'JSXElement');
      if (element && !hasContent(element)) intoTag(element, prop);
    } else if (parent?.type === 'CallExpression') {
      const at = parent.arguments.findIndex((argument) => argument === props);
      const fn = at >= 0 ? functionCalled(parent, node, scopes) : undefined;
      if (fn) intoFunction(fn, at);
    }
  };
  const opened = new Set<Node>();
  const intoFunction = (fn: FunctionNode, at: number): void => {
    const parameter = fn.params[at];
    if (!parameter || opened.has(parameter)) return;
    opened.add(parameter);
    if (parameter.type === 'ObjectPattern') takenApart(parameter);
    else if (parameter.type === 'Identifier') handedOn(scopes.variableOf(parameter));
  };

  if (isFunction(node)) intoFunction(node, 0);
  else
    walk(node, (inner) => {
      // What is called with the props of now, of before, or of next.
      if (inner.type === 'MethodDefinition' && isFunction(inner.value))
        inner.value.params.forEach((parameter, i) => {
          if (parameter.type === 'Identifier' && /^(?:props|(?:next|prev)Props)$/.test(parameter.name))
            intoFunction(inner.value as FunctionNode, i);
        });
      if (
        inner.type === 'MemberExpression' &&
        inner.object.type === 'ThisExpression' &&
        inner.property.type === 'Identifier' &&
        inner.property.name === 'props'
      )
        ofProps(inner);
    });
  return reading;
}

/** The function of the file that a call calls: by its name, or a method of the class. */
function functionCalled(call: TSESTree.CallExpression, owner: Node, scopes: ScriptScopes): FunctionNode | undefined {
  const callee = bare(call.callee);
  if (callee.type === 'Identifier') {
    const definition = scopes.variableOf(callee)?.defs[0];
    if (definition?.type === 'FunctionName' && isFunction(definition.node)) return definition.node;
    const init = definition?.type === 'Variable' && definition.node.init ? bare(definition.node.init) : undefined;
    return init && isFunction(init) ? init : undefined;
  }
  const isOwn = callee.type === 'MemberExpression' && callee.object.type === 'ThisExpression' && !callee.computed;
  let found: FunctionNode | undefined;
  if (isOwn && callee.property.type === 'Identifier') {
    const { name } = callee.property;
    walk(owner, (inner) => {
      const isNamed = inner.type === 'MethodDefinition' || inner.type === 'PropertyDefinition';
      if (
        isNamed &&
        inner.key.type === 'Identifier' &&
        inner.key.name === name &&
        inner.value &&
        isFunction(inner.value)
      )
        found = inner.value;
    });
  }
  return found;
}

function hasContent(element: TSESTree.JSXElement): boolean {
  return element.children.some((c) => c.type !== 'JSXText' || c.value.trim() !== '');
}

/** The function or class behind wrappers such as `memo(forwardRef(…))`. */
export function componentIn(
  node: Node | null | undefined,
): FunctionNode | TSESTree.ClassDeclaration | TSESTree.ClassExpression | undefined {
  const code = node ? bare(node) : undefined;
  if (!code) return undefined;
  if (isFunction(code) || code.type === 'ClassDeclaration' || code.type === 'ClassExpression') return code;
  if (code.type !== 'CallExpression') return undefined;
  for (const argument of code.arguments) {
    const found = componentIn(argument);
    if (found) return found;
  }
  // `createClass({ render() { … } })`
  const record = code.arguments[0];
  return record && bare(record).type === 'ObjectExpression' ? (bare(record) as unknown as FunctionNode) : undefined;
}
