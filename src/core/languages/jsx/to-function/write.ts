/** A class of React written as a function: each value of the state by itself where that is all that is asked of it. */
import type { TSESTree } from '@typescript-eslint/types';
import type { FunctionRequest, WrittenFunction } from '../../../language/to-function.js';
import { isProblem, problem, type Problem } from '../../../problems/problems.js';
import type { Node } from '../../../script/parser.js';
import { ScriptScopes } from '../../../script/scopes.js';
import { bare, nodeWithin, spanOf, within, type FunctionNode } from '../../../script/walk.js';
import { type Edit, type Span } from '../../../text/edits.js';
import { indentAt, relocated, withComments } from '../../../text/layout.js';
import { capital } from '../../../text/words.js';
import {
  addedImports,
  droppedImports,
  isNeedless,
  wholeLines,
  type Importing,
  type WantedImport,
} from '../../imports.js';
import { habitsOf, type Habits } from '../cut/habits.js';
import { parseFile } from '../source.js';
import { classesOf, plainNames, type ClassComponent } from './class-component.js';
import { readClass } from './class-reader.js';
import { functionsOf, type Functions } from './late.js';
import { outsideTrouble, reactOf } from './reached.js';
import { Code } from './code.js';
import { Effects } from './effects.js';
import { memberType, States } from './states.js';
import { Planner, type Plan } from './naming.js';

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

class Writer {
  readonly #effects: Effects;
  readonly #states: States;
  readonly #code: Code;
  readonly #unit: string;

  constructor(
    readonly component: ClassComponent,
    readonly functions: Functions,
    readonly plan: Plan,
    readonly habits: Habits,
  ) {
    this.#code = new Code(component, plan, habits);
    this.#effects = new Effects(this.#code);
    this.#states = new States(this.#code);
    this.#unit = habits.indent;
  }

