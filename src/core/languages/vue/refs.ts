/**
 * Template refs of a component with options. An element with a `ref` is a variable of the component that its script
 * reads as `this.$refs.name`, or, where another component shows the element, as `this.$refs.other.$refs.name`.
 */
import type { TSESTree } from '@typescript-eslint/types';
import type { Attribute, Markup } from '../../markup/model.js';
import { walkMarkup } from '../../markup/walk.js';
import * as make from '../../script/make.js';
import type { Node } from '../../script/parser.js';
import { rewrite } from '../../script/rewrite.js';
import { attributeName, bare, boundNames, calleeName, isFunction, spanOf, walk } from '../../script/walk.js';
import type { Definition } from './definition.js';
import type { Sfc } from './sfc.js';

/** One place where a script reads a ref. */
export interface RefRead {
  readonly name: string;
  /** The ref that the component of that name holds itself: `this.$refs.name.$refs.inner`. */
  readonly inner: string | undefined;
  /** `this.$refs.name`, or `name` in `{ name } = this.$refs`. */
  readonly node: TSESTree.MemberExpression | TSESTree.Property;
  /** `{ name } = this.$refs` with all that it takes. */
  readonly taken?: TakenRefs;
  /** What is done with it at once: `.focus()` fails where nothing is there, all else can ask. */
  readonly isUsed: boolean;
  /** What stands around it, type assertions left out. */
  readonly parent: Node;
}

/** A declarator that takes several refs at once: each by its own name, or by another one. */
export interface TakenRefs {
  readonly node: TSESTree.VariableDeclarator;
  readonly properties: readonly TakenRef[];
}

export type TakenRef = TSESTree.Property & { readonly value: TSESTree.Identifier };

/**
 * Reads of the refs of a component, in its scripts and in what it shows, lowered; undefined where either reaches for refs in
 * another way.
 */
export function refReads(sfc: Sfc, definition: Definition, shown: Node): readonly RefRead[] | undefined {
  if (definition.api !== 'options' || sfc.setup) return undefined;
  const scripts = sfc.script ? [sfc.script.script.program] : [];
  const instances = new Set(scripts.flatMap((program) => [...instanceNames(program)]));
  const found: RefRead[] = [];
  let isOpen = false;
  const readOf = (holder: Node, ancestors: readonly Node[]): void => {
    const read = ancestors.at(-1);
    const name = read?.type === 'MemberExpression' && read.object === holder ? memberName(read) : undefined;
    const taken = read?.type === 'VariableDeclarator' && read.init === holder ? takenRefs(read) : undefined;
    if (taken) found.push(...taken.properties.map((node) => readTaken(node, taken)));
    else if (name === undefined) isOpen = true;
    else found.push(readAt(read as TSESTree.MemberExpression, name, ancestors));
  };
  for (const program of scripts)
    walk(program, (node, ancestors) => {
      if (node.type === 'Property' && !node.computed && named(node.key) === '$refs') isOpen = true;
      if (node.type !== 'MemberExpression' || node.computed || named(node.property) !== '$refs') return;
      if (nameOf(node.object, instances) !== undefined) return;
      if (isInstanceName(node.object, instances)) readOf(node, ancestors);
      else isOpen = true;
    });
  walk(shown, (node, ancestors) => {
    if (node.type === 'Identifier' && node.name === '$refs' && !isKey(node, ancestors.at(-1))) readOf(node, ancestors);
  });
  return isOpen ? undefined : found;
}

/** `const { track, thumb: knob } = this.$refs`; undefined where it takes what is left, or has something where nothing is. */
function takenRefs(node: TSESTree.VariableDeclarator): TakenRefs | undefined {
  if (node.id.type !== 'ObjectPattern') return undefined;
  const isPlain = (p: Node): p is TakenRef =>
    p.type === 'Property' && !p.computed && p.key.type === 'Identifier' && p.value.type === 'Identifier';
  const properties = node.id.properties.filter(isPlain);
  return properties.length === node.id.properties.length ? { node, properties } : undefined;
}

function readTaken(node: TakenRef, taken: TakenRefs): RefRead {
  return { name: named(node.key)!, inner: undefined, node, taken, isUsed: false, parent: taken.node };
}

/** Whether a name is only that of a member or a property. */
function isKey(node: Node, parent: Node | undefined): boolean {
  if (parent?.type === 'MemberExpression') return parent.property === node && !parent.computed;
  return parent?.type === 'Property' && parent.key === node && !parent.computed && !parent.shorthand;
}

function readAt(read: TSESTree.MemberExpression, name: string, ancestors: readonly Node[]): RefRead {
  const chain = ancestors.at(-2);
  const further = ancestors.at(-3);
  const isChain = chain?.type === 'MemberExpression' && chain.object === read && memberName(chain) === '$refs';
  const inner =
    isChain && further?.type === 'MemberExpression' && further.object === chain ? memberName(further) : undefined;
  const node = inner === undefined ? read : (further as TSESTree.MemberExpression);
  const around = ancestors.slice(0, ancestors.indexOf(node) < 0 ? -1 : ancestors.indexOf(node));
  const asserted = around.findLastIndex((n) => bare(n) === n);
  const parent = around[asserted]!;
  const isMember = parent.type === 'MemberExpression' && bare(parent.object) === node && !parent.optional;
  return { name, inner, node, isUsed: isMember, parent };
}

