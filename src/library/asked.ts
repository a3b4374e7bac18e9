/** What is asked for by name: files, folders, groups of repeats. */
import { didYouMean, findRepeats, isProblem, problem, type Problem, type Repeat, type Repeats } from '../core/index.js';
import type { Workspace } from './workspace.js';

export interface PathsAsked {
  /** Files that were named, or stand below a folder that was; undefined: all. */
  readonly paths?: readonly string[];
  readonly named?: ReadonlySet<string>;
}

/** `wanted`: files or folders, relative to the root. */
export function pathsAsked(workspace: Workspace, wanted: readonly string[]): PathsAsked | Problem {
  if (wanted.length === 0 || wanted.includes('')) return {};
  const sources = workspace.project.sources();
  const missing = wanted.map((w) => namedTrouble(workspace, w)).find((trouble) => trouble !== undefined);
  if (missing) return missing;
  return {
    paths: sources.filter((path) => wanted.some((w) => path === w || path.startsWith(`${w}/`))),
    named: new Set(wanted),
  };
}

/** The group that goes by an id. Groups of one kind may take places that a better one of another kind has otherwise. */
export function repeatCalled(
  workspace: Workspace,
  id: string,
  only: object,
): { repeats: Repeats; repeat: Repeat } | Problem {
  const kinds = (['markup', 'logic', 'frame'] as const).filter((kind) => kind.startsWith(id[0]!));
  const all = findRepeats(workspace.project, { ...only, minWorth: -Infinity });
  for (const find of [() => all, () => findRepeats(workspace.project, { ...only, kinds, minWorth: -Infinity })]) {
    const repeats = find();
    const repeat = repeats.groups.find((group) => group.id === id);
    if (repeat) return { repeats, repeat };
  }
  const near = didYouMean(
    id,
    all.groups.map((group) => group.id),
  );
  return problem('repeat-unknown', { path: '.' }, id, near ? `; did you mean ${near}?` : '');
}

/** Why a file or folder that a person named cannot be looked at: it is not there, or is not read. */
export function namedTrouble(workspace: Workspace, path: string): Problem | undefined {
  const { files } = workspace.project;
  if (files.list().some((p) => p.startsWith(`${path}/`))) return undefined;
  const source = workspace.project.source(path);
  return isProblem(source) ? source : undefined;
}
