/**
 * The script of a component with options, lowered: every name that an option adds to the instance is declared, and
 * `this.name` is that name.
 */
import type { TSESTree } from '@typescript-eslint/types';
import type { Node } from '../../script/parser.js';
import * as make from '../../script/make.js';
import { rewrite } from '../../script/rewrite.js';
import { isWrittenOut, KEPT } from '../../script/literals.js';
import { bare, isFunction, spanOf, type FunctionNode } from '../../script/walk.js';
import { declaredNames, emitBinding, emitCall, type Body } from './body.js';
import { givenRecord, HOOKS, keyName, keysOf, returnedKeys, type Definition } from './definition.js';
import type { Sfc } from './sfc.js';

/** Options that describe the component and run nothing. */
const DESCRIBED = new Set(['name', 'props', 'emits', 'model']);

export function lowerOptions(sfc: Sfc, definition: Definition, events: Set<string>): Body {
  const statements = sfc.script?.script.program.body ?? [];
  const imports = statements.filter((s) => s.type === 'ImportDeclaration');
  const { options } = definition;
  const holds = (s: Node) => options && s.range[0] <= options.range[0] && s.range[1] >= options.range[1];
  const module = statements.filter((s) => s.type !== 'ImportDeclaration' && !holds(s));
  const wrapped = statements.filter((s) => holds(s) && s.type !== 'ExportDefaultDeclaration' && !isPlainObject(s));
  const known = new Set([...definition.props, ...definition.members].map((m) => m.name));
  const imported = new Set(imports.flatMap(declaredNames));
  const described = new Map<string, Node>();
  const own: Node[] = [];
  for (const property of options?.properties ?? []) {
    const name = property.type === 'Property' ? keyName(property.key) : undefined;
    if (property.type === 'Property' && name === 'components') continue;
    // Those are met where the template uses them.
    if (property.type === 'Property' && registersOnly(property, name, imported)) continue;
    if (property.type === 'Property' && name !== undefined && DESCRIBED.has(name)) described.set(name, property.value);
    else {
      const { kept, rest } = name === 'data' ? dataApart(property) : { kept: [], rest: property };
      const models = new Set(definition.models.map((m) => m.computed));
      own.push(...kept, ...(rest ? optionStatements(rest, name, known, events, models) : []));
    }
  }
  return { imports, module: [...module, ...wrapped], own, described, visible: new Set(), reads: new Set() };
}

/** What `data` gives back that is written out, each as a declaration, and what is left of it. */
function dataApart(property: TSESTree.ObjectLiteralElement): {
  readonly kept: readonly Node[];
  readonly rest: TSESTree.ObjectLiteralElement | undefined;
} {
  const value = property.type === 'Property' ? bare(property.value) : undefined;
  const record = value && givenRecord(value);
  if (!record || !isFunction(value) || !isSoleReturn(value)) return { kept: [], rest: property };
  const isApart = (p: Node) => p.type === 'Property' && keyName(p.key) !== undefined && isWrittenOut(p.value);
  const kept = record.properties.filter(isApart).map((p) => {
    const { key, value: init } = p as TSESTree.Property;
    const at = make.at(key.range[0]);
    const call = make.call(make.identifier(KEPT, at), [init], spanOf(init));
    return make.declaration('let', make.identifier(`this.${keyName(key)}`, at), call, spanOf(p));
  });
  const others = record.properties.filter((p) => !isApart(p));
  if (kept.length === 0) return { kept, rest: property };
  const rest = rewrite(property, (n) => (n === record ? { ...record, properties: others } : undefined));
  return { kept, rest: others.length === 0 ? undefined : (rest as TSESTree.ObjectLiteralElement) };
}

function isSoleReturn({ body }: FunctionNode): boolean {
  return body.type !== 'BlockStatement' || body.body.length === 1;
}

/** Filters or directives that are all imported. */
function registersOnly(property: TSESTree.Property, name: string | undefined, imported: ReadonlySet<string>): boolean {
  const value = bare(property.value);
  if ((name !== 'filters' && name !== 'directives') || value.type !== 'ObjectExpression') return false;
  return value.properties.every(
    (p) => p.type === 'Property' && p.value.type === 'Identifier' && imported.has(p.value.name),
  );
}

/** `const component = { … }` that is exported by its name is the component and nothing else. */
function isPlainObject(statement: Node): boolean {
  return statement.type === 'VariableDeclaration' || statement.type === 'ExpressionStatement';
}

