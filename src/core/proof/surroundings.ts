/**
 * What stands around the use of a new component, and can tell it from the markup that stood there before: a parent that
 * looks at its children, code that takes the element apart or asks whether there is one, a `try`, styles that know only
 * one component; and the moment at which what moved is run.
 */
import type { TSESTree } from '@typescript-eslint/types';
import { readingOf, type Reading } from '../script/children.js';
import { changedWhileRendering, effectOf, momentIn } from '../script/effects.js';
import { sinksOf, type Sink } from '../script/flow.js';
import type { Node } from '../script/parser.js';
import type { Variable } from '../script/scopes.js';
import {
  attributeName,
  bare,
  calleeName,
  isFunction,
  nodeWithin,
  runsNow,
  spanOf,
  walk,
  type FunctionNode,
} from '../script/walk.js';
import { Definitions } from './definitions.js';
import type { NewComponent, UsePlace } from './expansion.js';
import { lazyFunction, looksAround, readsOf, variablesIn } from './lazy.js';
import { Mismatch } from './mismatch.js';
import type { Side, Turn } from './side.js';
import type { ProofModule } from '../language/proof-module.js';
import { checkNeighbours } from './neighbours.js';
import { attributeNamed, attributeValue, describe, plainName } from './questions.js';

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
    const { use, module, component } = place;
    const at = { module, node: use };
    const name = plainName(component.variable.name);
    for (const sink of sinksOf(use, module.scopes)) this.#sink(sink, place);
    this.#keys(place);
    const fn = this.#componentAround(use, module);
    if (inTry(use, module))
      throw new Mismatch('component-in-try', `<${name}> is rendered outside of the "try" around it`, undefined, at);
    const styled = [fn, this.#componentAround(place.shown, component.module)].some((f) => f && hasScopedStyle(f));
    if (styled && showsNative(place.shown))
      throw new Mismatch(
        'component-style-scope',
        'the styles of <style jsx> reach only the component that holds them',
        undefined,
        at,
      );
    const changing = this.#effect(place.shown, component.module) === 'writes';
    if (changing)
      throw new Mismatch(
        'call-moved',
        `<${name}> changes something while it is rendered, later than before`,
        undefined,
        at,
      );
    const reads = [...parametersOf(component).values()].some((v) =>
      v.references.some((r) => isLookedInto(r.identifier, component.module)),
    );
    if (module.rerenders && module.path !== component.module.path && reads)
      throw new Mismatch(
        'hook-renders-less',
        `what <${name}> reads no longer renders the component around it, which does something whenever it is rendered`,
        undefined,
        at,
      );
    this.#eager(place);
    checkNeighbours(place, this.#definitions);
  }

  /** Throws where a declaration that went along runs at a moment when it gives something else. */
  declaration(
    statement: TSESTree.VariableDeclaration,
    component: NewComponent,
    use: TSESTree.JSXElement,
    host: ProofModule,
  ): void {
    const { module } = component;
    const name = plainName(component.variable.name);
    this.#order(statement, component, use, host);
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

  /** A value that is read in the component, and changed in place by the host while it is rendered itself. */
  #order(
    statement: TSESTree.VariableDeclaration,
    component: NewComponent,
    use: TSESTree.JSXElement,
    host: ProofModule,
  ): void {
    const fn = this.#componentAround(use, host);
    const changed = fn && changedWhileRendering(fn, host.scopes);
    if (!changed || changed.size === 0) return;
    const taken = parametersOf(component);
    const reads = new Set(
      statement.declarations.flatMap(({ init }) => (init ? [...variablesIn(init, component.module)] : [])),
    );
    for (const attribute of use.openingElement.attributes) {
      const value = attribute.type === 'JSXAttribute' ? attributeValue(attribute) : undefined;
      const variable = attribute.type === 'JSXAttribute' ? taken.get(attributeName(attribute)) : undefined;
      const given = value && variable && reads.has(variable) ? [...variablesIn(value, host)] : [];
      const found = given.find((v) => changed.has(v));
      if (found)
        throw new Mismatch(
          'value-changed',
          `${describe(statement)} reads "${found.name}", which is changed in place while the component around it is rendered`,
          undefined,
          { module: component.module, node: statement },
        );
    }
  }

  /** Throws where state has left a component that has to be rendered whenever it changes. */
  state(hook: string, statement: Node, module: ProofModule, use: Node, host: ProofModule): void {
    if (hook !== 'useState' && hook !== 'useReducer') return;
    this.rendersLess(statement, module, use, host);
    if (this.turn !== 'back' && isUnread(statement, module))
      throw new Mismatch(
        'hook-renders-less',
        `nothing reads the value of ${describe(statement)}: it is there to render the component again`,
        undefined,
        { module, node: statement },
      );
  }

  /** Throws where a component has to be rendered whenever what has left it changes. */
  rendersLess(statement: Node, module: ProofModule, use: Node, host: ProofModule): void {
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
  }

  #effect(node: Node, module: ProofModule) {
    return effectOf(node, module.scopes, (id) => this.#definitions.call(module, id));
  }

  #sink(sink: Sink, { use, module, shown, component }: UsePlace): void {
    const name = plainName(component.variable.name);
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
    if (sink.kind === 'tested' && !isElement)
      throw new Mismatch(
        'component-for-value',
        `it is asked whether there is something to show, and <${name}> is always there`,
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
  #keys({ use, module, shown, keyed, component }: UsePlace): void {
    if (keyed || !isTurn(use, module)) return;
    if (leavesOf(shown).some(mayHoldKey))
      throw new Mismatch(
        'key-inside',
        `the key of each turn now stands inside of <${plainName(component.variable.name)}>`,
        undefined,
        {
          module,
          node: use,
        },
      );
  }

  /** What was worked out only behind a condition that protects it must not be worked out to be handed over. */
  #eager({ use, module, component }: UsePlace): void {
    if (!module.lazy) return;
    const taken = parametersOf(component);
    const given = new Map<Variable, ReadonlySet<Variable>>();
    for (const attribute of use.openingElement.attributes) {
      const value = attribute.type === 'JSXAttribute' ? attributeValue(attribute) : undefined;
      const variable = attribute.type === 'JSXAttribute' ? taken.get(attributeName(attribute)) : undefined;
      if (value && variable) given.set(variable, variablesIn(value, module));
    }
    for (const [variable, names] of given) {
      const lazy = [...names].filter((n) => lazyFunction(n, module));
      if (lazy.length === 0) continue;
      const guards = variable.references.map(({ identifier }) => guardsOf(identifier, component));
      if (guards.length === 0 || guards.some((g) => g.length === 0)) continue;
      // A condition on the value itself reads it, and protects nothing.
      const reads = new Set(lazy.flatMap((n) => [...readsOf(n, module)]).filter((v) => !lazy.includes(v)));
      // What looks around in the page may find nothing there: then any condition may be what keeps it from looking.
      const looks = lazy.some((n) => looksAround(n, module));
      const guard = guards
        .flat()
        .find(
          (test) =>
            looks ||
            [...variablesIn(test, component.module)].some((v) => [...(given.get(v) ?? [v])].some((n) => reads.has(n))),
        );
      if (guard)
        throw new Mismatch(
          'value-eager',
          `"${plainName(lazy[0]!.name)}" is now worked out where ${describe(guard)} does not hold`,
          undefined,
          { module, node: use },
        );
    }
  }

  #componentAround(node: Node, { scopes }: ProofModule): FunctionNode | undefined {
    return scopes.ancestorsOf(node).findLast(isFunction);
  }
}

