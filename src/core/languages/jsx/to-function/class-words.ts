/** What a class is and does, in words. */
import type { TSESTree } from '@typescript-eslint/types';
import type { Node } from '../../../script/parser.js';
import { tiedBy } from '../../../script/this-members.js';
import { spanOf, type FunctionNode } from '../../../script/walk.js';
import { type ClassComponent, type Role } from './class-component.js';
import { entriesOf, statesSet, type StateSet } from './sets.js';
import { standsInBlock } from './code.js';
import { watched } from './watched.js';

import { declared, meaning, openedIn, setSaid, wayOf, Words, type Saying } from './words.js';

export class ClassSaying extends Words {
  readonly #reads = new Set<Node>();

  constructor(readonly component: ClassComponent) {
    super(component.text, component.script, component.scopes, spanOf(component.node));
  }

  read(): Saying {
    const { component } = this;
    const said: Saying = new Map();
    const put = (key: string, value: string) => said.set(key, (said.get(key) ?? '') + value);
    const { first } = component;
    const entries = first && entriesOf(first);
    for (const { name, value } of entries ?? []) put(`the state ${name}`, this.say(value));
    if (first && !entries) put('the state', this.say(first));
    for (const { name, value, isRef, isOnce } of component.kept.values())
      put(
        `what is kept as ${name}`,
        isRef ? 'null' : `${isOnce ? 'once ' : ''}${value ? this.say(value) : 'undefined'}`,
      );
    if (component.context) put('the context', this.say(component.context));
    for (const { name, fn } of component.methods.values()) put(`the function ${name}`, this.fn(fn));
    const watch = watched(component);
    if (watch) {
      const list = watch.map(({ kind, name }) => this.#value(kind, name)).join(',');
      put('an effect', `[${list}]${this.#effect(component.mount)}`);
    } else {
      if (component.mount ?? component.unmount)
        put(
          'an effect',
          `[]${this.#effect(component.mount)}${component.unmount ? `cleanup{${this.body(component.unmount)}}` : ''}`,
        );
      if (component.update) put('an effect', `[later]${this.#effect(component.update)}`);
    }
    for (const { name, value } of component.statics) put(`the static ${name}`, this.hung(value));
    put('whether it is rendered for other props only', String(component.isPure));
    const { opened, rest } = this.#shown();
    put('what it takes', opened);
    put('what it shows', rest);
    return said;
  }

  #effect(fn: FunctionNode | undefined): string {
    if (!fn) return '';
    return fn.async ? `waiting{${this.body(fn)}}` : this.body(fn);
  }

  #shown(): { opened: string; rest: string } {
    const { render } = this.component;
    if (render.body.type !== 'BlockStatement') return { opened: '', rest: this.body(render) };
    return openedIn(this, render.body.body, (init) => this.mean(init) === '«props»');
  }

  #value(kind: 'prop' | 'state', name: string): string {
    if (kind === 'state') return meaning('state', name);
    const otherwise = this.component.defaults.get(name);
    return meaning('prop', name, otherwise && this.say(otherwise));
  }

  protected mean(node: Node): string | undefined {
    const { component } = this;
    if (this.#reads.has(node)) return '«before»';
    if (node.type === 'VariableDeclaration') return declared(this, node, (d) => this.#isAlias(d));
    if (node.type === 'ExpressionStatement') {
      if (tiedBy(node.expression) !== undefined) return '';
      const sets = this.sets(node.expression);
      const isPair = sets?.includes(';') && !standsInBlock(component, node);
      if (sets !== undefined) return isPair ? `{${sets};}` : `${sets};`;
    }
    const sets = this.sets(node);
    if (sets !== undefined) return sets;
    // `this.frame.current`, of a ref that the class hands out.
    if (
      node.type === 'MemberExpression' &&
      !node.computed &&
      node.property.type === 'Identifier' &&
      node.property.name === 'current'
    ) {
      const role = component.roleOf(node.object);
      if (role?.kind === 'kept' && component.kept.get(role.name)!.isRef) return meaning('kept', role.name);
    }
    const role = component.roleOf(node);
    return role && this.#role(role);
  }

  #isAlias(declarator: TSESTree.VariableDeclarator): boolean {
    return [...this.component.aliases.values()].some((a) => a.declarator === declarator);
  }

  #role(role: Role): string {
    switch (role.kind) {
      case 'prop':
      case 'state':
        return role.otherwise
          ? meaning(role.kind, role.name, this.say(role.otherwise))
          : this.#value(role.kind, role.name);
      case 'kept':
        return meaning(wayOf(this.component.kept.get(role.name)!), role.name);
      case 'own':
        return meaning('own', role.name);
      case 'before':
        return meaning(`before ${role.of}`, role.name);
      default:
        return `«${role.kind}»`;
    }
  }

  protected sets(node: Node): string | undefined {
    if (node.type !== 'CallExpression' || this.component.roleOf(node.callee)?.kind !== 'setState') return undefined;
    const set = statesSet(this.component, node);
    const isApart = set !== undefined && set.sets.length > 0;
    if (set?.from && (!isApart || set.sets.some(({ from }) => from === undefined)))
      return `«change»(from ${set.from.param} ${this.record(set.from.record.properties)})`;
    return !isApart ? `«change»(${this.say(node.arguments[0]!)})` : set.sets.map((s) => this.#set(s)).join(';');
  }

  #set({ name, value, from }: StateSet): string {
    for (const node of from?.reads ?? []) this.#reads.add(node);
    return setSaid(name, this.say(value), from !== undefined);
  }
}
