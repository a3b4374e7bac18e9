/** The component graph: which component shows which, across files, and where the application begins. */
import type { ComponentSummary } from './measures.js';
import type { FileSummary } from './summary.js';
import { textOf } from '../files/files.js';
import { dirname, join } from '../files/paths.js';
import type { Project } from '../project/project.js';

export interface GraphNode {
  /** `path#Name`. */
  readonly id: string;
  readonly path: string;
  readonly component: ComponentSummary;
  /** Ids of components of the project that it shows, in order of first use. */
  readonly renders: readonly string[];
}

export interface Graph {
  readonly nodes: ReadonlyMap<string, GraphNode>;
  /** Components that an entry mounts; without an entry, those that nothing shows. */
  readonly roots: readonly string[];
  /** Entry files found from HTML pages. */
  readonly entries: readonly string[];
  readonly unresolved: readonly { readonly path: string; readonly source: string }[];
}

export function buildGraph(project: Project, files: readonly FileSummary[]): Graph {
  const byPath = new Map(files.map((f) => [f.path, f]));
  const linker = new Linker(project, byPath);
  const started = entryFiles(project);
  const nodes = new Map<string, GraphNode>();
  for (const file of files) {
    const shows = (path: string) =>
      byPath.get(path)?.mounts.flatMap((tag) => linker.componentFor(byPath.get(path)!, tag) ?? []) ?? [];
    const mounts = [file.path, ...(started.get(file.path) ?? [])];
    for (const component of file.components) {
      const id = idOf(file.path, component.name);
      const renders = [
        ...new Set([
          ...component.tags.flatMap((tag) => linker.componentFor(file, tag) ?? []),
          ...(component.kind === 'page' ? mounts.flatMap(shows) : []),
        ]),
      ];
      nodes.set(id, { id, path: file.path, component, renders });
    }
  }
  const shown = new Set<string>();
  for (const node of nodes.values()) for (const id of node.renders) if (id !== node.id) shown.add(id);
  const entries = [...new Set([...started.values()].flat())].filter((path) => byPath.has(path));
  const mounted = files.flatMap((file) => file.mounts.flatMap((tag) => linker.componentFor(file, tag) ?? []));
  const unshown = [...nodes.keys()].filter((id) => !shown.has(id) && nodes.get(id)!.component.kind !== 'helper');
  const fromEntries = entries.flatMap((path) =>
    byPath.get(path)!.mounts.flatMap((tag) => linker.componentFor(byPath.get(path)!, tag) ?? []),
  );
  const first = [
    ...new Set([...fromEntries.filter((id) => !isOnPage(nodes, id)), ...mounted.filter((id) => !shown.has(id))]),
  ];
  const reached = reachable(nodes, first);
  const roots = [...first, ...unshown.filter((id) => !reached.has(id))];
  // A circle that nothing outside shows still has to appear somewhere.
  const covered = reachable(nodes, roots);
  for (const [id, node] of nodes) {
    if (covered.has(id) || node.component.kind === 'helper') continue;
    roots.push(id);
    for (const other of reachable(nodes, [id])) covered.add(other);
  }
  return { nodes, roots, entries, unresolved: linker.unresolved() };
}

/** Shown by a page: the page is then what the tree begins with. */
function isOnPage(nodes: ReadonlyMap<string, GraphNode>, id: string): boolean {
  return [...nodes.values()].some((n) => n.component.kind === 'page' && n.renders.includes(id));
}

export function idOf(path: string, name: string): string {
  return `${path}#${name}`;
}

function reachable(nodes: ReadonlyMap<string, GraphNode>, from: readonly string[]): Set<string> {
  const seen = new Set<string>();
  const queue = [...from];
  for (let id = queue.pop(); id !== undefined; id = queue.pop()) {
    if (seen.has(id)) continue;
    seen.add(id);
    queue.push(...(nodes.get(id)?.renders ?? []));
  }
  return seen;
}

