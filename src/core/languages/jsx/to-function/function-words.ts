/** What a function of React is and does, in words. */
import type { TSESTree } from '@typescript-eslint/types';
import type { Node, ParsedScript } from '../../../script/parser.js';
import { ScriptScopes, type Variable } from '../../../script/scopes.js';
import { bare, calleeName, isFunction, spanOf, type FunctionNode } from '../../../script/walk.js';
import { plainNames, type ClassComponent } from './class-component.js';
import { componentIn, givesValue, hungOn, isChange, type Found } from './function-parts.js';
import { entriesOf, memberReads, recordOf } from './sets.js';
import { declared, meaning, openedIn, setSaid, tight, Words, type Saying } from './words.js';

export class FunctionSaying extends Words {
  readonly #found: Found | undefined;
  readonly #means = new Map<Variable, string>();
  /** Of what kind is what was known before, by its name. */
  readonly #earlier = new Map<string, string>();
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
    const found = componentIn(script, component.name);
    super(text, script, ScriptScopes.of(script), found ? spanOf(found.statement) : { start: 0, end: 0 });
    this.#found = found;
    this.#defaults = this.#given();
  }

  read(): Saying | string {
    const found = this.#found;
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

  #statics(): [string, string][] {
    const own = new Set(this.component.statics.map(({ name }) => name));
    return hungOn(this.script, this.component.name)
      .filter(({ name }) => own.has(name))
      .map(({ name, value }) => [name, this.hung(value)]);
  }

  /** Default props that are hung on the function, where the class had them as its own. */
  #given(): ReadonlyMap<string, string> {
    const found =
      this.component.defaults.size > 0
        ? hungOn(this.script, this.component.name).find(({ name }) => name === 'defaultProps')
        : undefined;
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
    const variable = otherwise.type === 'Identifier' ? this.scopes.variableOf(otherwise) : undefined;
    const [definition] = variable?.defs ?? [];
    const isNew = variable && !this.component.scopes.declares(variable.name);
    if (isNew && definition?.type === 'Variable' && definition.node.init) return this.say(definition.node.init);
    return this.say(otherwise);
  }

  #mean(id: Node, said: string): void {
    const variable = this.scopes.variableOf(id);
    if (variable) this.#means.set(variable, said);
  }

  /** What the function calls something of the class. */
  #local(key: string): string | undefined {
    return [...this.names].find(([, meant]) => meant === key)?.[0];
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
        const variable = set && this.scopes.variableOf(set);
        if (variable && setter === 'set') this.#whole.set(variable, 'set');
        else if (variable && setter === `set ${key?.slice(6)}`) this.#setters.set(variable, key!.slice(6));
        continue;
      }
      const key = this.#key(id);
      if (key?.startsWith('kept ') && name === 'useRef') this.#mean(id, `«ref ${key.slice(5)}»`);
      else if (key === 'context' && name === 'useContext') this.#mean(id, '«context»');
      else if (key?.startsWith('own ') && init) this.#mean(id, `«${key}»`);
      else if (key === 'change' && init && isChange(bare(init), this.#local('set')))
        this.#whole.set(this.scopes.variableOf(id)!, 'change');
    }
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
      if (!key || key === 'known') return { said: [] };
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
    const variable = this.scopes.variableOf(node);
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
    const entries = entriesOf(value);
    return {
      said: entries
        ? entries.map((e): [string, string] => [`the state ${e.name}`, this.say(e.value)])
        : [['the state', this.say(value)]],
    };
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
      const [, kind, of] = /^«(prop|state) ([\w$]+)(?:\||»)/.exec(now) ?? [];
      if (kind === undefined || of !== entry.key.name) return undefined;
      this.#earlier.set(of, kind);
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
      const variable = this.scopes.variableOf(node);
      return variable && this.scopes.referenceOf(node) ? this.#means.get(variable) : undefined;
    }
    if (node.type !== 'MemberExpression' || node.computed || node.property.type !== 'Identifier') return undefined;
    const { name } = node.property;
    switch (this.mean(node.object)) {
      case '«props»':
        return meaning('prop', name, this.#defaults.get(name));
      case '«whole»':
        return meaning('state', name);
      case '«earlier»':
        return meaning(`before ${this.#earlier.get(name)}`, name);
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
        const variable = this.scopes.variableOf(name);
        return !variable || this.scopes.isReassigned(variable);
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
    const variable = this.scopes.variableOf(node.callee);
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
    const variable = param && this.scopes.variableOf(param);
    for (const { identifier } of variable?.references ?? []) this.#reads.add(identifier);
  }

  #entries(record: Node, isFrom = false): string | undefined {
    const entries = entriesOf(record)?.map(({ name, value }) => setSaid(name, this.say(value), isFrom));
    return entries?.length ? entries.join(';') : undefined;
  }

  /** `set((before) => ({ ...before, … }))` */
  #fromWhole(fn: FunctionNode, param: TSESTree.Identifier): string | undefined {
    const record = recordOf(fn);
    const variable = this.scopes.variableOf(param);
    const [first, ...rest] = record?.properties ?? [];
    const isSpread =
      first?.type === 'SpreadElement' && first.argument.type === 'Identifier' && first.argument.name === param.name;
    if (!record || !variable || !isSpread) return undefined;
    const left = { ...record, properties: rest };
    const reads = entriesOf(left)?.map(({ name, value }) => memberReads(this.scopes, variable, value, name));
    if (!reads?.length || reads.includes(undefined)) return `«change»(from ${param.name} ${this.record(rest)})`;
    for (const node of reads.flat()) if (node) this.#reads.add(node);
    return this.#entries(left, true);
  }
}
