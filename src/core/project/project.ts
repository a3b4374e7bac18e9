/** The files under one root with what has been read from them. A project never changes: a change makes a new one. */
import type { Language } from '../language/language.js';
import type { Ports, SourceFile } from '../language/ports.js';
import '../languages/builtin.js';
import type { ProjectView } from '../language/project.js';
import { languageOf, loadedLanguages, loadLanguages } from '../language/registry.js';
import type { ModuleModel } from '../markup/model.js';
import { problem, isProblem, withinDepth, type Problem } from '../problems/problems.js';
import type { FileSet } from '../files/files.js';
import { extname } from '../files/paths.js';
import { Resolver } from '../files/resolve.js';

/** A file with the language that it is in. */
export type ClaimedFile = SourceFile & { readonly language: Language };

export class Project implements ProjectView {
  readonly #models = new Map<string, ModuleModel | Problem>();
  #resolver: Resolver | undefined;

  constructor(
    readonly files: FileSet,
    readonly ports: Ports,
  ) {}

  /** A project with the languages of its files loaded. */
  static async open(files: FileSet, ports: Ports): Promise<Project> {
    await loadLanguages(files.list());
    // What stands on a page can become a component of any language.
    if (loadedLanguages().some((language) => language.page)) await loadLanguages();
    return new Project(files, ports);
  }

  get resolver(): Resolver {
    return (this.#resolver ??= new Resolver(this.files));
  }

  /** Files in a language that is read, sorted by path. */
  sources(): string[] {
    return this.files.list().filter((path) => languageOf(path) && !path.endsWith('.d.ts'));
  }

  source(path: string): ClaimedFile | Problem {
    const content = this.files.read(path);
    if (!content) return problem('file-unknown', { path });
    const language = languageOf(path);
    if (!language) return problem('file-language', { path }, extname(path) || 'no extension');
    if ('unreadable' in content) {
      if (content.unreadable === 'encoding') return problem('file-encoding', { path });
      if (content.unreadable === 'large') return problem('file-large', { path }, content.bytes, Number(content.detail));
      return problem('file-unreadable', { path }, content.detail);
    }
    if (!content.text.trim()) return problem('file-empty', { path });
    return { path, text: content.text, language };
  }

  model(path: string): ModuleModel | Problem {
    let model = this.#models.get(path);
    if (!model) {
      const file = this.source(path);
      model = isProblem(file) ? file : withinDepth(path, () => file.language.read(file, this.ports));
      this.#models.set(path, model);
    }
    return model;
  }
}
