/** Arithmetic on project paths: relative to the root, `/` between parts. */

export function dirname(path: string): string {
  const slash = path.lastIndexOf('/');
  return slash < 0 ? '' : path.slice(0, slash);
}

export function basename(path: string): string {
  return path.slice(path.lastIndexOf('/') + 1);
}

/** With the dot; empty when there is none. */
export function extname(path: string): string {
  const base = basename(path);
  const dot = base.lastIndexOf('.');
  return dot <= 0 ? '' : base.slice(dot);
}

/** Undefined when the path leaves the root. */
export function normalize(path: string): string | undefined {
  const parts: string[] = [];
  for (const part of path.replace(/\\/g, '/').split('/')) {
    if (part === '' || part === '.') continue;
    if (part === '..') {
      if (parts.pop() === undefined) return undefined;
    } else parts.push(part);
  }
  return parts.join('/');
}

export function join(...parts: readonly string[]): string | undefined {
  return normalize(parts.filter(Boolean).join('/'));
}

/** In front of paths that may lead out of the root, as imports in a package of a larger repository do. */
export const OUTSIDE = 'o/u/t/s/i/d/e/x/';

/** Where a relative source leads, seen from a file, behind `OUTSIDE`; undefined only for what no repository holds. */
export function placeOf(path: string, source: string): string | undefined {
  return join(OUTSIDE + dirname(path), source);
}

/** `./x` or `../x`: how a file in `fromDir` writes the path `to`. */
export function relativeFrom(fromDir: string, to: string): string {
  const from = fromDir ? fromDir.split('/') : [];
  const target = to.split('/');
  let same = 0;
  while (same < from.length && same < target.length - 1 && from[same] === target[same]) same++;
  const up = '../'.repeat(from.length - same);
  return (up || './') + target.slice(same).join('/');
}

/** What an import says of a path: without the end that scripts have, and on some disks without capitals. */
export function importKey(path: string): string {
  return path.replace(/\.[cm]?[jt]sx?$/, '').toLowerCase();
}

/** Folders of pages, as frameworks and people call them. */
const PAGES = /^(?:pages|routes|views|screens)$/;

/** `HiveCard` for `hive-card.tsx`, and for `HiveCard/index.tsx`. */
export function componentNameFromFile(path: string): string {
  const parts = path.split('/');
  let base = parts[parts.length - 1]!.replace(/\.[^.]*$/, '').replace(/\.[^.]*$/, '');
  const folder = parts.at(-2);
  // The first page of all has no name but that.
  if (base === 'index' && folder !== undefined) base = PAGES.test(folder) ? 'home' : folder;
  const name = base.replace(/[^\p{L}\p{N}]+(.)?/gu, (_, next: string | undefined) => (next ?? '').toUpperCase());
  return (name[0] ?? 'C').toUpperCase() + name.slice(1);
}
