/**
 * Which file an import means: relative paths, left-out extensions, index files, `paths` and `baseUrl`, packages of the
 * project by their names, and the `@/` and `~/` of bundlers.
 */
import stripJsonComments from 'strip-json-comments';
import { textOf, type FileSet } from './files.js';
import { dirname, extname, join, normalize } from './paths.js';

export type Resolution =
  | { readonly kind: 'file'; readonly path: string }
  /** A picture, a style sheet, data: a leaf. */
  | { readonly kind: 'asset'; readonly path: string }
  | { readonly kind: 'package'; readonly name: string }
  | { readonly kind: 'missing'; readonly source: string };

const EXTENSIONS = ['.tsx', '.ts', '.jsx', '.js', '.mts', '.cts', '.mjs', '.cjs', '.vue'];
const ASSET =
  /\.(?:css|scss|sass|less|styl|svg|png|jpe?g|gif|webp|avif|ico|json|ya?ml|txt|md|mdx|woff2?|ttf|mp[34]|webm|graphql|gql|wasm|html)(?:\?.*)?$/i;
/** A source extension that stands for another one: TypeScript lets `./x.js` mean `./x.ts`. */
const SWAPS: Record<string, string[]> = {
  '.js': ['.ts', '.tsx', '.jsx'],
  '.jsx': ['.tsx'],
  '.mjs': ['.mts'],
  '.cjs': ['.cts'],
};

interface PathRules {
  /** Folder that the rules hold for. */
  readonly dir: string;
  readonly baseUrl?: string;
  readonly paths: readonly (readonly [pattern: string, targets: readonly string[]])[];
  readonly jsx?: string;
}

/** A package of the project, as others and it itself may call it. */
interface OwnPackage {
  readonly dir: string;
  readonly name: string;
  /** Where it begins when nothing but its name is asked for, the source before what is built. */
  readonly entries: readonly string[];
}

/** No package can be called so: folders that bundlers and frameworks call by a sign, and where these are. */
const SIGNS = /^(?:@@?|~~?)\/(?=[^/])/;
const SIGN_FOLDERS = ['src', 'app', ''];

export class Resolver {
  readonly #paths: ReadonlySet<string>;
  readonly #rules: readonly PathRules[];
  /** Folders of packages, the innermost first. */
  readonly #packages: readonly OwnPackage[];
  /** Where a folder with a package.json of its own begins. */
  readonly #entries: ReadonlyMap<string, readonly string[]>;
  readonly #cache = new Map<string, Resolution>();

  constructor(readonly files: FileSet) {
    const list = files.list();
    this.#paths = new Set(list);
    this.#rules = list
      .filter((path) => /(^|\/)[tj]sconfig(\.[\w-]+)?\.json$/.test(path))
      .flatMap((path) => readRules(files, path))
      .sort((a, b) => b.dir.length - a.dir.length);
    const packages = list
      .filter((path) => /(^|\/)package\.json$/.test(path))
      .flatMap((path) => readPackage(files, path))
      .sort((a, b) => b.dir.length - a.dir.length);
    this.#packages = packages.filter(({ name }) => name !== '');
    this.#entries = new Map(packages.map(({ dir, entries }) => [dir, entries]));
  }

  resolve(from: string, source: string): Resolution {
    const dir = dirname(from);
    const key = `${dir}\0${source}`;
    let result = this.#cache.get(key);
    if (!result) this.#cache.set(key, (result = this.#resolve(dir, source)));
    return result;
  }

  /** The `jsx` setting of TypeScript that holds for a file, when there is one. */
  jsxSetting(path: string): string | undefined {
    const dir = dirname(path);
    return this.#rules.find((r) => r.jsx !== undefined && (!r.dir || dir === r.dir || dir.startsWith(r.dir + '/')))
      ?.jsx;
  }

  #resolve(dir: string, source: string): Resolution {
    const clean = source.replace(/[?#].*$/, '');
    if (/^\.{1,2}(\/|$)/.test(clean))
      return this.#probe(join(dir, clean)) ?? this.#leaf(clean, join(dir, clean)) ?? missing(source);
    if (clean.startsWith('/'))
      return this.#probe(normalize(clean)) ?? this.#leaf(clean, normalize(clean)) ?? missing(source);
    for (const rules of this.#rules) {
      if (rules.dir && dir !== rules.dir && !dir.startsWith(rules.dir + '/')) continue;
      for (const target of mapped(rules, clean)) {
        const found = this.#probe(target);
        if (found) return found;
      }
    }
    for (const target of this.#called(dir, clean)) {
      const found = this.#probe(target);
      if (found) return found;
    }
    return {
      kind: 'package',
      name: clean
        .split('/')
        .slice(0, clean.startsWith('@') ? 2 : 1)
        .join('/'),
    };
  }

  /** Where a sign, or the name of a package of the project, leads. */
  #called(dir: string, source: string): (string | undefined)[] {
    if (SIGNS.test(source)) {
      const rest = source.replace(SIGNS, '');
      const around = this.#packages.filter((own) => !own.dir || dir === own.dir || dir.startsWith(own.dir + '/'));
      const roots = [...new Set([...around.map((own) => own.dir), ''])];
      return roots.flatMap((root) => SIGN_FOLDERS.map((folder) => join(root, folder, rest)));
    }
    return this.#packages
      .filter(({ name }) => source === name || source.startsWith(`${name}/`))
      .flatMap(({ dir: root, name, entries }) =>
        source === name ? entries.map((entry) => join(root, entry)) : [join(root, source.slice(name.length))],
      );
  }

