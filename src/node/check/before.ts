/** The state that a check compares with, read without touching the working tree. */
import { existsSync, readFileSync, statSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { createHash } from 'node:crypto';
import { globSync } from 'tinyglobby';
import { problem, type Problem } from '../../core/problems/problems.js';
import { GitError, listed, readGit } from '../git.js';
import { Journal } from '../journal/journal.js';

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

/** Files are held against the revision here and not by git, which would run the filters of the repository on them. */
async function revisionContents(root: string, revision: string): Promise<Before | Problem> {
  try {
    const commit = await verified(root, revision);
    const contents = new Map<string, Buffer | undefined>();
    const known = new Set<string>();
    for (const line of listed(await readGit(root, ['ls-tree', '-r', '-z', commit]))) {
      // `<mode> blob <id>\t<path>`; submodules are commits, and links hold no text.
      const [, mode, id, path] = /^(\d+) blob (\S+)\t([\s\S]*)$/.exec(line) ?? [];
      if (mode === undefined || mode === '120000' || !isOurs(path!)) continue;
      known.add(path!);
      const at = join(root, path!);
      const now = existsSync(at) ? readFileSync(at) : undefined;
      if (now && isBlob(now, id!)) continue;
      const was = await readGit(root, ['cat-file', 'blob', id!]);
      if (!now || !onlyLineEnds(was, now)) contents.set(path!, was);
    }
    const there = ['ls-files', '--cached', '--others', '--exclude-standard', '-z'];
    for (const path of listed(await readGit(root, there)))
      if (isOurs(path) && !known.has(path)) contents.set(path, undefined);
    return { label: revision, contents: differing(root, contents) };
  } catch (error) {
    if (!(error instanceof GitError)) throw error;
    return problem('check-against', { path: revision }, revision, error.message);
  }
}

function isOurs(path: string): boolean {
  return !/(?:^|\/)(?:node_modules|\.verkstad|dist|coverage)\//.test(path);
}

/** Git names a file by the digest of its kind, its length and its bytes. */
function isBlob(bytes: Buffer, id: string): boolean {
  const hash = createHash(id.length === 40 ? 'sha1' : 'sha256');
  return hash.update(`blob ${bytes.length}\0`).update(bytes).digest('hex') === id;
}

/** Git may keep other line ends than it writes to the disk. */
function onlyLineEnds(was: Buffer, now: Buffer): boolean {
  return now.includes('\r\n') && was.toString('latin1') === now.toString('latin1').replaceAll('\r\n', '\n');
}

async function verified(root: string, revision: string): Promise<string> {
  const answer = await readGit(root, ['rev-parse', '--verify', '--end-of-options', `${revision}^{commit}`]);
  return answer.toString('utf8').trim();
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
