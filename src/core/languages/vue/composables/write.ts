/**
 * Statements of script setup as a composable: they stand in a function of a module as they are, with the props, the refs and
 * the functions that they ask for under the names that these have, and give back what the component goes on using.
 */
import { isProblem, problem, type Problem } from '../../../problems/problems.js';
import { templateSpans } from '../../../script/literals.js';
import type { Node } from '../../../script/parser.js';
import { ScriptScopes, type Reference, type Variable } from '../../../script/scopes.js';
import { nodeWithin, spanOf } from '../../../script/walk.js';
import type { UnifyRequest, Unifying } from '../../../language/unifying.js';
import type { Edit, Span } from '../../../text/edits.js';
import { indentAt, relocated } from '../../../text/layout.js';
import { droppedImports, mergedImports, repeatedImports, sourceFor, wholeLines } from '../../imports.js';
import type { Habits } from '../cut/habits.js';
import { importingOf, withImport } from '../cut/host.js';
import { whyItStays } from './groups.js';
import { openSource, written, type Source } from './source.js';
import { typesOf, type TypedParameters } from './types.js';

export function writeComposable(request: UnifyRequest): Unifying | Problem {
  const source = openSource(request);
  if (isProblem(source)) return source;
  const { sfc, setup, span, habits, lowered } = source;
  const staying = source.statements.map((s) => ({ statement: s, why: whyItStays(s, sfc.text) })).find((s) => s.why);
  if (staying?.why !== undefined)
    return problem('hook-statements', { path: sfc.path, span: spanOf(staying.statement) }, staying.why);
  const asked = askedFor(source);
  if (isProblem(asked)) return asked;
  const results = resultsOf(source);
  if (isProblem(results)) return results;
  const typed = typesOf(source, asked.values, asked.types);
  const { pad, quote, semi } = habits;
  const call = `${request.name}(${typed.parameters.map((p) => p.value).join(', ')})`;
  const use = results.length > 0 ? `const { ${results.join(', ')} } = ${call}${semi}` : call + semi;
  const from = sourceFor(written(source), sfc.path, request.target!);
  const line = `import {${pad}${request.name}${pad}} from ${quote}${from}${quote}${semi}`;
  const host = { text: sfc.text, lowered, request: { file: { path: sfc.path } } };
  const dropped = droppedImports(importingOf(host), [span, ...typed.moving]);
  const leaving = typed.moving.map((part) => beside(span, wholeLines(sfc.text, part)));
  const edits: Edit[] = [
    { ...span, text: use },
    ...leaving,
    ...typed.exported.map((at) => ({ start: at, end: at, text: 'export ' })),
    ...withImport(host, setup.inner, line, dropped, habits),
    ...blankEnd(source, leaving),
  ];
  return {
    edits: new Map([[sfc.path, edits]]),
    files: new Map([[request.target!, moduleText(source, typed, results)]]),
    name: request.name,
    seam: {
      props: typed.parameters.map(({ name, type }) => ({ name, ...(type === undefined ? {} : { type }) })),
      events: [],
      slots: [],
    },
    results,
    notes: typed.notes,
  };
}

/** An edit without what it has in common with a span. */
function beside(span: Span, edit: Edit): Edit {
  if (edit.end <= span.start || edit.start >= span.end) return edit;
  return edit.start < span.start ? { ...edit, end: span.start } : { ...edit, start: span.end };
}

/** Blank lines at the end of the script, in front of what was brought away from there. */
function blankEnd({ sfc, setup, span, habits }: Source, leaving: readonly Edit[]): Edit[] {
  const { start, end } = setup.inner;
  const blank = /\s*$/.exec(sfc.text.slice(start, end))![0];
  const at = end - blank.length;
  return at >= span.end && leaving.every((e) => e.end < at) && blank.split('\n').length > 2
    ? [{ start: at, end, text: habits.lineEnd }]
    : [];
}

interface Asked {
  readonly values: ReadonlyMap<string, readonly Node[]>;
  /** Types of the file. */
  readonly types: readonly Variable[];
}

/** What the statements use of the file beside its imports. */
function askedFor(source: Source): Asked | Problem {
  const { sfc, scopes, span } = source;
  const plain = sfc.script && ScriptScopes.of(sfc.script.script);
  const values = new Map<string, Node[]>();
  const types = new Set<Variable>();
  for (const reference of scopes.within(span)) {
    const { identifier, resolved } = reference;
    const { name } = identifier as { readonly name: string };
    const isKnown = resolved !== null && resolved.defs.length > 0;
    const other = isKnown ? undefined : plain?.moduleScope.set.get(name);
    if (!other && (!isKnown || isInside(resolved, span) || scopes.isImport(resolved))) continue;
    const why = other ? whyNotOfOther(reference, other, plain!) : whyNot(reference, resolved!, source);
    if (why !== undefined) return problem('hook-statements', { path: sfc.path, span: spanOf(identifier) }, why);
    if (!reference.isValueReference) types.add(resolved!);
    else values.set(name, [...(values.get(name) ?? []), identifier]);
  }
  return { values, types: [...types] };
}

