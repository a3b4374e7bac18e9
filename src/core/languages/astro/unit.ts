/**
 * An Astro file as one script: what its fence imports and exports stands at the top, and its component is a function that takes the
 * props, runs the rest of the fence, and gives back the body. Every node has the place of what it was made from, so that
 * scopes, cuts and the proof speak of offsets in the file.
 */
import type { TSESTree } from '@typescript-eslint/types';
import { componentNameFromFile } from '../../files/paths.js';
import type { Ports, SourceFile } from '../../language/ports.js';
import { outletBinding } from '../../markup/syntax.js';
import { problem, type Problem } from '../../problems/problems.js';
import * as make from '../../script/make.js';
import {
  isScriptError,
  type Node,
  type ParsedScript,
  type ScriptComment,
  type ScriptParser,
} from '../../script/parser.js';
import { moved, rewrite } from '../../script/rewrite.js';
import { spanOf, walk } from '../../script/walk.js';
import type { Span } from '../../text/edits.js';
import { isJsx } from '../jsx/markup.js';
import { nameOf, readBody, type RawElement } from './body.js';

export interface Unit {
  /** The code between the fences; undefined where there is none. */
  readonly fence: Span | undefined;
  readonly children: readonly TSESTree.JSXChild[];
  readonly raw: readonly RawElement[];
  /** The fence alone, as it is written. */
  readonly code: ParsedScript;
  readonly script: ParsedScript;
}

/** Members of `Astro` that are another component's own in another file. */
export const OWN = /^(?:slots|self)$/;

/** Texts that were read last, by the parser that read their code. */
const known = new WeakMap<ScriptParser, Map<string, Unit | Problem>>();
const REMEMBERED = 12;

export function parseUnit(file: SourceFile, ports: Ports): Unit | Problem {
  let texts = known.get(ports.script);
  if (!texts) known.set(ports.script, (texts = new Map<string, Unit | Problem>()));
  const key = `${file.path}\n${file.text}`;
  let unit = texts.get(key);
  if (!unit) {
    unit = read(file, ports.script);
    texts.set(key, unit);
    if (texts.size > REMEMBERED) texts.delete(texts.keys().next().value!);
  }
  return unit;
}

export function parseScript(file: SourceFile, ports: Ports): ParsedScript | Problem {
  const unit = parseUnit(file, ports);
  return 'script' in unit ? unit.script : unit;
}

function read({ path, text }: SourceFile, parser: ScriptParser): Unit | Problem {
  const failed = (message: string, offset: number) => {
    const start = Math.max(0, Math.min(offset, text.length));
    return problem('file-syntax', { path, span: { start, end: Math.min(start + 1, text.length) } }, message);
  };
  const opened = /^\uFEFF?\s*---/.exec(text)?.[0];
  const from = opened?.length ?? 0;
  const close = opened === undefined ? undefined : /^---/m.exec(text.slice(from));
  if (opened !== undefined && !close) return failed('the fence is not closed', 0);
  const fence = close ? { start: from, end: from + close.index } : undefined;
  const mark = text.startsWith('\uFEFF') ? 1 : 0;
  const start = fence ? fence.end + 3 : mark;
  const code = fence ? parseFence(text.slice(fence.start, fence.end), parser) : { body: [], comments: [] };
  if ('message' in code) return failed(code.message, from + code.offset);
  const body = readBody(text, start, parser);
  if ('message' in body) return failed(body.message, body.offset);
  const by = fence?.start ?? 0;
  const statements = code.body.map((node) => moved(node, by) as TSESTree.ProgramStatement);
  const comments = code.comments.map((c) => ({ ...c, start: c.start + by, end: c.end + by }));
  const program = programOf(componentNameFromFile(path), statements, body.children, { fence, end: text.length, start });
  const range = fence ? [fence.start, fence.end] : [0, 0];
  return {
    fence,
    children: body.children,
    raw: body.raw,
    code: { program: { ...program, body: statements, range } as TSESTree.Program, comments },
    script: { program, comments },
  };
}

interface Code {
  readonly body: readonly Node[];
  readonly comments: readonly ScriptComment[];
}

