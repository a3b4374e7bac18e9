/** The components of a project with every tag that shows them: what the analyses of more than one component ask. */
import type { Language } from '../language/language.js';
import type { SourceFile } from '../language/ports.js';
import type { ComponentModel, ElementNode, Markup } from '../markup/model.js';
import { walkMarkup } from '../markup/walk.js';
import { isProblem } from '../problems/problems.js';
import type { Project } from '../project/project.js';
import { idOf, Linker } from './graph.js';
import { summarizeFile, type FileSummary, type SummaryCache } from './summary.js';
import { valuesOf, type Resolved, type Value } from './uses.js';

/** One tag that shows a component. */
export interface TagUse {
  readonly path: string;
  readonly element: ElementNode;
  /** What stands around it in the markup, outermost first. */
  readonly above: readonly Markup[];
  /** The component that it stands in; undefined where an application is mounted. */
  readonly host: ComponentModel | undefined;
}

export interface TreeNode {
  readonly id: string;
  readonly path: string;
  readonly component: ComponentModel;
  readonly file: SourceFile & { readonly language: Language };
}

/** Shared by everything that asks about one project, which never changes. */
const known = new WeakMap<Project, ComponentTree>();

export class ComponentTree {
  static of(project: Project, cache?: SummaryCache): ComponentTree {
    let tree = known.get(project);
    if (!tree) known.set(project, (tree = new ComponentTree(project, cache)));
    return tree;
  }

  readonly summaries: ReadonlyMap<string, FileSummary>;
  readonly linker: Linker;
  readonly #values = new Map<string, readonly Value[]>();
  /** Paths of files by the components that their tags mean. */
  #showing: Map<string, Set<string>> | undefined;

  constructor(
    readonly project: Project,
    cache?: SummaryCache,
  ) {
    this.summaries = new Map(project.sources().map((path) => [path, summarizeFile(project, path, cache)]));
    this.linker = new Linker(project, this.summaries);
  }

  /** The component that a tag in a file means; undefined for what is no component of the project. */
  meant(path: string, tag: string): string | undefined {
    const summary = this.summaries.get(path);
    return summary && this.linker.componentFor(summary, tag);
  }

  node(id: string): TreeNode | undefined {
    const at = id.lastIndexOf('#');
    const path = id.slice(0, at);
    const model = this.project.model(path);
    const file = this.project.source(path);
    if (isProblem(model) || isProblem(file)) return undefined;
    const component = model.components.find((c) => c.name === id.slice(at + 1));
    return component && { id, path, component, file };
  }

  nodesIn(path: string): TreeNode[] {
    const names = this.summaries.get(path)?.components.map((c) => c.name) ?? [];
    return names.flatMap((name) => this.node(idOf(path, name)) ?? []);
  }

  /** Every tag that shows a component, by file and in text order. */
  usesOf(id: string): TagUse[] {
    return [...(this.#filesShowing().get(id) ?? [])].sort().flatMap((path) => this.#usesIn(path, id));
  }

  /** Names of a component with all their uses. */
  values(id: string): readonly Value[] {
    let values = this.#values.get(id);
    if (!values) {
      const node = this.node(id);
      const module = node && this.resolved(node.path);
      this.#values.set(id, (values = node && module ? valuesOf(module, node.component) : []));
    }
    return values;
  }

  resolved(path: string): Resolved | undefined {
    const file = this.project.source(path);
    const module = isProblem(file) ? undefined : file.language.prove?.(file, this.project.ports);
    return module && !isProblem(module) ? module : undefined;
  }

  #filesShowing(): Map<string, Set<string>> {
    if (this.#showing) return this.#showing;
    const showing = (this.#showing = new Map<string, Set<string>>());
    for (const [path, summary] of this.summaries)
      for (const tag of [...summary.components.flatMap((c) => c.tags), ...summary.mounts]) {
        const id = this.linker.componentFor(summary, tag);
        if (id) showing.set(id, (showing.get(id) ?? new Set()).add(path));
      }
    return showing;
  }

  /** `<Panel.Head>` is something that the component `Panel` has. */
  #shows(path: string, tag: string, id: string): boolean {
    const dot = tag.indexOf('.');
    return this.meant(path, tag) === id && (dot < 0 || this.meant(path, tag.slice(0, dot)) !== id);
  }

  #usesIn(path: string, id: string): TagUse[] {
    const model = this.project.model(path);
    if (isProblem(model)) return [];
    const uses = new Map<number, TagUse>();
    const look = (roots: readonly Markup[], host: ComponentModel | undefined) =>
      walkMarkup(roots, (element, above) => {
        if (element.kind !== 'element' || uses.has(element.start)) return;
        if (this.#shows(path, element.name, id)) uses.set(element.start, { path, element, above, host });
      });
    for (const component of model.components) look(component.markup, component);
    look(model.mounts, undefined);
    return [...uses.values()].sort((a, b) => a.element.start - b.element.start);
  }
}
