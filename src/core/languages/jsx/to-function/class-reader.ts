/** Reads a class of React, or says why it can be no function. */
import type { TSESTree } from '@typescript-eslint/types';
import type { SourceFile } from '../../../language/ports.js';
import { problem, type Problem } from '../../../problems/problems.js';
import type { Node, ParsedScript } from '../../../script/parser.js';
import type { ScriptScopes, Variable } from '../../../script/scopes.js';
import {
  asksArguments,
  asksThis,
  bindOf,
  classAround,
  isOfThis,
  isTyingAll,
  memberOfThis,
  tiedBy,
} from '../../../script/this-members.js';
import { attributeName, bare, calleeName, isFunction, spanOf, walk, type FunctionNode } from '../../../script/walk.js';
import {
  BASE,
  ONLY_CLASSES,
  plainNames,
  superName,
  type Alias,
  type ClassComponent,
  type ClassNode,
  type Kept,
  type Method,
  type Role,
  type Static,
} from './class-component.js';
import { reactSource } from './react-names.js';

const LIFE = new Set(['componentDidMount', 'componentDidUpdate', 'componentWillUnmount', 'render']);
/** Where reading ends, and why; thrown inside of the reader alone. */
class Unclear extends Error {
  constructor(
    readonly node: Node,
    readonly why: string,
    readonly code: 'function-unclear' | 'function-class' = 'function-unclear',
  ) {
    super(why);
  }
}

export function readClass(
  file: SourceFile,
  script: ParsedScript,
  scopes: ScriptScopes,
  node: ClassNode,
): ClassComponent | Problem {
  try {
    return new Reader(file, script, scopes, node).read();
  } catch (error) {
    if (!(error instanceof Unclear)) throw error;
    return problem(error.code, { path: file.path, span: spanOf(error.node) }, node.id!.name, error.why);
  }
}

class Reader {
  readonly #states = new Map<string, Node>();
  readonly #kept = new Map<string, Kept>();
  readonly #methods = new Map<string, Method>();
  readonly #life = new Map<string, FunctionNode>();
  readonly #aliases = new Map<Variable, Alias>();
  readonly #statics: Static[] = [];
  readonly #defaults = new Map<string, Node>();
  readonly #ties: Node[] = [];
  #context: Node | undefined;
  #first: Node | undefined;
  /** The parameter by which the constructor knows the props. */
  #given: Variable | undefined;
  #making: TSESTree.FunctionExpression | undefined;

  constructor(
    readonly file: SourceFile,
    readonly script: ParsedScript,
    readonly scopes: ScriptScopes,
    readonly node: ClassNode,
  ) {}

  read(): ClassComponent {
    const { node } = this;
    const source = reactSource(this.script, this.scopes, node);
    if (source === undefined) throw new Unclear(node.superClass!, 'what it is built on is not imported from React');
    if (node.decorators.length > 0) throw new Unclear(node.decorators[0]!, 'something is put around it with "@"');
    if (node.typeParameters && this.#isPure())
      throw new Unclear(node.typeParameters, 'it takes types, which `memo` does not hand on');
    if (node.implements.length > 0) throw new Unclear(node.implements[0]!, 'it says what it implements');
    for (const member of node.body.body) this.#member(member);
    const render = this.#life.get('render');
    if (!render) throw new Unclear(node, 'it has no "render"');
    this.#readUses();
    return {
      ...this.file,
      script: this.script,
      scopes: this.scopes,
      node,
      name: node.id!.name,
      source,
      isPure: this.#isPure(),
      types: node.superTypeArguments?.params ?? [],
      states: this.#states,
      first: this.#first,
      kept: this.#kept,
      methods: this.#methods,
      mount: this.#life.get('componentDidMount'),
      update: this.#life.get('componentDidUpdate'),
      unmount: this.#life.get('componentWillUnmount'),
      render,
      context: this.#context,
      defaults: this.#defaults,
      statics: this.#statics,
      ties: this.#ties,
      aliases: this.#aliases,
      roleOf: (inner) => this.#roleOf(inner),
    };
  }

  #isPure(): boolean {
    return BASE.exec(superName(this.node))![1] !== undefined;
  }