/** Why the statements cannot be handed a name of their own script. */
function whyNot(reference: Reference, variable: Variable, { scopes, lowered }: Source): string | undefined {
  const { name } = variable;
  const { propsPattern } = lowered.definition;
  if (!reference.isValueReference) return undefined;
  if (reference.isWrite()) return `"${name}" is written, and stands outside of them`;
  if (scopes.isReassigned(variable)) return `"${name}" is written again elsewhere`;
  return propsPattern && isInside(variable, spanOf(propsPattern))
    ? `the prop "${name}" was taken out of the props, and would be handed over as it is once`
    : undefined;
}

/** Why the statements cannot be handed a name of the script beside theirs. */
function whyNotOfOther(reference: Reference, variable: Variable, scopes: ScriptScopes): string | undefined {
  const { name } = variable;
  if (scopes.isImport(variable)) return `"${name}" is imported by the other script of the file`;
  if (!reference.isValueReference) return `"${name}" is a type of the other script of the file`;
  return reference.isWrite() || scopes.isReassigned(variable) ? `"${name}" is written again elsewhere` : undefined;
}

function isInside({ identifiers }: Variable, span: Span): boolean {
  return identifiers.some((id) => nodeWithin(id, span));
}

/** Names that the statements declare and something else of the file uses, its template and styles among it. */
function resultsOf({ sfc, scopes, span, lowered }: Source): string[] | Problem {
  const textIn = (parts: readonly (Span | undefined)[]) =>
    parts.map((part) => (part ? sfc.text.slice(part.start, part.end) : '')).join('\n');
  const byName = new Set([
    ...[...textIn([sfc.template]).matchAll(/\sref="([^"]+)"/g)].map(([, name]) => name),
    ...[...textIn(sfc.styles).matchAll(/v-bind\(\s*['"]?\s*([\w$]+)/g)].map(([, name]) => name),
  ]);
  const shown = new Set(
    lowered.scopes.references
      .filter((r) => r.resolved && isInside(r.resolved, span) && !nodeWithin(r.identifier, span))
      .map((r) => r.resolved!.name),
  );
  const results: string[] = [];
  for (const variable of scopes.moduleScope.variables.filter((v) => isInside(v, span))) {
    const { name, references } = variable;
    const isRead = references.some((r) => !nodeWithin(r.identifier, span));
    if (!isRead && !shown.has(name) && !byName.has(name)) continue;
    const isType = variable.isTypeVariable && !variable.isValueVariable;
    if (isType || scopes.isReassigned(variable)) {
      const what = isType ? 'a type' : 'no constant';
      const at = { path: sfc.path, span: spanOf(variable.identifiers[0]!) };
      return problem('hook-statements', at, `"${name}" is ${what}, and the rest of the file uses it`);
    }
    results.push(name);
  }
  return results;
}

function moduleText(source: Source, typed: TypedParameters, results: readonly string[]): string {
  const { sfc, scopes, span, habits, request, statements } = source;
  const { lineEnd: nl, indent, semi } = habits;
  const used = [span, ...typed.moving].flatMap((part) =>
    scopes.within(part).flatMap(({ resolved }) => (resolved && scopes.isImport(resolved) ? [resolved] : [])),
  );
  const imports = [...repeatedImports(written(source), [...new Set(used)], request.target!, habits), ...typed.imports];
  const fixed = statements.flatMap(templateSpans);
  const renamed = typed.parameters.flatMap(({ name, reads }) => reads.map((read) => ({ ...spanOf(read), text: name })));
  const moved = (part: Span, to: string) =>
    relocated(sfc.text, part, to, renamed, fixed, indentAt(sfc.text, part.start));
  const returned = results.length > 0 ? `${nl}${indent}return { ${results.join(', ')} }${semi}${nl}` : '';
  return [
    imports.length > 0 ? mergedImports(imports, habits).join(nl) + nl + nl : '',
    ...typed.moving.map((part) => moved(part, '').trimStart() + nl + nl),
    `${signature(request.name, typed, habits)} {${nl}`,
    `${indent}${moved(span, indent).trimStart()}${nl}`,
    returned,
    `}${nl}`,
  ].join('');
}

/** In one line, or a line for each parameter where that is too long. */
function signature(
  name: string,
  { parameters }: TypedParameters,
  { width, indent, comma, lineEnd: nl }: Habits,
): string {
  const given = parameters.map((p) => p.name + (p.type === undefined ? '' : `: ${p.type}`));
  const line = `export function ${name}(${given.join(', ')})`;
  if (given.length < 2 || `${line} {`.length <= width) return line;
  return `export function ${name}(${nl}${given.map((p) => indent + p).join(`,${nl}`)}${comma}${nl})`;
}
