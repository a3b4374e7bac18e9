/**
 * What stands around the use of a new component, and can tell it from the markup that stood there before: a parent that
 * looks at its children, code that takes the element apart or asks whether there is one, a `try`, styles that know only
 * one component; and the moment at which what moved is run.
 */
import type { TSESTree } from '@typescript-eslint/types';
import { readingOf, type Reading } from '../script/children.js';
import { effectOf, momentIn } from '../script/effects.js';
import { sinksOf, type Sink } from '../script/flow.js';
import type { Node } from '../script/parser.js';
import { bare, calleeName, isFunction, nodeWithin, runsNow, spanOf, walk, type FunctionNode } from '../script/walk.js';
import { Definitions } from './definitions.js';
import { Mismatch } from './mismatch.js';
import type { ProofModule, Side, Turn } from './module.js';
import { attributeNamed, describe, isShown } from './questions.js';

/** The use of a new component. */
export interface UsePlace {
  readonly use: TSESTree.JSXElement;
  readonly module: ProofModule;
  /** What the component shows, where it is defined. */
  readonly shown: Node;
  readonly shownIn: ProofModule;
  readonly name: string;
  readonly keyed: boolean;
}

export class Surroundings {
  readonly #definitions: Definitions;

  constructor(
    side: Side,
    readonly turn: Turn,
  ) {
    this.#definitions = new Definitions(side);
  }

  /** Throws where the component can be told from what it shows. */
  check(place: UsePlace): void {
    const { use, module } = place;
    const at = { module, node: use };
    for (const sink of sinksOf(use, module.scopes)) this.#sink(sink, place);
    this.#keys(place);
    const fn = this.#componentAround(use, module);
    if (inTry(use, module))
      throw new Mismatch(
        'component-in-try',
        `<${place.name}> is rendered outside of the "try" around it`,
        undefined,
        at,
      );
    const styled = [fn, this.#componentAround(place.shown, place.shownIn)].some((f) => f && hasScopedStyle(f));
    if (styled && showsNative(place.shown))
      throw new Mismatch(
        'component-style-scope',
        'the styles of <style jsx> reach only the component that holds them',
        undefined,
        at,
      );
    const changing = this.#effect(place.shown, place.shownIn) === 'writes';
    if (changing)
      throw new Mismatch(
        'call-moved',
        `<${place.name}> changes something while it is rendered, later than before`,
        undefined,
        at,
      );
  }

  /** Throws where a declaration that went along runs at a moment when it gives something else. */
  declaration(statement: TSESTree.VariableDeclaration, module: ProofModule, name: string): void {
    for (const { init } of statement.declarations) {
      if (!init) continue;
      const call = bare(init);
      const hook = calleeName(call);
      if (isFunction(call) || (hook !== undefined && (/^use[A-Z]/.test(hook) || module.keeps?.has(hook)))) continue;
      const effect = this.#effect(init, module);
      if (effect === 'none') continue;
      const words = `${describe(statement)} now runs when <${name}> is rendered`;
      if (effect === 'writes')
        throw new Mismatch('call-moved', `${words}, and changes something`, undefined, { module, node: statement });
    }
  }

  /** Throws where state has left a component that has to be rendered whenever it changes. */
  state(hook: string, statement: Node, module: ProofModule, use: Node, host: ProofModule): void {
    if (hook !== 'useState' && hook !== 'useReducer') return;
    const fn = this.#componentAround(use, host);
    const isBack = this.turn === 'back';
    const moment = fn && momentIn(fn, host.scopes, () => true, isBack ? 'effects' : 'all');
    if (moment)
      throw new Mismatch(
        'hook-renders-less',
        `the component around it is ${isBack ? 'rendered as well' : 'no longer rendered'} when the state of ${describe(statement)} changes, and it has ${describe(moment)}`,
        { module: host, node: moment },
        { module, node: statement },
      );
    if (!isBack && isUnread(statement, module))
      throw new Mismatch(
        'hook-renders-less',
        `nothing reads the value of ${describe(statement)}: it is there to render the component again`,
        undefined,
        { module, node: statement },
      );
  }

  #effect(node: Node, module: ProofModule) {
    return effectOf(node, module.scopes, (id) => this.#definitions.call(module, id));
  }

  #sink(sink: Sink, { use, module, shown, name }: UsePlace): void {
    const at = { module, node: use };
    const isElement = alwaysElement(shown);
    if (sink.kind === 'child' || sink.kind === 'attribute') {
      const { element } = sink;
      const reading = this.#reading(module, element, sink.kind === 'child' ? 'children' : sink.name);
      const parent = module.text.slice(...element.openingElement.name.range);
      if (reading === 'read')
        throw new Mismatch(
          'component-children-read',
          `<${parent}> looks at what it is given, and finds <${name}> there`,
          undefined,
          at,
        );
      if (!isElement && (reading === 'tested' || (sink.kind === 'attribute' && isTag(parent))))
        throw new Mismatch(
          'component-for-value',
          `<${parent}> may ask whether there is something to show, and <${name}> is always there`,
          undefined,
          at,
        );
    }
    if (sink.kind === 'read')
      throw new Mismatch(
        'component-children-read',
        `the element is looked into, and <${name}> is another one`,
        undefined,
        at,
      );
    if (sink.kind === 'handed' && !isElement)
      throw new Mismatch(
        'component-for-value',
        `a value is handed on, and <${name}> is always an element`,
        undefined,
        at,
      );
  }

