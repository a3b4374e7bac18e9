/**
 * One function for several places of logic. A function that needs nothing of its surroundings moves to a module as it
 * is; one that does gets what it needs as arguments; statements that call hooks become a hook of their own.
 */
import type { TSESTree } from '@typescript-eslint/types';
import { isProblem, problem, type Problem } from '../../../problems/problems.js';
import type { Node } from '../../../script/parser.js';
import { identifierEnd, type Reference, type Variable } from '../../../script/scopes.js';
import { bare, isFunction, nodeWithin, spanOf, walk, type FunctionNode } from '../../../script/walk.js';
import type { TypeName } from '../../../steps/cutting.js';
import type { GivenInput, Passed, UnifyRequest, Unifying } from '../../../steps/unifying.js';
import { applyEdits, type Edit, type Span } from '../../../text/edits.js';
import { indentAt, reindent } from '../../../text/layout.js';
import { without } from '../cut/cut.js';
import { isCommonJs, linkFiles } from '../cut/link.js';
import { habitsOf, type Habits } from '../cut/habits.js';
import { droppedImports, importPlace, placedImport, sourceFor, wholeLines } from '../cut/imports.js';
import type { Scene } from '../cut/scene.js';
import { findSharing } from '../cut/sharing.js';
import { withLeadingComments } from '../cut/write.js';
import { isTyped } from '../source.js';
import { foreignInputs } from './foreign.js';
import { nodeAt, writeSite } from './sites.js';
import { codeOf, unionOf } from './values.js';

type Form =
  | { readonly kind: 'function'; readonly node: FunctionNode }
  | { readonly kind: 'value'; readonly node: Node }
  | { readonly kind: 'hook'; readonly statements: readonly Node[] };

/** What the new function takes besides its own parameters. */
interface Argument {
  readonly name: string;
  readonly type: string | undefined;
  readonly typeNames: readonly TypeName[];
  readonly sites: readonly { readonly span: Span; readonly write: (name: string) => string }[];
  /** What each place passes. */
  readonly values: readonly string[];
  /** Where that stands now. */
  readonly kept: readonly (Span | undefined)[];
}

