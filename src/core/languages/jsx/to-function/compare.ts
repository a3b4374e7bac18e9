/**
 * Whether a function of React does what a class did. Both are read into the same words, each by its own reader: what a state begins
 * as, what is set to what, what runs when it comes, changes and goes, what it shows. The words are compared; no text of one is looked
 * for in the other.
 */
import type { TSESTree } from '@typescript-eslint/types';
import type { SourceFile, Ports } from '../../../language/ports.js';
import type { Deviation, WrittenFunction } from '../../../language/to-function.js';
import { isProblem } from '../../../problems/problems.js';
import type { Node, ParsedScript } from '../../../script/parser.js';
import { ScriptScopes, type Variable } from '../../../script/scopes.js';
import { bindCall, tiedBy } from '../../../script/this-members.js';
import {
  bare,
  calleeName,
  childrenOf,
  isFunction,
  spanOf,
  walk,
  within,
  type FunctionNode,
} from '../../../script/walk.js';
import { parseFile } from '../source.js';
import { renderedText } from '../text.js';
import { classesOf, plainNames, readClass, type ClassComponent, type Kept, type Role } from './class-component.js';
import { statesSet, type StateSet } from './sets.js';
import { standsInBlock } from './write.js';
import { watched } from './watched.js';

/** What a component is, in words that a class and a function have in common: each by what it is called. */
type Saying = Map<string, string>;

export function compare(before: SourceFile, after: SourceFile, written: WrittenFunction, ports: Ports): Deviation {
  const [left, right] = [parseFile(before, ports), parseFile(after, ports)];
  if (isProblem(left) || isProblem(right)) return { detail: 'what came out cannot be read' };
  const node = classesOf(left).find((c) => within(spanOf(c), written.region));
  const component = node && readClass(before, left, ScriptScopes.of(left), node);
  if (!component || isProblem(component)) return { detail: 'the class cannot be read' };
  const ofClass = new ClassSaying(component);
  const one = ofClass.read();
  const other = new FunctionSaying(after.text, right, component, written.names).read();
  if (typeof other === 'string') return { detail: other };
  for (const key of new Set([...one.keys(), ...other.keys()])) {
    const [a, b] = [one.get(key), other.get(key)];
    if (a !== b) return { detail: `${key}: ${shortly(a, b)}` };
  }
  return restOf(component, right, after.text, [...other.keys()]);
}

/** The first piece in which two sayings differ. */
function shortly(a: string | undefined, b: string | undefined): string {
  if (a === undefined || b === undefined) return a === undefined ? 'is new' : 'is gone';
  let i = 0;
  while (a[i] === b[i]) i++;
  const around = (text: string) => text.slice(Math.max(0, i - 12), i + 28);
  return `"${around(a)}" is "${around(b)}" now`;
}

/** Code in words: white space and comments are nothing, names that mean something of the component are said by what they mean. */
abstract class Words {
  constructor(
    readonly text: string,
    readonly script: ParsedScript,
  ) {}

  /** What a piece means, where that is not what is written. */
  protected abstract mean(node: Node): string | undefined;

  /** Each piece by its kind, so that no parentheses are needed; between the pieces operators and words are left. */
  say(node: Node): string {
    const meant = this.mean(node);
    if (meant !== undefined) return meant;
    // What a function is tied to is nothing to it any more; what it is given is.
    const [to, ...given] = bindCall(node)?.args ?? [];
    const target = to && bindCall(node)!.target;
    if (target && (to.type === 'ThisExpression' || (to.type === 'Literal' && to.value === null)))
      return given.length > 0 ? `bind[${[target, ...given].map((n) => this.say(n)).join()}]` : this.say(target);
    switch (node.type) {
      case 'JSXText':
        return renderedText(this.text.slice(...node.range)).text;
      case 'JSXEmptyExpression':
      case 'TSTypeAnnotation':
      case 'TSTypeParameterInstantiation':
        return '';
      case 'BlockStatement':
        return this.block(node.body);
      case 'ArrowFunctionExpression':
        return `${node.async ? 'async' : ''}[${node.params.map((p) => this.say(p)).join()}]=>{${this.body(node)}}`;
      case 'Property':
        if (node.shorthand && node.value.type !== 'AssignmentPattern')
          return `Property[${this.text.slice(...node.key.range)}:${this.say(node.value)}]`;
        break;
      default:
    }
    const children = childrenOf(node)
      .filter((c, i, all) => all.findIndex((o) => o.range[0] === c.range[0] && o.range[1] === c.range[1]) === i)
      .sort((a, b) => a.range[0] - b.range[0]);
    if (children.length === 0) return this.text.slice(...node.range);
    let said = '';
    let at = node.range[0];
    for (const child of children) {
      // The type that is written behind a name lies in it.
      if (child.range[0] < at) continue;
      const one = this.say(child);
      said += this.#between(at, child.range[0]) + (one && ` ${one}`);
      at = child.range[1];
    }
    return `${node.type}[${said}${this.#between(at, node.range[1])}]`;
  }

