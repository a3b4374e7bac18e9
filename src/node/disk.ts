/** Reading a project from disk. Never leaves the root, neither by `..` nor through a symbolic link. */
import { lstatSync, readFileSync, realpathSync, statSync } from 'node:fs';
import { join, sep } from 'node:path';
import ignore, { type Ignore } from 'ignore';
import { isQuick } from './globs.js';
import { escapePath, globSync } from 'tinyglobby';
import type { FileContent, FileSet } from '../core/files/files.js';

export interface DiskOptions {
  /** Globs relative to the root; files that match are left out. */
  readonly exclude?: readonly string[];
  /** Larger files are listed as problems and not read. */
  readonly maxFileBytes?: number;
  /** Paths that a person asked for: what is built may be what there is to read, as in a package that ships its source so. */
  readonly named?: readonly string[];
}

export const DEFAULT_MAX_BYTES = 1_000_000;
const NEVER_READ = ['**/node_modules/**', '**/.git/**', '**/.verkstad/**', '**/*.min.js'];
/** Folders of what is made from other files. */
const MADE = ['dist', 'build', 'coverage', '.next'];

export class DiskFiles implements FileSet {
  readonly #list: readonly string[];
  readonly #max: number;
  readonly #paths: ReadonlySet<string>;

  /** `root` is an absolute path of an existing folder. */
  constructor(
    readonly root: string,
    options: DiskOptions = {},
  ) {
    this.#max = options.maxFileBytes ?? DEFAULT_MAX_BYTES;
    const filesIn = (pattern: string, left: readonly string[]) =>
      globSync(pattern, {
        cwd: root,
        ignore: [...NEVER_READ, ...left, ...(options.exclude ?? [])],
        dot: false,
        followSymbolicLinks: false,
        expandDirectories: false,
      }).map((path) => path.replaceAll('\\', '/'));
    const found = filesIn(
      '**/*',
      MADE.map((name) => `**/${name}/**`),
    );
    const rules = ignoreRules(root, found);
    const asked = new Set((options.named ?? []).flatMap((path) => madeFolder(path) ?? []));
    const named = [...asked].flatMap((folder) => filesIn(`${escapePath(folder)}/**`, []));
    const all = new Set([...found.filter((path) => !rules(path)), ...named]);
    this.#list = [...all].filter((path) => staysInside(root, path)).sort();
    this.#paths = new Set(this.#list);
  }

  list(): readonly string[] {
    return this.#list;
  }

  read(path: string): FileContent | undefined {
    if (!this.#paths.has(path)) return undefined;
    const at = join(this.root, path);
    try {
      const bytes = statSync(at).size;
      if (bytes > this.#max) return { unreadable: 'large', detail: String(this.#max), bytes };
      const buffer = readFileSync(at);
      try {
        return { text: new TextDecoder('utf-8', { fatal: true, ignoreBOM: true }).decode(buffer) };
      } catch {
        return { unreadable: 'encoding', detail: '', bytes };
      }
    } catch (error) {
      return { unreadable: 'io', detail: (error as Error).message, bytes: 0 };
    }
  }
}

/** The outermost folder on a path that is left out as made from other files: `dist` of `dist/theme/Nav.vue`. */
function madeFolder(path: string): string | undefined {
  const parts = path.split('/');
  const at = parts.findIndex((part) => MADE.includes(part));
  return at < 0 ? undefined : parts.slice(0, at + 1).join('/');
}

/** A link in the project that leads out of it is as if it were not there. */
function staysInside(root: string, path: string): boolean {
  const at = join(root, path);
  try {
    if (!lstatSync(at).isSymbolicLink()) return true;
    const real = realpathSync(at);
    return real === realpathSync(root) || real.startsWith(realpathSync(root) + sep);
  } catch {
    return false;
  }
}

/** Lines of a `.gitignore`, but for those that nobody writes and that would take for ever. */
function quickOf(text: string): string[] {
  return text.split(/\r?\n/).filter(isQuick);
}

/** The rules of every `.gitignore` in the project, each for its own folder. */
function ignoreRules(root: string, paths: readonly string[]): (path: string) => boolean {
  const folders = new Set(['']);
  for (const path of paths)
    for (let at = path.lastIndexOf('/'); at > 0; at = path.lastIndexOf('/', at - 1)) folders.add(path.slice(0, at));
  const rules: { folder: string; rules: Ignore }[] = [];
  for (const folder of folders) {
    try {
      rules.push({ folder, rules: ignore().add(quickOf(readFileSync(join(root, folder, '.gitignore'), 'utf8'))) });
    } catch {
      // No such file: nothing is ignored there.
    }
  }
  return (path) =>
    rules.some(({ folder, rules: r }) =>
      folder === '' ? r.ignores(path) : path.startsWith(folder + '/') && r.ignores(path.slice(folder.length + 1)),
    );
}