export function unifyLogic(given: UnifyRequest, scenes: readonly Scene[]): Unifying | Problem {
  let request = given;
  const reference = scenes[request.reference]!;
  const forms = scenes.map(formOf);
  const form = forms[request.reference]!;
  const at = { path: reference.request.file.path, span: reference.region };
  const foreign = foreignInputs(request, scenes);
  if (isProblem(foreign)) return foreign;
  const inputs = [...request.inputs, ...foreign];
  if (inputs.some((input) => input.values.includes(undefined) || input.parameters.length > 0))
    return problem('unify-logic', at, 'what differs is not there in all places');
  const esm = !isCommonJs(reference);
  if (scenes.some((scene) => isCommonJs(scene) === esm))
    return problem('unify-logic', at, 'some of the files are CommonJS modules and others are not');
  const trouble = scenes.map((scene, place) => troubleAt(scene, forms[place]!)).find((t) => t !== undefined);
  if (trouble) return problem('unify-logic', trouble.at, trouble.why);

  const captured = capturedArguments(request, scenes, inputs);
  if (isProblem(captured)) return captured;
  const differing = inputs.map((input) => inputArgument(request, scenes, input));
  const args = [...captured, ...differing].map((arg, i, all) => ({
    ...arg,
    name: freeName(arg.name, all.slice(0, i), reference, form),
  }));
  const results = form.kind === 'hook' ? resultsOf(request, scenes) : [];

  const moves = form.kind === 'function' && args.length === 0 && forms.every((f, i) => isTopLevel(scenes[i]!, f));
  if (moves && request.whenMoved) request = { ...request, ...request.whenMoved };
  const written = moves ? asItIs(request, reference, form) : writeFunction(request, reference, form, args, results);
  if (isProblem(written)) return written;
  const edits = new Map<string, Edit[]>();
  const gone = new Map<string, Span[]>();
  const locals = new Map<string, Set<string>>();
  const exportedAt = new Set<string>();
  const add = <T>(map: Map<string, T[]>, path: string, ...items: T[]) =>
    map.set(path, [...(map.get(path) ?? []), ...items]);
  for (const [place, scene] of scenes.entries()) {
    const { path } = scene.request.file;
    const own = forms[place]!;
    const local = moves ? declaredName(scene, own) : request.name;
    locals.set(path, (locals.get(path) ?? new Set()).add(local));
    if (moves) {
      const statement = statementAround(scene, own);
      if (statement.type === 'ExportDefaultDeclaration')
        return problem('unify-logic', { path, span: scene.region }, `"${local}" is the default export here`);
      if (isExported(statement)) exportedAt.add(`${path} ${local}`);
      const span = withLeadingComments(scene, spanOf(statement));
      add(edits, path, wholeLines(scene, span));
      add(gone, path, span);
    } else {
      const use = writeCall(request, scene, own, place, args, results);
      if (isProblem(use)) return use;
      add(edits, path, use);
      const keeps = args.flatMap((a) => a.kept[place] ?? []);
      add(gone, path, ...without(use, keeps));
    }
  }
  const { path } = reference.request.file;
  const moduleLevel = moduleNames(reference, written.spans, inputs);
  const types = written.types.flatMap((name) => reference.scopes.moduleScope.set.get(name) ?? []);
  const sharing = findSharing(reference, moduleLevel, gone.get(path)!, types);
  if (isProblem(sharing)) return sharing;
  if (sharing.circular !== undefined) return problem('unify-circular', at, sharing.circular);
  const habits = habitsOf(path, reference.text, reference.script.program);
  const module = linkFiles({
    scene: reference,
    habits,
    sharing,
    target: request.target!,
    goingSpans: gone.get(path)!,
    hostEdits: edits.get(path)!,
    hostLine: linesFor(request, reference, [...locals.get(path)!], habits, esm, exportedAt),
    imports: sharing.imports,
    typeVariables: types.filter((v) => !reference.scopes.isImport(v)),
    foreignTypes: written.foreign,
    sections: esm
      ? [written.text]
      : [written.text.replace(/^export /, ''), `module.exports = ${request.name}${habits.semi}`],
  });
  const result = new Map<string, readonly Edit[]>([[path, module.edits]]);
  for (const [other, list] of edits) {
    if (other === path) continue;
    const scene = scenes.find((s) => s.request.file.path === other)!;
    const own = habitsOf(other, scene.text, scene.script.program);
    const lines = [linesFor(request, scene, [...locals.get(other)!], own, esm, exportedAt)];
    const all = [...list, ...droppedImports(scene, gone.get(other)!)];
    result.set(other, placedImport(scene, importPlace(scene), all, lines, own.lineEnd));
  }
  const seam = { props: args.map(({ name, type }) => ({ name, ...(type ? { type } : {}) })), events: [], slots: [] };
  return { edits: result, files: module.files, name: request.name, seam, notes: [] };
}

/** `import { formatDate, formatDate as showDate } from './formatDate';` */
function linesFor(
  { name, target }: UnifyRequest,
  scene: Scene,
  locals: readonly string[],
  { pad, quote, semi, lineEnd }: Habits,
  esm: boolean,
  exportedAt: ReadonlySet<string>,
): string {
  const source = `${quote}${sourceFor(scene, scene.request.file.path, target!)}${quote}`;
  if (!esm) return locals.map((local) => `const ${local} = require(${source})${semi}`).join(lineEnd);
  const clause = (list: readonly string[]) =>
    `{${pad}${list.map((local) => (local === name ? name : `${name} as ${local}`)).join(', ')}${pad}}`;
  const { path } = scene.request.file;
  const passedOn = locals.filter((local) => exportedAt.has(`${path} ${local}`));
  const used = locals.filter((local) => !passedOn.includes(local) || isUsedInside(scene, local));
  return [
    ...(used.length > 0 ? [`import ${clause(used)} from ${source}${semi}`] : []),
    ...(passedOn.length > 0 ? [`export ${clause(passedOn)} from ${source}${semi}`] : []),
  ].join(lineEnd);
}

/** Whether anything in the file besides its own declaration reads a name. */
function isUsedInside(scene: Scene, name: string): boolean {
  const variable = scene.scopes.moduleScope.set.get(name);
  const declaration = variable?.identifiers[0];
  const statement = scene.script.program.body.find((s) => declaration && nodeWithin(declaration, spanOf(s)));
  return variable?.references.some((r) => !statement || !nodeWithin(r.identifier, spanOf(statement))) ?? false;
}

function formOf(scene: Scene): Form {
  const node = nodeAt(scene.script.program, scene.region);
  if (node && isFunction(node)) return { kind: 'function', node };
  if (node && !/Statement$|Declaration$/.test(node.type)) return { kind: 'value', node: bare(node) };
  return { kind: 'hook', statements: node ? [node] : scene.nodes };
}