/** `name` of `x.name` and `x['name']`. */
export function memberName({ property, computed }: TSESTree.MemberExpression): string | undefined {
  if (!computed) return named(property);
  return property.type === 'Literal' && typeof property.value === 'string' ? property.value : undefined;
}

function named(node: Node): string | undefined {
  return node.type === 'Identifier' ? node.name : undefined;
}

/** Names that stand for the instance: `const vm = this`, `const { proxy } = getCurrentInstance()`. */
function instanceNames(program: Node): ReadonlySet<string> {
  const names = new Set<string>();
  walk(program, (node) => {
    if (node.type !== 'VariableDeclarator' || !node.init) return;
    const value = bare(node.init);
    const holder = value.type === 'MemberExpression' ? bare(value.object) : value;
    const isCurrent = holder.type === 'CallExpression' && calleeName(holder) === 'getCurrentInstance';
    if (value.type === 'ThisExpression' || isCurrent) for (const name of boundNames(node.id)) names.add(name);
  });
  return names;
}

function isInstanceName(node: Node, instances: ReadonlySet<string>): boolean {
  const value = bare(node);
  return value.type === 'ThisExpression' || (value.type === 'Identifier' && instances.has(value.name));
}

/** The ref that `this.$refs.name` reads. */
function nameOf(given: Node, instances: ReadonlySet<string>): string | undefined {
  const node = bare(given);
  if (node.type !== 'MemberExpression' || node.object.type !== 'MemberExpression') return undefined;
  const holder = node.object;
  if (holder.computed || named(holder.property) !== '$refs' || !isInstanceName(holder.object, instances))
    return undefined;
  return memberName(node);
}

// Lowering

/** The variable that a ref is. */
export function refBinding(name: string): string {
  return `ref:${name}`;
}

/** One that another component holds goes by the name that it has there, as long as that says which is meant. */
function bindingOf({ name, inner }: Pick<RefRead, 'name' | 'inner'>, reads: readonly RefRead[]): string {
  if (inner === undefined) return refBinding(name);
  const isClear = reads.every((r) => (r.inner ?? r.name) !== inner || (r.name === name && r.inner === inner));
  return refBinding(isClear ? inner : `${name}.${inner}`);
}

/** What a read of a ref is lowered to, for every node of a script or a template. */
function opener(reads: readonly RefRead[]): (node: Node) => Node | undefined {
  const binding = (read: RefRead) => make.identifier(bindingOf(read, reads), spanOf(read.node));
  const places = new Map(reads.map((read) => [spanKey(read.node), read]));
  const readOf = (node: Node): RefRead | undefined => {
    const inside = node.type === 'ChainExpression' ? node.expression : node;
    return inside.type === 'MemberExpression' ? places.get(spanKey(inside)) : undefined;
  };
  const takenBy = new Map(reads.flatMap((r) => (r.taken ? [[spanKey(r.taken.node), r.taken] as const] : [])));
  const open = (node: Node): Node | undefined => {
    const read = readOf(node);
    if (read) return binding(read);
    if (node.type === 'VariableDeclaration') return openDeclaration(node);
    // `this.$refs.other && this.$refs.other.$refs.name` asks for the ref where there may be none.
    if (node.type !== 'LogicalExpression' || node.operator !== '&&') return undefined;
    const [asked, given] = [readOf(bare(node.left)), readOf(bare(node.right))];
    const isGuard = given?.inner !== undefined && asked?.inner === undefined && asked?.name === given.name;
    return isGuard ? binding(given) : undefined;
  };
  const openDeclaration = (node: TSESTree.VariableDeclaration): Node | undefined => {
    const isRef = (d: TSESTree.VariableDeclarator) => takenBy.has(spanKey(d)) || (d.init && open(d.init));
    if (!node.declarations.every(isRef)) {
      if (!node.declarations.some((d) => takenBy.has(spanKey(d)))) return undefined;
      return { ...node, declarations: node.declarations.flatMap(eachByItself) } as Node;
    }
    // Reading one ref before another is the same; which is first differs when another component shows some of them.
    const idOf = ({ id }: TSESTree.VariableDeclarator) => (id.type === 'Identifier' ? id.name : '');
    const declarations = (node.declarations.flatMap(eachByItself) as TSESTree.VariableDeclarator[]).sort((a, b) =>
      idOf(a) < idOf(b) ? -1 : 1,
    );
    return { ...node, declarations } as Node;
  };
  const eachByItself = (declarator: TSESTree.VariableDeclarator): Node[] => {
    const taken = takenBy.get(spanKey(declarator));
    if (!taken) return [rewrite(declarator, open)];
    return taken.properties.map((property) => {
      const init = binding(reads.find((r) => r.node === property)!);
      return { ...declarator, id: property.value, init, range: property.range } as Node;
    });
  };
  return open;
}

