/** Walking TS-ESTree in source order, and the small questions that everybody asks of a node. */
import { visitorKeys } from '@typescript-eslint/visitor-keys';
import type { TSESTree } from '@typescript-eslint/types';
import type { Span } from '../text/edits.js';
import type { Node } from './parser.js';

export type FunctionNode =
  TSESTree.FunctionDeclaration | TSESTree.FunctionExpression | TSESTree.ArrowFunctionExpression;

/** Children in the order of the visitor keys; holes in arrays are passed over. */
export function childrenOf(node: Node): Node[] {
  const result: Node[] = [];
  forEachChild(node, (child) => result.push(child));
  return result;
}

export function forEachChild(node: Node, visit: (child: Node) => void): void {
  const keys = visitorKeys[node.type];
  if (!keys) return;
  const record = node as unknown as Record<string, Node | (Node | null)[] | null | undefined>;
  for (const key of keys) {
    const value = record[key];
    if (!value) continue;
    if (Array.isArray(value)) {
      for (const item of value) if (item) visit(item);
    } else visit(value);
  }
}

/** Depth first. `enter` may answer `false` to leave the children out. `ancestors` ends with the parent. */
export function walk(
  root: Node,
  enter: (node: Node, ancestors: readonly Node[]) => boolean | undefined | void, // eslint-disable-line @typescript-eslint/no-invalid-void-type -- a visitor may answer nothing
  leave?: (node: Node) => void,
): void {
  const ancestors: Node[] = [];
  const step = (node: Node): void => {
    if (enter(node, ancestors) !== false) {
      ancestors.push(node);
      // A plain loop: markup can be nested thousands deep, and every frame counts.
      for (const child of childrenOf(node)) step(child);
      ancestors.pop();
    }
    leave?.(node);
  };
  step(root);
}

export function spanOf(node: Node): Span {
  return { start: node.range[0], end: node.range[1] };
}

/** Whether `inner` lies in `outer`, ends included. */
export function within(inner: Span, outer: Span): boolean {
  return inner.start >= outer.start && inner.end <= outer.end;
}

export function nodeWithin(node: Node, outer: Span): boolean {
  return node.range[0] >= outer.start && node.range[1] <= outer.end;
}

export function isFunction(node: Node): node is FunctionNode {
  return (
    node.type === 'ArrowFunctionExpression' || node.type === 'FunctionExpression' || node.type === 'FunctionDeclaration'
  );
}

/** Takes away what has no meaning at run time: `as`, `satisfies`, `!`, `<T>x`, and the wrapper of optional chains. */
export function bare(node: Node): Node {
  let result = node;
  for (;;) {
    switch (result.type) {
      case 'TSAsExpression':
      case 'TSSatisfiesExpression':
      case 'TSNonNullExpression':
      case 'TSTypeAssertion':
      case 'TSInstantiationExpression':
        result = result.expression;
        break;
      default:
        return result;
    }
  }
}

const NOW_METHODS = new Set(
  'map flatMap filter forEach some every find findIndex findLast findLastIndex reduce reduceRight sort toSorted'.split(
    ' ',
  ),
);

/**
 * Whether a function given to this call runs before the call returns: array methods, `Array.from`, `useMemo`, or the
 * function called on the spot. Everything else (handlers, effects, timers) may run later, when values have moved on.
 * Made syntax says so itself, by `immediate`.
 */
export function runsNow(fn: Node, parent: Node | undefined): boolean {
  if ('immediate' in fn) return true;
  if (parent?.type !== 'CallExpression') return false;
  const callee = bare(parent.callee);
  if (callee === fn) return true;
  if (!parent.arguments.includes(fn as TSESTree.CallExpressionArgument)) return false;
  if (callee.type === 'Identifier') return callee.name === 'useMemo';
  if (callee.type !== 'MemberExpression' || callee.computed || callee.property.type !== 'Identifier') return false;
  const name = callee.property.name;
  if (name === 'from') return callee.object.type === 'Identifier' && callee.object.name === 'Array';
  if (callee.object.type === 'Identifier' && callee.object.name === 'React') return name === 'useMemo';
  return NOW_METHODS.has(name);
}

/** `onClick`, `xlink:href`. */
export function attributeName(attribute: TSESTree.JSXAttribute): string {
  const { name } = attribute;
  return name.type === 'JSXIdentifier' ? name.name : `${name.namespace.name}:${name.name.name}`;
}

/** The names that a parameter or a declaration binds. */
export function boundNames(pattern: Node): string[] {
  switch (pattern.type) {
    case 'Identifier':
      return [pattern.name];
    case 'ObjectPattern':
      return pattern.properties.flatMap((p) => boundNames(p.type === 'RestElement' ? p.argument : p.value));
    case 'ArrayPattern':
      return pattern.elements.flatMap((element) => (element ? boundNames(element) : []));
    case 'AssignmentPattern':
      return boundNames(pattern.left);
    case 'RestElement':
      return boundNames(pattern.argument);
    case 'TSParameterProperty':
      return boundNames(pattern.parameter);
    default:
      return [];
  }
}

/** `useState` for `useState(…)`, `React.useState(…)` and the like. */
export function calleeName(node: Node): string | undefined {
  const call = bare(node);
  if (call.type !== 'CallExpression') return undefined;
  const callee = bare(call.callee);
  if (callee.type === 'Identifier') return callee.name;
  if (callee.type === 'MemberExpression' && !callee.computed && callee.property.type === 'Identifier')
    return callee.property.name;
  return undefined;
}

/** `this.state`, where a class keeps what it shows. */
export function isThisState(node: Node): boolean {
  return (
    node.type === 'MemberExpression' &&
    node.object.type === 'ThisExpression' &&
    node.property.type === 'Identifier' &&
    node.property.name === 'state'
  );
}

/** The innermost node that holds a span, and the node that is the span, if there is one. */
export function holderOf(program: Node, span: Span): { holder: Node; node: Node | undefined } {
  let holder: Node = program;
  for (;;) {
    const children = childrenOf(holder);
    const exact = children.find((c) => c.range[0] === span.start && c.range[1] === span.end && c.type !== 'JSXText');
    // An expression statement and its expression, an export and its declaration: go to the innermost.
    if (exact) return { holder, node: exact };
    const next = children.find((c) => c.range[0] <= span.start && c.range[1] >= span.end && c.type !== 'JSXText');
    if (!next) return { holder, node: undefined };
    holder = next;
  }
}

export function nodeAt(program: Node, span: Span): Node | undefined {
  return holderOf(program, span).node;
}
