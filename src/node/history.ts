/** What git says of files: which change often, and which change together. Renames are followed. */
import { problem, type Problem } from '../core/problems/problems.js';
import { GitError, isRepository, readGit } from './git.js';

export interface FileHistory {
  readonly path: string;
  readonly commits: number;
}

export interface TogetherHistory {
  readonly paths: readonly [string, string];
  /** Commits that hold both. */
  readonly commits: number;
  /** Commits of the one that changes less often. */
  readonly of: number;
}

export interface History {
  /** The window, as it was asked for. */
  readonly since: string;
  readonly commits: number;
  readonly often: readonly FileHistory[];
  readonly together: readonly TogetherHistory[];
}

/** Fewer commits say nothing. */
const LEAST = 3;
/** A commit of more files is a sweep through all of them. */
const SWEEP = 20;

/** `isOurs`: files of the project that are still there. Undefined where the folder is in no repository. */
export async function historyOf(
  root: string,
  since: string,
  isOurs: (path: string) => boolean,
): Promise<History | Problem | undefined> {
  let log: string;
  try {
    if (!(await isRepository(root))) return undefined;
    if ((await readGit(root, ['rev-list', '-n', '1', '--all'])).length === 0) return undefined;
    const what = ['--no-merges', '--name-status', '--no-ext-diff', '--no-textconv', '-M', '-z', '--relative'];
    log = (await readGit(root, ['log', `--since=${since}`, ...what, `--format=${COMMIT}%H`])).toString('utf8');
  } catch (error) {
    if (!(error instanceof GitError)) throw error;
    return problem('git-failed', { path: root }, error.message);
  }
  return summed(since, commitsIn(log), isOurs);
}

/** What begins a commit: no path can hold it. */
const COMMIT = '%x01';

/** Files of each commit by the names that they have now; the log begins with the newest one. */
function commitsIn(log: string): string[][] {
  const now = new Map<string, string>();
  const named = (path: string) => now.get(path) ?? path;
  return log
    .split('\u0001')
    .slice(1)
    .map((text) => {
      const parts = text.split('\0').map((part) => part.trim());
      const paths = new Set<string>();
      // The first part is the hash; then a letter and one path, or a letter with a number and two.
      for (let i = 1; i < parts.length;) {
        const status = parts[i]!;
        if (/^[RC]\d/.test(status)) {
          const [from, to] = [parts[i + 1]!, parts[i + 2]!];
          paths.add(named(to));
          if (status.startsWith('R')) now.set(from, named(to));
          i += 3;
        } else if (/^[A-Z]$/.test(status)) {
          paths.add(named(parts[i + 1]!));
          i += 2;
        } else i++;
      }
      return [...paths];
    });
}

function summed(since: string, commits: readonly string[][], isOurs: (path: string) => boolean): History {
  const counts = new Map<string, number>();
  const pairs = new Map<string, number>();
  for (const all of commits) {
    const paths = all.filter(isOurs).sort();
    for (const path of paths) counts.set(path, (counts.get(path) ?? 0) + 1);
    if (paths.length > SWEEP) continue;
    paths.forEach((a, i) => {
      for (const b of paths.slice(i + 1)) pairs.set(`${a}\0${b}`, (pairs.get(`${a}\0${b}`) ?? 0) + 1);
    });
  }
  const together = [...pairs].flatMap(([key, both]): TogetherHistory[] => {
    const [a, b] = key.split('\0') as [string, string];
    const of = Math.min(counts.get(a)!, counts.get(b)!);
    return both >= LEAST && both / of >= 0.5 ? [{ paths: [a, b], commits: both, of }] : [];
  });
  return {
    since,
    commits: commits.length,
    often: [...counts]
      .filter(([, n]) => n >= LEAST)
      .map(([path, n]) => ({ path, commits: n }))
      .sort((a, b) => b.commits - a.commits || (a.path < b.path ? -1 : 1)),
    together: together.sort((a, b) => b.commits - a.commits || b.commits / b.of - a.commits / a.of),
  };
}
