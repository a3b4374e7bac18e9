/**
 * What the new file needs of the old file's top level. Used by the region alone: it moves. What both use gets a module of
 * its own, since an import back would make a circle; a type that the file exports already, or that hangs on a value of
 * it, is imported from there, for a circle of types does not exist at run time.
 */
import type { TSESTree } from '@typescript-eslint/types';
import { problem, type Problem } from '../../../problems/problems.js';
import type { Node } from '../../../script/parser.js';
import { isTypeOnly, type Variable } from '../../../script/scopes.js';
import { nodeWithin, spanOf } from '../../../script/walk.js';
import type { Span } from '../../../text/edits.js';
import type { Scene } from './scene.js';

export interface Sharing {
  /** Import bindings that the new file repeats. */
  readonly imports: readonly Variable[];
  /** Top-level statements that go into the new component's file. */
  readonly moved: readonly TSESTree.ProgramStatement[];
  /** Top-level statements that go into a module of their own, with the names that others import from there. */
  readonly shared: readonly TSESTree.ProgramStatement[];
  /** Import bindings that the module of its own repeats. */
  readonly sharedImports: readonly Variable[];
  /** Types of the host's file that new files import from it. */
  readonly hostTypes: readonly Variable[];
  /** The host itself is needed (recursion): no second file is possible without a circle. */
  readonly circular: string | undefined;
}

export function findSharing(
  scene: Scene,
  first: readonly Variable[],
  movedSpans: readonly Span[],
  types: readonly Variable[],
): Sharing | Problem {
  const imports = new Set<Variable>();
  const hostTypes = new Set<Variable>(types.filter((v) => !scene.scopes.isImport(v)));
  const wanted = new Set<Variable>(first);
  for (const type of types) if (scene.scopes.isImport(type)) imports.add(type);
  const moved = new Set<TSESTree.ProgramStatement>();
  const goes = (node: Node) =>
    movedSpans.some((s) => nodeWithin(node, s)) || [...moved].some((s) => nodeWithin(node, spanOf(s)));

  // What only the region uses moves, and with it what only that uses.
  for (let again = true; again;) {
    again = false;
    for (const variable of [...wanted]) {
      if (scene.scopes.isImport(variable)) {
        imports.add(variable);
        continue;
      }
      const statement = scene.scopes.statementOf(variable);
      if (!statement || moved.has(statement) || !isPlainDeclaration(statement)) continue;
      const names = scene.scopes.declaredBy(statement);
      if (names.some((v) => hostTypes.has(v))) continue;
      const onlyHere = names.every((v) =>
        v.references.every(
          (r) =>
            goes(r.identifier) ||
            nodeWithin(r.identifier, spanOf(statement)) ||
            attachedTo(scene, statement).some((a) => nodeWithin(r.identifier, spanOf(a))),
        ),
      );
      if (!onlyHere) continue;
      for (const part of [statement, ...attachedTo(scene, statement)]) {
        moved.add(part);
        for (const next of needsOf(scene, part)) wanted.add(next);
      }
      again = true;
    }
  }

  const shared = new Set<TSESTree.ProgramStatement>();
  const sharedImports = new Set<Variable>();
  let circular: string | undefined;
  const share = (variable: Variable): Problem | undefined => {
    const statement = scene.scopes.statementOf(variable);
    if (!statement || moved.has(statement) || shared.has(statement)) return undefined;
    if (isTypeOnly(variable)) {
      hostTypes.add(variable);
      return undefined;
    }
    if (scene.scopes.isReassigned(variable)) {
      return problem(
        'region-module-write',
        { path: scene.request.file.path, span: spanOf(variable.identifiers[0]!) },
        variable.name,
      );
    }
    const parts = [statement, ...attachedTo(scene, statement)];
    if (
      parts.some((part) => part.range[0] <= scene.region.start && part.range[1] >= scene.region.end) ||
      !canLeave(statement)
    ) {
      circular = variable.name;
      return undefined;
    }
    for (const part of parts) {
      shared.add(part);
      for (const next of needsOf(scene, part)) {
        if (scene.scopes.isImport(next)) sharedImports.add(next);
        else {
          const trouble = share(next);
          if (trouble) return trouble;
        }
      }
    }
    return undefined;
  };
  for (const variable of wanted) {
    if (scene.scopes.isImport(variable)) continue;
    const trouble = share(variable);
    if (trouble) return trouble;
  }
  // What moves may need what is shared; what is shared must not need what moved.
  for (const statement of shared) {
    for (const need of needsOf(scene, statement)) {
      const at = scene.scopes.statementOf(need);
      if (at && moved.has(at)) {
        moved.delete(at);
        shared.add(at);
        for (const next of needsOf(scene, at)) if (scene.scopes.isImport(next)) sharedImports.add(next);
      }
    }
  }
  const inOrder = (set: Set<TSESTree.ProgramStatement>) => [...set].sort((a, b) => a.range[0] - b.range[0]);
  return {
    imports: [...imports],
    moved: inOrder(moved),
    shared: inOrder(shared),
    sharedImports: [...sharedImports],
    hostTypes: [...hostTypes],
    circular,
  };
}

function isPlainDeclaration(statement: TSESTree.ProgramStatement): boolean {
  return [
    'VariableDeclaration',
    'FunctionDeclaration',
    'ClassDeclaration',
    'TSInterfaceDeclaration',
    'TSTypeAliasDeclaration',
    'TSEnumDeclaration',
  ].includes(statement.type);
}

/** A declaration that can stand in another module; a default export and a namespace cannot without renaming. */
function canLeave(statement: TSESTree.ProgramStatement): boolean {
  return (
    isPlainDeclaration(statement) || (statement.type === 'ExportNamedDeclaration' && statement.declaration !== null)
  );
}

/** `Row.propTypes = …`, `Row.displayName = …`: statements that belong to what `statement` declares. */
function attachedTo(scene: Scene, statement: TSESTree.ProgramStatement): TSESTree.ProgramStatement[] {
  const names = new Set(scene.scopes.declaredBy(statement).map((v) => v.name));
  return scene.script.program.body.filter((candidate) => {
    if (candidate.type !== 'ExpressionStatement' || candidate.expression.type !== 'AssignmentExpression') return false;
    const left = candidate.expression.left;
    return left.type === 'MemberExpression' && left.object.type === 'Identifier' && names.has(left.object.name);
  });
}

/** Module-level variables that a statement uses, its own left out. */
export function needsOf(scene: Scene, statement: Node): Variable[] {
  const own = new Set(scene.scopes.declaredBy(statement));
  const result = new Set<Variable>();
  for (const reference of scene.scopes.within(spanOf(statement))) {
    const variable = reference.resolved;
    if (variable && variable.defs.length > 0 && scene.scopes.isModuleLevel(variable) && !own.has(variable))
      result.add(variable);
  }
  return [...result];
}