  /** What a call sets, one state after another; undefined for other code. */
  protected abstract sets(node: Node): string | undefined;

  #between(start: number, end: number): string {
    let raw = '';
    let at = start;
    for (const comment of this.script.comments) {
      if (comment.start < at || comment.end > end) continue;
      raw += this.text.slice(at, comment.start);
      at = comment.end;
    }
    return (raw + this.text.slice(at, end)).replace(/[\s(),;]+/g, '');
  }

  /** A function but for its name. */
  fn(fn: FunctionNode): string {
    return `${fn.async ? 'async' : ''}[${fn.params.map((p) => this.say(p)).join()}]{${this.body(fn)}}`;
  }

  /** What hangs on a component: a function by what it does, whatever form it has. */
  hung(value: Node): string {
    return value.type === 'FunctionExpression' ? this.fn(value) : this.say(value);
  }

  body(fn: FunctionNode): string {
    if (fn.body.type === 'BlockStatement') return fn.body.body.map((s) => this.statement(s)).join('');
    const sets = this.sets(fn.body);
    return sets === undefined ? `return ${this.say(fn.body)};` : `${sets};`;
  }

  block(statements: readonly Node[]): string {
    return `{${statements.map((s) => this.statement(s)).join('')}}`;
  }

  statement(node: Node): string {
    if (node.type === 'ReturnStatement' && node.argument) return `return ${this.say(node.argument)};`;
    const said = this.say(node);
    return said === '' || said.endsWith(';') ? said : `${said};`;
  }
}

/** Without white space, but where it parts two words. */
function tight(raw: string): string {
  return raw.replace(/\s+/g, ' ').replace(/ ?([^\w$ ]) ?/g, '$1');
}

function meaning(kind: string, name: string, otherwise?: string): string {
  return otherwise === undefined ? `«${kind} ${name}»` : `«${kind} ${name}|${otherwise}»`;
}

function wayOf({ isRef, isOnce }: Kept): string {
  return isRef ? 'ref' : isOnce ? 'once' : 'kept';
}

/** Sets in words; `from`: the value by what it was. */
function setSaid(name: string, value: string, isFrom: boolean): string {
  return `«set ${name}»(${isFrom ? `from ${value}` : value})`;
}

class ClassSaying extends Words {
  readonly #reads = new Set<Node>();

  constructor(readonly component: ClassComponent) {
    super(component.text, component.script);
  }

  read(): Saying {
    const { component } = this;
    const said: Saying = new Map();
    const put = (key: string, value: string) => said.set(key, (said.get(key) ?? '') + value);
    for (const [name, first] of component.states) put(`the state ${name}`, this.say(first));
    if (
      component.first &&
      (component.first.type !== 'ObjectExpression' || component.first.properties.length !== component.states.size)
    )
      put('the state', this.say(component.first));
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
    if (fn === this.component.update && watched(this.component)) return '';
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
        return meaning('before', role.name);
      default:
        return `«${role.kind}»`;
    }
  }

  protected sets(node: Node): string | undefined {
    if (node.type !== 'CallExpression' || this.component.roleOf(node.callee)?.kind !== 'setState') return undefined;
    const set = statesSet(this.component, node, 19);
    if (!set || set.sets.length === 0) {
      if (!set?.from) return `«change»(${this.say(node.arguments[0]!)})`;
      return `«change»(from ${set.from.param} ${this.say(set.from.record)})`;
    }
    if (set.from && set.sets.some(({ from }) => from === undefined))
      return `«change»(from ${set.from.param} ${this.say(set.from.record)})`;
    return set.sets.map((s) => this.#set(s)).join(';');
  }

  #set({ name, value, from }: StateSet): string {
    for (const node of from?.reads ?? []) this.#reads.add(node);
    return setSaid(name, this.say(value), from !== undefined);
  }
}

