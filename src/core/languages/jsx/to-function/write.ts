/** A class of React written as a function: each value of the state by itself where that is all that is asked of it. */
import type { TSESTree } from '@typescript-eslint/types';
import type { FunctionRequest, WrittenFunction } from '../../../language/to-function.js';
import { isProblem, problem, type Problem } from '../../../problems/problems.js';
import { templateSpans } from '../../../script/literals.js';
import type { Node } from '../../../script/parser.js';
import { isReserved } from '../../../script/reserved.js';
import { ScriptScopes } from '../../../script/scopes.js';
import { bindCall, memberOfThis } from '../../../script/this-members.js';
import {
  attributeName,
  bare,
  isFunction,
  nodeWithin,
  runsNow,
  spanOf,
  walk,
  within,
  type FunctionNode,
} from '../../../script/walk.js';
import { applyEdits, type Edit, type Span } from '../../../text/edits.js';
import { indentAt, relocated, withComments } from '../../../text/layout.js';
import { capital } from '../../../text/words.js';
import { addedImports, droppedImports, wholeLines, type Importing, type WantedImport } from '../../imports.js';
import { habitsOf, type Habits } from '../cut/habits.js';
import { parseFile } from '../source.js';
import { classesOf, plainNames, readClass, type ClassComponent, type Kept } from './class-component.js';
import { functionsOf, type Functions } from './late.js';
import { outsideTrouble, reactOf, type ReactVersions } from './reached.js';
import { statesSet } from './sets.js';
import { watched } from './watched.js';

/** What the function takes: each prop by its name, the pattern that the class took them apart with, or all of them as one. */
type Taking = 'none' | 'members' | 'pattern' | 'whole';

export function writeFunction(request: FunctionRequest): WrittenFunction | Problem {
  const { file, ports, component: name } = request;
  const script = parseFile(file, ports);
  if (isProblem(script)) return script;
  const classes = classesOf(script);
  const node = classes.find((c) => c.id!.name === name);
  if (!node)
    return problem(
      'function-unknown',
      { path: file.path },
      name,
      classes.map((c) => c.id!.name),
    );
  const component = readClass(file, script, ScriptScopes.of(script), node);
  if (isProblem(component)) return component;
  const outside = outsideTrouble(request, component);
  if (outside) return outside;
  const functions = functionsOf(component);
  const [late] = functions.late;
  if (late) return problem('function-late', { path: file.path, span: spanOf(late.node) }, name, late.why);
  const react = reactOf(request.project.files, file.path);
  const plan = new Planner(component, react).plan();
  if ('why' in plan) return problem('function-unclear', { path: file.path, span: spanOf(plan.node) }, name, plan.why);
  const habits = habitsOf(file.path, file.text, script.program, request.project.files);
  const written = new Writer(component, functions, plan, habits).write();
  if (react.hooks || written.hooks.length === 0) return written;
  const why = `the React of its package has no ${written.hooks.join(', ')} (16.8 does)`;
  return problem('function-class', { path: file.path, span: spanOf(node) }, name, why);
}

interface Plan {
  readonly taking: Taking;
  /** The declaration in `render` whose pattern the function takes. */
  readonly pattern: TSESTree.VariableDeclarator | undefined;
  /** Whether each value of the state is a state of its own. */
  readonly each: boolean;
  /** Names in the function by what they are in the class: `own add`, `kept timer`, `set count`, `state`, `context`, `before`. */
  readonly names: ReadonlyMap<string, string>;
  readonly props: readonly string[];
  /** Default props that are taken as defaults of parameters. */
  readonly inPattern: boolean;
}

interface Trouble {
  readonly node: Node;
  readonly why: string;
}

/** Chooses names and forms so that nothing is hidden by anything else. */
class Planner {
  readonly #names = new Map<string, string>();
  readonly #taken = new Set<string>();
  /** Where each thing is used, by what it is. */
  readonly #uses = new Map<string, Node[]>();
  readonly #free: ReadonlySet<string>;

  constructor(
    readonly component: ClassComponent,
    readonly react: ReactVersions,
  ) {
    const { node, scopes } = component;
    const span = spanOf(node);
    const free = scopes
      .within(spanOf(node.body))
      .filter(({ resolved }) => !resolved || !resolved.identifiers.some((id) => nodeWithin(id, span)))
      .map(({ identifier }) => String((identifier as { name?: unknown }).name));
    this.#free = new Set([...free, node.id!.name]);
    walk(node.body, (inner) => {
      const role = component.roleOf(inner);
      const parent = scopes.parentOf(inner);
      if (!role || (parent?.type === 'CallExpression' && parent.callee.type === 'Super')) return true;
      const key = 'name' in role ? `${role.kind} ${role.name}` : role.kind;
      this.#uses.set(key, [...(this.#uses.get(key) ?? []), inner]);
      return inner.type !== 'MemberExpression';
    });
  }

