/** Where a new file may go. */
import type { FileSet } from '../files/files.js';
import { importKey, normalize } from '../files/paths.js';
import { problem, type Problem } from '../problems/problems.js';

/** Finds the file that stands at a path, or that an import of it could mean as well. */
export function standingAt(files: FileSet): (path: string) => string | undefined {
  const byKey = new Map(files.list().map((path) => [importKey(path), path]));
  return (path) => byKey.get(importKey(path));
}

/** The path of the project that a person asks for. */
export function askedTarget(files: FileSet, asked: string, isOfLanguage: (path: string) => boolean): string | Problem {
  const to = normalize(asked);
  if (to === undefined || /^([/\\]|[a-z]:)/i.test(asked)) return problem('target-outside', { path: asked }, asked);
  if (!isOfLanguage(to)) return problem('target-language', { path: to });
  if (files.list().includes(to)) return problem('target-exists', { path: to }, to);
  const standing = standingAt(files)(to);
  return standing === undefined ? to : problem('target-meant', { path: to }, to, standing);
}
