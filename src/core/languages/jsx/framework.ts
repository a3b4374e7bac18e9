/** Which framework the JSX of a file is for. Only what is rendered as React renders it is cut. */
import type { SourceFile } from '../../language/ports.js';
import { packageAround } from '../rooms.js';
import { dirname } from '../../files/paths.js';
import type { FileSet } from '../../files/files.js';
import { problem, type Problem } from '../../problems/problems.js';

/** Packages whose elements are no React elements: their components run once, or take props in another way. */
const OTHERS: readonly (readonly [RegExp, string])[] = [
  [/^(?:vue|@vue\/[\w-]+|vue-[\w-]+|nuxt|vuex|vuetify)$/, 'Vue'],
  [/^(?:solid-js|solid-start|@solidjs\/[\w-]+)(?:\/|$)/, 'Solid'],
  [/^@builder\.io\/qwik/, 'Qwik'],
  [/^@stencil\/core/, 'Stencil'],
  [/^(?:voby|inferno|hyperapp|mithril|snabbdom|million|lit)(?:\/|$)/, 'another library'],
];
const LIKE_REACT =
  /^(?:react|react-dom|react-native|preact|next|gatsby|@types\/react|expo|@remix-run\/react|@wordpress\/element)(?:\/|$)/;
const IMPORT = /\b(?:from|import|require\()\s*['"]([^'"]+)['"]/g;

/** Why the JSX of a file cannot be cut; undefined where it is React's, or nothing says otherwise. */
export function otherFramework(file: SourceFile, files: FileSet): Problem | undefined {
  const name = frameworkOf(file, files);
  return name === undefined ? undefined : problem('region-framework', { path: file.path }, name);
}

function frameworkOf({ path, text }: SourceFile, files: FileSet): string | undefined {
  const sources = [...text.matchAll(IMPORT)].map(([, source]) => source!);
  if (sources.some((source) => LIKE_REACT.test(source))) return undefined;
  const pragma = /@jsxImportSource\s+([\w@/.-]+)/.exec(text)?.[1];
  if (pragma !== undefined) return otherIn([pragma]);
  const imported = otherIn(sources);
  if (imported) return imported;
  // `render(h)` is how Vue 2 hands over what makes elements.
  if (/\brender\s*\(\s*(?:h|createElement)\s*[,)]|\brender\s*:\s*(?:function\s*)?\(?\s*h\b/.test(text)) return 'Vue';
  const { needs } = packageAround(files, dirname(path));
  return needs.some((name) => LIKE_REACT.test(name))
    ? undefined
    : otherIn(needs.filter((name) => !/^vue-(?:eslint|tsc|template)/.test(name)));
}

function otherIn(names: readonly string[]): string | undefined {
  for (const name of names) {
    const found = OTHERS.find(([pattern]) => pattern.test(name));
    if (found) return found[1];
  }
  return undefined;
}
