/**
 * What a class reads later than it is called. An object always knows its newest props and state; a function of a component knows
 * those of the rendering that made it. Both are the same as long as a function of the newest rendering is called, and what it reads
 * is read before it waits for anything.
 */
import type { TSESTree } from '@typescript-eslint/types';
import type { Node } from '../../../script/parser.js';
import { attributeName, bare, isFunction, runsNow, walk, type FunctionNode } from '../../../script/walk.js';
import type { ClassComponent, Method } from './class-component.js';

export interface Late {
  readonly node: Node;
  readonly why: string;
}

export interface Handing {
  readonly tag: string;
  readonly prop: string;
}

export interface Functions {
  /** Functions that read neither props nor state, by themselves or by others: what they do is the same in each rendering. */
  readonly constant: ReadonlySet<string>;
  /** Functions that must be the same one for as long as the component lives: something keeps them. */
  readonly kept: ReadonlySet<string>;
  /** Functions that components are handed, each time by which tag and as what; without, where that cannot be said. */
  readonly handed: ReadonlyMap<string, readonly Handing[]>;
  /** Functions that each one calls or hands on, by their names. */
  readonly uses: ReadonlyMap<string, ReadonlySet<string>>;
  readonly late: readonly Late[];
}

const READS = new Set(['prop', 'state', 'props', 'whole', 'context']);

export function functionsOf(component: ClassComponent): Functions {
  return new Finder(component).find();
}

class Finder {
  readonly #uses = new Map<string, Set<string>>();
  readonly #reads = new Set<string>();
  readonly #kept = new Map<string, Node>();
  readonly #handed = new Map<string, Handing[]>();
  readonly #late: Late[] = [];
  /** Functions that run while the component is rendered. */
  readonly #shows = new Set<FunctionNode>();

  constructor(readonly component: ClassComponent) {}