function optionStatements(
  property: TSESTree.ObjectLiteralElement,
  name: string | undefined,
  known: ReadonlySet<string>,
  events: Set<string>,
  models: ReadonlySet<Node | undefined>,
): Node[] {
  const span = spanOf(property);
  const lowered = (node: Node) => instanceNames(node, known, events);
  const option = (label: string, value: Node) =>
    make.call(make.identifier(`$${label}`, make.at(span.start)), [value], span);
  if (property.type !== 'Property') return [make.statement(option('option', lowered(property.argument)), span)];
  const value = property.value as Node;
  const declared = (
    keys: readonly { readonly name: string; readonly node: Node }[],
    init: Node,
    kind: 'let' | 'const',
    at = span,
  ): Node => {
    const entries = keys.map(({ name: key, node }) => ({
      key,
      value: make.identifier(`this.${key}`, make.at(node.range[0])),
    }));
    return make.declaration(kind, make.pattern(entries, make.at(at.start)), init, at);
  };
  if (name === 'data' || name === 'asyncData' || name === 'setup' || name === 'inject') {
    const keys = name === 'inject' ? keysOf(asObject(value)) : returnedKeys(value);
    return [declared(unique(keys), option(name, lowered(value)), 'let')];
  }
  if ((name === 'computed' || name === 'methods') && bare(value).type === 'ObjectExpression') {
    const object = bare(value) as TSESTree.ObjectExpression;
    return object.properties
      .filter((p) => !models.has(p))
      .map((p): Node => {
        const at = spanOf(p);
        if (p.type !== 'Property') {
          const spread = { ...object, properties: [p] } as TSESTree.ObjectExpression;
          return declared(unique(keysOf(spread)), option(name, lowered(p.argument)), 'let', at);
        }
        const key = keyName(p.key) ?? '';
        const inner = lowered(p.value);
        const init =
          name === 'computed' ? make.call(make.identifier('$computed', make.at(at.start)), [atOnce(inner)], at) : inner;
        return make.declaration('const', make.identifier(`this.${key}`, make.at(at.start)), init, at);
      });
  }
  return [
    make.statement(
      make.call(make.identifier(`$option:${name ?? ''}`, make.at(span.start)), [lowered(value)], span),
      span,
    ),
  ];
}

/** What a computed value reads it reads when it is read itself. */
export function atOnce(getter: Node): Node {
  return isFunction(bare(getter)) ? Object.assign({ ...bare(getter) }, { immediate: true }) : getter;
}

/** `inject: ['apiary']` as an object. */
function asObject(value: Node): Node {
  const list = bare(value);
  if (list.type !== 'ArrayExpression') return value;
  return make.object(
    list.elements.flatMap((e) => (e?.type === 'Literal' ? [{ key: String(e.value), value: e, span: spanOf(e) }] : [])),
    spanOf(list),
  );
}

function unique<T extends { readonly name: string }>(keys: readonly T[]): T[] {
  return [...new Map(keys.map((key) => [key.name, key])).values()];
}

/** What a function of an option is for, where its key says nothing else: it is about the key around it. */
const ROLES: Readonly<Record<string, string>> = {
  get: 'get',
  set: 'set',
  default: 'default',
  validator: 'validate',
  handler: 'on',
};

/**
 * A name for a function that stands under such keys, innermost first: `getDraft` for `computed: { draft: { get() … } }`,
 * `onDraftChange` for what watches `draft`, `mountedHook` for a hook of the component itself.
 */
export function optionName([key = '', ...around]: readonly string[]): string | undefined {
  const about = (name: string) => name[0]!.toUpperCase() + name.slice(1);
  const [outer] = around;
  if (key === '') return undefined;
  if (outer === 'watch') return `on${about(key)}Change`;
  if (key in ROLES && outer !== undefined) return `${ROLES[key]!}${about(outer)}${key === 'handler' ? 'Change' : ''}`;
  return outer === undefined && HOOKS.has(key) ? `${key}Hook` : undefined;
}

/** The name behind `this.hive`, and behind `this.$emit('remove')`, in a function of an option. */
export function instanceName(node: Node): string | undefined {
  const asked = node.type === 'CallExpression' ? bare(node.callee) : node;
  if (asked.type !== 'MemberExpression' || asked.computed || bare(asked.object).type !== 'ThisExpression')
    return undefined;
  const name = keyName(asked.property);
  if (node.type !== 'CallExpression' || name !== '$emit') return name === undefined ? undefined : `this.${name}`;
  const [event] = node.arguments;
  return event?.type === 'Literal' && typeof event.value === 'string' ? emitBinding(event.value) : undefined;
}

/** `this.name` as the name that was declared, wherever `this` is the instance. */
function instanceNames(node: Node, known: ReadonlySet<string>, events: Set<string>): Node {
  const isThis = (n: Node) => bare(n).type === 'ThisExpression';
  const opened = rewrite(node, (n) =>
    emitCall(
      n,
      events,
      (callee) => callee.type === 'MemberExpression' && isThis(callee.object) && keyName(callee.property) === '$emit',
    ),
  );
  // Functions directly in an option have the instance as `this`; functions inside of those have their own.
  const inOption = (n: Node): Node => {
    if (isFunction(n)) return within(n);
    const value = bare(n);
    if (value.type !== 'ObjectExpression' && value.type !== 'ArrayExpression') return within(n);
    return rewrite(n, (m) => (isFunction(m) ? within(m) : undefined));
  };
  const within = (fn: Node): Node =>
    rewrite(fn, (n) => {
      if (n !== fn && isFunction(n) && n.type !== 'ArrowFunctionExpression') return n;
      if (n.type !== 'MemberExpression' || n.computed || !isThis(n.object) || n.property.type !== 'Identifier')
        return undefined;
      const { name } = n.property;
      return known.has(name) ? make.identifier(`this.${name}`, spanOf(n)) : undefined;
    });
  return inOption(opened);
}