  #reading(module: ProofModule, element: TSESTree.JSXElement, prop: string): Reading {
    // A slot of its own kind: the only child is cloned.
    if (prop === 'children' && attributeNamed(element, 'asChild')) return 'read';
    const source = this.#definitions.tag(module, element);
    if (typeof source === 'boolean') return source && prop === 'children' ? 'read' : 'shown';
    return readingOf(source, prop);
  }

  /** A key that belongs to a turn of a loop has to stand on what the turn gives. */
  #keys({ use, module, shown, keyed, name }: UsePlace): void {
    if (keyed || isShown(bare(shown)) || !isTurn(use, module)) return;
    const keys = leavesOf(shown).filter((leaf) => leaf.type === 'JSXElement' && attributeNamed(leaf, 'key'));
    if (keys.length > 0)
      throw new Mismatch('key-inside', `the key of each turn now stands inside of <${name}>`, undefined, {
        module,
        node: use,
      });
  }

  #componentAround(node: Node, { scopes }: ProofModule): FunctionNode | undefined {
    return scopes.ancestorsOf(node).findLast(isFunction);
  }
}

function isTag(name: string): boolean {
  return /^[^a-z]|\./.test(name);
}

/** What an expression gives in each case. */
function leavesOf(code: Node): Node[] {
  const node = bare(code);
  if (node.type === 'ConditionalExpression') return [...leavesOf(node.consequent), ...leavesOf(node.alternate)];
  if (node.type === 'LogicalExpression')
    return [...(node.operator === '&&' ? [] : leavesOf(node.left)), ...leavesOf(node.right)];
  if (node.type === 'JSXFragment' && node.children.length > 0) {
    const only = node.children.filter((c) => c.type !== 'JSXText' || c.value.trim());
    const single = only.length === 1 ? only[0]! : undefined;
    if (single?.type === 'JSXExpressionContainer') return leavesOf(single.expression);
  }
  return [node];
}

/** Whether an expression gives an element in any case: a value that is there and true. */
function alwaysElement(shown: Node): boolean {
  const node = bare(shown);
  if (node.type === 'ConditionalExpression') return alwaysElement(node.consequent) && alwaysElement(node.alternate);
  if (node.type === 'LogicalExpression') return node.operator !== '&&' && alwaysElement(node.right);
  if (node.type === 'JSXFragment') {
    const leaves = leavesOf(node);
    return leaves.length === 1 && leaves[0] === node;
  }
  return node.type === 'JSXElement';
}

/** Whether the use is what one turn of a loop gives. */
function isTurn(use: Node, { scopes }: ProofModule): boolean {
  for (let node = use, parent = scopes.parentOf(use); parent; node = parent, parent = scopes.parentOf(parent)) {
    if (isFunction(parent)) return runsNow(parent, scopes.parentOf(parent));
    const passes =
      parent.type === 'ConditionalExpression' ||
      parent.type === 'LogicalExpression' ||
      parent.type === 'ReturnStatement' ||
      parent.type === 'BlockStatement' ||
      parent.type === 'IfStatement' ||
      bare(parent) !== parent;
    if (!passes) return false;
  }
  return false;
}

function inTry(use: Node, { scopes }: ProofModule): boolean {
  for (let node = use, parent = scopes.parentOf(use); parent; node = parent, parent = scopes.parentOf(parent)) {
    if (isFunction(parent) && !runsNow(parent, scopes.parentOf(parent))) return false;
    if (parent.type === 'TryStatement' && parent.block === node && parent.handler) return true;
  }
  return false;
}

function hasScopedStyle(fn: FunctionNode): boolean {
  let found = false;
  walk(fn.body, (node) => {
    if (node.type === 'JSXElement' && attributeNamed(node, 'jsx')) {
      const { name } = node.openingElement;
      if (name.type === 'JSXIdentifier' && name.name === 'style') found = true;
    }
    return !found;
  });
  return found;
}

function showsNative(shown: Node): boolean {
  let found = false;
  walk(shown, (node) => {
    if (node.type === 'JSXIdentifier' && /^[a-z]/.test(node.name)) found = true;
    return !found;
  });
  return found;
}

/** `const [, again] = useReducer(…)`, or a value that nothing uses. */
function isUnread(statement: Node, { scopes }: ProofModule): boolean {
  const pattern = statement.type === 'VariableDeclaration' ? statement.declarations[0].id : undefined;
  if (pattern?.type !== 'ArrayPattern') return false;
  const value = pattern.elements[0];
  if (!value) return true;
  const variable = value.type === 'Identifier' ? scopes.variableOf(value) : undefined;
  return (
    variable !== undefined &&
    !variable.references.some((r) => r.isRead() && !nodeWithin(r.identifier, spanOf(statement)))
  );
}
