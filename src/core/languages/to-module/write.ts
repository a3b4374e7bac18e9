/** The two texts: the module with what came to it, and the file that it left. */
import type { TSESTree } from '@typescript-eslint/types';
import { problem, type Problem } from '../../problems/problems.js';
import { textOf } from '../../files/files.js';
import type { TypeName } from '../../language/cutting.js';
import type { Ports } from '../../language/ports.js';
import type { ProjectView } from '../../language/project.js';
import type { Node } from '../../script/parser.js';
import { DefinitionType, ScriptScopes, type Variable } from '../../script/scopes.js';
import { templateSpans } from '../../script/literals.js';
import { isScriptError } from '../../script/parser.js';
import { nodeWithin, spanOf } from '../../script/walk.js';
import { applyEdits, type Edit, type Span } from '../../text/edits.js';
import { relocated, withComments } from '../../text/layout.js';
import {
  addedImports,
  droppedImports,
  importsOf,
  repeatedImports,
  rebasedLoads,
  rebasedSource,
  removedLines,
  sourceFor,
  type Importing,
  type WantedImport,
} from '../imports.js';
import type { Given } from './given.js';
import type { ScriptHost } from './host.js';
import { declarationIn, type Needs } from './needs.js';
import type { Piece } from './piece.js';

/** The text of a declaration as the module has it. */
export function declarationText(host: ScriptHost, statement: Node, isGiven: boolean, target: string): string {
  const span = withComments(host.text, spanOf(statement));
  const inner = declarationIn(statement) ?? statement;
  const isOpen = statement.type.startsWith('Export');
  const head = isGiven && !isOpen ? [{ start: inner.range[0], end: inner.range[0], text: 'export ' }] : [];
  const loads = rebasedLoads(statement, host.request.file.path, target);
  return relocated(host.text, span, '', [...head, ...loads], templateSpans(statement));
}

/** The function that the code becomes. */
export function functionText(host: ScriptHost, name: string, piece: Piece, given: Given, target: string): string {
  const { lineEnd: nl, indent, semi, pad } = host.habits;
  const { statements, tail, results, of } = piece;
  const all = [...statements, ...(tail ? [tail] : [])];
  const edits = [...given.edits, ...all.flatMap((node) => rebasedLoads(node, host.request.file.path, target))];
  const lines = statements.map((statement, i) => {
    const span = withComments(host.text, spanOf(statement));
    const before = statements[i - 1];
    // A blank line stays where one was.
    const apart = before && /\n[ \t]*\r?\n/.test(host.text.slice(before.range[1], span.start)) ? nl : '';
    return apart + indent + relocated(host.text, span, indent, edits, templateSpans(statement));
  });
  const only = results.length === 1 ? results[0]!.name : undefined;
  const returned = of
    ? undefined
    : tail
      ? relocated(host.text, spanOf(tail), indent, edits, templateSpans(tail))
      : (only ?? (results.length > 0 ? `{${pad}${results.map((v) => v.name).join(', ')}${pad}}` : undefined));
  const body = returned === undefined ? lines : [...lines, `${indent}return ${returned}${semi}`];
  const isAsync = piece.waits ? 'async ' : '';
  return `export ${isAsync}function ${name}(${parametersText(host, given)}) {${nl}${body.join(nl)}${nl}}`;
}

/** One record where there are more than three. */
function parametersText({ typed, habits: { pad } }: ScriptHost, { parameters }: Given): string {
  const names = parameters.map((p) => p.name).join(', ');
  const withTypes = parameters.map((p) => `${p.name}: ${p.type ?? 'any'}`);
  if (parameters.length <= 3) return typed ? withTypes.join(', ') : names;
  return `{${pad}${names}${pad}}${typed ? `: { ${withTypes.join('; ')} }` : ''}`;
}