  write(): WrittenFunction & { readonly hooks: readonly string[] } {
    const { component, plan, habits } = this;
    const { text, name, script, scopes } = component;
    const statement = scopes.parentOf(component.node)!;
    const isExported = statement.type === 'ExportNamedDeclaration' || statement.type === 'ExportDefaultDeclaration';
    const outer = isExported ? statement : component.node;
    const nl = habits.lineEnd;
    const groups = [this.#states.lines(), ...this.#methods(), ...this.#effects.lines(), [this.#shown()]];
    const body = groups.filter((lines) => lines.length > 0).map((lines) => lines.join(nl));
    const types = component.node.typeParameters;
    const head = `function ${name}${types ? text.slice(...types.range) : ''}(${this.#parameters()}) {${nl}${body.join(nl + nl)}${nl}}`;
    const exported = isExported ? text.slice(outer.range[0], component.node.range[0]) : '';
    const isDefault = statement.type === 'ExportDefaultDeclaration';
    const memo = component.isPure ? this.#code.react.of('memo') : undefined;
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
    const { source } = component;
    const wanted = [...this.#code.react.used].map((local) => ({ source, imported: local, local, typeOnly: false }));
    const isThere = (local: string) => (scopes.moduleScope.set.get(local)?.defs.length ?? 0) > 0;
    const refs = [...component.kept.values()].flatMap(({ value, isRef }) => (isRef ? [value!] : []));
    const going = [component.node.superClass!, ...component.ties, ...refs].map(spanOf);
    const needed = wanted.filter(({ local }) => !isThere(local));
    edits.push(...this.#imports(importing, needed, going), ...this.#needlessTypes());
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
      hooks: [...this.#code.react.asked],
    };
  }

  /** What the file takes from React now, in the braces where its class was. */
  #imports(importing: Importing, wanted: readonly WantedImport[], going: readonly Span[]): Edit[] {
    const { habits } = this;
    const { script, scopes, text } = this.component;
    const { superClass } = this.component.node;
    const variable = superClass?.type === 'Identifier' ? scopes.variableOf(superClass) : undefined;
    const from = script.program.body.find((s) => s === variable?.defs[0]?.parent);
    const dropped = droppedImports(importing, going);
    const isGoing = (s: TSESTree.ImportClause) => isNeedless(importing, going, scopes.variableOf(s.local));
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

  #parameters(): string {
    const { component, plan, habits } = this;
    const { pad } = habits;
    const type = component.types[0] && habits.typed ? `: ${this.#code.slice(component.types[0])}` : '';
    if (plan.taking === 'none') return '';
    if (plan.taking === 'whole') return `${this.#code.name('props')}${type}`;
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
    return `${relocated(component.text, whole, '', edits, this.#code.fixed)}${type}`;
  }

  /** A default prop as a parameter has it: written out where it is the same each time, else by a name. */
  #defaultOf(name: string): string {
    const value = this.component.defaults.get(name)!;
    return isConstant(value) ? this.#code.slice(value) : this.#defaultName(name);
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
      ([name, value]) => `const ${this.#defaultName(name)} = ${this.#code.moved(value, '')}${habits.semi}`,
    );
    return lines.length > 0 ? [lines.join(habits.lineEnd)] : [];
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
        ...this.#code.aboveOf(component.methods.get(name)!.node, this.#unit),
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
    const local = this.#code.name(`own ${name}`);
    const unit = this.#unit;
    const { semi } = this.habits;
    const isArrow = fn.type === 'ArrowFunctionExpression';
    const given = { start: fn.typeParameters?.range[0] ?? this.#paramsAt(fn), end: fn.body.range[0] };
    const edits = fn.params.flatMap((p) => this.#code.editsIn(p));
    const params = relocated(this.component.text, given, unit, edits, this.#code.fixed);
    const async = fn.async ? 'async ' : '';
    const body = this.#code.moved(fn.body, unit);
    const value = isArrow ? this.#code.moved(fn, unit) : `${async}function ${local}${params.trimEnd()} ${body}`;
    if (dependencies) {
      const list = dependencies.map((other) => this.#code.name(`own ${other}`)).join(', ');
      const arrow = isArrow ? value : `${async}${params.trimEnd()} => ${body}`;
      return `${unit}const ${local} = ${this.#code.react.of('useCallback')}(${arrow}, [${list}])${semi}`;
    }
    return isArrow ? `${unit}const ${local} = ${value}${semi}` : unit + value;
  }

  /** Where the parenthesis before the parameters stands. */
  #paramsAt(fn: FunctionNode): number {
    const { text } = this.component;
    const before = fn.params[0]?.range[0] ?? fn.returnType?.range[0] ?? fn.body.range[0];
    return text.lastIndexOf('(', before - 1);
  }

  /** `render`, without what the parameters say now. */
  #shown(): string {
    const { render } = this.component;
    const unit = this.#unit;
    if (render.body.type !== 'BlockStatement')
      return `${unit}return ${this.#code.moved(render.body, unit)}${this.habits.semi}`;
    return this.#code.inside(render, unit);
  }

  #statics(): string[] {
    const { component, plan, habits } = this;
    const { text, name } = component;
    const lines = component.statics.map(({ name: own, node, value }) => {
      const code = relocated(text, spanOf(value), '', [], this.#code.fixed, indentAt(text, node.range[0]));
      const isMethod = node.type === 'MethodDefinition';
      const async = isMethod && node.value.async ? 'async ' : '';
      return `${name}.${own} = ${isMethod ? `${async}function ${own}${code}` : code}${habits.semi}`;
    });
    if (component.defaults.size > 0 && !plan.inPattern) {
      const [first] = component.defaults.values();
      const record = component.scopes.ancestorsOf(first!).find((n) => n.type === 'ObjectExpression')!;
      lines.push(
        `${name}.defaultProps = ${relocated(text, spanOf(record), '', [], this.#code.fixed, indentAt(text, record.range[0]))}${habits.semi}`,
      );
    }
    return lines;
  }

  #notes(): string[] {
    const { component, plan } = this;
    const notes: string[] = [];
    const early = [component.mount, component.update].filter((fn) => fn && !this.#effects.touches(fn));
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
      fn ? [withComments(component.text, spanOf(component.scopes.parentOf(fn)!))] : [],
    );
    const kept = [...component.kept.values()].map(({ node }) => withComments(component.text, spanOf(node)));
    const first = !plan.each && component.first ? [spanOf(component.first)] : [];
    const states = [...component.states.values()].map((node) => withComments(component.text, this.#code.lineOf(node)));
    const all = [...members, ...lives, ...kept, ...first, ...states, ...component.statics.map((s) => spanOf(s.node))];
    return component.script.comments
      .filter((c) => within(c, spanOf(component.node)) && !all.some((span) => within(c, span)))
      .map((c) => c.value.replace(/^[\s*]+|[\s*]+$/g, '').replace(/\s*\n[\s*]*/g, ' '));
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