/** A fence may end early, as no module does: `return Astro.redirect('/')`. */
function parseFence(source: string, parser: ScriptParser): Code | { message: string; offset: number } {
  const parsed = parser.parse(source, 'ts');
  if (!isScriptError(parsed)) return { body: parsed.program.body, comments: parsed.comments };
  if (!/\breturn\b/.test(source)) return parsed;
  const ends = new Map<number, Span>();
  // What is as long, and may stand there.
  const standing = source.replace(/\breturn\b(?=(\s*;|\s*\}|\s*$)?)/gm, (_, bare: string | undefined, at: number) => {
    ends.set(at, { start: at, end: at + 6 });
    return bare === undefined ? 'throw ' : 'void 0';
  });
  const again = parser.parse(standing, 'ts');
  if (isScriptError(again)) return parsed;
  const body = again.program.body.map((statement) =>
    rewrite(statement, (node) => {
      if (!ends.has(node.range[0])) return undefined;
      if (node.type === 'ThrowStatement') return make.returned(node.argument, spanOf(node));
      return node.type === 'ExpressionStatement'
        ? { ...make.returned(node.expression, spanOf(node)), argument: null }
        : undefined;
    }),
  );
  return { body, comments: again.comments };
}

function isOfModule({ type }: Node): boolean {
  return /^(?:Import|Export\w*|TSInterface|TSTypeAlias|TSModule|TSEnum)Declaration$/.test(type);
}

function programOf(
  name: string,
  statements: readonly TSESTree.ProgramStatement[],
  children: readonly Node[],
  at: { readonly fence: Span | undefined; readonly start: number; readonly end: number },
): TSESTree.Program {
  const module = statements.filter(isOfModule);
  const own = statements.filter((s) => !isOfModule(s));
  const outlets = outletNames(children);
  const asked = askedProps(own, children);
  const taken = asked === 1 ? takenProps(own) : undefined;
  // What the file does not say stands behind it, where no region reaches.
  const nowhere = make.at(at.end + 1);
  const param = paramOf(taken, asked > 0, outlets, module, nowhere);
  const shown = make.jsxFragment(children, { start: at.start, end: at.end });
  const run = own.filter((s) => s !== taken?.statement).map((s) => propsOpened(s));
  const block = make.block([...run, make.returned(outletsOpened(propsOpened(shown)), spanOf(shown))], {
    start: at.fence?.start ?? at.start,
    end: at.end,
  });
  const fn = make.functionDeclaration(
    make.identifier(`Component:${name}`, nowhere),
    param ? [param] : [],
    block,
    spanOf(block),
  );
  const isAsync = own.some(holdsAwait) || holdsAwait(shown);
  const made = make.exportDefault(isAsync ? { ...fn, async: true } : fn, spanOf(block));
  return {
    type: 'Program',
    body: [...module, made],
    sourceType: 'module',
    range: [0, at.end],
    comments: [],
    tokens: [],
  } as unknown as TSESTree.Program;
}

function holdsAwait(root: Node): boolean {
  let found = false;
  walk(root, (node) => {
    if (node.type === 'AwaitExpression' || (node.type === 'ForOfStatement' && node.await)) found = true;
    return !found && !/Function/.test(node.type);
  });
  return found;
}

function isAstroMember(
  node: Node,
  name?: RegExp,
): node is TSESTree.MemberExpression & { property: TSESTree.Identifier } {
  return (
    node.type === 'MemberExpression' &&
    !node.computed &&
    node.object.type === 'Identifier' &&
    node.object.name === 'Astro' &&
    node.property.type === 'Identifier' &&
    (name === undefined || name.test(node.property.name))
  );
}

const PROPS = /^props$/;

/** How often a file asks for what it takes. */
function askedProps(own: readonly Node[], children: readonly Node[]): number {
  let asked = 0;
  for (const root of [...own, ...children])
    walk(root, (node) => {
      if (isAstroMember(node, PROPS)) asked++;
    });
  return asked;
}

/** `const { title } = Astro.props`, where nothing else asks for the props: the pattern is the parameter of the component. */
function takenProps(
  own: readonly Node[],
): { readonly statement: Node; readonly pattern: TSESTree.ObjectPattern } | undefined {
  for (const statement of own) {
    if (statement.type !== 'VariableDeclaration' || statement.declarations.length !== 1) continue;
    const { id, init } = statement.declarations[0];
    let value: Node | null = init;
    while (value && /^TS(?:As|Satisfies|NonNull)Expression$/.test(value.type))
      value = (value as TSESTree.TSAsExpression).expression;
    if (value && isAstroMember(value, PROPS) && id.type === 'ObjectPattern') return { statement, pattern: id };
  }
  return undefined;
}