/** Declarations whose every declarator says nothing are nothing. */
function declared(
  words: Words,
  node: TSESTree.VariableDeclaration,
  isNothing: (d: TSESTree.VariableDeclarator) => boolean,
): string | undefined {
  const left = node.declarations.filter((d) => !isNothing(d));
  if (left.length === node.declarations.length) return undefined;
  return left.length === 0 ? '' : `${node.kind} ${left.map((d) => words.say(d)).join(',')};`;
}

/** Props taken apart with a rest or patterns inside, which may as well stand in the parameters. */
function openedIn(
  words: Words,
  statements: readonly Node[],
  isProps: (init: Node) => boolean,
): { opened: string; rest: string } {
  let opened = '';
  let rest = '';
  for (const statement of statements) {
    const [only, more] =
      statement.type === 'VariableDeclaration' && statement.kind === 'const' ? statement.declarations : [];
    const isOpened =
      only?.init && !more && only.id.type === 'ObjectPattern' && !plainNames(only.id) && isProps(bare(only.init));
    if (isOpened) opened += words.say(only.id);
    else rest += words.statement(statement);
  }
  return { opened, rest };
}

class FunctionSaying extends Words {
  readonly #scopes: ScriptScopes;
  readonly #means = new Map<Variable, string>();
  /** Those that stand for the whole state, and those that set it or parts of it. */
  readonly #setters = new Map<Variable, string>();
  readonly #whole = new Map<Variable, 'set' | 'change'>();
  /** What a state was, inside of the function that it is set by. */
  readonly #reads = new Set<Node>();
  readonly #defaults: ReadonlyMap<string, string>;

  constructor(
    text: string,
    script: ParsedScript,
    readonly component: ClassComponent,
    readonly names: ReadonlyMap<string, string>,
  ) {
    super(text, script);
    this.#scopes = ScriptScopes.of(script);
    this.#defaults = this.#given();
  }

  read(): Saying | string {
    const found = this.#find();
    if (!found) return `there is no function ${this.component.name}`;
    const { fn, isMemo } = found;
    if (fn.body.type !== 'BlockStatement' || fn.params.length > 1) return 'the function is none of a component';
    const said: Saying = new Map();
    const put = (key: string, value: string) => said.set(key, (said.get(key) ?? '') + value);
    const taken = this.#parameter(fn.params[0]);
    if (typeof taken !== 'string') return taken.why;
    const statements = fn.body.body;
    // Names are known before anything is said.
    for (const statement of statements) this.#learn(statement);
    const shown: Node[] = [];
    for (const statement of statements) {
      const entry = this.#entry(statement);
      if (entry === undefined) shown.push(statement);
      else if ('why' in entry) return entry.why;
      else for (const [key, value] of entry.said) put(key, value);
    }
    for (const [name, value] of this.#statics()) put(`the static ${name}`, value);
    put('whether it is rendered for other props only', String(isMemo));
    const { opened, rest } = openedIn(this, shown, (init) => this.mean(init) === '«props»');
    put('what it takes', taken + opened);
    put('what it shows', rest);
    return said;
  }

  #find(): { fn: FunctionNode; isMemo: boolean } | undefined {
    for (const statement of this.script.program.body) {
      const it =
        statement.type === 'ExportNamedDeclaration' || statement.type === 'ExportDefaultDeclaration'
          ? statement.declaration
          : statement;
      if (it?.type === 'FunctionDeclaration' && it.id?.name === this.component.name) return { fn: it, isMemo: false };
      if (it?.type !== 'VariableDeclaration') continue;
      const [declarator] = it.declarations;
      if (!declarator) continue;
      const { id, init } = declarator;
      if (id.type !== 'Identifier' || id.name !== this.component.name || !init) continue;
      const call = bare(init);
      const inner = call.type === 'CallExpression' && calleeName(call) === 'memo' ? call.arguments[0] : undefined;
      if (inner && isFunction(inner)) return { fn: inner, isMemo: true };
    }
    return undefined;
  }