  #probe(path: string | undefined): Resolution | undefined {
    if (path === undefined) return undefined;
    if (this.#paths.has(path)) return ASSET.test(path) ? { kind: 'asset', path } : { kind: 'file', path };
    const extension = extname(path);
    const stem = path.slice(0, path.length - extension.length);
    const tries = [
      ...EXTENSIONS.map((e) => path + e),
      ...(SWAPS[extension] ?? []).map((e) => stem + e),
      ...EXTENSIONS.map((e) => (path ? `${path}/index${e}` : `index${e}`)),
    ];
    const entries = path ? (this.#entries.get(path) ?? []).flatMap((entry) => join(path, entry) ?? []) : [];
    const found = [...entries, ...tries].find((candidate) => this.#paths.has(candidate));
    return found === undefined ? undefined : { kind: 'file', path: found };
  }

  #leaf(source: string, path: string | undefined): Resolution | undefined {
    return ASSET.test(source) ? { kind: 'asset', path: path ?? source } : undefined;
  }
}

function missing(source: string): Resolution {
  return { kind: 'missing', source };
}

function mapped(rules: PathRules, source: string): string[] {
  const targets: string[] = [];
  for (const [pattern, list] of rules.paths) {
    const star = pattern.indexOf('*');
    const head = star < 0 ? pattern : pattern.slice(0, star);
    const tail = star < 0 ? '' : pattern.slice(star + 1);
    if (star < 0 ? source !== pattern : !source.startsWith(head) || !source.endsWith(tail)) continue;
    const middle = source.slice(head.length, source.length - tail.length);
    for (const target of list) {
      const path = normalize(target.replace('*', middle));
      if (path !== undefined) targets.push(path);
    }
  }
  if (rules.baseUrl !== undefined) {
    const path = join(rules.baseUrl, source);
    if (path !== undefined) targets.push(path);
  }
  return targets;
}

function readPackage(files: FileSet, path: string): OwnPackage[] {
  let config: Record<string, unknown>;
  try {
    config = recordOf(JSON.parse(textOf(files, path) ?? ''));
  } catch {
    return [];
  }
  const { name, source, module, main } = config;
  // `./sfc` is where packages of single-file components name their source.
  const component = recordOf(config.browser)['./sfc'];
  const entries = stringsOf([source, component, 'src', module, main, 'index']);
  return [{ dir: dirname(path), name: typeof name === 'string' ? name : '', entries }];
}

function readRules(files: FileSet, path: string): PathRules[] {
  const options = readOptions(files, path, new Set());
  if (!options) return [];
  const { paths, ...rest } = options;
  if (Object.keys(options).length === 0) return [];
  return [{ dir: dirname(path), ...rest, paths: paths ?? [] }];
}

interface Options {
  baseUrl?: string;
  paths?: PathRules['paths'];
  jsx?: string;
}

/** `baseUrl` and `paths`, inherited ones included, all relative to the root. A file that extends itself is read once. */
function readOptions(files: FileSet, path: string, met: Set<string>): Options | undefined {
  const text = textOf(files, path);
  if (text === undefined || met.has(path)) return undefined;
  met.add(path);
  let config: Record<string, unknown>;
  try {
    config = recordOf(JSON.parse(stripJsonComments(text, { trailingCommas: true })));
  } catch {
    // A broken tsconfig is TypeScript's to complain about; imports then resolve without its rules.
    return undefined;
  }
  const result: Options = {};
  for (const parent of stringsOf([config.extends].flat())) {
    if (!parent.startsWith('.')) continue;
    const at = join(dirname(path), parent.endsWith('.json') ? parent : `${parent}.json`);
    Object.assign(result, at === undefined ? {} : readOptions(files, at, met));
  }
  const own = recordOf(config.compilerOptions);
  if (typeof own.baseUrl === 'string') result.baseUrl = join(dirname(path), own.baseUrl) ?? '';
  if (typeof own.jsx === 'string') result.jsx = own.jsx;
  if (own.paths !== undefined) {
    const base = result.baseUrl ?? dirname(path);
    result.paths = Object.entries(recordOf(own.paths)).map(([pattern, targets]) => [
      pattern,
      stringsOf(targets).map((t) => join(base, t) ?? t),
    ]);
  }
  return result;
}

/** Configuration can have any shape: what is none of the kind that is looked for counts as not there. */
function recordOf(value: unknown): Record<string, unknown> {
  return typeof value === 'object' && value !== null && !Array.isArray(value) ? (value as Record<string, unknown>) : {};
}

function stringsOf(value: unknown): string[] {
  return Array.isArray(value) ? value.filter((v) => typeof v === 'string') : [];
}