  find(): Functions {
    const { methods, mount, update, unmount, render } = this.component;
    for (const method of methods.values()) this.#learn(method);
    this.#spread();
    this.#showing(render);
    const roots = [...[...methods.values()].map(({ fn }) => fn), mount, update, unmount, render];
    for (const fn of roots) if (fn) this.#look(fn, fn === mount || fn === unmount);
    for (const { value, isOnce } of this.component.kept.values())
      if (value && isOnce)
        walk(value, (node) => {
          if (!isFunction(node) || runsNow(node, this.component.scopes.parentOf(node))) return undefined;
          this.#later(node, 'in a function that runs later');
          return false;
        });
    for (const [name, node] of this.#kept)
      if (this.#reads.has(name))
        this.#late.push({ node, why: `"${name}" is kept by something else, and reads what may be newer by then` });
    const constant = new Set([...methods.keys()].filter((name) => !this.#reads.has(name)));
    return { constant, kept: new Set(this.#kept.keys()), handed: this.#handed, uses: this.#uses, late: this.#late };
  }

  #learn({ name, fn }: Method): void {
    const used = new Set<string>();
    this.#uses.set(name, used);
    walk(fn, (node) => {
      const role = this.component.roleOf(node);
      if (role?.kind === 'own') used.add(role.name);
      if (role && READS.has(role.kind)) this.#reads.add(name);
    });
  }

  /** Who calls a function that reads reads. */
  #spread(): void {
    for (let grown = true; grown;) {
      grown = false;
      for (const [name, used] of this.#uses) {
        if (this.#reads.has(name) || ![...used].some((other) => this.#reads.has(other))) continue;
        this.#reads.add(name);
        grown = true;
      }
    }
  }

  #showing(fn: FunctionNode): void {
    if (this.#shows.has(fn)) return;
    this.#shows.add(fn);
    walk(fn.body, (node) => {
      if (isFunction(node) && !runsNow(node, this.component.scopes.parentOf(node))) return false;
      const role = this.component.roleOf(node);
      const parent = this.component.scopes.parentOf(node);
      const isCalled =
        parent?.type === 'CallExpression' && (parent.callee === node || parent.arguments.includes(node as never));
      const method = role?.kind === 'own' && isCalled ? this.component.methods.get(role.name) : undefined;
      if (method) this.#showing(method.fn);
      return undefined;
    });
  }

  /** `once`: the function is that of the first rendering for good. */
  #look(fn: FunctionNode, once: boolean): void {
    const { component } = this;
    const waits = waitsIn(fn);
    walk(fn.body, (node) => {
      if (isFunction(node) && !runsNow(node, component.scopes.parentOf(node))) {
        // What is made while rendering is made anew by the next one, and is a function of its own.
        if (this.#shows.has(fn)) {
          this.#look(node, false);
          this.#given(node);
        } else this.#later(node, 'in a function that runs later');
        return false;
      }
      const role = component.roleOf(node);
      if (!role) return undefined;
      if (role.kind === 'own') this.#own(node, role.name, fn);
      const isRead =
        READS.has(role.kind) || (role.kind === 'own' && this.#reads.has(role.name) && this.#isCalled(node));
      if (!isRead || this.#isAlias(node)) return undefined;
      if (once && fn === component.unmount)
        this.#late.push({ node, why: `${said(component, node)} is read when it goes` });
      else if (waits(node)) this.#late.push({ node, why: `${said(component, node)} is read after it has waited` });
      return undefined;
    });
  }

  /** A function that is written where it is handed over: it asked the object, and knows those of its rendering now. */
  #given(fn: FunctionNode): void {
    let reads = false;
    walk(fn, (node) => {
      const role = this.component.roleOf(node);
      reads ||=
        role !== undefined &&
        !this.#isAlias(node) &&
        (READS.has(role.kind) || (role.kind === 'own' && this.#reads.has(role.name)));
      return !reads;
    });
    const { scopes } = this.component;
    const parent = scopes.parentOf(fn);
    const attribute = parent?.type === 'JSXExpressionContainer' ? scopes.parentOf(parent) : undefined;
    if (reads && attribute?.type === 'JSXAttribute')
      this.#handBy(`the function for ${attributeName(attribute)}`, attribute);
    else if (reads) this.#hand('a function that reads what it shows', undefined);
  }

  /** By an attribute; elements of the page only call. */
  #handBy(name: string, attribute: TSESTree.JSXAttribute): void {
    const element = this.component.scopes.parentOf(attribute);
    const tag = element?.type === 'JSXOpeningElement' ? element.name : undefined;
    if (tag?.type !== 'JSXIdentifier' || /^[A-Z]/.test(tag.name))
      this.#hand(name, tag && { tag: this.component.text.slice(...tag.range), prop: attributeName(attribute) });
  }

  #later(fn: FunctionNode, why: string): void {
    walk(fn, (node) => {
      const role = this.component.roleOf(node);
      if (role?.kind === 'own') this.#own(node, role.name, undefined);
      const isRead = role && (READS.has(role.kind) || (role.kind === 'own' && this.#reads.has(role.name)));
      if (isRead && !this.#isAlias(node))
        this.#late.push({ node, why: `${said(this.component, node)} is read ${why}` });
    });
  }

  /** A use of a name that a record was taken apart into: what it holds was read there. */
  #isAlias(node: Node): boolean {
    return node.type === 'Identifier' && this.component.roleOf(node)?.kind !== 'props';
  }

  #isCalled(node: Node): boolean {
    const parent = this.component.scopes.parentOf(node);
    return parent?.type === 'CallExpression' && bare(parent.callee) === node;
  }

  /** Where a function of the class is named: called, given to an element, or handed to who knows whom. */
  #own(node: Node, name: string, fn: FunctionNode | undefined): void {
    if (this.#isCalled(node)) return;
    const { scopes } = this.component;
    let at = node;
    let parent = scopes.parentOf(at)!;
    // Chosen, or tied to what it is called with.
    while (
      parent.type === 'ConditionalExpression' ||
      parent.type === 'LogicalExpression' ||
      (parent.type === 'MemberExpression' && parent.object === at) ||
      (parent.type === 'CallExpression' && parent.callee === at)
    )
      [at, parent] = [parent, scopes.parentOf(parent)!];
    if (fn && this.#shows.has(fn) && runsNow(at, parent)) return;
    const attribute = parent.type === 'JSXExpressionContainer' ? scopes.parentOf(parent) : undefined;
    if (attribute?.type === 'JSXAttribute') {
      this.#handBy(name, attribute);
      return;
    }
    // What is made while rendering is made anew by the next one.
    if (fn && this.#shows.has(fn)) this.#hand(name, undefined);
    else if (!this.#kept.has(name)) this.#kept.set(name, node);
  }

  #hand(name: string, handing: Handing | undefined): void {
    this.#handed.set(name, [...(this.#handed.get(name) ?? []), ...(handing ? [handing] : [])]);
  }
}

/** Whether a place in a function is reached only after something was waited for. */
function waitsIn(fn: FunctionNode): (node: Node) => boolean {
  const ends: number[] = [];
  const loops: { start: number; end: number }[] = [];
  walk(fn.body, (node, above) => {
    if (isFunction(node)) return false;
    const isWait = node.type === 'AwaitExpression' || (node.type === 'ForOfStatement' && node.await);
    if (!isWait) return undefined;
    ends.push(node.type === 'AwaitExpression' ? node.range[1] : node.right.range[1]);
    const loop = [...above].reverse().find((n) => /^(?:For|While|DoWhile)/.test(n.type));
    if (loop) loops.push({ start: loop.range[0], end: loop.range[1] });
    return undefined;
  });
  return ({ range }) =>
    ends.some((end) => end <= range[0]) || loops.some(({ start, end }) => start <= range[0] && range[1] <= end);
}

function said({ text }: ClassComponent, node: Node): string {
  return `"${text.slice(...node.range)}"`;
}
