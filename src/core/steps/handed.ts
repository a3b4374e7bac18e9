/** What components do with a function that they are handed: call the one of today, or keep one for later. */
import type { TSESTree } from '@typescript-eslint/types';
import type { ComponentTree, TreeNode } from '../analyze/tree.js';
import type { Node } from '../script/parser.js';
import type { ScriptScopes, Variable } from '../script/scopes.js';
import { firstWait } from '../script/waiting.js';
import { bare, calleeName, isFunction, nodeWithin, runsNow, walk } from '../script/walk.js';

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
        this.#use(node, this.#homeOf(bare(node.object)));
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
    for (const { identifier, init } of variable.references)
      if (!init) this.#use(identifier, variable.scope.variableScope.block);
  }

  /** The function that a name belongs to; undefined for what is read of an object, which has the newest. */
  #homeOf(object: Node): Node | undefined {
    const variable = object.type === 'Identifier' ? this.scopes.variableOf(object) : undefined;
    return variable?.scope.variableScope.block;
  }

  /** `home`: the function that it is known in. */
  #use(use: Node, home: Node | undefined): void {
    this.#isMet = true;
    const { scopes } = this;
    const isInHook = scopes.ancestorsOf(use).some((above) => /^use[A-Z]/.test(calleeName(above) ?? ''));
    if (isInHook) return this.#note('keeps');
    // A value that is chosen is handled as what it is chosen for.
    let node = use;
    let parent = scopes.parentOf(node);
    while (parent && isChosen(node, parent)) [node, parent] = [parent, scopes.parentOf(parent)];
    if (!parent) return;
    if (parent.type === 'CallExpression' && parent.callee === node) {
      return this.#note(home && this.#isLate(node, home) ? 'keeps' : 'calls');
    }
    if (isTest(node, parent)) return;
    if (parent.type === 'VariableDeclarator' && parent.init === node && parent.id.type === 'Identifier') {
      const variable = scopes.variableOf(parent.id);
      return variable ? this.#follow(variable) : this.#note('keeps');
    }
    const attribute = parent.type === 'JSXExpressionContainer' ? scopes.parentOf(parent) : undefined;
    if (attribute?.type === 'JSXAttribute' && attribute.name.type === 'JSXIdentifier') {
      const element = scopes.parentOf(attribute);
      const tag = element?.type === 'JSXOpeningElement' ? element.name : undefined;
      if (tag?.type !== 'JSXIdentifier') return this.#note('unseen');
      if (/^[a-z]/.test(tag.name)) return;
      return this.#note(handlingOf(this.tree, this.node.path, tag.name, attribute.name.name, this.depth + 1));
    }
    this.#note('keeps');
  }

  /**
   * Whether a name of `home` is used when another rendering may have another value for it: behind a wait, or in a function that runs
   * later. A function that is made while rendering is the one of today, one that is made in it is not.
   */
  #isLate(use: Node, home: Node): boolean {
    const above = this.scopes.ancestorsOf(use);
    const around = above
      .slice(0, above.indexOf(home))
      .filter((fn) => isFunction(fn) && (fn.async || !runsNow(fn, this.scopes.parentOf(fn))));
    const member = this.scopes.parentOf(home);
    const isMethod = member?.type === 'MethodDefinition' || member?.type === 'PropertyDefinition';
    const isInner = this.scopes.ancestorsOf(home).some((fn) => isFunction(fn) && nodeWithin(fn, this.node.component));
    const isRendered = isMethod ? member.key.type === 'Identifier' && member.key.name === 'render' : !isInner;
    return around.length > Number(isRendered) || [...around, home].some((fn) => use.range[0] >= firstWait(fn));
  }

  #note(handling: Handling): void {
    if (this.#found !== 'keeps' && handling !== 'calls') this.#found = handling;
  }
}

/** Whether an expression gives what one of its pieces is. */
function isChosen(node: Node, parent: Node): boolean {
  if (parent.type === 'LogicalExpression') return parent.operator !== '&&' || parent.right === node;
  if (parent.type === 'ConditionalExpression') return parent.test !== node;
  return parent.type === 'ChainExpression' || bare(parent) === bare(node);
}

function isTest(node: Node, parent: Node): boolean {
  const isAsked = (parent.type === 'IfStatement' || parent.type === 'ConditionalExpression') && parent.test === node;
  return (
    isAsked ||
    parent.type === 'UnaryExpression' ||
    parent.type === 'LogicalExpression' ||
    parent.type === 'BinaryExpression'
  );
}
