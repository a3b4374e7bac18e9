/**
 * Putting files on the disk so that nothing is lost: all new text is written beside its place first, under names that
 * nobody can have put there; what has no room fails before anything is changed. Then everything is renamed into place.
 */
import { randomBytes } from 'node:crypto';
import {
  closeSync,
  constants,
  existsSync,
  fchmodSync,
  fchownSync,
  fsyncSync,
  lstatSync,
  mkdirSync,
  openSync,
  readFileSync,
  realpathSync,
  renameSync,
  rmdirSync,
  rmSync,
  statSync,
  writeSync,
} from 'node:fs';
import { basename, dirname, join, sep } from 'node:path';
import { isProblem, problem, type Problem } from '../../core/problems/problems.js';

/** The few operations that change files, so that a test can stop, or fail, between any two of them. */
export interface DiskOperations {
  /** Makes a file that is not there yet, with all of the text in it, or throws. */
  write(path: string, text: string, like?: Like): void;
  rename(from: string, to: string): void;
  remove(path: string): void;
}

/** Permission bits and owner that a file keeps. */
export interface Like {
  readonly mode: number;
  readonly uid?: number;
  readonly gid?: number;
}

export const realOperations: DiskOperations = {
  write(path, text, like) {
    // Exclusive: a link that somebody put there is not followed, and nothing is overwritten.
    const flags = constants.O_WRONLY | constants.O_CREAT | constants.O_EXCL | (constants.O_NOFOLLOW ?? 0);
    const file = openSync(path, flags, like?.mode ?? 0o666);
    try {
      if (like) keepLike(file, like);
      const bytes = Buffer.from(text);
      // One call may take less than it is given, and a disk that is full takes nothing.
      for (let at = 0; at < bytes.length;) {
        const taken = writeSync(file, bytes, at);
        if (taken === 0) throw new Error('the disk takes no more');
        at += taken;
      }
      fsyncSync(file);
    } finally {
      closeSync(file);
    }
  },
  rename: renameSync,
  remove: (path) => rmSync(path, { force: true }),
};

function keepLike(file: number, { mode, uid, gid }: Like): void {
  if (uid !== undefined && gid !== undefined && process.getuid?.() === 0) fchownSync(file, uid, gid);
  fchmodSync(file, mode);
}

/** What a file is to be; null: not there. */
export interface Target {
  readonly path: string;
  readonly from: string | null;
  readonly to: string | null;
  /** Permission bits of a file that comes back. */
  readonly mode?: number;
}

/** A name for what is written beside a place, before it is renamed into it. */
export function besideOf(at: string, token: string): string {
  return join(dirname(at), `.${basename(at)}.${token}.verkstad-new`);
}

export function newToken(): string {
  return randomBytes(9).toString('hex');
}

/** Carries out all targets below a root, or none; then the problem says why. Throws only where not even the old state could be brought back. */
export function place(
  root: string,
  targets: readonly Target[],
  token: string,
  disk: DiskOperations,
): Problem | undefined {
  const made: string[] = [];
  const staged: { at: string; beside: string | undefined; target: Target }[] = [];
  let now = '';
  const clear = () => {
    for (const { beside } of staged) if (beside !== undefined) attempt(() => disk.remove(beside));
    for (const folder of made.reverse()) attempt(() => rmdirSync(folder));
  };
  try {
    for (const target of targets) {
      now = target.path;
      const at = realPlace(root, target);
      if (isProblem(at)) return (clear(), at);
      if (target.to === null) {
        staged.push({ at, beside: undefined, target });
        continue;
      }
      made.push(...foldersFor(dirname(at)));
      const beside = besideOf(at, token);
      staged.push({ at, beside, target });
      disk.write(beside, target.to, likeOf(at, target));
    }
    // The place is looked at again at the moment of writing: much can have happened since.
    for (const { at, target } of staged) {
      now = target.path;
      const again = realPlace(root, target);
      if (isProblem(again)) return (clear(), again);
      if (again !== at || readText(at) !== target.from)
        return (clear(), problem('changed-meanwhile', { path: target.path }, target.path));
    }
  } catch (error) {
    clear();
    return problem('write-failed', { path: now }, reasonOf(error));
  }
  const placed: typeof staged = [];
  try {
    for (const one of staged) {
      now = one.target.path;
      if (one.beside === undefined) disk.remove(one.at);
      else disk.rename(one.beside, one.at);
      placed.push(one);
    }
  } catch (error) {
    const failed = problem('write-failed', { path: now }, reasonOf(error));
    for (const { at, target } of placed.reverse()) putBack(at, target, newToken(), disk);
    clear();
    return failed;
  }
  return undefined;
}