function troubleAt(scene: Scene, form: Form): { at: { path: string; span: Span }; why: string } | undefined {
  const { path } = scene.request.file;
  for (const reference of scene.scopes.within(scene.region)) {
    const variable = reference.resolved;
    if (!variable || variable.defs.length === 0 || scene.declaredIn(variable, [scene.region])) continue;
    if (reference.isWrite())
      return { at: { path, span: spanOf(reference.identifier) }, why: `it writes "${variable.name}"` };
    const isLocal = !scene.scopes.isModuleLevel(variable);
    if (isLocal && reference.isValueReference && scene.scopes.isReassigned(variable))
      return { at: { path, span: spanOf(reference.identifier) }, why: `"${variable.name}" is written again elsewhere` };
    const declared = variable.identifiers[0];
    if (form.kind === 'hook' && isLocal && declared && declared.range[0] > scene.region.end)
      return { at: { path, span: spanOf(reference.identifier) }, why: `"${variable.name}" is declared further down` };
  }
  return undefined;
}

function isTopLevel(scene: Scene, form: Form): boolean {
  return statementAround(scene, form).range[0] >= 0 && declaredName(scene, form) !== '';
}

/** The statement at the top of the file that is nothing but this function. */
function statementAround(scene: Scene, form: Form): TSESTree.ProgramStatement {
  const node = form.kind === 'function' ? form.node : undefined;
  return scene.script.program.body.find((s) => node && s.range[0] <= node.range[0] && s.range[1] >= node.range[1])!;
}

/** The name that a function has at the top of its file; empty where it is no declaration of its own. */
function declaredName(scene: Scene, form: Form): string {
  return declaredId(scene, form)?.name ?? '';
}

function declaredId(scene: Scene, form: Form): TSESTree.Identifier | undefined {
  if (form.kind !== 'function') return undefined;
  const statement = statementAround(scene, form);
  const inner = 'declaration' in statement && statement.declaration ? (statement.declaration as Node) : statement;
  if (inner === form.node && form.node.type === 'FunctionDeclaration') return form.node.id ?? undefined;
  if (inner.type !== 'VariableDeclaration' || inner.declarations.length !== 1 || inner.kind !== 'const')
    return undefined;
  const declarator = inner.declarations[0]!;
  const isThis = declarator.init && bare(declarator.init) === form.node;
  return isThis && declarator.id.type === 'Identifier' ? declarator.id : undefined;
}

function isExported(statement: Node): boolean {
  return statement.type.startsWith('Export');
}

// Arguments

/** Variables of the host that the code reads. */
function capturedArguments(
  request: UnifyRequest,
  scenes: readonly Scene[],
  inputs: readonly GivenInput[],
): Argument[] | Problem {
  const scene = scenes[request.reference]!;
  const holes = inputs.flatMap((i) => i.sites.flatMap((s) => ('span' in s && s.span ? [s.span] : [])));
  const byVariable = new Map<Variable, Reference[]>();
  for (const reference of scene.scopes.within(scene.region)) {
    const variable = reference.resolved;
    if (!variable || variable.defs.length === 0 || !reference.isValueReference) continue;
    if (scene.declaredIn(variable, [scene.region]) || scene.scopes.isModuleLevel(variable)) continue;
    if (holes.some((span) => nodeWithin(reference.identifier, span))) continue;
    byVariable.set(variable, [...(byVariable.get(variable) ?? []), reference]);
  }
  const result: Argument[] = [];
  for (const [variable, references] of byVariable) {
    const spans = references.map((r) => ({ start: r.identifier.range[0], end: identifierEnd(r.identifier) }));
    const values = scenes.map((other, place) => {
      const texts = new Set(spans.map((span) => request.counterpart(place, span)).map((s) => s && other.slice(s)));
      return texts.size === 1 ? [...texts][0] : undefined;
    });
    if (values.includes(undefined))
      return problem('unify-crossing', { path: scene.request.file.path, span: spans[0]! }, variable.name);
    const answer = request.types?.typeAt(scene.request.file.path, spans[0]!);
    result.push({
      name: variable.name,
      type: answer?.text,
      typeNames: answer?.names ?? [],
      sites: references.map((r, i) => ({ span: spans[i]!, write: shorthandAware(scene, r.identifier) })),
      values: values as string[],
      kept: scenes.map((_, place) => request.counterpart(place, spans[0]!)),
    });
  }
  return result;
}

