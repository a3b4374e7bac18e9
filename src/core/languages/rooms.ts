/** Folders whose files a framework or a test runner takes for pages, routes or tests: new files go beside them. */
import { dirname } from '../files/paths.js';
import { textOf, type FileSet } from '../files/files.js';

/** By package: folders below the package's root, each of whose files means something of its own. */
const ROUTED: readonly (readonly [RegExp, readonly string[]])[] = [
  [/^(?:next|umi|@docusaurus\/core|vite-plugin-pages|unplugin-vue-router)$/, ['pages', 'src/pages']],
  [/^gatsby$/, ['src/pages', 'src/api']],
  [/^expo-router$/, ['app', 'src/app']],
  [/^(?:@remix-run\/(?:react|dev)|@react-router\/dev)$/, ['app/routes']],
  [/^@tanstack\/(?:react-)?router/, ['src/routes', 'app/routes']],
  [/^astro$/, ['src/pages', 'src/content']],
  [/^@sveltejs\/kit$/, ['src/routes']],
  [/^nuxt(?:-edge|3)?$/, ['pages', 'layouts', 'middleware', 'plugins', 'server', 'app/pages', 'app/layouts']],
];
const TESTS = /(?:^|\/)(?:__tests__|__mocks__|__snapshots__)(?:\/|$)/;

/** The folder for a new file that belongs to the one at `hostPath`: its own, or `components` beside a folder of pages. */
export function roomFor(files: FileSet, hostPath: string): string {
  const dir = dirname(hostPath);
  const test = TESTS.exec(dir);
  if (test) return dir.slice(0, test.index);
  const { root, needs } = packageAround(files, dir);
  const below = root === '' ? dir : dir.slice(root.length + 1);
  for (const [name, folders] of ROUTED) {
    if (!needs.some((n) => name.test(n))) continue;
    const folder = folders.find((f) => below === f || below.startsWith(`${f}/`));
    if (folder !== undefined) return [root, dirname(folder), 'components'].filter(Boolean).join('/');
  }
  return dir;
}

const known = new WeakMap<FileSet, Map<string, { readonly root: string; readonly needs: readonly string[] }>>();

/** The closest package around a folder, and the packages that it names. */
export function packageAround(
  files: FileSet,
  dir: string,
): { readonly root: string; readonly needs: readonly string[] } {
  let memo = known.get(files);
  if (!memo) known.set(files, (memo = new Map<string, { readonly root: string; readonly needs: readonly string[] }>()));
  const met = memo.get(dir);
  if (met) return met;
  const text = textOf(files, dir ? `${dir}/package.json` : 'package.json');
  const found =
    text !== undefined
      ? { root: dir, needs: needsIn(text) }
      : dir
        ? packageAround(files, dirname(dir))
        : { root: '', needs: [] };
  memo.set(dir, found);
  return found;
}

function needsIn(text: string): string[] {
  try {
    const data = JSON.parse(text) as Record<string, Record<string, unknown> | undefined>;
    return ['dependencies', 'devDependencies', 'peerDependencies', 'optionalDependencies'].flatMap((key) => {
      const value = data[key];
      return value && typeof value === 'object' ? Object.keys(value) : [];
    });
  } catch {
    return [];
  }
}
