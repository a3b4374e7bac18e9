/** The text of a shared function or hook, and of the calls that take the place of what it was made of. */
import { problem, type Problem } from '../../../problems/problems.js';
import type { Node } from '../../../script/parser.js';
import { identifierEnd, type Reference, type Variable } from '../../../script/scopes.js';
import { isFunction, nodeWithin, spanOf, walk } from '../../../script/walk.js';
import type { TypeName } from '../../../language/cutting.js';
import type { UnifyRequest } from '../../../language/unifying.js';
import { applyEdits, type Edit, type Span } from '../../../text/edits.js';
import { indentAt, reindent } from '../../../text/layout.js';
import { habitsIn, type Habits } from '../cut/habits.js';
import type { Scene } from '../cut/scene.js';
import { withLeadingComments } from '../cut/write.js';
import { isTyped } from '../source.js';
import type { Argument } from './logic-arguments.js';
import { declaredId, statementAround, type Form } from './logic-forms.js';

export interface WrittenFunction {
  readonly text: string;
  /** Types of the reference's file that the text names. */
  readonly types: readonly string[];
  readonly foreign: readonly TypeName[];
  readonly spans: readonly Span[];
}

/** A declaration that needs nothing of its surroundings, with its comments; its name may be another one. */
export function asItIs(request: UnifyRequest, scene: Scene, form: Form): WrittenFunction {
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

export function writeFunction(
  request: UnifyRequest,
  scene: Scene,
  form: Form,
  args: readonly Argument[],
  results: readonly string[],
): WrittenFunction | Problem {
  const { path } = scene.request.file;
  const habits = habitsIn(scene);
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
export function resultsOf(request: UnifyRequest, scenes: readonly Scene[]): string[] {
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
export function declaredBy(scene: Scene): Variable[] {
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
export function writeCall(
  request: UnifyRequest,
  scene: Scene,
  form: Form,
  place: number,
  args: readonly Argument[],
  results: readonly string[],
): Edit | Problem {
  const values = args.map((a) => a.values[place]!);
  const { name } = request;
  const habits: Habits = habitsIn(scene);
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
  const isWritten = (r: Reference) => r.isWrite() && !nodeWithin(r.identifier, scene.region);
  const isAssigned = declaredBy(scene).some((v) => own.includes(v.name) && v.references.some(isWritten));
  const text = results.length === 0 ? call : `${isAssigned ? 'let' : 'const'} ${only ?? `{ ${pattern} }`} = ${call}`;
  const span = withLeadingComments(scene, spanOf(form.statements[0]!));
  return { start: span.start, end: scene.region.end, text };
}

/** What a place calls the results. */
function resultsAt(request: UnifyRequest, scene: Scene, place: number, results: readonly string[]): string[] {
  const { file, span } = request.places[request.reference]!;
  return results.map((name) => {
    const pattern = new RegExp(`(?<![\\w$]|(?:^|[^.])\\.)${name.replaceAll('$', '\\$')}(?![\\w$])`, 'g');
    for (const match of file.text.slice(span.start, span.end).matchAll(pattern)) {
      const start = span.start + match.index;
      const there = request.counterpart(place, { start, end: start + name.length });
      const declared = there && declaredBy(scene).find((v) => v.identifiers.some((i) => i.range[0] === there.start));
      if (declared) return declared.name;
    }
    return name;
  });
}
