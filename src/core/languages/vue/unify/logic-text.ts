/** The module of a function that several Vue scripts share. */
import type { ScriptScopes } from '../../../script/scopes.js';
import { nodeAt, nodeWithin, spanOf, within, type FunctionNode } from '../../../script/walk.js';
import type { UnifyRequest } from '../../../language/unifying.js';
import { applyEdits, type Edit, type Span } from '../../../text/edits.js';
import { indentAt, indentUnitOf, reindent, withComments } from '../../../text/layout.js';
import { repeatedImports, sourceFor } from '../../imports.js';
import { habitsOf, type Habits } from '../cut/habits.js';
import type { Sfc } from '../sfc.js';
import { isItself, type Argument } from './logic-arguments.js';
import { written, type LogicPlace } from './logic-place.js';
import { asksThis } from '../../../script/this-members.js';

export interface TypedArgument {
  readonly name: string;
  /** Undefined where it is not known. */
  readonly type: string | undefined;
  /** Imports that the type needs. */
  readonly imports: readonly string[];
}

export function typesOfArguments(
  { types, target, project }: UnifyRequest,
  place: LogicPlace,
  args: readonly Argument[],
): TypedArgument[] {
  const { sfc } = place;
  const isTyped = sfc.syntax.startsWith('ts');
  const { pad, quote, semi } = habitsOf(sfc, project.files);
  return args.map(({ name, reads }) => {
    const answer = isTyped ? types?.typeAt(sfc.path, reads[0]!) : undefined;
    // A type of the component's own file cannot be imported from there.
    const isKnown =
      answer && !/^(?:unknown|never|any)$/.test(answer.text) && !answer.names.some((n) => n.from === 'here');
    if (!isKnown) return { name, type: undefined, imports: [] };
    const imports = answer.names.flatMap(({ name: type, from }) => {
      if (from === 'here') return [];
      const source = 'module' in from ? from.module : sourceFor(written(place), target!, from.path);
      return [`import type {${pad}${type}${pad}} from ${quote}${source}${quote}${semi}`];
    });
    return { name, type: answer.text, imports };
  });
}

export function moduleText(
  request: UnifyRequest,
  place: LogicPlace,
  args: readonly Argument[],
  typed: readonly TypedArgument[],
): string {
  const { fn, sfc, scopes } = place;
  const habits = habitsOf(sfc, request.project.files);
  const nl = habits.lineEnd;
  const holes = args.flatMap((a) => a.reads);
  const used = scopes
    .within(spanOf(fn))
    .filter((r) => !holes.some((hole) => nodeWithin(r.identifier, hole)))
    .flatMap((r) => (r.resolved && scopes.isImport(r.resolved) ? [r.resolved] : []));
  const imports = [
    ...repeatedImports(written(place), [...new Set(used)], request.target!, habits),
    ...typed.flatMap((t) => t.imports),
  ];
  const isAsItIs = 'statement' in place.holder && args.length === 0;
  const text = isAsItIs
    ? declarationText(request, place)
    : `export ${functionText(request, place, args, typed, habits)}`;
  return [...new Set(imports)].join(nl) + (imports.length > 0 ? nl + nl : '') + text + nl;
}

/** A declaration that moves, with the comments above it; its name may be another one. */
function declarationText({ name }: UnifyRequest, place: LogicPlace): string {
  const { sfc, scopes, holder } = place;
  if (!('statement' in holder)) return '';
  const span = withComments(sfc.text, spanOf(holder.statement));
  const own = scopes.moduleScope.set.get(holder.name);
  const all = [...(own?.identifiers ?? []), ...(own?.references.map((r) => r.identifier) ?? [])].map(spanOf);
  const renamed = new Map(all.filter((at) => within(at, span)).map((at) => [at.start, { ...at, text: name }]));
  const at = holder.statement.range[0];
  const edits = [{ start: at, end: at, text: 'export ' }, ...renamed.values()];
  const inside = edits.map((e) => ({ ...e, start: e.start - span.start, end: e.end - span.start }));
  return reindent(applyEdits(sfc.text.slice(span.start, span.end), inside), indentAt(sfc.text, at), '');
}

function functionText(
  request: UnifyRequest,
  place: LogicPlace,
  args: readonly Argument[],
  typed: readonly TypedArgument[],
  habits: Habits,
): string {
  const { fn, sfc, scopes, holder, block } = place;
  const indent = indentUnitOf(sfc.text.slice(block.inner.start, block.inner.end));
  const isTyped = sfc.syntax.startsWith('ts');
  const edits = args.flatMap((a) => a.reads.map((span): Edit => ({ ...span, text: readAs(scopes, span, fn, a.name) })));
  // It calls itself by its new name.
  if ('statement' in holder)
    for (const { identifier, resolved } of scopes.within(spanOf(fn.body)))
      if (resolved && isItself(place, resolved)) edits.push({ ...spanOf(identifier), text: request.name });
  const rewritten = (span: Span) => {
    const inside = edits.filter((e) => within(e, span));
    const moved = inside.map((e) => ({ start: e.start - span.start, end: e.end - span.start, text: e.text }));
    return reindent(applyEdits(sfc.text.slice(span.start, span.end), moved), indentAt(sfc.text, fn.range[0]), '');
  };
  const own = fn.params.map((p, i) => {
    const text = rewritten(spanOf(p));
    return isTyped && p.type === 'Identifier' && !p.typeAnnotation ? `${text}: ${ownType(request, sfc, fn, i)}` : text;
  });
  const extra = typed.map(({ name, type }) => name + (isTyped ? `: ${type ?? 'any'}` : ''));
  const rest = fn.params.some((p) => p.type === 'RestElement');
  const parameters = [
    ...(isTyped && asksThis(fn) ? ['this: any'] : []),
    ...(rest ? [...extra, ...own] : [...own, ...extra]),
  ];
  const generics = fn.typeParameters ? sfc.text.slice(...fn.typeParameters.range) : '';
  const result = fn.returnType ? sfc.text.slice(...fn.returnType.range) : '';
  const head = `${fn.async ? 'async ' : ''}function${fn.generator ? '*' : ''} ${request.name}${generics}(${parameters.join(', ')})${result}`;
  const nl = habits.lineEnd;
  const body = rewritten(spanOf(fn.body));
  return fn.body.type === 'BlockStatement'
    ? `${head} ${body}`
    : `${head} {${nl}${indent}return ${body}${habits.semi}${nl}}`;
}

/** `{ size }` that is handed `width` is `{ size: width }`. */
function readAs(scopes: ScriptScopes, span: Span, fn: FunctionNode, name: string): string {
  const node = nodeAt(fn, span);
  const parent = node && scopes.parentOf(node);
  const own = node?.type === 'Identifier' ? node.name : '';
  return parent?.type === 'Property' && parent.shorthand && own !== name ? `${own}: ${name}` : name;
}

function ownType({ types }: UnifyRequest, { path }: Sfc, fn: FunctionNode, index: number): string {
  const answer = types?.typeAt(path, spanOf(fn.params[index]!));
  return answer && answer.names.length === 0 && !/^(?:unknown|never)$/.test(answer.text) ? answer.text : 'any';
}