function putBack(at: string, { from, to, path, mode }: Target, token: string, disk: DiskOperations): void {
  if (from === null) return disk.remove(at);
  const beside = besideOf(at, token);
  disk.write(beside, from, to === null ? { mode: mode ?? 0o666 } : likeOf(at, { path, from, to }));
  disk.rename(beside, at);
}

/** Where a file really is: inside of the root, a plain file that may be written, or nothing yet. */
function realPlace(root: string, { path, from }: Target): string | Problem {
  const trouble = placeTrouble(root, path);
  if (trouble) return trouble;
  const at = join(root, path);
  const there = lstatSync(at, { throwIfNoEntry: false });
  if (!there) return at;
  const real = realpathSync(at);
  const stat = statSync(real);
  if (!stat.isFile()) return problem('target-exists', { path }, path);
  if (from !== null && (stat.mode & 0o222) === 0) return problem('file-locked', { path }, 'it is read-only');
  if (from !== null && stat.nlink > 1)
    return problem('file-locked', { path }, `it has ${stat.nlink} hard links, and the others would keep the old text`);
  return real;
}

/** Nothing is written outside the root, through a link neither. A link to a file inside of it is that file. */
export function placeTrouble(root: string, path: string): Problem | undefined {
  const outside = () => problem('target-outside', { path }, path);
  const parts = path.split(/[/\\]/);
  if (parts.includes('..') || parts.includes('.git') || path.includes('\0') || parts[0] === '') return outside();
  let at = join(root, path);
  // A link that leads nowhere would be written through.
  if (lstatSync(at, { throwIfNoEntry: false })?.isSymbolicLink() && !existsSync(at)) return outside();
  while (!existsSync(at)) {
    if (lstatSync(at, { throwIfNoEntry: false })) return outside();
    at = dirname(at);
  }
  const [real, whole] = [realpathSync(at), realpathSync(root)];
  return real === whole || real.startsWith(whole + sep) ? undefined : outside();
}

function likeOf(at: string, { from, mode }: Target): Like | undefined {
  const stat = from === null ? undefined : statSync(at, { throwIfNoEntry: false });
  if (stat) return { mode: stat.mode & 0o7777, uid: stat.uid, gid: stat.gid };
  return mode === undefined ? undefined : { mode };
}

/** Makes the folders that are missing; those that it made, outermost first. */
function foldersFor(folder: string): string[] {
  const missing: string[] = [];
  for (let at = folder; !existsSync(at); at = dirname(at)) missing.unshift(at);
  for (const one of missing) mkdirSync(one);
  return missing;
}

/** The text of a file; null where there is none. */
export function readText(at: string): string | null {
  return existsSync(at) ? readFileSync(at, 'utf8') : null;
}

function attempt(run: () => void): void {
  try {
    run();
  } catch {
    // What cannot be cleared away is named like nothing else, and goes with the next start.
  }
}

/** An error of the file system in words. */
export function reasonOf(error: unknown): string {
  const { code, message } = error as NodeJS.ErrnoException;
  const words: Record<string, string> = {
    ENOSPC: 'the disk is full',
    EDQUOT: 'the quota is used up',
    EFBIG: 'the file would be larger than allowed',
    EACCES: 'permission is missing',
    EPERM: 'permission is missing',
    EROFS: 'the disk is read-only',
    ENOTDIR: 'a part of the path is a file',
  };
  return words[code ?? ''] ?? message.replace(/^[A-Z]+: /, '');
}