/** What the component takes: its props, by name or whole, and the content for its slots. */
function paramOf(
  taken: ReturnType<typeof takenProps>,
  isAsked: boolean,
  outlets: readonly string[],
  module: readonly Node[],
  at: Span,
): Node | undefined {
  const typed = module.some((s) => {
    const declared = s.type === 'ExportNamedDeclaration' ? s.declaration : s;
    return (
      (declared?.type === 'TSInterfaceDeclaration' || declared?.type === 'TSTypeAliasDeclaration') &&
      declared.id.name === 'Props'
    );
  });
  const reference = {
    type: 'TSTypeReference',
    typeName: make.identifier('Props', at),
    range: [at.start, at.start],
    start: at.start,
    end: at.start,
  };
  const annotation = {
    type: 'TSTypeAnnotation',
    typeAnnotation: reference,
    range: [at.start, at.start],
    start: at.start,
    end: at.start,
  };
  const withType = <T extends Node>(node: T): T => (typed ? { ...node, typeAnnotation: annotation } : node);
  const passed = outlets.map((name) => {
    const binding = name === 'children' ? name : outletBinding(name);
    return { key: binding, value: make.identifier(binding, at) };
  });
  const slots = passed.length > 0 ? make.pattern(passed, at).properties : [];
  if (!taken) {
    if (slots.length === 0) return withType(make.identifier('props', at));
    const rest = isAsked ? [make.rest(make.identifier('props', at))] : [];
    return withType({ ...make.pattern([], at), properties: [...slots, ...rest] });
  }
  return withType({ ...taken.pattern, properties: [...slots, ...taken.pattern.properties] });
}

/** `Astro.props` is what the component takes; what else is its own has a name that no other component knows. */
function propsOpened<T extends Node>(root: T): T {
  return rewrite(root, (node) => {
    if (isAstroMember(node, PROPS)) return make.identifier('props', spanOf(node));
    return isAstroMember(node, OWN) ? make.identifier(`Astro.${node.property.name}`, spanOf(node)) : undefined;
  }) as T;
}

function isOutlet(node: Node): boolean {
  return (
    node.type === 'JSXElement' &&
    node.openingElement.name.type === 'JSXIdentifier' &&
    node.openingElement.name.name === 'slot'
  );
}

/** What an outlet or the content for one is called; undefined where only running tells. */
export function slotName(element: TSESTree.JSXElement, attribute: 'name' | 'slot'): string | undefined {
  const found = element.openingElement.attributes.find((a) => nameOf(a) === attribute);
  if (found?.type !== 'JSXAttribute') return attribute === 'name' ? 'children' : undefined;
  return found.value?.type === 'Literal' ? String(found.value.value) : undefined;
}

function outletNames(children: readonly Node[]): string[] {
  const names = new Set<string>();
  for (const root of children)
    walk(root, (node) => {
      const name = node.type === 'JSXElement' && isOutlet(node) ? slotName(node, 'name') : undefined;
      if (name !== undefined) names.add(name);
    });
  return [...names].sort();
}

/** A slot is what was passed for it, or else what stands in it. */
function outletsOpened<T extends Node>(root: T): T {
  const opened = (node: Node): Node | undefined => {
    if (isOutlet(node)) return valueOfOutlet(node);
    if (!isJsx(node) || !node.children.some(isOutlet)) return undefined;
    const children = node.children.map((child) => {
      const value = isOutlet(child) ? valueOfOutlet(child) : undefined;
      if (!value) return rewrite(child, opened);
      // What is shown of a slot can be the content of another one.
      return Object.assign(make.container(value, spanOf(child)), {
        into: slotName(child as TSESTree.JSXElement, 'slot'),
      });
    });
    if (node.type === 'JSXElement')
      return { ...node, children, openingElement: rewrite(node.openingElement, opened) } as Node;
    return { ...node, children } as Node;
  };
  return rewrite(root, opened) as T;
}

/** The name stands for the tag, as code: it takes up the place of it, or of its head where something stands in it. */
function valueOfOutlet(node: Node): Node | undefined {
  const name = node.type === 'JSXElement' ? slotName(node, 'name') : undefined;
  if (node.type !== 'JSXElement' || name === undefined) return undefined;
  const span = spanOf(node);
  const binding = name === 'children' ? name : outletBinding(name);
  const inside = node.children.filter((c) => c.type !== 'JSXText' || c.value.trim() !== '').map(outletsOpened);
  if (inside.length === 0) return make.identifier(binding, span);
  const head = spanOf(node.openingElement);
  const held = { start: head.end, end: span.end };
  return make.logical('??', make.identifier(binding, head), make.jsxFragment(inside, held), span);
}