  #member(member: TSESTree.ClassElement): void {
    if (member.type === 'TSIndexSignature') return;
    if (member.type !== 'MethodDefinition' && member.type !== 'PropertyDefinition')
      throw new Unclear(member, 'a member of a kind that is not known here');
    if (member.computed || member.key.type !== 'Identifier')
      throw new Unclear(member, 'a member whose name is worked out');
    if (member.decorators.length > 0)
      throw new Unclear(member, `something is put around "${member.key.name}" with "@"`);
    const { name } = member.key;
    const only = ONLY_CLASSES.get(name);
    if (only !== undefined) throw new Unclear(member.key, only, 'function-class');
    if (member.static) return this.#static(member, name);
    if (member.type === 'MethodDefinition') {
      if (member.kind === 'constructor') return this.#construct(member.value as TSESTree.FunctionExpression);
      if (member.kind !== 'method') throw new Unclear(member, `"${name}" is worked out when it is read (get, set)`);
      return this.#function(name, member.value as FunctionNode, member);
    }
    const value = member.value ?? undefined;
    if (name === 'state' && value) return this.#state(value);
    // What a class tells its types only.
    if (!value && (name === 'state' || name === 'props' || name === 'context' || member.declare)) return;
    if (value && isFunction(bare(value))) return this.#function(name, bare(value) as FunctionNode, member);
    this.#keep(name, value, member, member.typeAnnotation);
  }

  #static(member: TSESTree.MethodDefinition | TSESTree.PropertyDefinition, name: string): void {
    if (!member.value) return;
    if (member.type === 'MethodDefinition' && (member.kind !== 'method' || asksThis(member.value as FunctionNode)))
      throw new Unclear(member, `"${name}" is a function of the class that asks for it by "this"`);
    if (name === 'contextType') this.#context = member.value;
    else if (name === 'defaultProps' && bare(member.value).type === 'ObjectExpression')
      this.#default(bare(member.value));
    else this.#statics.push({ name, node: member, value: member.value });
  }

  #default(value: Node): void {
    if (value.type !== 'ObjectExpression') return;
    for (const entry of value.properties) {
      if (entry.type !== 'Property' || entry.computed || entry.key.type !== 'Identifier')
        throw new Unclear(entry, 'its default props are worked out');
      this.#defaults.set(entry.key.name, entry.method ? entry : entry.value);
      if (entry.method || entry.shorthand) throw new Unclear(entry, 'its default props are written in short');
    }
  }

  #function(name: string, fn: FunctionNode, member: Node): void {
    if (asksArguments(fn)) throw new Unclear(member, `"${name}" asks for its "arguments"`);
    if (fn.generator) throw new Unclear(member, `"${name}" gives one value after another`);
    if (LIFE.has(name)) this.#life.set(name, fn);
    else this.#methods.set(name, { name, fn, node: member });
  }

  #construct(fn: TSESTree.FunctionExpression): void {
    this.#making = fn;
    const [first] = fn.params;
    if (first?.type === 'ObjectPattern') this.#take(first, 'prop', undefined);
    else if (first?.type === 'Identifier') this.#given = this.scopes.variableOf(first);
    else if (first && !(first.type === 'RestElement' && this.#isForSuper(first.argument)))
      throw new Unclear(first, 'its constructor takes what it is given in a form that is not known here');
    for (const statement of fn.body.body) {
      const { expression } = statement.type === 'ExpressionStatement' ? statement : {};
      if (expression?.type === 'CallExpression' && expression.callee.type === 'Super') continue;
      if (expression && tiedBy(expression) !== undefined) continue;
      if (expression && isTyingAll(expression)) {
        this.#ties.push(expression);
        continue;
      }
      if (
        statement.type === 'VariableDeclaration' &&
        statement.declarations.every((d) => d.init && this.#isRecord(d.init))
      )
        continue;
      const name =
        expression?.type === 'AssignmentExpression' && expression.operator === '='
          ? memberOfThis(expression.left)
          : undefined;
      if (!expression || expression.type !== 'AssignmentExpression' || name === undefined)
        throw new Unclear(statement, 'its constructor does more than to set what it keeps');
      const value = bare(expression.right);
      if (name === 'state') this.#state(value);
      else if (isFunction(value)) this.#function(name, value, statement);
      else this.#keep(name, value, statement, undefined);
    }
  }

  #state(value: Node): void {
    const record = bare(value);
    if (this.#asksMore(record)) throw new Unclear(record, 'its state begins with what the object is asked for');
    this.#first = record;
    if (record.type !== 'ObjectExpression') return;
    for (const entry of record.properties)
      if (entry.type === 'Property' && !entry.computed && entry.key.type === 'Identifier')
        this.#states.set(entry.key.name, entry.value);
  }

  #keep(name: string, value: Node | undefined, node: Node, type: TSESTree.TSTypeAnnotation | undefined): void {
    const isRef = value !== undefined && calleeName(value) === 'createRef';
    const is = value && bare(value);
    const isSimple =
      is === undefined ||
      isRef ||
      is.type === 'Literal' ||
      is.type === 'UnaryExpression' ||
      (is.type === 'Identifier' && is.name === 'undefined') ||
      (is.type === 'ObjectExpression' && is.properties.length === 0) ||
      (is.type === 'ArrayExpression' && is.elements.length === 0) ||
      (is.type === 'NewExpression' && is.callee.type === 'Identifier' && /^(?:Map|Set|WeakMap)$/.test(is.callee.name));
    if (!isSimple && (this.#isSetAnywhere(name, node) || this.#asksMore(is)))
      throw new Unclear(node, `"${name}" is made when the object is, of what is not there yet or set again`);
    this.#kept.set(name, { name, node, value, type, isRef, isOnce: !isSimple });
  }

  /** All that its code asks of `this`. */
  #readUses(): void {
    const { body } = this.node;
    walk(body, (node) => {
      if (node.type === 'JSXMemberExpression' && isOfThis(node)) throw new Unclear(node, 'a tag is read of "this"');
      if (node.type === 'Super' && this.scopes.parentOf(node)?.type !== 'CallExpression')
        throw new Unclear(node, 'it asks the class that it is built on');
      if (node.type === 'VariableDeclarator') this.#alias(node);
      if (node.type === 'JSXAttribute' && attributeName(node) === 'ref' && node.value?.type === 'Literal')
        throw new Unclear(node, 'a ref is told by a text, which only classes know', 'function-class');
      if (node.type !== 'ThisExpression' || classAround(node, this.scopes) !== body) return;
      const parent = this.scopes.parentOf(node)!;
      if (bindOf(parent, node) || this.#ties.includes(parent)) return;
      const name = memberOfThis(parent);
      if (name === undefined) throw new Unclear(node, '"this" itself is used');
      this.#use(parent, name);
    });
  }

  #use(node: Node, name: string): void {
    if (name === 'context' && !this.#context)
      throw new Unclear(node, 'it takes a context of the old kind', 'function-class');
    if (/^(?:props|context)$/.test(name)) return;
    const isWritten = this.#isWritten(node);
    if (name === 'state') {
      if (isWritten && !this.#isFirst(node)) throw new Unclear(node, 'its state is written without "setState"');
      return;
    }
    const parent = this.scopes.parentOf(node)!;
    if (name === 'setState') {
      if (parent.type !== 'CallExpression' || parent.callee !== node)
        throw new Unclear(node, '"setState" itself is handed on');
      if (parent.arguments.length !== 1)
        throw new Unclear(parent, 'something is done once its state is set (a second argument of "setState")');
      return;
    }
    if (LIFE.has(name) || /^(?:forceUpdate|constructor|refs|isMounted|updater)$/.test(name))
      throw new Unclear(node, `"this.${name}" is used`);
    if (this.#methods.has(name)) {
      if (isWritten && tiedBy(parent) !== name && !this.#isMember(parent, name))
        throw new Unclear(node, `"${name}" is set anew`);
      return;
    }
    if (!this.#kept.has(name)) {
      if (!isWritten && !this.#isSetAnywhere(name)) throw new Unclear(node, `"${name}" is set nowhere in the class`);
      this.#kept.set(name, { name, node, value: undefined, type: undefined, isRef: false, isOnce: false });
    }
    if (this.#kept.get(name)!.isRef && isWritten && !this.#isMember(parent, name))
      throw new Unclear(node, `the ref "${name}" is set anew`);
  }

  /** The assignment of the constructor that a member is read of. */
  #isMember(parent: Node, name: string): boolean {
    const statement = this.scopes.parentOf(parent);
    return this.#kept.get(name)?.node === statement || this.#methods.get(name)?.node === statement;
  }

  #isFirst(node: Node): boolean {
    const parent = this.scopes.parentOf(node);
    return parent?.type === 'AssignmentExpression' && parent.left === node && bare(parent.right) === this.#first;
  }

  /** Whether it asks the object for more than what it is given. */
  #asksMore(root: Node): boolean {
    let found = false;
    walk(root, (node) => {
      if (node.type === 'ThisExpression') found ||= memberOfThis(this.scopes.parentOf(node)!) !== 'props';
      return !found;
    });
    return found;
  }

  /** `but`: the place where it is set first. */
  #isSetAnywhere(name: string, but?: Node): boolean {
    let found = false;
    walk(this.node.body, (node) => {
      if (node === but) return false;
      found ||= memberOfThis(node) === name && this.#isWritten(node);
      return !found;
    });
    return found;
  }

  #isWritten(node: Node): boolean {
    const parent = this.scopes.parentOf(node);
    if (parent?.type === 'AssignmentExpression') return parent.left === node;
    if (parent?.type === 'UnaryExpression') return parent.operator === 'delete';
    if (parent?.type === 'MemberExpression' && memberOfThis(node) === 'state') return this.#isWritten(parent);
    return parent?.type === 'UpdateExpression' || parent?.type === 'ArrayPattern';
  }

  /** `this.props`, `this.state`, and what the constructor calls the first of them. */
  #isRecord(node: Node): 'prop' | 'state' | undefined {
    const value = bare(node);
    if (value.type === 'Identifier')
      return this.#given !== undefined && this.scopes.variableOf(value) === this.#given ? 'prop' : undefined;
    const name = memberOfThis(value);
    return name === 'props' ? 'prop' : name === 'state' ? 'state' : undefined;
  }

  /** Names by which a record that is taken apart is known, where each is read of it alone and never written. */
  #alias(declarator: TSESTree.VariableDeclarator): void {
    const kind = declarator.init ? this.#isRecord(declarator.init) : undefined;
    if (kind) this.#take(declarator.id, kind, declarator);
  }

  #take(pattern: Node, kind: 'prop' | 'state', declarator: TSESTree.VariableDeclarator | undefined): void {
    const isFirst = this.#making !== undefined && this.scopes.ancestorsOf(pattern).find(isFunction) === this.#making;
    const names = plainNames(pattern)?.map((n) => ({ ...n, variable: this.scopes.variableOf(n.id) }));
    const isSimple = names?.every(({ variable, otherwise }) => {
      return variable && !this.scopes.isReassigned(variable) && !(isFirst && otherwise);
    });
    if (!isSimple && isFirst)
      throw new Unclear(pattern, 'its constructor takes its props apart with more than their names');
    if (!isSimple) return;
    for (const { variable, of, otherwise } of names!)
      this.#aliases.set(variable!, {
        declarator,
        isFirst,
        role: { kind, name: of, ...(otherwise ? { otherwise } : {}) },
      });
  }

  /** `constructor(...given) { super(...given) }` */
  #isForSuper(name: Node): boolean {
    const references = this.scopes.variableOf(name)?.references ?? [];
    return references.every(({ identifier }) => {
      const spread = this.scopes.parentOf(identifier)!;
      const call = this.scopes.parentOf(spread);
      return spread.type === 'SpreadElement' && call?.type === 'CallExpression' && call.callee.type === 'Super';
    });
  }

  #roleOf(node: Node): Role | undefined {
    if (node.type === 'Identifier' || node.type === 'JSXIdentifier') {
      const variable = this.scopes.variableOf(node);
      if (!variable || !this.scopes.referenceOf(node)) return undefined;
      if (variable === this.#given) return { kind: 'props' };
      return this.#aliases.get(variable)?.role;
    }
    if (node.type !== 'MemberExpression') return undefined;
    const name = memberOfThis(node);
    if (name === undefined || classAround(node, this.scopes) !== this.node.body) {
      if (node.computed || node.property.type !== 'Identifier') return undefined;
      return this.#memberRole(node, node.property.name);
    }
    if (name === 'props' || name === 'context' || name === 'setState') return { kind: name };
    if (name === 'state') return { kind: 'whole' };
    return { kind: this.#methods.has(name) ? 'own' : 'kept', name };
  }

  /** `x` of a record: of the props, the state, or of what they were before. */
  #memberRole({ object }: TSESTree.MemberExpression, name: string): Role | undefined {
    const kind = this.#isRecord(object);
    if (kind) return { kind, name };
    const update = this.#life.get('componentDidUpdate');
    const variable = object.type === 'Identifier' ? this.scopes.variableOf(object) : undefined;
    if (!update || !variable) return undefined;
    const at = update.params.findIndex((p) => p.type === 'Identifier' && this.scopes.variableOf(p) === variable);
    return at === 0 || at === 1 ? { kind: 'before', of: at === 0 ? 'prop' : 'state', name } : undefined;
  }
}
