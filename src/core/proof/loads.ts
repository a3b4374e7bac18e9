/** Files that were loaded for what they do as well: `dayjs.extend(isBetween);` at the top of one that nothing imports any more. */
import type { TSESTree } from '@typescript-eslint/types';
import { bare } from '../script/walk.js';
import type { Side } from './side.js';
import type { ProofModule } from '../language/proof-module.js';

/**
 * The first file that the changed files imported before and import no more, and that does something as it is loaded; with
 * what it does. Only what the changed files themselves load is looked at; `loadedElsewhere` answers for the rest of the project.
 */
export function lostLoad(
  before: Side,
  after: Side,
  loadedElsewhere: (path: string) => boolean,
): { readonly path: string; readonly does: string } | undefined {
  const still = loadsOf(after);
  for (const path of loadsOf(before)) {
    if (still.has(path)) continue;
    const module = before.modules.get(path) ?? before.open(path);
    const does = module && doingOf(module, (source) => isLoaded(after, module.path, source, still));
    if (does && !loadedElsewhere(path)) return { path, does };
  }
  return undefined;
}

/** Files of the project that the changed ones load, by way of one another as well. */
function loadsOf(side: Side): Set<string> {
  const found = new Set<string>();
  for (const module of side.modules.values())
    for (const source of sourcesOf(module)) {
      const target = side.resolve(module.path, source);
      if (target.kind === 'file' && target.path !== module.path) found.add(target.path);
    }
  return found;
}

function isLoaded(side: Side, from: string, source: string, loaded: ReadonlySet<string>): boolean {
  const target = side.resolve(from, source);
  return target.kind === 'file' && loaded.has(target.path);
}

function sourcesOf({ script }: ProofModule): string[] {
  return script.program.body.flatMap((s) => {
    if (s.type === 'ImportDeclaration' && s.importKind !== 'type') return [s.source.value];
    if ((s.type === 'ExportNamedDeclaration' || s.type === 'ExportAllDeclaration') && s.source) return [s.source.value];
    return [];
  });
}

/** The first statement that does something as the file is loaded. Records that a file fills in of its own names are its own affair. */
function doingOf({ script, text }: ProofModule, isLoadedAnyway: (source: string) => boolean): string | undefined {
  const statement = script.program.body.find((s) => {
    if (s.type === 'ImportDeclaration') return s.specifiers.length === 0 && !isLoadedAnyway(s.source.value);
    if (s.type !== 'ExpressionStatement' || typeof s.directive === 'string') return false;
    const code = bare(s.expression) as TSESTree.Expression;
    return code.type === 'CallExpression' || (code.type === 'AssignmentExpression' && isGlobal(code.left));
  });
  return statement && text.slice(...statement.range).split('\n')[0];
}

function isGlobal(left: TSESTree.Node): boolean {
  let at = left;
  while (at.type === 'MemberExpression') at = at.object;
  return at.type === 'Identifier' && /^(?:window|globalThis|document)$/.test(at.name);
}