  /** Statements that hang something on the component, where the class had it as its own. */
  #hung(): { name: string; value: Node }[] {
    return this.script.program.body.flatMap((statement) => {
      const { expression } = statement.type === 'ExpressionStatement' ? statement : {};
      if (expression?.type !== 'AssignmentExpression' || expression.left.type !== 'MemberExpression') return [];
      const { object, property } = expression.left;
      const isOurs =
        object.type === 'Identifier' && object.name === this.component.name && property.type === 'Identifier';
      return isOurs ? [{ name: property.name, value: expression.right }] : [];
    });
  }

  #statics(): [string, string][] {
    const own = new Set(this.component.statics.map(({ name }) => name));
    return this.#hung()
      .filter(({ name }) => own.has(name))
      .map(({ name, value }) => [name, this.hung(value)]);
  }

  /** Default props that are hung on the function, where the class had them as its own. */
  #given(): ReadonlyMap<string, string> {
    const found =
      this.component.defaults.size > 0 ? this.#hung().find(({ name }) => name === 'defaultProps') : undefined;
    const record = found && bare(found.value);
    const entries = record?.type === 'ObjectExpression' ? record.properties : [];
    return new Map(
      entries.flatMap((e) =>
        e.type === 'Property' && e.key.type === 'Identifier' ? [[e.key.name, this.say(e.value)] as const] : [],
      ),
    );
  }

  #parameter(given: Node | undefined): string | { why: string } {
    if (!given) return '';
    if (given.type === 'Identifier') {
      this.#mean(given, '«props»');
      return '';
    }
    const names = plainNames(given);
    if (!names)
      return given.type === 'ObjectPattern' ? this.say(given) : { why: 'the function takes what no component takes' };
    for (const { id, of, otherwise } of names) this.#mean(id, meaning('prop', of, this.#otherwise(of, otherwise)));
    return '';
  }

  /** A default in words: that of the parameter, by its value where a name stands for it. */
  #otherwise(name: string, otherwise: Node | undefined): string | undefined {
    if (!otherwise) return this.#defaults.get(name);
    const variable = otherwise.type === 'Identifier' ? this.#scopes.variableOf(otherwise) : undefined;
    const [definition] = variable?.defs ?? [];
    const isNew = variable && this.component.scopes.declares(variable.name) === false;
    if (isNew && definition?.type === 'Variable' && definition.node.init) return this.say(definition.node.init);
    return this.say(otherwise);
  }

  #mean(id: Node, said: string): void {
    const variable = this.#scopes.variableOf(id);
    if (variable) this.#means.set(variable, said);
  }

  #key(id: Node | null | undefined): string | undefined {
    return id?.type === 'Identifier' ? this.names.get(id.name) : undefined;
  }

  /** What the names of a statement mean. */
  #learn(statement: Node): void {
    if (statement.type === 'FunctionDeclaration') {
      const key = this.#key(statement.id);
      if (key?.startsWith('own ')) this.#mean(statement.id!, `«${key}»`);
      return;
    }
    if (statement.type !== 'VariableDeclaration' || statement.kind !== 'const') return;
    for (const { id, init } of statement.declarations) {
      const name = init && bare(init).type === 'CallExpression' ? calleeName(init) : undefined;
      if (name === 'useState' && id.type === 'ArrayPattern') {
        const [value, set] = id.elements;
        const key = this.#key(value);
        const setter = this.#key(set);
        if (value && key?.startsWith('kept ') && !set) this.#mean(value, `«once ${key.slice(5)}»`);
        if (value && key === 'whole') this.#mean(value, '«whole»');
        else if (value && key?.startsWith('state ')) this.#mean(value, `«${key}»`);
        const variable = set && this.#scopes.variableOf(set);
        if (variable && setter === 'set') this.#whole.set(variable, 'set');
        else if (variable && setter === `set ${key?.slice(6)}`) this.#setters.set(variable, key!.slice(6));
        continue;
      }
      const key = this.#key(id);
      if (key?.startsWith('kept ') && name === 'useRef') this.#mean(id, `«ref ${key.slice(5)}»`);
      else if (key === 'context' && name === 'useContext') this.#mean(id, '«context»');
      else if (key?.startsWith('own ') && init) this.#mean(id, `«${key}»`);
      else if (key === 'change' && init && this.#isChange(bare(init)))
        this.#whole.set(this.#scopes.variableOf(id)!, 'change');
    }
  }

  /** `(change) => set((current) => ({ ...current, ...change }))` */
  #isChange(init: Node): boolean {
    if (init.type !== 'ArrowFunctionExpression' || init.params[0]?.type !== 'Identifier') return false;
    const { body } = init;
    if (body.type !== 'CallExpression' || body.callee.type !== 'Identifier') return false;
    const isSet = this.#key(body.callee) === 'set';
    const [fn] = body.arguments;
    if (!isSet || fn?.type !== 'ArrowFunctionExpression' || fn.params[0]?.type !== 'Identifier') return false;
    const record = bare(fn.body);
    if (record.type !== 'ObjectExpression' || record.properties.length !== 2) return false;
    const spread = record.properties.map((p) =>
      p.type === 'SpreadElement' && p.argument.type === 'Identifier' ? p.argument.name : '',
    );
    return spread.join() === `${fn.params[0].name},${init.params[0].name}`;
  }

  /** What a statement is for the component; undefined where it is part of what it shows. */
  #entry(statement: Node): { said: [string, string][] } | { why: string } | undefined {
    if (statement.type === 'FunctionDeclaration') {
      const key = this.#key(statement.id);
      return key?.startsWith('own ') ? { said: [[`the function ${key.slice(4)}`, this.fn(statement)]] } : undefined;
    }
    if (statement.type === 'ExpressionStatement') {
      const name = calleeName(statement.expression);
      if (name !== 'useEffect' && name !== 'useLayoutEffect') return undefined;
      return this.#effect(statement.expression as TSESTree.CallExpression);
    }
    if (statement.type !== 'VariableDeclaration' || statement.kind !== 'const') return undefined;
    const [only, more] = statement.declarations;
    if (!only?.init || more) return undefined;
    const { id, init } = only;
    const name = calleeName(init);
    const call = bare(init) as TSESTree.CallExpression;
    if (name === 'useState' && id.type === 'ArrayPattern') return this.#state(id, call);
    const key = this.#key(id);
    if (name === 'useRef') {
      const value = call.arguments[0] ? this.say(call.arguments[0]) : 'undefined';
      // What the effect knows of before is its own.
      if (!key) return { said: [] };
      return { said: [[`what is kept as ${key.slice(5)}`, value]] };
    }
    if (key === 'context') return { said: [['the context', this.say(call.arguments[0]!)]] };
    if (key === 'change') return { said: [] };
    if (!key?.startsWith('own ')) return undefined;
    const own = `the function ${key.slice(4)}`;
    if (name !== 'useCallback')
      return isFunction(bare(init)) ? { said: [[own, this.fn(bare(init) as FunctionNode)]] } : undefined;
    const [fn, list] = call.arguments;
    if (!fn || !isFunction(fn)) return { why: `${key.slice(4)} is kept as what is no function` };
    const body = this.fn(fn);
    if (/«(?:prop|state|props|whole|context)\b/.test(body))
      return { why: `${key.slice(4)} is kept, and reads what changes` };
    const isStable = list?.type === 'ArrayExpression' && list.elements.every((e) => e && this.#isKept(e));
    return isStable
      ? { said: [[own, body]] }
      : { why: `${key.slice(4)} is kept for as long as other things are the same` };
  }

  /** A function that stays one for good. */
  #isKept(node: Node): boolean {
    const variable = this.#scopes.variableOf(node);
    const [definition] = variable?.defs ?? [];
    return (
      definition?.type === 'Variable' && !!definition.node.init && calleeName(definition.node.init) === 'useCallback'
    );
  }

  #state(id: TSESTree.ArrayPattern, call: TSESTree.CallExpression): { said: [string, string][] } | undefined {
    const key = this.#key(id.elements[0]);
    const given = call.arguments[0];
    const value =
      given?.type === 'ArrowFunctionExpression' && given.params.length === 0 ? bare(given.body) : given && bare(given);
    if (!key || !value) return undefined;
    if (key.startsWith('kept ')) return { said: [[`what is kept as ${key.slice(5)}`, `once ${this.say(value)}`]] };
    if (key !== 'whole') return { said: [[`the state ${key.slice(6)}`, this.say(value)]] };
    const entries = value.type === 'ObjectExpression' ? value.properties : [];
    const plain = entries.flatMap((e): [string, string][] =>
      e.type === 'Property' && !e.computed && e.key.type === 'Identifier'
        ? [[`the state ${e.key.name}`, this.say(e.value)]]
        : [],
    );
    const isAll = value.type === 'ObjectExpression' && plain.length === entries.length;
    return { said: isAll ? plain : [...plain, ['the state', this.say(value)]] };
  }

  #effect(call: TSESTree.CallExpression): { said: [string, string][] } | { why: string } {
    const [fn, list] = call.arguments;
    if (!fn || !isFunction(fn) || fn.async || fn.body.type !== 'BlockStatement')
      return { why: 'an effect is no function' };
    let statements: readonly Node[] = fn.body.body;
    let on = '[later]';
    if (list) {
      if (list.type !== 'ArrayExpression') return { why: 'an effect runs for what is not written out' };
      on = `[${list.elements.map((e) => (e ? this.say(e) : '')).join(',')}]`;
    } else {
      const rest = this.#afterFirst(statements);
      if (!rest) return { why: 'an effect runs the first time as well' };
      statements = rest;
    }
    const last = statements.at(-1);
    const cleanup =
      last?.type === 'ReturnStatement' && last.argument && isFunction(last.argument) ? last.argument : undefined;
    const body = cleanup ? statements.slice(0, -1) : statements;
    const isGiving = body.some((s) => givesValue(s));
    if (isGiving) return { why: 'an effect gives something back that would be called when it goes' };
    const said = this.#waiting(body) ?? body.map((s) => this.statement(s)).join('');
    return { said: [['an effect', `${on}${said}${cleanup ? `cleanup{${this.body(cleanup)}}` : ''}`]] };
  }

  /** The body of a function that waits, called on the spot. */
  #waiting(body: readonly Node[]): string | undefined {
    const [only, more] = body;
    if (more || only?.type !== 'ExpressionStatement' || only.expression.type !== 'CallExpression') return undefined;
    const { callee } = only.expression;
    return callee.type === 'ArrowFunctionExpression' && callee.async ? `waiting{${this.body(callee)}}` : undefined;
  }

  /** What comes behind the lines that know what was before; undefined where they are not there. */
  #afterFirst(statements: readonly Node[]): readonly Node[] | undefined {
    const [one, two, three] = statements;
    // `if (!ref.current) { ref.current = true; return; }`
    if (one?.type === 'IfStatement' && one.consequent.type === 'BlockStatement') {
      const [set, back] = one.consequent.body;
      const code = `${tight(this.text.slice(...one.test.range))} ${set ? tight(this.text.slice(...set.range)) : ''}`;
      const isGuard =
        /^!(\w+)\.current \1\.current=true;?$/.test(code) && back?.type === 'ReturnStatement' && !back.argument;
      return isGuard && one.consequent.body.length === 2 && !one.alternate ? statements.slice(1) : undefined;
    }
    if (one?.type !== 'VariableDeclaration' || two?.type !== 'ExpressionStatement' || three?.type !== 'IfStatement')
      return undefined;
    const [{ id, init }] = one.declarations;
    const { expression } = two;
    if (id.type !== 'Identifier' || this.#key(id) !== 'before' || expression.type !== 'AssignmentExpression')
      return undefined;
    const where = init ? this.text.slice(...init.range) : undefined;
    const isSame =
      where !== undefined && where.endsWith('.current') && this.text.slice(...expression.left.range) === where;
    const isFirst = tight(this.text.slice(...three.range)).replace(/;$/, '') === `if(!${id.name})return`;
    const record = expression.right;
    if (!isSame || !isFirst || record.type !== 'ObjectExpression') return undefined;
    // What was before is what was known then.
    for (const entry of record.properties) {
      if (entry.type !== 'Property' || entry.key.type !== 'Identifier') return undefined;
      const now = this.say(entry.value);
      const of = /^«(?:prop|state) ([\w$]+)(?:\||»)/.exec(now)?.[1];
      if (of !== entry.key.name) return undefined;
    }
    this.#mean(id, '«earlier»');
    return statements.slice(3);
  }

  protected mean(node: Node): string | undefined {
    if (this.#reads.has(node)) return '«before»';
    if (node.type === 'VariableDeclaration') return declared(this, node, (d) => this.#opens(d, node.kind));
    if (node.type === 'ExpressionStatement') {
      const sets = this.sets(node.expression);
      if (sets !== undefined) return `${sets};`;
    }
    const sets = this.sets(node);
    if (sets !== undefined) return sets;
    if (node.type === 'Identifier' || node.type === 'JSXIdentifier') {
      const variable = this.#scopes.variableOf(node);
      return variable && this.#scopes.referenceOf(node) ? this.#means.get(variable) : undefined;
    }
    if (node.type !== 'MemberExpression' || node.computed || node.property.type !== 'Identifier') return undefined;
    const { name } = node.property;
    switch (this.mean(node.object)) {
      case '«props»':
        return meaning('prop', name, this.#defaults.get(name));
      case '«whole»':
        return meaning('state', name);
      case '«earlier»':
        return meaning('before', name);
      default: {
        const ref = name === 'current' ? /^«ref (.*)»$/.exec(this.mean(node.object) ?? '') : null;
        return ref ? meaning('kept', ref[1]!) : undefined;
      }
    }
  }

  /** Names of a record that is taken apart: they mean its members. */
  #opens({ id, init }: TSESTree.VariableDeclarator, kind: string): boolean {
    const of = init ? this.mean(bare(init)) : undefined;
    const names = of === '«props»' || of === '«whole»' ? plainNames(id) : undefined;
    if (!names || kind !== 'const') {
      const isWritten = names?.some(({ id: name }) => {
        const variable = this.#scopes.variableOf(name);
        return !variable || this.#scopes.isReassigned(variable);
      });
      if (!names || isWritten) return false;
    }
    for (const { id: name, of: member, otherwise } of names) {
      const said = otherwise ? this.say(otherwise) : of === '«props»' ? this.#defaults.get(member) : undefined;
      this.#mean(name, meaning(of === '«props»' ? 'prop' : 'state', member, said));
    }
    return true;
  }

  protected sets(node: Node): string | undefined {
    if (node.type !== 'CallExpression' || node.callee.type !== 'Identifier') return undefined;
    const variable = this.#scopes.variableOf(node.callee);
    const [given, more] = node.arguments;
    if (!variable || !given || more) return undefined;
    const state = this.#setters.get(variable);
    if (state !== undefined) {
      const fn = bare(given);
      if (!isFunction(fn)) return setSaid(state, this.say(given), false);
      const [param] = fn.params;
      if (fn.body.type === 'BlockStatement' || fn.params.length > 1 || (param && param.type !== 'Identifier'))
        return undefined;
      this.#readsOf(param);
      return setSaid(state, this.say(bare(fn.body)), true);
    }
    const whole = this.#whole.get(variable);
    const record = bare(given);
    if (whole === 'change') return this.#entries(record) ?? `«change»(${this.say(given)})`;
    if (whole !== 'set' || !isFunction(record) || record.params[0]?.type !== 'Identifier') return undefined;
    return this.#fromWhole(record, record.params[0]);
  }

  #readsOf(param: Node | undefined): void {
    const variable = param && this.#scopes.variableOf(param);
    for (const { identifier } of variable?.references ?? []) this.#reads.add(identifier);
  }

  #entries(record: Node, isFrom = false): string | undefined {
    if (record.type !== 'ObjectExpression' || record.properties.length === 0) return undefined;
    const sets = record.properties.map((e) =>
      e.type === 'Property' && !e.computed && !e.method && e.key.type === 'Identifier'
        ? setSaid(e.key.name, this.say(e.value), isFrom)
        : undefined,
    );
    return sets.every((s) => s !== undefined) ? sets.join(';') : undefined;
  }

  /** `set((before) => ({ ...before, … }))` */
  #fromWhole(fn: FunctionNode, param: TSESTree.Identifier): string | undefined {
    const [only] = fn.body.type === 'BlockStatement' && fn.body.body.length === 1 ? fn.body.body : [];
    const given =
      fn.body.type !== 'BlockStatement' ? fn.body : only?.type === 'ReturnStatement' ? only.argument : undefined;
    const record = given && bare(given);
    if (record?.type !== 'ObjectExpression') return undefined;
    const [first, ...rest] = record.properties;
    if (first?.type !== 'SpreadElement' || first.argument.type !== 'Identifier' || first.argument.name !== param.name)
      return undefined;
    const without = { ...record, properties: rest } as TSESTree.ObjectExpression;
    const members = new Map<string, Node[]>();
    const variable = this.#scopes.variableOf(param);
    let isOther = false;
    for (const entry of rest) {
      if (entry.type !== 'Property' || entry.computed || entry.method || entry.key.type !== 'Identifier') {
        isOther = true;
        continue;
      }
      const { name } = entry.key;
      walk(entry.value, (node) => {
        if (node.type !== 'Identifier' || this.#scopes.variableOf(node) !== variable) return;
        const parent = this.#scopes.parentOf(node);
        const isOwn =
          parent?.type === 'MemberExpression' &&
          parent.object === node &&
          !parent.computed &&
          parent.property.type === 'Identifier' &&
          parent.property.name === name;
        if (isOwn) members.set(name, [...(members.get(name) ?? []), parent]);
        else isOther = true;
      });
    }
    if (isOther) return `«change»(from ${param.name} {${rest.map((e) => this.say(e)).join(',')}})`;
    for (const node of [...members.values()].flat()) this.#reads.add(node);
    return this.#entries(without, true);
  }
}