/** The scripts with the variables that their refs are. */
export function refsOpened(own: readonly Node[], reads: readonly RefRead[]): Node[] {
  const open = opener(reads);
  const opened = own.map((statement) => rewrite(statement, open));
  // By name: which one is read first differs when another component shows some of them.
  const names = [...new Set(reads.filter((r) => isRead(r, reads)).map((r) => bindingOf(r, reads)))].sort();
  const nowhere = make.at(0);
  const declared = names.map((name) =>
    make.declaration('let', make.identifier(name, nowhere), make.literal(null, nowhere), nowhere),
  );
  return [...declared, ...opened];
}

/** A ref that is only asked for on the way to one of its own is no variable. */
function isRead(read: RefRead, reads: readonly RefRead[]): boolean {
  return read.inner !== undefined || !reads.some((r) => r.name === read.name && r.inner !== undefined);
}

function spanKey(node: Node): string {
  return `${node.range[0]} ${node.range[1]}`;
}

/** The template with the variables that its refs are; what no script of the component reads, a use may read. */
export function shownRefs(shown: Node, reads: readonly RefRead[]): { shown: Node; passed: Map<string, Node> } {
  const passed = new Map<string, Node>();
  const attributeOf = (attribute: Node): Node[] => {
    const value = attribute.type === 'JSXAttribute' && attributeName(attribute) === 'ref' ? attribute.value : undefined;
    if (value?.type !== 'Literal') return [rewrite(attribute, opened)];
    const name = String(value.value);
    const [at, span] = [spanOf(value), spanOf(attribute)];
    const inner = [...new Set(reads.flatMap((r) => (r.name === name ? (r.inner ?? []) : [])))];
    if (inner.length > 0)
      return inner.map((own) =>
        make.jsxAttribute(refBinding(own), make.identifier(bindingOf({ name, inner: own }, reads), at), span),
      );
    if (!reads.some((r) => r.name === name)) passed.set(refBinding(name), value);
    return [make.jsxAttribute('ref', make.identifier(refBinding(name), at), span)];
  };
  const open = opener(reads);
  const opened = (node: Node): Node | undefined =>
    node.type === 'JSXOpeningElement'
      ? { ...node, attributes: node.attributes.flatMap(attributeOf) as TSESTree.JSXAttribute[] }
      : open(node);
  return { shown: rewrite(shown, opened), passed };
}

/** The variable that every ref is whose name only running tells. */
const MADE_UP = refBinding('*');

/**
 * A template whose refs with made-up names are told apart from those of another component: a script reads them by any name.
 * `all`: those that are written out as well, because the template reads refs by names that cannot be followed.
 */
export function madeUpRefs(
  shown: Node,
  definition: Definition,
  all: boolean,
): { readonly shown: Node; readonly declared: readonly Node[] } {
  let met = false;
  const marked = rewrite(shown, (node) => {
    const value = node.type === 'JSXAttribute' && attributeName(node) === 'ref' ? node.value : undefined;
    const name = value?.type === 'JSXExpressionContainer' ? value.expression : all ? value : undefined;
    if (!value || !name || isCalled(name, definition)) return undefined;
    met = true;
    const span = spanOf(value);
    const ref = make.call(make.identifier(MADE_UP, span), [name], span);
    return make.jsxAttribute('ref', make.container(ref, span), spanOf(node));
  });
  const nowhere = make.at(0);
  const variable = () =>
    make.declaration('let', make.identifier(MADE_UP, nowhere), make.literal(null, nowhere), nowhere);
  return { shown: marked, declared: met ? [variable()] : [] };
}

/** Refs of a template whose names are worked out. */
export function madeUpRefsIn(markup: readonly Markup[], definition: Definition): Attribute[] {
  const found: Attribute[] = [];
  walkMarkup(markup, (node) => {
    if (node.kind === 'element')
      found.push(...node.attributes.filter((a) => a.kind === 'ref' && a.code && !isCalled(a.code.syntax, definition)));
  });
  return found;
}

/** Whether a ref is a function, which is called with the element wherever it stands. */
function isCalled(value: Node, { members }: Definition): boolean {
  const code = bare(value);
  if (code.type !== 'Identifier') return isFunction(code);
  const name = code.name.replace(/^this\./, '');
  return members.some((m) => m.kind === 'handler' && m.name === name);
}

/** Whether what is shown reads refs at all. */
export function showsRefs({ text, template }: Sfc): boolean {
  return template !== undefined && /\$refs\b/.test(text.slice(template.start, template.end));
}

/** Names of the refs of a template, each with the elements that have it; `looped`: inside of a loop. */
export function refsIn(markup: readonly Markup[]): { name: string; start: number; end: number; looped: boolean }[] {
  const found: { name: string; start: number; end: number; looped: boolean }[] = [];
  const loops: { start: number; end: number }[] = [];
  walkMarkup(markup, (node) => {
    if (node.kind === 'loop') loops.push(node);
    if (node.kind !== 'element') return;
    for (const { kind, text, start, end } of node.attributes) {
      if (kind !== 'ref' || text === undefined) continue;
      const looped = loops.some((loop) => loop.start <= start && end <= loop.end);
      found.push({ name: text, start, end, looped });
    }
  });
  return found;
}