function shorthandAware(scene: Scene, identifier: Node): (name: string) => string {
  const parent = scene.scopes.parentOf(identifier);
  const own = identifier.type === 'Identifier' ? identifier.name : '';
  const shorthand = parent?.type === 'Property' && parent.shorthand;
  return (name) => (shorthand && name !== own ? `${own}: ${name}` : name);
}

function inputArgument(request: UnifyRequest, scenes: readonly Scene[], input: GivenInput): Argument {
  const scene = scenes[request.reference]!;
  const habits = habitsOf(scene.request.file.path, scene.text, scene.script.program);
  const context = { program: scene.script.program, text: scene.text, habits, reference: request.reference };
  const types = new Set<string>();
  const names: TypeName[] = [];
  input.values.forEach((value, place) => {
    const type = typeOf(request, value, place, names);
    if (type) types.add(type);
  });
  return {
    name: input.name,
    type: types.size > 0 ? unionOf([...types]) : undefined,
    typeNames: names,
    sites: input.sites.flatMap((site) => writeSite(context, input, site).sites),
    values: input.values.map((value, place) => codeOf(value, scenes[place]!.text, habits)),
    kept: input.values.map((value) => (value?.kind === 'code' ? value.span : undefined)),
  };
}

function typeOf(
  request: UnifyRequest,
  value: Passed | undefined,
  place: number,
  names: TypeName[],
): string | undefined {
  if (value?.kind === 'string') return 'string';
  if (value?.kind !== 'code') return 'boolean';
  const { file } = request.places[place]!;
  const answer = request.types?.typeAt(file.path, value.span);
  if (place === request.reference || answer?.names.every((n) => n.from !== 'here'))
    names.push(...(answer?.names ?? []));
  if (answer) return answer.text;
  return /^-?\d/.test(file.text.slice(value.span.start, value.span.end)) ? 'number' : undefined;
}

function freeName(wanted: string, before: readonly { readonly name: string }[], scene: Scene, form: Form): string {
  const taken = new Set(before.map((b) => b.name));
  for (const { resolved } of scene.scopes.within(scene.region))
    if (resolved && (scene.declaredIn(resolved, [scene.region]) || scene.scopes.isModuleLevel(resolved)))
      taken.add(resolved.name);
  if (form.kind === 'function') for (const p of form.node.params) if (p.type === 'Identifier') taken.add(p.name);
  const name = wanted === 'value' || /^[a-z]/i.test(wanted) ? wanted : 'value';
  if (!taken.has(name)) return name;
  for (let i = 2; ; i++) if (!taken.has(`${name}${i}`)) return `${name}${i}`;
}

// Writing

interface WrittenFunction {
  readonly text: string;
  /** Types of the reference's file that the text names. */
  readonly types: readonly string[];
  readonly foreign: readonly TypeName[];
  readonly spans: readonly Span[];
}

/** A declaration that needs nothing of its surroundings, with its comments; its name may be another one. */
function asItIs(request: UnifyRequest, scene: Scene, form: Form): WrittenFunction {
  const statement = statementAround(scene, form);
  const span = withLeadingComments(scene, spanOf(statement));
  const id = declaredId(scene, form)!;
  const inner = 'declaration' in statement && statement.declaration ? statement.declaration : statement;
  const edits: Edit[] = [{ start: statement.range[0], end: inner.range[0], text: 'export ' }];
  for (const reference of [{ identifier: id as Node }, ...(scene.scopes.variableOf(id)?.references ?? [])]) {
    const { identifier } = reference;
    const own = { start: identifier.range[0], end: identifierEnd(identifier) };
    if (nodeWithin(identifier, spanOf(statement)) && !edits.some((e) => e.start === own.start && e.end === own.end))
      edits.push({ ...own, text: request.name });
  }
  const moved = edits.map((e) => ({ start: e.start - span.start, end: e.end - span.start, text: e.text }));
  const spans = [spanOf(statement)];
  return {
    text: applyEdits(scene.text.slice(span.start, span.end), moved),
    types: typesIn(scene, spans),
    foreign: [],
    spans,
  };
}