/** The call that stands there now. */
export function callText({ habits: { pad } }: ScriptHost, name: string, { parameters, values }: Given): string {
  if (parameters.length <= 3) return `${name}(${values.join(', ')})`;
  const entries = parameters.map((p, i) => (p.name === values[i] ? p.name : `${p.name}: ${values[i]!}`));
  return `${name}({${pad}${entries.join(', ')}${pad}})`;
}

/** What the file takes by `require`, beside its imports, as the module writes it. */
export function requiresFor(host: ScriptHost, { imports }: Needs, target: string): string[] {
  const required = imports.filter((v) => v.defs[0]?.type === DefinitionType.Variable);
  return required.length > 0 ? [repeatedImports(host, required, target, host.habits).join(host.habits.lineEnd)] : [];
}

/** What the module is to import, in its own terms. */
export function importsFor(
  host: ScriptHost,
  needs: Needs,
  foreign: readonly TypeName[],
  target: string,
): WantedImport[] {
  const { path } = host.request.file;
  const wanted = needs.imports.flatMap((variable) => importOf(host, variable, target));
  for (const type of needs.types)
    wanted.push({ source: sourceFor(host, target, path), imported: type.name, local: type.name, typeOnly: true });
  for (const { name, from } of foreign) {
    if (from === 'here' || wanted.some((w) => w.local === name)) continue;
    const source = 'module' in from ? from.module : sourceFor(host, target, from.path);
    wanted.push({ source, imported: name, local: name, typeOnly: true });
  }
  return wanted;
}

function importOf(host: ScriptHost, variable: Variable, target: string): WantedImport[] {
  const definition = variable.defs[0]!;
  const statement = definition.parent as Node | undefined;
  if (statement?.type !== 'ImportDeclaration') return [];
  const specifier = definition.node as TSESTree.ImportClause;
  const imported =
    specifier.type === 'ImportDefaultSpecifier'
      ? 'default'
      : specifier.type === 'ImportNamespaceSpecifier'
        ? '*'
        : specifier.imported.type === 'Identifier'
          ? specifier.imported.name
          : specifier.imported.value;
  const isType =
    statement.importKind === 'type' || (specifier.type === 'ImportSpecifier' && specifier.importKind === 'type');
  const source = rebasedSource(statement.source.value, host.request.file.path, target);
  return [{ source, imported, local: variable.name, typeOnly: isType }];
}

/** The module, new or with what comes to it at its end. */
export function moduleText(
  project: ProjectView,
  ports: Ports,
  host: ScriptHost,
  target: string,
  wanted: readonly WantedImport[],
  sections: readonly string[],
  names: readonly string[],
): string | Problem {
  const { lineEnd: nl } = host.habits;
  const known = textOf(project.files, target);
  if (known === undefined)
    return [importsOf(wanted, host.habits).join(nl), ...sections].filter(Boolean).join(nl + nl) + nl;
  const script = ports.script.parse(known, /\.[cm]?tsx?$/.test(target) ? 'ts' : 'js');
  if (isScriptError(script)) return problem('file-syntax', { path: target }, script.message);
  const scopes = ScriptScopes.of(script);
  const module: Importing = { text: known, script, scopes, request: { file: { path: target } } };
  const isOwn = ({ source }: WantedImport) => {
    const from = project.resolver.resolve(target, source);
    return 'path' in from && from.path === target;
  };
  // A name that the file had from this very module is its own here.
  const foreign = wanted.filter((entry) => !isOwn(entry));
  const there = (name: string) => scopes.visibleIn(scopes.moduleScope, name);
  const clash = foreign.find((entry) => there(entry.local) && !isSameImport(there(entry.local)!, entry));
  const taken = clash?.local ?? names.find((name) => there(name));
  if (taken !== undefined) return problem('module-taken', { path: target }, taken);
  const missing = foreign.filter((entry) => !there(entry.local));
  const text = applyEdits(known, addedImports(module, missing, host.habits, []));
  return [text.trimEnd(), ...sections].filter(Boolean).join(nl + nl) + nl;
}

