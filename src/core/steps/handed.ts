/** What components do with a function that they are handed: call the one of today, or keep one for later. */
import type { TSESTree } from '@typescript-eslint/types';
import type { ComponentTree, TreeNode } from '../analyze/tree.js';
import type { Node } from '../script/parser.js';
import type { ScriptScopes, Variable } from '../script/scopes.js';
import { bare, calleeName, isFunction, nodeWithin, walk } from '../script/walk.js';

/** `unseen`: its text is not in the project, or it hands on all that it takes. */
export type Handling = 'calls' | 'keeps' | 'unseen';

const DEPTH = 4;

/** What the component that a tag means does with one of its props. */
export function handlingOf(tree: ComponentTree, path: string, tag: string, prop: string, depth = 0): Handling {
  const id = tree.meant(path, tag);
  const node = id === undefined ? undefined : tree.node(id);
  const module = node && tree.resolved(node.path);
  if (!node || !module || depth > DEPTH) return 'unseen';
  return new Follower(tree, node, module.scopes, prop, depth).handling(module.script.program);
}

class Follower {
  #found: Handling = 'calls';
  #isMet = false;

  constructor(
    readonly tree: ComponentTree,
    readonly node: TreeNode,
    readonly scopes: ScriptScopes,
    readonly prop: string,
    readonly depth: number,
  ) {}

  handling(program: Node): Handling {
    const { component } = this.node;
    walk(program, (node) => {
      if (node.range[1] < component.start || node.range[0] > component.end) return false;
      if (
        node.type === 'MemberExpression' &&
        !node.computed &&
        this.#isProps(node.object) &&
        this.#isNamed(node.property)
      )
        this.#use(node);
      if (node.type === 'Property' && !node.computed && this.#isNamed(node.key)) this.#taken(node);
      return undefined;
    });
    // What is not named may be handed on with all the others.
    return this.#isMet ? this.#found : 'unseen';
  }

  #isNamed(node: Node): boolean {
    return node.type === 'Identifier' && node.name === this.prop;
  }

  #isProps(node: Node): boolean {
    const object = bare(node);
    if (object.type === 'Identifier') return /props$/i.test(object.name);
    return (
      object.type === 'MemberExpression' && object.property.type === 'Identifier' && object.property.name === 'props'
    );
  }

  /** A name that the prop is taken apart into. */
  #taken({ value }: TSESTree.Property): void {
    const id = value.type === 'AssignmentPattern' ? value.left : value;
    const variable = id.type === 'Identifier' ? this.scopes.variableOf(id) : undefined;
    const isDeclared = variable?.identifiers.some((one) => (one as Node) === id);
    if (!variable || !isDeclared) return;
    this.#isMet = true;
    this.#follow(variable);
  }

  #follow(variable: Variable): void {
    for (const { identifier, init } of variable.references) if (!init) this.#use(identifier);
  }

  #use(node: Node): void {
    this.#isMet = true;
    const { scopes } = this;
    for (const above of scopes.ancestorsOf(node)) {
      if (!nodeWithin(above, this.node.component)) break;
      if (above.type === 'CallExpression' && /^use[A-Z]/.test(calleeName(above) ?? '')) return this.#note('keeps');
    }
    const parent = scopes.parentOf(node);
    const isCalled = parent?.type === 'CallExpression' && parent.callee === node;
    const isTested =
      parent?.type === 'LogicalExpression' ||
      parent?.type === 'ConditionalExpression' ||
      parent?.type === 'IfStatement';
    if (isCalled || isTested || parent?.type === 'UnaryExpression' || parent?.type === 'ChainExpression') return;
    // A record that is taken apart is looked at by its names.
    if (parent?.type === 'VariableDeclarator' && parent.init === node && parent.id.type === 'Identifier') {
      const variable = scopes.variableOf(parent.id);
      return variable ? this.#follow(variable) : this.#note('keeps');
    }
    const attribute = parent?.type === 'JSXExpressionContainer' ? scopes.parentOf(parent) : undefined;
    if (attribute?.type === 'JSXAttribute' && attribute.name.type === 'JSXIdentifier') {
      const element = scopes.parentOf(attribute);
      const tag = element?.type === 'JSXOpeningElement' ? element.name : undefined;
      if (tag?.type === 'JSXIdentifier' && /^[a-z]/.test(tag.name)) return;
      const name = tag?.type === 'JSXIdentifier' ? tag.name : '';
      return this.#note(handlingOf(this.tree, this.node.path, name, attribute.name.name, this.depth + 1));
    }
    this.#note(isFunction(parent ?? node) ? 'unseen' : 'keeps');
  }

  #note(handling: Handling): void {
    if (this.#found !== 'keeps' && handling !== 'calls') this.#found = handling;
  }
}