/** Whether a statement gives a value back to whoever called its function. */
function givesValue(statement: Node): boolean {
  let found = false;
  walk(statement, (node) => {
    if (isFunction(node)) return false;
    found ||= node.type === 'ReturnStatement' && node.argument !== null;
    return !found;
  });
  return found;
}

/** The rest of both files: every other statement as it was, and no import less than what is used. */
function restOf(component: ClassComponent, script: ParsedScript, text: string, keys: readonly string[]): Deviation {
  void keys;
  const { name } = component;
  const own = new Set(component.statics.map((s) => `${name}.${s.name}`));
  const plainly = (source: string, node: Node) => tight(source.slice(...node.range)).replace(/;$/, '');
  const isOurs = (node: Node, source: string): boolean => {
    const code = plainly(source, node);
    const declaresIt = new RegExp(`^(?:export (?:default )?)?(?:class|function|const) ${name}\\b`).test(code);
    const hangs = [...own, `${name}.defaultProps`].some((target) => code.startsWith(`${target}=`));
    return declaresIt || hangs || node.type === 'ImportDeclaration' || code === `export default ${name}`;
  };
  const before = component.script.program.body
    .filter((s) => !isOurs(s, component.text))
    .map((s) => plainly(component.text, s));
  const after = script.program.body.filter((s) => !isOurs(s, text)).map((s) => plainly(text, s));
  const isDefaultValue = (code: string) => /^const default[A-Z]\w*=/.test(code);
  const left = after.filter((code) => !before.includes(code) && !isDefaultValue(code));
  if (left.length > 0) return { detail: `"${left[0]!.slice(0, 40)}" is new` };
  const isState = (code: string) => /^(?:interface|type) /.test(code);
  const gone = before.filter((code) => !after.includes(code) && !isState(code));
  return gone.length > 0 ? { detail: `"${gone[0]!.slice(0, 40)}" is gone` } : undefined;
}
