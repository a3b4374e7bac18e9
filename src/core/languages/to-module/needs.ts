/** What leaving code needs of the top of its file: it goes along, and the file imports what it still uses of it. */
import { problem, type Problem } from '../../problems/problems.js';
import type { Node } from '../../script/parser.js';
import { isTypeOnly, type Variable } from '../../script/scopes.js';
import { nodeWithin, spanOf, walk } from '../../script/walk.js';
import type { Span } from '../../text/edits.js';
import { isOfFile, type ScriptHost } from './host.js';

export interface Needs {
  readonly imports: readonly Variable[];
  /** Statements at the top of the file, in its order. */
  readonly going: readonly Node[];
  /** Names of those that the file goes on using. */
  readonly kept: readonly Variable[];
  /** Names of those that it gave to others. */
  readonly given: readonly Variable[];
  /** Types that stay in the file and are imported from it. */
  readonly types: readonly Variable[];
}

/** `first`: declarations that are to go; `spans`: code that leaves. */
export function needsOf(
  host: ScriptHost,
  first: readonly Node[],
  spans: readonly Span[],
  typeNames: readonly string[],
): Needs | Problem {
  const imports = new Set<Variable>();
  const types = new Set<Variable>();
  const going = new Set<Node>(first);
  const wanted: Variable[] = [];
  const ask = (span: Span) => {
    for (const { resolved } of host.scopes.within(span))
      if (resolved && resolved.defs.length > 0 && isOfFile(host, resolved)) wanted.push(resolved);
  };
  for (const span of spans) ask(span);
  for (const statement of first) ask(spanOf(statement));
  for (const name of typeNames) {
    const type = host.scopes.moduleScope.set.get(name);
    if (type) wanted.push(type);
  }
  for (let variable = wanted.shift(); variable; variable = wanted.shift()) {
    if (host.scopes.isImport(variable)) {
      imports.add(variable);
      continue;
    }
    const statement = host.scopes.statementOf(variable);
    if (!statement || going.has(statement)) continue;
    if (isTypeOnly(variable)) {
      types.add(variable);
      continue;
    }
    const why = whyItStays(host, statement, variable, spans);
    if (why !== undefined) {
      const { path } = host.request.file;
      return problem('module-needs', { path, span: spanOf(variable.identifiers[0]!) }, variable.name, why);
    }
    going.add(statement);
    ask(spanOf(statement));
  }
  // A type that nothing else names goes along.
  const gone = () => [...spans, ...[...going].map(spanOf)];
  for (const type of [...types]) {
    const statement = host.scopes.statementOf(type)!;
    const isOnly = type.references.every((r) =>
      [...gone(), spanOf(statement)].some((s) => nodeWithin(r.identifier, s)),
    );
    if (!isOnly || statement.type.startsWith('Export') || typeNames.includes(type.name)) continue;
    types.delete(type);
    going.add(statement);
    for (const { resolved } of host.scopes.within(spanOf(statement)))
      if (resolved && resolved !== type && host.scopes.isImport(resolved)) imports.add(resolved);
      else if (resolved && resolved !== type && host.scopes.isModuleLevel(resolved)) types.add(resolved);
  }
  const statements = [...going].sort((a, b) => a.range[0] - b.range[0]);
  const declared = statements.flatMap((s) => host.scopes.declaredBy(s));
  const isUsed = (v: Variable) =>
    host.isShown(v.name) || v.references.some((r) => !gone().some((span) => nodeWithin(r.identifier, span)));
  return {
    imports: [...imports],
    going: statements,
    kept: declared.filter(isUsed),
    given: statements.filter((s) => s.type.startsWith('Export')).flatMap((s) => host.scopes.declaredBy(s)),
    types: [...types].filter((t) => !statements.includes(host.scopes.statementOf(t)!)),
  };
}

/** Why a declaration cannot stand in another module. */
export function whyItStays(
  host: ScriptHost,
  statement: Node,
  variable: Variable,
  spans: readonly Span[],
): string | undefined {
  const inner = declarationIn(statement);
  if (statement.type === 'ExportDefaultDeclaration') return 'it is the default export';
  if (!inner || !/^(?:Variable|Function|TSInterface|TSTypeAlias|TSEnum)Declaration$/.test(inner.type))
    return 'it is no plain declaration';
  if (host.scopes.isReassigned(variable)) return 'it is written again';
  if (spans.some((span) => span.start >= statement.range[0] && span.end <= statement.range[1]))
    return 'the code stands in it';
  let shows = false;
  walk(statement, (node) => {
    if (node.type === 'JSXElement' || node.type === 'JSXFragment') shows = true;
    return !shows;
  });
  if (shows) return 'it shows something';
  const attached = host.script.program.body.some(
    (s) =>
      s.type === 'ExpressionStatement' &&
      s.expression.type === 'AssignmentExpression' &&
      s.expression.left.type === 'MemberExpression' &&
      s.expression.left.object.type === 'Identifier' &&
      host.scopes.variableOf(s.expression.left.object) === variable,
  );
  return attached ? 'statements add to it' : undefined;
}

/** The declaration of a statement, with an `export` in front of it taken off. */
export function declarationIn(statement: Node): Node | undefined {
  return statement.type === 'ExportNamedDeclaration' ? (statement.declaration ?? undefined) : statement;
}