function writeFunction(
  request: UnifyRequest,
  scene: Scene,
  form: Form,
  args: readonly Argument[],
  results: readonly string[],
): WrittenFunction | Problem {
  const { path } = scene.request.file;
  const habits = habitsOf(path, scene.text, scene.script.program);
  const typed = isTyped(path);
  const names: TypeName[] = [];
  const annotation = (type: string | undefined, from: readonly TypeName[]) => {
    if (!typed) return '';
    names.push(...from);
    return `: ${type ?? 'any'}`;
  };
  const extra = args.map((a) => a.name + annotation(a.type, a.typeNames));
  const edits = args.flatMap((a) => a.sites.map((s): Edit => ({ ...s.span, text: s.write(a.name) })));
  const rewritten = (span: Span) => {
    const inside = edits.filter((e) => e.start >= span.start && e.end <= span.end);
    const moved = inside.map((e) => ({ start: e.start - span.start, end: e.end - span.start, text: e.text }));
    return reindent(applyEdits(scene.text.slice(span.start, span.end), moved), indentAt(scene.text, span.start), '');
  };
  const nl = habits.lineEnd;
  const { indent, semi } = habits;
  const head = (isAsync: boolean, parameters: readonly string[], generics = '', result = '') =>
    `export ${isAsync ? 'async ' : ''}function ${request.name}${generics}(${parameters.join(', ')})${result}`;
  const block = (lines: string) => `{${nl}${lines}${nl}}`;
  const indented = (text: string) =>
    text
      .split('\n')
      .map((l) => (l.trim() ? indent + l : l))
      .join('\n');
  const spans: Span[] = [];
  let text: string;
  if (form.kind === 'function') {
    const { node } = form;
    const own = node.params.map((p) => {
      spans.push(spanOf(p));
      const plain = scene.slice(p);
      if (!typed || p.type !== 'Identifier' || p.typeAnnotation) return rewritten(spanOf(p));
      const answer = request.types?.typeAt(path, { start: p.range[0], end: identifierEnd(p) });
      return plain + annotation(answer?.text, answer?.names ?? []);
    });
    const flexible = node.params.some((p) => p.type !== 'Identifier' || p.optional);
    const parameters = flexible ? [...extra, ...own] : [...own, ...extra];
    const generics = node.typeParameters ? scene.slice(node.typeParameters) : '';
    const result = node.returnType ? scene.slice(node.returnType) : '';
    spans.push(spanOf(node.body));
    const isBlock = node.body.type === 'BlockStatement';
    const body = isBlock
      ? rewritten(spanOf(node.body))
      : block(`${indent}return ${rewritten(spanOf(node.body))}${semi}`);
    text = `${head(node.async, parameters, generics, result)} ${body}`;
  } else if (form.kind === 'value') {
    spans.push(spanOf(form.node));
    text = `${head(false, extra)} ${block(indented(`return ${rewritten(spanOf(form.node))}${semi}`))}`;
  } else {
    const statements = form.statements.map((s) => {
      const span = withLeadingComments(scene, spanOf(s));
      spans.push(spanOf(s));
      return indented(rewritten(span));
    });
    const list = results.length === 1 ? results[0]! : `{ ${results.join(', ')} }`;
    const last = results.length > 0 ? `${nl}${nl}${indent}return ${list}${semi}` : '';
    // A blank line stays where one was.
    const apart = form.statements.map((s, i) => {
      const before = form.statements[i - 1];
      return before && /\n[ \t]*\r?\n/.test(scene.text.slice(before.range[1], s.range[0])) ? nl : '';
    });
    text = `${head(false, extra)} ${block(statements.map((s, i) => apart[i]! + s).join(nl) + last)}`;
  }
  const isHere = names.filter((n) => n.from === 'here').map((n) => n.name);
  return { text, types: [...isHere, ...typesIn(scene, spans)], foreign: names.filter((n) => n.from !== 'here'), spans };
}

/** Types that the moved text names. */
function typesIn(scene: Scene, spans: readonly Span[]): string[] {
  return spans.flatMap((span) =>
    scene.scopes
      .within(span)
      .filter((r) => !r.isValueReference && r.resolved && scene.scopes.isModuleLevel(r.resolved))
      .map((r) => r.resolved!.name),
  );
}

/** Names that the statements declare and something outside of them reads, at any place; as the reference calls them. */
function resultsOf(request: UnifyRequest, scenes: readonly Scene[]): string[] {
  const reference = scenes[request.reference]!;
  const declared = declaredBy(reference);
  return declared
    .filter((variable) => {
      const id = variable.identifiers[0]!;
      const span = { start: id.range[0], end: identifierEnd(id) };
      return scenes.some((scene, place) => {
        const there = request.counterpart(place, span);
        const local = declaredBy(scene).find((v) => v.identifiers.some((i) => i.range[0] === there?.start));
        return local?.references.some((r) => !nodeWithin(r.identifier, scene.region)) ?? false;
      });
    })
    .map((v) => v.name);
}

