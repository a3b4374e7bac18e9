/**
 * What a class reads later than it is called. An object always knows its newest props and state; a function of a component knows
 * those of the rendering that made it. Both are the same as long as a function of the newest rendering is called, and what it reads
 * is read before it waits for anything.
 */
import type { TSESTree } from '@typescript-eslint/types';
import type { Node } from '../../../script/parser.js';
import { firstWait } from '../../../script/waiting.js';
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
    // What is made with the object is made in its first rendering.
    for (const value of [this.component.first, ...[...this.component.kept.values()].map((kept) => kept.value)])
      if (value)
        walk(value, (node) => {
          if (!isFunction(node) || runsNow(node, this.component.scopes.parentOf(node))) return undefined;
          this.#later(node);
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
    const waited = firstWait(fn);
    walk(fn.body, (node) => {
      if (isFunction(node) && runsNow(node, component.scopes.parentOf(node))) {
        // It runs at once, but for what stands behind a wait of its own.
        if (!node.async) return undefined;
        this.#look(node, once);
        return false;
      }
      if (isFunction(node)) {
        // What is made while rendering is made anew by the next one, and is a function of its own.
        if (this.#shows.has(fn)) {
          this.#look(node, false);
          this.#given(node);
        } else this.#later(node);
        return false;
      }
      const role = component.roleOf(node);
      if (role?.kind === 'own') this.#own(node, role.name, fn);
      const isNamed = role?.kind === 'own' && !this.#isCalled(node);
      if (isNamed || !this.#isRead(node)) return undefined;
      if (once && fn === component.unmount)
        this.#late.push({ node, why: `${said(component, node)} is read when it goes` });
      else if (node.range[0] >= waited)
        this.#late.push({ node, why: `${said(component, node)} is read after it has waited` });
      return undefined;
    });
  }

  /** A function that is written where it is handed over: it asked the object, and knows those of its rendering now. */
  #given(fn: FunctionNode): void {
    let reads = false;
    walk(fn, (node) => {
      reads ||= this.#isRead(node);
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

  /** All that a function reads that runs when the rendering which made it may be long past. */
  #later(fn: FunctionNode): void {
    walk(fn, (node) => {
      const role = this.component.roleOf(node);
      if (role?.kind === 'own') this.#own(node, role.name, undefined);
      if (this.#isRead(node))
        this.#late.push({ node, why: `${said(this.component, node)} is read in a function that runs later` });
    });
  }

  /** Whether props or state are read here, or by what is named here; not by a name that a record was taken apart into before. */
  #isRead(node: Node): boolean {
    const role = this.component.roleOf(node);
    if (role === undefined || (node.type === 'Identifier' && role.kind !== 'props')) return false;
    return READS.has(role.kind) || (role.kind === 'own' && this.#reads.has(role.name));
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
    // Shortcuts and options in a record are often taken once for all.
    const isInRecord = parent.type === 'Property' && this.#goesIntoAttribute(parent);
    if (isInRecord && this.#reads.has(name))
      this.#late.push({ node, why: `"${name}" is handed on in a record, and reads what may be newer by then` });
    // What is made while rendering is made anew by the next one.
    if (fn && this.#shows.has(fn)) this.#hand(name, undefined);
    else if (!this.#kept.has(name)) this.#kept.set(name, node);
  }

  /** Whether a record is written for an attribute of a component, but for the value of a context, which is read anew. */
  #goesIntoAttribute(entry: Node): boolean {
    const { scopes } = this.component;
    const above = scopes.ancestorsOf(entry);
    const attribute = above.find((n) => n.type === 'JSXAttribute' || isFunction(n));
    if (attribute?.type !== 'JSXAttribute') return false;
    const element = scopes.parentOf(attribute);
    return (
      element?.type === 'JSXOpeningElement' &&
      !/(?:^|\.)(?:[a-z]\w*|\w*Provider)$/.test(this.component.text.slice(...element.name.range))
    );
  }

  #hand(name: string, handing: Handing | undefined): void {
    this.#handed.set(name, [...(this.#handed.get(name) ?? []), ...(handing ? [handing] : [])]);
  }
}

function said({ text }: ClassComponent, node: Node): string {
  return `"${text.slice(...node.range)}"`;
}
