/** `.verkstad`: what Verkstad keeps in a project. It is never reached through a link. */
import { existsSync, lstatSync, mkdirSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { problem, type Problem } from '../../core/problems/problems.js';
import { newToken, realOperations, type DiskOperations } from './writing.js';

export const OWN_FOLDER = '.verkstad';

/** Why a path in the own folder cannot be used: a part of it is a link, or no folder. */
export function ownTrouble(root: string, ...parts: readonly string[]): Problem | undefined {
  let at = root;
  let path = '';
  for (const part of [OWN_FOLDER, ...parts]) {
    at = join(at, part);
    path = path === '' ? part : `${path}/${part}`;
    const stat = lstatSync(at, { throwIfNoEntry: false });
    if (stat && !stat.isDirectory())
      return problem('own-folder', { path }, stat.isSymbolicLink() ? 'a link' : 'a file');
  }
  return undefined;
}

/** Makes a folder below the own one. What is kept there is nobody else's: git is told to leave it alone. */
export function makeOwn(root: string, ...parts: readonly string[]): Problem | undefined {
  const trouble = ownTrouble(root, ...parts);
  if (trouble) return trouble;
  const isNew = !existsSync(join(root, OWN_FOLDER));
  mkdirSync(join(root, OWN_FOLDER, ...parts), { recursive: true });
  if (isNew) realOperations.write(join(root, OWN_FOLDER, '.gitignore'), '*\n');
  return ownTrouble(root, ...parts);
}

/** The text of a file in the own folder; undefined where there is none, or a link in its place. */
export function readOwn(root: string, name: string, most: number): { readonly text: string } | 'large' | undefined {
  const at = join(root, OWN_FOLDER, name);
  if (ownTrouble(root) || !lstatSync(at, { throwIfNoEntry: false })?.isFile()) return undefined;
  return statSync(at).size > most ? 'large' : { text: readFileSync(at, 'utf8') };
}

/** Writes a file in the own folder whole, or throws. */
export function writeOwn(root: string, name: string, text: string, disk: DiskOperations = realOperations): void {
  const at = join(root, OWN_FOLDER, name);
  const beside = `${at}.${newToken()}.new`;
  try {
    disk.write(beside, text);
    disk.rename(beside, at);
  } catch (error) {
    disk.remove(beside);
    throw error;
  }
}