/** The variables that the props of a component are, by name. */
function parametersOf({ fn, module }: NewComponent): ReadonlyMap<string, Variable> {
  const [parameter] = fn.params;
  const result = new Map<string, Variable>();
  for (const p of parameter?.type === 'ObjectPattern' ? parameter.properties : []) {
    if (p.type !== 'Property' || p.key.type !== 'Identifier') continue;
    const target = p.value.type === 'AssignmentPattern' ? p.value.left : p.value;
    const variable = module.scopes.variableOf(target);
    if (variable) result.set(p.key.name, variable);
  }
  return result;
}

/** A member of it is read, or it is called: that is read where it stands, and nowhere else. */
function isLookedInto(identifier: Node, { scopes }: ProofModule): boolean {
  const parent = scopes.parentOf(identifier);
  if (parent?.type === 'MemberExpression') return parent.object === identifier;
  return (parent?.type === 'CallExpression' && parent.callee === identifier) || parent?.type === 'SpreadElement';
}

/** The conditions that a place in a component stands under. */
function guardsOf(node: Node, { fn, module }: NewComponent): Node[] {
  const guards: Node[] = [];
  for (
    let at = node, parent = module.scopes.parentOf(node);
    parent && parent !== fn;
    at = parent, parent = module.scopes.parentOf(parent)
  ) {
    if (parent.type === 'ConditionalExpression' && parent.test !== at) guards.push(parent.test);
    if (parent.type === 'LogicalExpression' && parent.right === at) guards.push(parent.left);
  }
  return guards;
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

/** A key that is written out, or comes with what is spread, with an element made elsewhere, or by a call. */
function mayHoldKey(leaf: Node): boolean {
  if (leaf.type === 'JSXElement')
    return (
      attributeNamed(leaf, 'key') !== undefined ||
      leaf.openingElement.attributes.some((a) => a.type === 'JSXSpreadAttribute')
    );
  return leaf.type === 'CallExpression' || leaf.type === 'Identifier' || leaf.type === 'MemberExpression';
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
  for (let parent = scopes.parentOf(use); parent; parent = scopes.parentOf(parent)) {
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
