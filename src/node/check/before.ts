/** The state that a check compares with, read without touching the working tree. */
import { existsSync, readFileSync, statSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { GitError, simpleGit } from 'simple-git';
import { globSync } from 'tinyglobby';
import { problem, type Problem } from '../../core/problems/problems.js';
import { Journal } from '../journal.js';

/** What a file held before; undefined where there was none. */
export type Contents = ReadonlyMap<string, Buffer | undefined>;

export interface Before {
  /** For people: "the last change", "HEAD", a folder. */
  readonly label: string;
  /** Only files that differ from the working tree, by their path relative to the root. */
  readonly contents: Contents;
}

/** What belongs to no version of a project. */
export const NOT_PROJECT = ['**/node_modules/**', '**/.git/**', '**/.verkstad/**', '**/dist/**', '**/coverage/**'];

/** `against`: `last`, a folder, or a revision; undefined: the last change of the journal, else the last commit. */
export async function readBefore(root: string, cwd: string, against: string | undefined): Promise<Before | Problem> {
  const last = new Journal(root)
    .entries()
    .filter((entry) => entry.state === 'done')
    .at(-1);
  if (against === 'last' || (against === undefined && last)) {
    if (!last) return problem('check-no-last', { path: '.verkstad/journal' });
    const contents = new Map(last.files.map((f) => [f.path, f.before === null ? undefined : Buffer.from(f.before)]));
    return { label: `the state before change ${last.id} (${last.title})`, contents: differing(root, contents) };
  }
  const folder = against === undefined ? undefined : resolve(cwd, against);
  if (folder !== undefined && existsSync(folder) && statSync(folder).isDirectory())
    return { label: against!, contents: folderContents(root, folder) };
  return revisionContents(root, against ?? 'HEAD');
}

function folderContents(root: string, folder: string): Contents {
  const own = filesBelow(root);
  const there = filesBelow(folder);
  const contents = new Map<string, Buffer | undefined>();
  for (const path of new Set([...own, ...there])) {
    const at = join(folder, path);
    contents.set(path, existsSync(at) ? readFileSync(at) : undefined);
  }
  return differing(root, contents);
}

async function revisionContents(root: string, revision: string): Promise<Before | Problem> {
  const git = simpleGit(root);
  try {
    const commit = (await git.revparse(['--verify', '--end-of-options', `${revision}^{commit}`])).trim();
    const top = (await git.revparse(['--show-prefix'])).trim();
    const listed = (text: string) => text.split('\0').filter(Boolean);
    const changed = listed(await git.raw('diff', '--name-only', '--no-renames', '--relative', '-z', commit, '--', '.'));
    const others = listed(await git.raw('ls-files', '--others', '--exclude-standard', '-z', '--', '.'));
    const contents = new Map<string, Buffer | undefined>();
    const isOurs = (path: string) => !/(?:^|\/)(?:node_modules|\.verkstad|dist|coverage)\//.test(path);
    for (const path of [...changed, ...others].filter(isOurs)) {
      const was = (await git.raw('ls-tree', '-z', '--name-only', commit, '--', path)).length > 0;
      contents.set(path, was ? await git.showBuffer([`${commit}:${top}${path}`]) : undefined);
    }
    return { label: revision, contents: differing(root, contents) };
  } catch (error) {
    if (!(error instanceof GitError)) throw error;
    return problem(
      'check-against',
      { path: revision },
      revision,
      error.message.split('\n')[0]!.replace(/^fatal: /, ''),
    );
  }
}

function filesBelow(folder: string): string[] {
  const options = { cwd: folder, ignore: NOT_PROJECT, dot: true, expandDirectories: false, followSymbolicLinks: false };
  return globSync('**/*', options).map((path) => path.replaceAll('\\', '/'));
}

function differing(root: string, contents: Contents): Contents {
  return new Map(
    [...contents].filter(([path, was]) => {
      const at = join(root, path);
      const now = existsSync(at) ? readFileSync(at) : undefined;
      return was === undefined || now === undefined ? was !== now : !was.equals(now);
    }),
  );
}
