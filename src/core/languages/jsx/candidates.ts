/** Finding components in a script: functions and classes that show something, wrappers seen through. */
import type { TSESTree } from '@typescript-eslint/types';
import type { Node, Program } from '../../script/parser.js';
import { bare, childrenOf, isFunction, type FunctionNode } from '../../script/walk.js';
import { isJsx } from './markup.js';

/** The body of a component: a function, a class, or the object given to `createClass`. */
export type ComponentNode =
  FunctionNode | TSESTree.ClassDeclaration | TSESTree.ClassExpression | TSESTree.ObjectExpression;

export interface Candidate {
  readonly node: ComponentNode;
  readonly kind: 'function' | 'class' | 'helper';
  /** Undefined for an anonymous default export, which takes its name from the file. */
  readonly name: string | undefined;
  readonly defaultExport: boolean;
  /** The statement or declarator that the component begins with, for its lines. */
  readonly outer: Node;
}

export interface Findings {
  readonly candidates: readonly Candidate[];
  readonly holdsJsx: (node: Node) => boolean;
}

const CLASS_METHODS = new Set(['render']);

/** One walk over the file. */
export function findComponents(program: Program): Findings {
  const starts: number[] = [];
  const found: { node: ComponentNode; ancestors: Node[] }[] = [];
  const ancestors: Node[] = [];
  const visit = (node: Node): void => {
    if (isJsx(node)) starts.push(node.range[0]);
    else if (isFunction(node) || node.type === 'ClassDeclaration' || node.type === 'ClassExpression') {
      found.push({ node, ancestors: ancestors.slice(-6) });
    } else if (node.type === 'ObjectExpression' && isCreateClass(ancestors[ancestors.length - 1])) {
      found.push({ node, ancestors: ancestors.slice(-6) });
    }
    ancestors.push(node);
    for (const child of childrenOf(node)) visit(child);
    ancestors.pop();
  };
  visit(program);
  const holdsJsx = (node: Node) => {
    let low = 0;
    let high = starts.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (starts[middle]! < node.range[0]) low = middle + 1;
      else high = middle;
    }
    return low < starts.length && starts[low]! < node.range[1];
  };
  const candidates: Candidate[] = [];
  for (const { node, ancestors: above } of found) {
    if (!holdsJsx(node)) continue;
    const candidate = classify(node, above);
    if (candidate) candidates.push(candidate);
  }
  return { candidates, holdsJsx };
}

function classify(node: ComponentNode, above: readonly Node[]): Candidate | undefined {
  const naming = nameOf(node, above);
  if (!isFunction(node)) {
    if (!hasRender(node)) return undefined;
    if (!naming.name && !naming.defaultExport) return undefined;
    return { node, kind: 'class', ...naming };
  }
  if (naming.name ? /^[A-Z]/.test(naming.name) : naming.defaultExport) return { node, kind: 'function', ...naming };
  if (naming.name && naming.topLevel) return { node, kind: 'helper', ...naming };
  return undefined;
}

function hasRender(node: Exclude<ComponentNode, FunctionNode>): boolean {
  const members = node.type === 'ObjectExpression' ? node.properties : node.body.body;
  return members.some(
    (member) => 'key' in member && member.key.type === 'Identifier' && CLASS_METHODS.has(member.key.name),
  );
}

function isCreateClass(parent: Node | undefined): boolean {
  if (parent?.type !== 'CallExpression') return false;
  const callee = bare(parent.callee);
  if (callee.type === 'Identifier') return callee.name === 'createClass' || callee.name === 'createReactClass';
  return (
    callee.type === 'MemberExpression' &&
    callee.property.type === 'Identifier' &&
    callee.property.name === 'createClass'
  );
}

interface Naming {
  readonly name: string | undefined;
  readonly defaultExport: boolean;
  readonly topLevel: boolean;
  readonly outer: Node;
}

/** Climbs through wrappers (`memo(forwardRef(fn))`, `connect(…)(fn)`, casts) to the name that the result gets. */
function nameOf(node: ComponentNode, above: readonly Node[]): Naming {
  const own = 'id' in node && node.id ? node.id.name : undefined;
  let child: Node = node;
  for (let i = above.length - 1; i >= 0; i--) {
    const parent = above[i]!;
    const outside = above[i - 1];
    const topLevel = outside?.type === 'Program' || outside?.type === 'ExportNamedDeclaration';
    if (parent.type === 'CallExpression' && child !== parent.callee) {
      child = parent;
      continue;
    }
    if (bare(parent) !== parent) {
      child = parent;
      continue;
    }
    if (parent.type === 'VariableDeclarator') {
      const name = parent.id.type === 'Identifier' ? parent.id.name : undefined;
      const above2 = above[i - 2];
      const atTop = above2?.type === 'Program' || above2?.type === 'ExportNamedDeclaration';
      return { name: name ?? own, defaultExport: false, topLevel: atTop, outer: outside ?? parent };
    }
    if (parent.type === 'AssignmentExpression' && child === parent.right) {
      return {
        name: assignedName(parent.left) ?? own,
        defaultExport: isModuleExports(parent.left),
        topLevel,
        outer: parent,
      };
    }
    if (parent.type === 'ExportDefaultDeclaration') {
      return { name: own, defaultExport: true, topLevel: true, outer: parent };
    }
    const direct = child === node;
    return {
      name: own,
      defaultExport: false,
      topLevel: direct && (parent.type === 'Program' || parent.type === 'ExportNamedDeclaration'),
      outer: node,
    };
  }
  return { name: own, defaultExport: false, topLevel: false, outer: node };
}

function assignedName(left: Node): string | undefined {
  if (left.type === 'Identifier') return left.name;
  if (left.type !== 'MemberExpression' || left.computed || left.property.type !== 'Identifier') return undefined;
  return left.property.name === 'exports' ? undefined : left.property.name;
}

function isModuleExports(left: Node): boolean {
  return left.type === 'MemberExpression' && left.property.type === 'Identifier' && left.property.name === 'exports';
}