/** Variables that the statements of a place declare themselves. */
function declaredBy(scene: Scene): Variable[] {
  const found = new Set<Variable>();
  for (const root of scene.nodes) {
    walk(root, (node) => {
      if (isFunction(node) && node !== root) return false;
      if (node.type === 'Identifier') {
        const variable = scene.scopes.variableOf(node);
        if (variable?.identifiers.includes(node)) found.add(variable);
      }
      return undefined;
    });
    if (root.type === 'FunctionDeclaration' && root.id) {
      const variable = scene.scopes.variableOf(root.id);
      if (variable) found.add(variable);
    }
  }
  return [...found].filter((v) => scene.declaredIn(v, [scene.region]));
}

/** What stands at a place instead. */
function writeCall(
  request: UnifyRequest,
  scene: Scene,
  form: Form,
  place: number,
  args: readonly Argument[],
  results: readonly string[],
): Edit | Problem {
  const values = args.map((a) => a.values[place]!);
  const { name } = request;
  const habits: Habits = habitsOf(scene.request.file.path, scene.text, scene.script.program);
  if (form.kind === 'value') return { ...spanOf(form.node), text: `${name}(${values.join(', ')})` };
  if (form.kind === 'function') {
    const { node } = form;
    const own: string[] = [];
    for (const p of node.params) {
      if (p.type === 'Identifier') own.push(p.name);
      else if (p.type === 'RestElement' && p.argument.type === 'Identifier') own.push(`...${p.argument.name}`);
      else
        return problem('unify-logic', { path: scene.request.file.path, span: spanOf(p) }, 'a parameter is taken apart');
    }
    const flexible = node.params.some((p) => p.type !== 'Identifier' || p.optional);
    const call = `${name}(${(flexible ? [...values, ...own] : [...own, ...values]).join(', ')})`;
    const isArrow = node.type === 'ArrowFunctionExpression';
    const inner = indentAt(scene.text, node.range[0]) + habits.indent;
    const nl = habits.lineEnd;
    const body = isArrow
      ? call
      : `{${nl}${inner}return ${call}${habits.semi}${nl}${indentAt(scene.text, node.range[0])}}`;
    return { ...spanOf(node.body), text: body };
  }
  const own = resultsAt(request, scene, place, results);
  const call = `${name}(${values.join(', ')})${habits.semi}`;
  const only = results.length === 1 ? own[0]! : undefined;
  const pattern = results.map((r, i) => (own[i] === r ? r : `${r}: ${own[i]!}`)).join(', ');
  const text = results.length === 0 ? call : `const ${only ?? `{ ${pattern} }`} = ${call}`;
  const span = withLeadingComments(scene, spanOf(form.statements[0]!));
  return { start: span.start, end: scene.region.end, text };
}

/** What a place calls the results. */
function resultsAt(request: UnifyRequest, scene: Scene, place: number, results: readonly string[]): string[] {
  const { file, span } = request.places[request.reference]!;
  return results.map((name) => {
    const pattern = new RegExp(`(?<![\\w$.])${name.replaceAll('$', '\\$')}(?![\\w$])`, 'g');
    for (const match of file.text.slice(span.start, span.end).matchAll(pattern)) {
      const start = span.start + match.index;
      const there = request.counterpart(place, { start, end: start + name.length });
      const declared = there && declaredBy(scene).find((v) => v.identifiers.some((i) => i.range[0] === there.start));
      if (declared) return declared.name;
    }
    return name;
  });
}

/** Module-level names that the moved text reads. */
function moduleNames(scene: Scene, spans: readonly Span[], inputs: readonly GivenInput[]): Variable[] {
  const holes = inputs.flatMap((i) => i.sites.flatMap((s) => ('span' in s && s.span ? [s.span] : [])));
  const found = new Set<Variable>();
  for (const span of spans) {
    for (const { identifier, resolved, isValueReference } of scene.scopes.within(span)) {
      if (!isValueReference || !resolved || resolved.defs.length === 0 || !scene.scopes.isModuleLevel(resolved))
        continue;
      if (!holes.some((hole) => nodeWithin(identifier, hole)) && !scene.declaredIn(resolved, spans))
        found.add(resolved);
    }
  }
  return [...found];
}