  plan(): Plan | Trouble {
    const { component } = this;
    const { methods, kept, states, defaults, context } = component;
    const each = this.#isEach();
    if (!each && component.first?.type !== 'ObjectExpression' && this.#uses.has('setState'))
      return { node: component.first ?? component.node, why: 'what its state begins as is worked out elsewhere' };
    if (!each && component.isPure && this.#uses.has('setState') && countsRenderings(component))
      return { node: component.node, why: 'how often it is rendered shows, and its state has to stay one record' };
    for (const name of methods.keys()) this.#name(`own ${name}`, [name, `${name}It`, `do${capital(name)}`]);
    for (const name of kept.keys()) this.#name(`kept ${name}`, [name.replace(/^_+(?=.)/, ''), `${name}Ref`]);
    if (each)
      for (const name of states.keys()) {
        this.#take(`state ${name}`, name);
        this.#name(`set ${name}`, [`set${capital(name)}`, `set${capital(name)}State`]);
      }
    else if (component.first) {
      this.#name('whole', ['state', 'kept']);
      this.#name('set', ['setState', 'setKept']);
      this.#name('change', ['changeState', 'changeKept']);
    }
    if (context) this.#name('context', ['context', 'contextValue']);
    const props = [...this.#uses.keys()].flatMap((key) => (key.startsWith('prop ') ? [key.slice(5)] : []));
    const taking = this.#taking(props);
    if (taking.taking === 'members') for (const name of props) this.#take(`prop ${name}`, name);
    if (taking.taking === 'whole') this.#name('props', ['props', 'given']);
    if (component.update) this.#name('before', ['before', 'previous', 'beforeUpdate']);
    const inPattern = defaults.size > 0 && taking.taking !== 'whole';
    const isHung = (defaults.size > 0 && !inPattern) || component.statics.some((s) => s.name === 'defaultProps');
    if (isHung && this.react.newest >= 19)
      return {
        node: component.node,
        why: 'its default props cannot be written into what it takes, and a function has none of its own in React 19',
      };
    return { ...taking, each, names: this.#names, props, inPattern };
  }

  /** Whether states can be told apart: none is read or set with the others, and all names are free. */
  #isEach(): boolean {
    const { component } = this;
    const { states, first } = component;
    if (!first) return !this.#uses.has('whole') && !this.#uses.has('setState');
    if (first.type !== 'ObjectExpression' || states.size !== first.properties.length) return false;
    const isRead = (this.#uses.get('whole') ?? []).every((node) => this.#isOpened(node) || this.#isFirst(node));
    const used = [...this.#uses.keys()].flatMap((key) => (key.startsWith('state ') ? [key.slice(6)] : []));
    const isKnown = used.every((name) => states.has(name));
    const isFree = [...states.keys()].every(
      (name) =>
        this.#fits(name, `state ${name}`) &&
        !component.methods.has(name) &&
        !component.kept.has(name) &&
        !component.methods.has(`set${capital(name)}State`) &&
        !mayBeFunction(name, states.get(name)!),
    );
    const sets = this.#usesOf('setState').every(
      (node) => statesSet(component, callOf(component, node), this.react.oldest)?.each,
    );
    // A state that is set to what it was renders nothing again, where a class does.
    const isTold = component.isPure || !this.#uses.has('setState') || !countsRenderings(component);
    return isRead && isKnown && isFree && sets && isTold;
  }

  #isFirst(node: Node): boolean {
    const parent = this.component.scopes.parentOf(node);
    return parent?.type === 'AssignmentExpression' && parent.left === node;
  }

  /** `const { count } = this.state`, of names that stay what they are. */
  #isOpened(node: Node): boolean {
    const parent = this.component.scopes.parentOf(node);
    if (parent?.type !== 'VariableDeclarator') return false;
    const names = plainNames(parent.id);
    const isAlias = [...this.component.aliases.values()].some(({ declarator }) => declarator === parent);
    return isAlias && names!.every(({ id, of, otherwise }) => id.name === of && !otherwise);
  }

  #taking(props: readonly string[]): { taking: Taking; pattern: TSESTree.VariableDeclarator | undefined } {
    const { component } = this;
    const wholes = this.#usesOf('props');
    const opened = wholes
      .map((node) => component.scopes.parentOf(node))
      .filter((p) => p?.type === 'VariableDeclarator');
    const direct = [...this.#uses].some(
      ([key, nodes]) => key.startsWith('prop ') && nodes.some((n) => n.type === 'MemberExpression'),
    );
    const [only] = opened;
    if (wholes.length === 0 && !direct) return { taking: 'none', pattern: undefined };
    const isOne = wholes.length === 1 && opened.length === 1 && !direct && !component.update;
    if (isOne && only && only.id.type === 'ObjectPattern' && this.#standsInRender(only) && this.#canTake(only.id))
      return { taking: 'pattern', pattern: only };
    const isPlain = wholes.every((node) => this.#isOpened(node));
    const isFree = props.every(
      (name) => !isReserved(name) && name !== 'key' && !this.#taken.has(name) && this.#fits(name, `prop ${name}`),
    );
    return { taking: isPlain && isFree && props.length <= 12 ? 'members' : 'whole', pattern: undefined };
  }

  #standsInRender(declarator: TSESTree.VariableDeclarator): boolean {
    const { render, scopes } = this.component;
    const statement = scopes.parentOf(declarator);
    return (
      statement?.type === 'VariableDeclaration' &&
      statement.kind === 'const' &&
      statement.declarations.length === 1 &&
      scopes.parentOf(statement) === render.body
    );
  }

  /** Whether the pattern can stand in the parameters: its names are free, and default props can be written into it. */
  #canTake(pattern: TSESTree.ObjectPattern): boolean {
    const { defaults } = this.component;
    const plain = plainNames(pattern);
    if (defaults.size > 0 && (!plain || plain.some(({ of, otherwise }) => otherwise && defaults.has(of)))) return false;
    let isFree = true;
    walk(pattern, (node) => {
      if (node.type !== 'Identifier') return;
      const variable = this.component.scopes.variableOf(node);
      const isName = variable?.identifiers.includes(node as never);
      if (isName) isFree &&= !this.#taken.has(node.name) && !this.#free.has(node.name);
      // A default that is worked out from what only `render` knows.
      else if (variable && within(spanOf(variable.identifiers[0] ?? pattern), spanOf(this.component.render.body)))
        isFree &&= nodeWithin(variable.identifiers[0]!, spanOf(pattern));
    });
    return isFree;
  }

  #usesOf(key: string): readonly Node[] {
    return this.#uses.get(key) ?? [];
  }

  /** Whether a name means nothing else where it is wanted, nor at the top of `render`, which the function becomes. */
  #fits(name: string, key: string): boolean {
    const uses = key.startsWith('set') || key === 'change' ? this.#usesOf('setState') : this.#usesOf(key);
    if (this.#free.has(name) || isReserved(name)) return false;
    const { scopes, render, node, aliases } = this.component;
    const own = scopes.scopeAt(spanOf(render.body)).set.get(name);
    const isAlias = (variable: typeof own) => {
      const role = variable && aliases.get(variable)?.role;
      return role !== undefined && 'name' in role && `${role.kind} ${role.name}` === key;
    };
    if (own && own.defs.length > 0 && !isAlias(own)) return false;
    return uses.every((use) => {
      const variable = scopes.visibleIn(scopes.scopeAt(spanOf(use)), name);
      const isInside = variable?.identifiers.some((id) => nodeWithin(id, spanOf(node)));
      return !isInside || isAlias(variable);
    });
  }

