/** Names of new files, after those around them. */
import { basename, dirname, extname } from '../files/paths.js';
import { roomFor } from './rooms.js';
import type { ProjectView } from '../language/project.js';

/**
 * The file for a new component: beside the host, named and housed as the files around it are. A module of logic ends in
 * `logicExtension` and has no folder to itself.
 */
export function fileFor(project: ProjectView, hostPath: string, name: string, logicExtension?: string): string {
  const dir = roomFor(project.files, hostPath);
  const end = extname(hostPath);
  const paths = project.files.list().filter((p) => extname(p) === end);
  const host = stemOf(hostPath);
  const suffix = /\.(component|view|screen)$/.exec(host)?.[0] ?? '';
  const stem = spelled(name, suffix ? 'kebab' : spellingAround(paths, dir));
  const isLogic = logicExtension !== undefined;
  const house = isLogic ? undefined : housing(paths, dir, hostPath);
  const file = stem + (isLogic ? '' : suffix);
  const inside = house === undefined ? file : `${stem}/${house === 'index' ? 'index' : file}`;
  return (dir ? `${dir}/` : '') + inside + (logicExtension ?? end);
}

/** A name as the files around `hostPath` spell theirs. */
export function fileStem(project: ProjectView, hostPath: string, name: string): string {
  const end = extname(hostPath);
  const paths = project.files.list().filter((p) => extname(p) === end);
  return spelled(name, spellingAround(paths, roomFor(project.files, hostPath)));
}

function stemOf(path: string): string {
  return basename(path).replace(/\.[^.]*$/, '');
}

type Spelling = 'kebab' | 'camel' | 'pascal';

/** How names are spelled in a folder, or in the closest one around it that has a name to tell by. */
function spellingAround(paths: readonly string[], dir: string): Spelling {
  for (let at = dir; ; at = dirname(at)) {
    const below = at === '' ? paths : paths.filter((p) => p.startsWith(`${at}/`));
    // A file `index` goes by the name of its folder.
    const stems = below
      .filter((p) => at !== dir || dirname(p) === dir)
      .map((p) => (stemOf(p) === 'index' ? basename(dirname(p)) : stemOf(p)))
      .map((stem) => stem.replace(/\..*$/, ''));
    const count = (pattern: RegExp) => stems.filter((s) => pattern.test(s)).length;
    const kebab = count(/^[a-z0-9]+(-[a-z0-9]+)+$/);
    const pascal = count(/^[A-Z]/);
    const camel = count(/^[a-z]+[A-Z]/);
    if (kebab + pascal + camel > 0 || at === '') return kebab > pascal ? 'kebab' : camel > pascal ? 'camel' : 'pascal';
  }
}

function spelled(name: string, spelling: Spelling): string {
  if (spelling === 'pascal') return name;
  if (spelling === 'camel') return name[0]!.toLowerCase() + name.slice(1);
  return name
    .replace(/([a-z0-9])([A-Z])/g, '$1-$2')
    .replace(/([A-Z])([A-Z][a-z])/g, '$1-$2')
    .toLowerCase();
}

/** Where each component beside the host has a folder to itself: what its file is called in there. */
function housing(paths: readonly string[], dir: string, hostPath: string): 'index' | 'own' | undefined {
  const depth = dir === '' ? 0 : dir.length + 1;
  const inDir = paths.filter((p) => dir === '' || p.startsWith(`${dir}/`)).map((p) => p.slice(depth).split('/'));
  const alone = inDir.filter((parts) => parts.length === 1 && parts[0] !== basename(hostPath)).length;
  const folders = inDir.filter((parts) => parts.length === 2);
  const index = folders.filter(([, file]) => stemOf(file!) === 'index').length;
  const own = folders.filter(([folder, file]) => stemOf(file!) === folder).length;
  // A host `index` has a folder to itself already, which is the place for its parts.
  if (stemOf(hostPath) === 'index' || stemOf(hostPath) === basename(dir) || index + own <= Math.max(2, alone))
    return undefined;
  return index >= own ? 'index' : 'own';
}

/** `useInspections` for `inspections`, `hasInspections` or `inspectionsRef`. */
export function hookName(subject: string): string {
  const about = subject.replace(/^(?:handle|on|get|is|has|should)(?=[A-Z])|(?<=[a-z])Ref$/g, '');
  return `use${about[0]!.toUpperCase()}${about.slice(1)}`;
}

/** What something is called where it is handed over: `pricePerKilo` for `PRICE_PER_KILO`. */
export function inputName(name: string): string {
  if (!/^[A-Z]/.test(name)) return name;
  if (!/^[A-Z][A-Z0-9_]*$/.test(name)) return name[0]!.toLowerCase() + name.slice(1);
  return name.toLowerCase().replace(/_+(\w)/g, (_, next: string) => next.toUpperCase());
}