/** `<script type="module" src="…">` of the HTML pages at the root and in `public`. */
function entryFiles(project: Project): Map<string, string[]> {
  const found = new Map<string, string[]>();
  for (const path of project.files.list()) {
    if (!path.endsWith('.html')) continue;
    const text = textOf(project.files, path);
    for (const match of text?.matchAll(/<script\b[^>]*\bsrc=["']([^"']+)["']/g) ?? []) {
      const source = match[1]!;
      if (/^[a-z]+:|^\/\//.test(source)) continue;
      const at = source.startsWith('/') ? join(dirname(path), source.slice(1)) : join(dirname(path), source);
      if (at !== undefined) found.set(path, [...(found.get(path) ?? []), at]);
    }
  }
  return found;
}

/** `hive-card` and `HiveCard` are one name. */
function plainTag(tag: string): string {
  return tag.replace(/-/g, '').toLowerCase();
}

/** Which component a tag means, across files. */
export class Linker {
  constructor(
    readonly project: Project,
    readonly files: ReadonlyMap<string, FileSummary>,
  ) {}

  /** The component that a tag in a file means; undefined for packages and for what is no component. */
  componentFor(file: FileSummary, tag: string): string | undefined {
    const [first, ...rest] = tag.split('.');
    const own = (name: string) => (file.components.some((c) => c.name === name) ? idOf(file.path, name) : undefined);
    if (rest.length === 0 && own(tag)) return own(tag);
    const entry = file.imports.find((i) => i.local === first);
    const last = rest[rest.length - 1];
    if (!entry) return last ? own(last) : this.#registered(tag);
    const target = this.project.resolver.resolve(file.path, entry.source);
    if (target.kind !== 'file') return undefined;
    if (last === undefined) return this.#exported(target.path, entry.imported);
    return this.#exported(target.path, entry.imported === '*' ? last : entry.imported, last);
  }

  #known: Map<string, string> | undefined;

  /** A component that the application knows by a name, wherever it is shown. */
  #registered(tag: string): string | undefined {
    if (!this.#known) {
      // Set first: what is registered is looked up like any other name.
      this.#known = new Map();
      for (const file of this.files.values())
        for (const { name, local } of file.registers) {
          const id = file.imports.some((i) => i.local === local) ? this.componentFor(file, local) : undefined;
          if (id) this.#known.set(plainTag(name), id);
        }
    }
    return this.#known.get(plainTag(tag));
  }

  /** Follows an export through re-exports to the component behind it. */
  #exported(path: string, name: string, member?: string, seen: ReadonlySet<string> = new Set()): string | undefined {
    const file = this.files.get(path);
    const step = `${path}#${name}`;
    if (!file || seen.has(step)) return undefined;
    const next = new Set([...seen, step]);
    if (member !== undefined && file.components.some((c) => c.name === member)) return idOf(path, member);
    const found = file.exports.find((e) => e.name === name);
    if (found) {
      if (found.source !== undefined)
        return this.#follow(
          path,
          found.source,
          found.local === '*' ? (member ?? 'default') : found.local,
          member,
          next,
        );
      const local =
        found.local === 'default' ? file.components.find((c) => c.exported === 'default')?.name : found.local;
      if (local !== undefined && file.components.some((c) => c.name === local)) return idOf(path, local);
      const entry = file.imports.find((i) => i.local === local);
      return entry ? this.#follow(path, entry.source, entry.imported, member, next) : undefined;
    }
    for (const star of file.exports.filter((e) => e.name === '*' && e.source !== undefined)) {
      const through = this.#follow(path, star.source!, name, member, next);
      if (through) return through;
    }
    return name === 'default' && file.components.length === 1 && file.components[0]!.exported === 'default'
      ? idOf(path, file.components[0]!.name)
      : undefined;
  }

  #follow(
    from: string,
    source: string,
    name: string,
    member: string | undefined,
    seen: ReadonlySet<string>,
  ): string | undefined {
    const target = this.project.resolver.resolve(from, source);
    return target.kind === 'file' ? this.#exported(target.path, name, member, seen) : undefined;
  }

  unresolved(): { path: string; source: string }[] {
    const result: { path: string; source: string }[] = [];
    for (const file of this.files.values()) {
      const sources = new Set([
        ...file.imports.map((i) => i.source),
        ...file.loads,
        ...file.exports.flatMap((e) => e.source ?? []),
      ]);
      for (const source of sources)
        if (this.project.resolver.resolve(file.path, source).kind === 'missing')
          result.push({ path: file.path, source });
    }
    return result;
  }
}