function isSameImport(variable: Variable, { source, imported }: WantedImport): boolean {
  const definition = variable.defs[0]!;
  const statement = definition.parent as Node | undefined;
  if (statement?.type !== 'ImportDeclaration' || statement.source.value !== source) return false;
  const specifier = definition.node as TSESTree.ImportClause;
  if (specifier.type !== 'ImportSpecifier')
    return imported === (specifier.type === 'ImportDefaultSpecifier' ? 'default' : '*');
  return specifier.imported.type === 'Identifier' && specifier.imported.name === imported;
}

/** Edits of the file: what left is gone, and what it goes on using of it is imported. `edits`: in the place of the code itself. */
export function hostEdits(
  host: ScriptHost,
  edits: readonly Edit[],
  gone: readonly Span[],
  needs: Needs,
  target: string,
  used: readonly string[],
): Edit[] {
  const { path } = host.request.file;
  const { quote, semi, pad } = host.habits;
  const source = sourceFor(host, path, target);
  const leaving = needs.going.map((s) => withComments(host.text, spanOf(s)));
  const all = [...gone, ...leaving];
  const names = [
    ...new Set([
      ...used,
      ...needs.kept.filter((v) => !needs.given.includes(v) || isRead(host, v, all)).map((v) => v.name),
    ]),
  ];
  const kinds = new Map(needs.kept.map((v) => [v.name, v.isTypeVariable && !v.isValueVariable]));
  const wanted = names.map((name): WantedImport => ({
    source,
    imported: name,
    local: name,
    typeOnly: kinds.get(name) ?? false,
  }));
  const passedOn = needs.given.map((v) => v.name);
  const removed = removedLines(host.text, leaving);
  const exported = needs.types.flatMap((type) => {
    const statement = host.scopes.statementOf(type);
    return statement && !statement.type.startsWith('Export')
      ? [{ start: statement.range[0], end: statement.range[0], text: 'export ' }]
      : [];
  });
  const dropped = droppedImports(host, all);
  const imports = addedImports(host, wanted, host.habits, dropped);
  const line = `export {${pad}${passedOn.join(', ')}${pad}} from ${quote}${source}${quote}${semi}`;
  if (passedOn.length === 0) return [...edits, ...removed, ...exported, ...imports];
  // Where nothing is imported, the line takes the room of what left.
  const hasImports = imports.length > 0 || host.script.program.body.some((s) => s.type === 'ImportDeclaration');
  if (hasImports) return [...edits, ...removed, ...exported, ...handedOn(host, line, imports)];
  const { lineEnd: nl } = host.habits;
  const [first, ...others] = removed;
  const isLast = first!.end >= host.text.trimEnd().length;
  return [...edits, { ...first!, text: line + (isLast ? nl : nl + nl) }, ...others, ...exported];
}

function isRead(host: ScriptHost, variable: Variable, gone: readonly Span[]): boolean {
  return (
    host.isShown(variable.name) || variable.references.some((r) => !gone.some((span) => nodeWithin(r.identifier, span)))
  );
}

/** The edits of imports with a line behind what they add. */
function handedOn(host: ScriptHost, line: string, imports: readonly Edit[]): Edit[] {
  const { lineEnd: nl } = host.habits;
  const last = host.script.program.body.filter((s) => s.type === 'ImportDeclaration').at(-1);
  const at = last ? last.range[1] : (host.script.program.body[0]?.range[0] ?? 0);
  const text = last ? nl + line : line + nl + nl;
  const same = imports.findIndex((e) => e.start === at && e.end === at);
  if (same >= 0) return imports.map((e, i) => (i === same ? { ...e, text: e.text + text } : e));
  const around = imports.findIndex((e) => e.start <= at && at < e.end);
  // Behind the lines that took its room, and before the blank one.
  const behind = (text: string) =>
    text.endsWith(nl + nl) ? `${text.slice(0, -nl.length)}${line}${nl}${nl}` : `${text}${line}${nl}`;
  if (around >= 0) return imports.map((e, i) => (i === around ? { ...e, text: behind(e.text) } : e));
  return [...imports, { start: at, end: at, text }];
}