  #take(key: string, name: string): void {
    this.#names.set(key, name);
    this.#taken.add(name);
  }

  #name(key: string, wanted: readonly string[]): void {
    const { methods, kept } = this.component;
    const isElse = (name: string) =>
      (key !== `own ${name}` && methods.has(name)) || (key !== `kept ${name}` && kept.has(name));
    const isFree = (name: string) => !this.#taken.has(name) && !isElse(name) && this.#fits(name, key);
    let name = wanted.find(isFree);
    for (let i = 2; name === undefined; i++) if (isFree(`${wanted[0]!}${i}`)) name = `${wanted[0]!}${i}`;
    this.#take(key, name);
  }
}

/**
 * Whether it shows how often it is rendered: by what it does after each change without asking what was before, or by showing what it
 * keeps beside its state. A class renders again for a state that is set to what it was, a pure one and a function do not.
 */
function countsRenderings(component: ClassComponent): boolean {
  const { body } = component.update ?? {};
  const acts =
    body !== undefined &&
    (body.type !== 'BlockStatement' ||
      body.body.some((s) => s.type !== 'IfStatement' || !asksBefore(component, s.test)));
  return acts || shows(component, component.render, new Set());
}

/** Whether what is shown is worked out from what may change without a rendering. */
function shows(component: ClassComponent, fn: FunctionNode, met: Set<FunctionNode>): boolean {
  if (met.has(fn)) return false;
  met.add(fn);
  let found = false;
  walk(fn.body, (node) => {
    if (isFunction(node) && !runsNow(node, component.scopes.parentOf(node))) return false;
    const role = component.roleOf(node);
    const kept = role?.kind === 'kept' ? component.kept.get(role.name) : undefined;
    const method = role?.kind === 'own' ? component.methods.get(role.name) : undefined;
    found ||=
      (kept !== undefined && !kept.isRef && !kept.isOnce) || (method !== undefined && shows(component, method.fn, met));
    return !found;
  });
  return found;
}

function asksBefore(component: ClassComponent, test: Node): boolean {
  let found = false;
  walk(test, (node) => {
    found ||= component.roleOf(node)?.kind === 'before';
    return !found;
  });
  return found;
}

/** What React would call, where it is kept as a state by itself. */
function mayBeFunction(name: string, first: Node): boolean {
  return (
    isFunction(bare(first)) ||
    /^(?:on[A-Z]|render[A-Z]?|[A-Z])|(?:Component|Callback|Handler|Fn)$|^(?:component|callback|fn|handler)$/.test(name)
  );
}

function callOf({ scopes }: ClassComponent, node: Node): TSESTree.CallExpression {
  return scopes.parentOf(node) as TSESTree.CallExpression;
}

class Writer {
  readonly #used = new Set<string>();
  readonly #hooks = new Set<string>();
  readonly #fixed: readonly Span[];
  /** What is kept and holds an element of the page. */
  readonly #elements: ReadonlySet<string>;
  readonly #unit: string;

  constructor(
    readonly component: ClassComponent,
    readonly functions: Functions,
    readonly plan: Plan,
    readonly habits: Habits,
  ) {
    this.#fixed = templateSpans(component.node);
    this.#elements = elementsOf(component);
    this.#unit = habits.indent;
  }

