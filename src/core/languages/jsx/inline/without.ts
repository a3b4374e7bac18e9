/** A file after one of its components has gone. */
import type { TSESTree } from '@typescript-eslint/types';
import type { Node } from '../../../script/parser.js';
import { nodeWithin, spanOf } from '../../../script/walk.js';
import { withComments } from '../../../text/layout.js';
import type { Edit } from '../../../text/edits.js';
import { droppedImports, wholeLines } from '../../imports.js';
import type { Definition } from './definition.js';

/** `brought`: names that have gone along. `shared`: other files take something else from the file. */
export function withoutComponent(
  definition: Definition,
  name: string,
  brought: ReadonlySet<string>,
  shared: boolean,
): readonly Edit[] | 'nothing' {
  const { script, text, scopes, path } = definition;
  const gone = new Set(script.program.body.filter((s) => s === definition.statement || isAbout(s, name)));
  for (const statement of script.program.body)
    if (declaredNames(definition, statement).some((n) => brought.has(n))) gone.add(statement);
  for (let again = true; again;) {
    const unused = script.program.body.filter(
      (s) => !gone.has(s) && !(shared && s.type === 'ExportNamedDeclaration') && isUnusedType(definition, s, gone),
    );
    for (const statement of unused) gone.add(statement);
    again = unused.length > 0;
  }
  const isLeft = (s: TSESTree.ProgramStatement) =>
    !gone.has(s) && s.type !== 'ImportDeclaration' && !('directive' in s && s.directive);
  if (!script.program.body.some(isLeft)) return 'nothing';
  const spans = [...gone].map((s) => withComments(text, spanOf(s)));
  const scene = { text, script, scopes, request: { file: { path } } };
  return [
    ...merged(
      text,
      spans.map((span) => wholeLines(text, span)),
    ),
    ...droppedImports(scene, spans),
  ];
}

/** Deletions of neighbours, each of which takes the blank lines between them, as one. */
function merged(text: string, deletions: readonly Edit[]): Edit[] {
  const result: Edit[] = [];
  for (const edit of [...deletions].sort((a, b) => a.start - b.start)) {
    const last = result.at(-1);
    if (last && edit.start < last.end) result[result.length - 1] = { ...last, end: Math.max(last.end, edit.end) };
    else result.push(edit);
  }
  // No blank line is left at the end of the file.
  for (let end = result.at(-1); end?.end === text.length; end = result.at(-1)) {
    const start = Math.min(end.start, text.slice(0, end.start).trimEnd().length);
    const before = result.at(-2);
    if (before && before.end >= start) result.splice(-2, 2, { ...before, end: text.length });
    else {
      result[result.length - 1] = { start, end: text.length, text: /\r?\n$/.exec(text)?.[0] ?? '' };
      break;
    }
  }
  return result;
}

/** `X.propTypes = …`, `export default X`, `export { X }`. */
function isAbout(statement: TSESTree.ProgramStatement, name: string): boolean {
  const names = (node: Node) => node.type === 'Identifier' && node.name === name;
  if (statement.type === 'ExpressionStatement' && statement.expression.type === 'AssignmentExpression') {
    const { left } = statement.expression;
    return left.type === 'MemberExpression' && names(left.object);
  }
  if (statement.type === 'ExportDefaultDeclaration') return names(statement.declaration);
  if (statement.type !== 'ExportNamedDeclaration' || statement.declaration || statement.source) return false;
  return statement.specifiers.every((s) => names(s.local));
}

function declaredNames({ scopes }: Definition, statement: Node): string[] {
  return scopes.moduleScope.variables
    .filter((v) => v.identifiers.some((id) => nodeWithin(id, spanOf(statement))))
    .map((v) => v.name);
}

/** A type that only what is gone used. */
function isUnusedType(
  { scopes }: Definition,
  statement: TSESTree.ProgramStatement,
  gone: ReadonlySet<TSESTree.ProgramStatement>,
): boolean {
  const node = statement.type === 'ExportNamedDeclaration' ? statement.declaration : statement;
  if (node?.type !== 'TSInterfaceDeclaration' && node?.type !== 'TSTypeAliasDeclaration') return false;
  const references = scopes.variableOf(node.id)?.references ?? [];
  return (
    references.length > 0 &&
    references.every((r) => [...gone, statement].some((s) => nodeWithin(r.identifier, spanOf(s))))
  );
}
