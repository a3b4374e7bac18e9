/** What the type checker says of a change. */
import { applied, isProblem, type Change, type Project } from '../core/index.js';
import { HOW_TO_GET_TYPESCRIPT, typescriptOf } from '../node/peers.js';
import type { ProjectTypes, TypeError } from '../node/types.js';
import type { Workspace } from './workspace.js';

export interface TypesAnswer {
  readonly answer: 'same' | 'worse' | 'skipped';
  readonly errors: readonly TypeError[];
  readonly reason?: string;
}

/** The type checker of the project, where the file has types. */
export async function typesFor(workspace: Workspace, path: string): Promise<ProjectTypes | undefined> {
  if (!hasTypes(workspace.project, path) || !typescriptOf(workspace.root)) return undefined;
  const { ProjectTypes } = await import('../node/types.js');
  return new ProjectTypes(workspace.root, workspace.project.files, path);
}

export function hasTypes(project: Project, path: string): boolean {
  const file = project.source(path);
  if (isProblem(file)) return false;
  return file.language.typed ? file.language.typed(file, project.ports) !== undefined : /\.[cm]?tsx?$/.test(path);
}

/**
 * New type errors, and no others; what was there before is only looked at where there are any. Types are found whether
 * or not they are checked. Where no tsconfig says what holds, errors by strict rules are named and nothing is refused.
 */
export async function checkTypes(
  workspace: Workspace,
  change: Change,
  oracle: ProjectTypes | undefined,
  isWanted: boolean,
): Promise<TypesAnswer> {
  if (!isWanted) return { answer: 'skipped', errors: [], reason: 'left out by --no-types' };
  const paths = change.files.map((f) => f.path);
  if (!oracle) {
    const isTyped = paths.some((path) => hasTypes(workspace.project, path)) && !typescriptOf(workspace.root);
    return { answer: 'skipped', errors: [], reason: isTyped ? HOW_TO_GET_TYPESCRIPT : 'the file has no types' };
  }
  const { newErrors } = await import('../node/types.js');
  if (!paths.some((path) => oracle.checks(path)))
    return { answer: 'skipped', errors: [], reason: 'errors inside of these files are not looked for yet' };
  oracle.use(applied(workspace.project.files, change), paths);
  const found = oracle.errors(paths);
  if (found.length === 0) return { answer: 'same', errors: [] };
  oracle.use(workspace.project.files, paths);
  const errors = newErrors(oracle.errors(paths), found);
  if (errors.length > 0 && oracle.config === undefined) {
    const count = errors.length === 1 ? 'an error' : `${errors.length} errors`;
    const [{ path, message }] = errors as [(typeof errors)[0]];
    const reason = `no tsconfig.json says what holds; by strict rules there would be ${count}: ${path}: ${message}`;
    return { answer: 'skipped', errors: [], reason };
  }
  return { answer: errors.length > 0 ? 'worse' : 'same', errors };
}