  write(): WrittenFunction & { readonly hooks: readonly string[] } {
    const { component, plan, habits } = this;
    const { text, name, script, scopes } = component;
    const statement = scopes.parentOf(component.node)!;
    const isExported = statement.type === 'ExportNamedDeclaration' || statement.type === 'ExportDefaultDeclaration';
    const outer = isExported ? statement : component.node;
    const nl = habits.lineEnd;
    const groups = [this.#keeps(), ...this.#methods(), ...this.#effects(), [this.#shown()]];
    const body = groups.filter((lines) => lines.length > 0).map((lines) => lines.join(nl));
    const types = component.node.typeParameters;
    const head = `function ${name}${types ? text.slice(...types.range) : ''}(${this.#parameters()}) {${nl}${body.join(nl + nl)}${nl}}`;
    const exported = isExported ? text.slice(outer.range[0], component.node.range[0]) : '';
    const isDefault = statement.type === 'ExportDefaultDeclaration';
    const memo = component.isPure ? this.#react('memo') : undefined;
    const written = memo
      ? `${isDefault ? '' : exported}const ${name} = ${memo}(${head})${habits.semi}`
      : exported + head;
    const behind = [...(memo && isDefault ? [`export default ${name}${habits.semi}`] : []), ...this.#statics()];
    const above = withComments(text, spanOf(outer)).start;
    const edits: Edit[] = [
      ...this.#defaultValues().map((values) => ({ start: above, end: above, text: values + nl + nl })),
      { ...spanOf(outer), text: [written, ...behind].join(nl + nl) },
    ];
    const importing = { text, script, scopes, request: { file: { path: component.path } } };
    const source = importedFrom(component);
    const wanted = [...this.#used].map((local) => ({ source, imported: local, local, typeOnly: false }));
    const isThere = (local: string) => (scopes.moduleScope.set.get(local)?.defs.length ?? 0) > 0;
    const refs = [...component.kept.values()].flatMap(({ value, isRef }) => (isRef ? [value!] : []));
    const going = [component.node.superClass!, ...component.ties, ...refs].map(spanOf);
    const needed = wanted.filter(({ local }) => !isThere(local));
    edits.push(...this.#imports(importing, needed, droppedImports(importing, going)), ...this.#needlessTypes());
    const names = new Map([...plan.names].map(([key, local]) => [local, key]));
    const states = [...component.states.keys()];
    const { constant, handed } = this.functions;
    const anew = new Map([...handed].filter(([own]) => !constant.has(own)));
    return {
      handed: anew,
      edits,
      region: spanOf(component.node),
      names,
      states,
      notes: this.#notes(),
      hooks: [...this.#hooks],
    };
  }

  /** What the file takes from React now, in the braces where its class was. */
  #imports(importing: Importing, wanted: readonly WantedImport[], dropped: readonly Edit[]): Edit[] {
    const { habits } = this;
    const { script, scopes, text } = this.component;
    const { superClass } = this.component.node;
    const variable = superClass?.type === 'Identifier' ? scopes.variableOf(superClass) : undefined;
    const from = script.program.body.find((s) => s === variable?.defs[0]?.parent);
    const isGoing = (s: TSESTree.ImportClause) =>
      (scopes.variableOf(s.local) === variable || s.local.name === 'createRef') &&
      dropped.some((e) => e.start <= s.range[0] && e.end >= s.range[1]);
    if (from?.type !== 'ImportDeclaration' || wanted.length === 0 || !from.specifiers.some((s) => isGoing(s)))
      return addedImports(importing, wanted, habits, dropped);
    const named = from.specifiers.filter((s) => s.type === 'ImportSpecifier');
    const left = named.filter((s) => !isGoing(s)).map((s) => text.slice(...s.range));
    const open = text.lastIndexOf('{', named[0]!.range[0]);
    const close = text.indexOf('}', named.at(-1)!.range[1]) + 1;
    const clause = `{${habits.pad}${[...left, ...wanted.map((w) => w.local)].join(', ')}${habits.pad}}`;
    const others = dropped.filter((e) => e.end <= from.range[0] || e.start >= from.range[1]);
    return [...others, { start: open, end: close, text: clause }];
  }

  /** A function of React by the name that the file has for it. */
  #react(name: string): string {
    this.#hooks.add(name);
    const { scopes } = this.component;
    const named = scopes.moduleScope.set.get(name);
    const isOther =
      named && named.defs.length > 0 && !(named.defs[0]!.type === 'ImportBinding' && isOfReact(named.defs[0]!.parent));
    const { superClass } = this.component.node;
    // A file that names React alone goes on doing so; its own class did.
    if (superClass?.type === 'MemberExpression')
      return `${this.component.text.slice(...superClass.object.range)}.${name}`;
    if (isOther || (this.component.scopes.declares(name) && !named)) return `React.${name}`;
    this.#used.add(name);
    return name;
  }

  #name(key: string): string {
    return this.plan.names.get(key)!;
  }

  // --- the pieces ---------------------------------------------------------------------------------------------------

  #parameters(): string {
    const { component, plan, habits } = this;
    const { pad } = habits;
    const type = component.types[0] && habits.typed ? `: ${this.#slice(component.types[0])}` : '';
    if (plan.taking === 'none') return '';
    if (plan.taking === 'whole') return `${this.#name('props')}${type}`;
    const withDefault = (name: string, written: string) =>
      component.defaults.has(name) ? `${written} = ${this.#defaultOf(name)}` : written;
    if (plan.taking === 'members') return `{${pad}${plan.props.map((n) => withDefault(n, n)).join(', ')}${pad}}${type}`;
    const { id } = plan.pattern!;
    const plain = plainNames(id);
    const edits = (plain ?? []).flatMap((entry) =>
      component.defaults.has(entry.of)
        ? [{ start: entry.id.range[1], end: entry.id.range[1], text: ` = ${this.#defaultOf(entry.of)}` }]
        : [],
    );
    const whole = { start: id.range[0], end: id.typeAnnotation?.range[0] ?? id.range[1] };
    return `${relocated(component.text, whole, '', edits, this.#fixed)}${type}`;
  }

  /** A default prop as a parameter has it: written out where it is the same each time, else by a name. */
  #defaultOf(name: string): string {
    const value = this.component.defaults.get(name)!;
    return isConstant(value) ? this.#slice(value) : this.#defaultName(name);
  }

  #defaultName(name: string): string {
    const wanted = `default${capital(name)}`;
    for (let i = 1; ; i++) {
      const found = i === 1 ? wanted : `${wanted}${i}`;
      if (!this.component.scopes.declares(found)) return found;
    }
  }

  #defaultValues(): string[] {
    const { component, plan, habits } = this;
    if (!plan.inPattern) return [];
    const taken = plan.taking === 'pattern' ? (plainNames(plan.pattern!.id) ?? []).map(({ of }) => of) : plan.props;
    const made = [...component.defaults].filter(([name, value]) => taken.includes(name) && !isConstant(value));
    const lines = made.map(
      ([name, value]) => `const ${this.#defaultName(name)} = ${this.#moved(value, '')}${habits.semi}`,
    );
    return lines.length > 0 ? [lines.join(habits.lineEnd)] : [];
  }

  #keeps(): string[] {
    const { component, plan, habits } = this;
    const unit = this.#unit;
    const set = this.#setStates();
    const line = (code: string) => `${unit}${code}${habits.semi}`;
    const lines: string[] = [];
    if (component.context)
      lines.push(
        line(`const ${this.#name('context')} = ${this.#react('useContext')}(${this.#slice(component.context)})`),
      );
    if (plan.each)
      for (const [name, first] of component.states)
        lines.push(
          ...this.#aboveOf(first, unit),
          line(
            `const [${[this.#name(`state ${name}`), ...(set.has(name) ? [this.#name(`set ${name}`)] : [])].join(', ')}] = ${this.#react('useState')}${this.#stateType(name, first)}(${this.#firstValue(first)})`,
          ),
        );
    else if (component.first) {
      const type = component.types[1] && habits.typed ? `<${this.#slice(component.types[1])}>` : '';
      const [state, set] = [this.#name('whole'), this.#name('set')];
      lines.push(
        line(`const [${state}, ${set}] = ${this.#react('useState')}${type}(${this.#firstValue(component.first)})`),
      );
      if (this.#changesWhole())
        lines.push(
          line(
            `const ${this.#name('change')} = (change${type ? `: Partial${type}` : ''}) => ${set}((current) => ({ ...current, ...change }))`,
          ),
        );
    }
    for (const kept of component.kept.values())
      lines.push(
        ...this.#aboveOf(kept.node, unit),
        line(
          kept.isOnce
            ? this.#once(kept)
            : `const ${this.#name(`kept ${kept.name}`)} = ${this.#react('useRef')}${this.#refOf(kept)}`,
        ),
      );
    return lines;
  }

  /** What is made once and never set again: a state that nothing sets. */
  #once({ name, value, type }: Kept): string {
    const said = type && this.habits.typed ? `<${this.#slice(type.typeAnnotation)}>` : '';
    const code = this.#moved(value!, this.#unit);
    return `const [${this.#name(`kept ${name}`)}] = ${this.#react('useState')}${said}(() => ${code.startsWith('{') ? `(${code})` : code})`;
  }

  /** States that something sets. */
  #setStates(): ReadonlySet<string> {
    const names = new Set<string>();
    walk(this.component.node.body, (node) => {
      const call = this.#setCall(node);
      for (const { name } of (call && statesSet(this.component, call, 19)?.sets) ?? []) names.add(name);
    });
    return names;
  }

  #changesWhole(): boolean {
    let found = false;
    walk(this.component.node.body, (node) => {
      const call = this.#setCall(node);
      found ||= call !== undefined && !statesSet(this.component, call, 18)?.from;
    });
    return found;
  }

  #refOf({ value, type, isRef }: Kept): string {
    if (isRef) {
      const call = bare(value!) as TSESTree.CallExpression;
      return `${call.typeArguments ? this.component.text.slice(...call.typeArguments.range) : ''}(null)`;
    }
    const said = type && this.habits.typed ? this.#slice(type.typeAnnotation) : undefined;
    if (value) return `${said ? `<${said}>` : ''}(${this.#slice(value)})`;
    return said ? `<${said} | undefined>(undefined)` : this.habits.typed ? '<any>(undefined)' : '()';
  }

  #stateType(name: string, first: Node): string {
    const { types, script } = this.component;
    const record = types[1];
    if (!record || !this.habits.typed) return '';
    const member = memberType(record, name, script.program.body);
    const isPlain = member && /^(?:string|number|boolean)$/.test(this.#slice(member));
    // What is written out there says as much.
    if (isPlain && first.type === 'Literal' && typeof first.value === this.#slice(member)) return '';
    return member ? `<${this.#slice(member)}>` : `<${this.#slice(record)}['${name}']>`;
  }

  /** What runs once stays what runs once. */
  #firstValue(first: Node): string {
    const code = this.#moved(first, this.#unit);
    let runs = false;
    walk(first, (node) => {
      if (isFunction(node)) return false;
      runs ||=
        node.type === 'CallExpression' || node.type === 'NewExpression' || node.type === 'TaggedTemplateExpression';
      return !runs;
    });
    return runs ? `() => ${code.startsWith('{') ? `(${code})` : code}` : code;
  }

  #methods(): string[][] {
    const { component, functions } = this;
    const wrapped = this.#wrapped();
    const written = new Set<string>();
    const out: string[][] = [];
    const write = (name: string): void => {
      if (written.has(name)) return;
      written.add(name);
      const uses = [...(functions.uses.get(name) ?? [])].filter((other) => other !== name);
      // What a list of dependencies names is there before it.
      if (wrapped.has(name)) uses.forEach(write);
      out.push([
        ...this.#aboveOf(component.methods.get(name)!.node, this.#unit),
        this.#method(name, wrapped.has(name) ? uses : undefined),
      ]);
    };
    for (const name of component.methods.keys()) write(name);
    return out;
  }

  /** Functions that stay one and the same: kept by something, or handed to components, and the same in each rendering. */
  #wrapped(): ReadonlySet<string> {
    const { kept, handed, constant, uses } = this.functions;
    const wanted = [...kept, ...handed.keys()].filter((name) => constant.has(name));
    const found = new Set<string>();
    const add = (name: string): void => {
      if (found.has(name)) return;
      found.add(name);
      uses.get(name)?.forEach(add);
    };
    wanted.forEach(add);
    return found;
  }

  /** `dependencies`: of a function that is kept. */
  #method(name: string, dependencies: readonly string[] | undefined): string {
    const { fn } = this.component.methods.get(name)!;
    const local = this.#name(`own ${name}`);
    const unit = this.#unit;
    const { semi } = this.habits;
    const isArrow = fn.type === 'ArrowFunctionExpression';
    const given = { start: fn.typeParameters?.range[0] ?? this.#paramsAt(fn), end: fn.body.range[0] };
    const edits = fn.params.flatMap((p) => this.#editsIn(p));
    const params = relocated(this.component.text, given, unit, edits, this.#fixed);
    const async = fn.async ? 'async ' : '';
    const body = this.#moved(fn.body, unit);
    const value = isArrow ? this.#moved(fn, unit) : `${async}function ${local}${params.trimEnd()} ${body}`;
    if (dependencies) {
      const list = dependencies.map((other) => this.#name(`own ${other}`)).join(', ');
      const arrow = isArrow ? value : `${async}${params.trimEnd()} => ${body}`;
      return `${unit}const ${local} = ${this.#react('useCallback')}(${arrow}, [${list}])${semi}`;
    }
    return isArrow ? `${unit}const ${local} = ${value}${semi}` : unit + value;
  }

  /** Where the parenthesis before the parameters stands. */
  #paramsAt(fn: FunctionNode): number {
    const { text } = this.component;
    const before = fn.params[0]?.range[0] ?? fn.returnType?.range[0] ?? fn.body.range[0];
    return text.lastIndexOf('(', before - 1);
  }

  #effects(): string[][] {
    const { component } = this;
    const { mount, update, unmount, text } = component;
    const unit = this.#unit;
    const { semi, lineEnd: nl } = this.habits;
    const out: string[][] = [];
    const watch = watched(component);
    const inner = unit + unit;
    const statements = (fn: FunctionNode | undefined) => (fn ? this.#inside(fn, inner) : '');
    const call = (parts: readonly string[], dependencies: string, touches: boolean) =>
      `${unit}${this.#react(touches ? 'useLayoutEffect' : 'useEffect')}(() => {${nl}${parts.filter(Boolean).join(nl)}${nl}${unit}}${dependencies})${semi}`;
    const waiting = (fn: FunctionNode | undefined, code: string) =>
      fn?.async && code ? `${inner}(async () => {${nl}${code.replace(/^(?=.)/gm, unit)}${nl}${inner}})()${semi}` : code;
    if (mount ?? unmount) {
      const code = waiting(mount, statements(mount));
      const gone = statements(unmount);
      const cleanup = gone ? `${inner}return () => {${nl}${gone.replace(/^(?=.)/gm, unit)}${nl}${inner}}${semi}` : '';
      const list = watch ? watch.map((role) => this.#roleText(role)).join(', ') : '';
      const touched = [mount, unmount].some((fn) => fn && this.#touches(fn));
      out.push([
        ...(mount ? this.#aboveOf(scopesParent(component, mount), unit) : []),
        call([code, cleanup], `, [${list}]`, touched),
      ]);
    }
    if (update && !watch) {
      const name = this.#name('before');
      const used = this.#before();
      const record = `{ ${used.map(({ name: of, local }) => (local === of ? of : `${of}: ${local}`)).join(', ')} }`;
      const type = this.habits.typed
        ? `<{ ${used.map(({ name: of, local }) => `${of}: typeof ${local}`).join('; ')} } | undefined>(undefined)`
        : '()';
      const known = `${name}Ref`;
      const preamble =
        used.length > 0
          ? [
              `${inner}const ${name} = ${known}.current${semi}`,
              `${inner}${known}.current = ${record}${semi}`,
              `${inner}if (!${name}) return${semi}`,
            ]
          : [
              `${inner}if (!${known}.current) {`,
              `${inner}${unit}${known}.current = true${semi}`,
              `${inner}${unit}return${semi}`,
              `${inner}}`,
            ];
      out.push([
        ...this.#aboveOf(scopesParent(component, update), unit),
        `${unit}const ${known} = ${this.#react('useRef')}${used.length > 0 ? type : '(false)'}${semi}`,
        call([...preamble, waiting(update, statements(update))], '', this.#touches(update)),
      ]);
    }
    void text;
    return out;
  }

  /** What an update compares with what was before, each once. */
  #before(): { name: string; local: string }[] {
    const found = new Map<string, string>();
    walk(this.component.update!.body, (node) => {
      const role = this.component.roleOf(node);
      if (role?.kind === 'before') found.set(role.name, this.#roleText({ kind: role.of, name: role.name }));
    });
    return [...found].map(([name, local]) => ({ name, local }));
  }

  #roleText(role: { kind: 'prop' | 'state'; name: string }): string {
    if (role.kind === 'prop') return this.plan.taking === 'whole' ? `${this.#name('props')}.${role.name}` : role.name;
    return this.plan.each ? this.#name(`state ${role.name}`) : `${this.#name('whole')}.${role.name}`;
  }

  /** Whether it looks at the page or changes it: that is done before anybody sees it. */
  #touches(fn: FunctionNode, met = new Set<FunctionNode>()): boolean {
    if (met.has(fn)) return false;
    met.add(fn);
    let found = false;
    walk(fn.body, (node) => {
      const role = this.component.roleOf(node);
      const isElement = role?.kind === 'kept' && this.#elements.has(role.name);
      const method = role?.kind === 'own' ? this.component.methods.get(role.name) : undefined;
      const isPage =
        node.type === 'MemberExpression' &&
        node.property.type === 'Identifier' &&
        /^(?:getBoundingClientRect|focus|scroll\w*|offset\w+|client(?:Width|Height)|style|innerHTML)$/.test(
          node.property.name,
        );
      found ||= isElement || isPage || (method !== undefined && this.#touches(method.fn, met));
      return !found;
    });
    return found;
  }

  /** `render`, without what the parameters say now. */
  #shown(): string {
    const { render, text } = this.component;
    const unit = this.#unit;
    if (render.body.type !== 'BlockStatement')
      return `${unit}return ${this.#moved(render.body, unit)}${this.habits.semi}`;
    void text;
    return this.#inside(render, unit);
  }

  /** The statements of a function, at another depth, with the comments between them. */
  #inside(fn: FunctionNode, to: string): string {
    const { text } = this.component;
    if (fn.body.type !== 'BlockStatement') return `${to}${this.#moved(fn.body, to)}${this.habits.semi}`;
    const from = text.indexOf('\n', fn.body.range[0] + 1) + 1;
    const [first] = fn.body.body;
    if (!first) return '';
    const start = from > 0 && from <= first.range[0] ? from : first.range[0];
    const end = text.slice(0, fn.body.range[1] - 1).trimEnd().length;
    const lead = indentAt(text, first.range[0]);
    const edits = this.#editsIn(fn.body);
    const code = relocated(text, { start: Math.min(start, first.range[0]), end }, to, edits, this.#fixed, lead);
    const isAtStart = start < first.range[0];
    const head = isAtStart && code.startsWith(lead) ? to + code.slice(lead.length) : isAtStart ? code : to + code;
    return head.replace(/^\s*\n/, '').trimEnd();
  }

  #statics(): string[] {
    const { component, plan, habits } = this;
    const { text, name } = component;
    const lines = component.statics.map(({ name: own, node, value }) => {
      const code = relocated(text, spanOf(value), '', [], this.#fixed, indentAt(text, node.range[0]));
      const isMethod = node.type === 'MethodDefinition';
      const async = isMethod && node.value.async ? 'async ' : '';
      return `${name}.${own} = ${isMethod ? `${async}function ${own}${code}` : code}${habits.semi}`;
    });
    if (component.defaults.size > 0 && !plan.inPattern) {
      const [first] = component.defaults.values();
      const record = component.scopes.ancestorsOf(first!).find((n) => n.type === 'ObjectExpression')!;
      lines.push(
        `${name}.defaultProps = ${relocated(text, spanOf(record), '', [], this.#fixed, indentAt(text, record.range[0]))}${habits.semi}`,
      );
    }
    return lines;
  }

  #notes(): string[] {
    const { component, plan } = this;
    const notes: string[] = [];
    const early = [component.mount, component.update].filter((fn) => fn && !this.#touches(fn));
    if (early.length > 0)
      notes.push('what ran right after a change of the page runs once it is painted; `verkstad check` plays both');
    if (!plan.each && component.first)
      notes.push('its state stays one record: some of it is read or set as a whole, or is called like something else');
    const lost = this.#lostComments();
    if (lost.length > 0) notes.push(`nothing is left for these comments: ${lost.join(' · ')}`);
    return notes;
  }

  /** Comments of the class that stand in none of the pieces. */
  #lostComments(): string[] {
    const { component, plan } = this;
    const members = [...component.methods.values()].map(({ node }) => withComments(component.text, spanOf(node)));
    const lives = [component.mount, component.update, component.unmount, component.render].flatMap((fn) =>
      fn ? [withComments(component.text, spanOf(scopesParent(component, fn)))] : [],
    );
    const kept = [...component.kept.values()].map(({ node }) => withComments(component.text, spanOf(node)));
    const first = !plan.each && component.first ? [spanOf(component.first)] : [];
    const states = [...component.states.values()].map((node) => withComments(component.text, this.#lineOf(node)));
    const all = [...members, ...lives, ...kept, ...first, ...states, ...component.statics.map((s) => spanOf(s.node))];
    return component.script.comments
      .filter((c) => within(c, spanOf(component.node)) && !all.some((span) => within(c, span)))
      .map((c) => c.value.replace(/^[\s*]+|[\s*]+$/g, '').replace(/\s*\n[\s*]*/g, ' '));
  }

  #lineOf(node: Node): Span {
    const entry = this.component.scopes.parentOf(node);
    return spanOf(entry?.type === 'Property' ? entry : node);
  }

  /** The comments right above a piece, at another depth. */
  #aboveOf(node: Node, to: string): string[] {
    const { text } = this.component;
    const span = this.#lineOf(node);
    const { start } = withComments(text, span);
    const above = text.slice(start, span.start).trimEnd();
    return above
      ? [to + relocated(text, { start, end: start + above.length }, to, [], [], indentAt(text, span.start))]
      : [];
  }

  /** Types that said nothing but what the state is. */
  #needlessTypes(): Edit[] {
    const { component, plan } = this;
    const record = component.types[1];
    if (!plan.each || record?.type !== 'TSTypeReference' || record.typeName.type !== 'Identifier') return [];
    const variable = component.scopes.variableOf(record.typeName);
    const statement = variable && component.scopes.statementOf(variable);
    const isOwn = statement?.type === 'TSInterfaceDeclaration' || statement?.type === 'TSTypeAliasDeclaration';
    const others = variable?.references.filter(({ identifier }) => !nodeWithin(identifier, spanOf(record))) ?? [];
    if (!isOwn || others.length > 0) return [];
    const members = [...component.states.keys()];
    const isSaid = members.every((name) => memberType(record, name, component.script.program.body));
    return isSaid ? [wholeLines(component.text, withComments(component.text, spanOf(statement)))] : [];
  }

  // --- code ---------------------------------------------------------------------------------------------------------

  #slice(node: Node): string {
    return applyEdits(
      this.component.text.slice(...node.range),
      this.#editsIn(node).map((e) => ({ ...e, start: e.start - node.range[0], end: e.end - node.range[0] })),
    );
  }

  /** Code as the function has it, its lines at another depth. */
  #moved(node: Node, to: string): string {
    const { text } = this.component;
    return relocated(text, spanOf(node), to, this.#editsIn(node), this.#fixed);
  }

  #editsIn(root: Node): Edit[] {
    const edits: Edit[] = [];
    walk(root, (node) => {
      const edit = this.#editOf(node);
      if (!edit) return true;
      edits.push(...edit);
      return false;
    });
    return edits;
  }

  #editOf(node: Node): Edit[] | undefined {
    const whole = (text: string): Edit[] => [{ ...spanOf(node), text }];
    if (node.type === 'VariableDeclaration' && node.declarations.some((d) => this.#isGone(d))) {
      const left = node.declarations.filter((d) => !this.#isGone(d));
      if (left.length > 0)
        return whole(`${node.kind} ${left.map((d) => this.#slice(d)).join(', ')}${this.habits.semi}`);
      const { start, end } = wholeLines(this.component.text, spanOf(node));
      return [{ start, end, text: '' }];
    }
    if (node.type === 'Property' && node.shorthand) return undefined;
    const bound = bindCall(node);
    if (
      bound &&
      node.type === 'CallExpression' &&
      bound.args[0]?.type === 'ThisExpression' &&
      memberOfThis(bound.target)
    ) {
      const target = this.#slice(bound.target);
      if (bound.args.length === 1) return whole(target);
      return [
        ...this.#editsIn(node.callee),
        { ...spanOf(bound.args[0]), text: 'null' },
        ...bound.args.slice(1).flatMap((a) => this.#editsIn(a)),
      ];
    }
    if (node.type === 'ExpressionStatement') {
      const call = this.#setCall(node.expression);
      const set = call && this.plan.each ? statesSet(this.component, call, 19) : undefined;
      if (set && set.sets.length !== 1) {
        const indent = indentAt(this.component.text, node.range[0]);
        const nl = this.habits.lineEnd + indent;
        const lines = set.sets.map((s) => `${this.#set(s)}${this.habits.semi}`);
        if (standsInBlock(this.component, node)) return whole(lines.join(nl));
        return whole(`{${nl}${this.#unit}${lines.join(nl + this.#unit)}${nl}}`);
      }
    }
    if (node.type === 'ArrowFunctionExpression') {
      const call = this.#setCall(node.body);
      const set = call && this.plan.each ? statesSet(this.component, call, 19) : undefined;
      if (set && set.sets.length !== 1)
        return [
          ...node.params.flatMap((p) => this.#editsIn(p)),
          { ...spanOf(node.body), text: `{ ${set.sets.map((s) => `${this.#set(s)}${this.habits.semi}`).join(' ')} }` },
        ];
    }
    const call = this.#setCall(node);
    if (call) return this.#setEdit(call);
    const role = this.component.roleOf(node);
    if (!role || node.type === 'Identifier' || node.type === 'JSXIdentifier') {
      if (role?.kind === 'props') return whole(this.plan.taking === 'whole' ? this.#name('props') : this.plan.taking);
      return undefined;
    }
    switch (role.kind) {
      case 'prop':
      case 'state':
        return whole(this.#roleText(role));
      case 'props':
        return whole(this.#name('props'));
      case 'whole':
        return whole(this.#name('whole'));
      case 'context':
        return whole(this.#name('context'));
      case 'own':
        return whole(this.#name(`own ${role.name}`));
      case 'before':
        return whole(`${this.#name('before')}.${role.name}`);
      case 'kept': {
        const { isRef, isOnce } = this.component.kept.get(role.name)!;
        return whole(this.#name(`kept ${role.name}`) + (isRef || isOnce ? '' : '.current'));
      }
      default:
        return undefined;
    }
  }

  #setCall(node: Node): TSESTree.CallExpression | undefined {
    return node.type === 'CallExpression' && this.component.roleOf(node.callee)?.kind === 'setState' ? node : undefined;
  }

  #setEdit(call: TSESTree.CallExpression): Edit[] {
    const set = statesSet(this.component, call, 19);
    if (this.plan.each) return [{ ...spanOf(call), text: this.#set(set!.sets[0]!) }];
    const callee = { ...spanOf(call.callee), text: this.#name(set?.from ? 'set' : 'change') };
    const record = set?.from?.record;
    const inner = call.arguments.flatMap((a) => this.#editsIn(a));
    if (!record) return [callee, ...inner];
    const at = record.range[0] + 1;
    const spread = { start: at, end: at, text: ` ...${set.from!.param},` };
    return [callee, ...inner, spread];
  }

  #set({
    name,
    value,
    from,
  }: {
    name: string;
    value: Node;
    from: { param: string; reads: readonly Node[] } | undefined;
  }): string {
    const setter = this.#name(`set ${name}`);
    if (!from) return `${setter}(${this.#slice(value)})`;
    const param = /^(?:prev|previous|last|old)?_?[sS]tate$|^_*s$/.test(from.param) ? 'current' : from.param;
    const edits = [...this.#editsIn(value), ...from.reads.map((n) => ({ ...spanOf(n), text: param }))];
    const [start, end] = value.range;
    const code = applyEdits(
      this.component.text.slice(start, end),
      edits.map((e) => ({ ...e, start: e.start - start, end: e.end - start })),
    );
    return `${setter}((${param}) => ${code.startsWith('{') ? `(${code})` : code})`;
  }

  /** A record taken apart whose names mean the same without it. */
  #isGone(declarator: TSESTree.VariableDeclarator): boolean {
    const { component, plan } = this;
    if (declarator === plan.pattern) return true;
    const alias = [...component.aliases.values()].find((a) => a.declarator === declarator);
    if (!alias) return false;
    return alias.role.kind === 'prop' ? plan.taking === 'members' : plan.each;
  }
}

/** Refs, and what a function that is given as a ref sets. */
function elementsOf(component: ClassComponent): ReadonlySet<string> {
  const found = new Set([...component.kept.values()].flatMap(({ name, isRef }) => (isRef ? [name] : [])));
  walk(component.node.body, (node) => {
    if (node.type !== 'JSXAttribute' || attributeName(node) !== 'ref') return true;
    const note = (root: Node): void =>
      walk(root, (inner) => {
        const role = component.roleOf(inner);
        if (role?.kind === 'kept') found.add(role.name);
        const method = role?.kind === 'own' ? component.methods.get(role.name) : undefined;
        if (method) note(method.fn);
      });
    note(node);
    return false;
  });
  return found;
}

/** Whether a statement has a place for others beside it, rather than being all that a condition or a loop does. */
export function standsInBlock({ scopes }: ClassComponent, statement: Node): boolean {
  return /^(?:BlockStatement|SwitchCase|Program)$/.test(scopes.parentOf(statement)?.type ?? '');
}

function scopesParent({ scopes }: ClassComponent, fn: FunctionNode): Node {
  return scopes.parentOf(fn)!;
}

function isOfReact(statement: Node | null | undefined): boolean {
  return statement?.type === 'ImportDeclaration' && statement.source.value === 'react';
}

/** The module that the file takes React from: `react`, or the one that its `Component` comes from. */
function importedFrom({ script, node }: ClassComponent): string {
  const base = node.superClass?.type === 'Identifier' ? node.superClass.name : 'React';
  const found = script.program.body.find(
    (s) => s.type === 'ImportDeclaration' && s.specifiers.some((i) => i.local.name === base),
  );
  return found?.type === 'ImportDeclaration' ? found.source.value : 'react';
}

/** What gives the same value, and the same object, whenever it is worked out. */
function isConstant(value: Node): boolean {
  const node = bare(value);
  if (node.type === 'UnaryExpression') return isConstant(node.argument);
  if (node.type === 'MemberExpression') return !node.computed && isConstant(node.object);
  return (
    (node.type === 'Literal' && !('regex' in node)) ||
    node.type === 'Identifier' ||
    (node.type === 'TemplateLiteral' && node.expressions.length === 0)
  );
}

/** What a record says of one of its members, where the file says it. */
function memberType(record: Node, name: string, body: readonly Node[]): Node | undefined {
  const members = (node: Node): readonly Node[] => {
    if (node.type === 'TSTypeLiteral') return node.members;
    if (node.type !== 'TSTypeReference' || node.typeName.type !== 'Identifier' || node.typeArguments) return [];
    const { name: wanted } = node.typeName;
    for (const statement of body) {
      const it = statement.type === 'ExportNamedDeclaration' ? statement.declaration : statement;
      if (it?.type === 'TSInterfaceDeclaration' && it.id.name === wanted && it.extends.length === 0)
        return it.body.body;
      if (it?.type === 'TSTypeAliasDeclaration' && it.id.name === wanted && !it.typeParameters)
        return members(it.typeAnnotation);
    }
    return [];
  };
  const found = members(record).find(
    (m) => m.type === 'TSPropertySignature' && m.key.type === 'Identifier' && m.key.name === name,
  );
  return found?.type === 'TSPropertySignature' && !found.optional ? found.typeAnnotation?.typeAnnotation : undefined;
}
