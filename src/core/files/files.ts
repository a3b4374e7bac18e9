/** The one file interface. Paths are relative to the root, with `/`, never beginning with `./` or leaving the root. */

export type FileContent =
  | { readonly text: string }
  | { readonly unreadable: 'encoding' | 'large' | 'io'; readonly detail: string; readonly bytes: number };

export interface FileSet {
  /** Sorted by code unit. */
  list(): readonly string[];
  /** Undefined when there is no such file. */
  read(path: string): FileContent | undefined;
}

export class MemoryFiles implements FileSet {
  readonly #files: Map<string, string>;

  constructor(files: Iterable<readonly [string, string]> | Readonly<Record<string, string>>) {
    this.#files = new Map(Symbol.iterator in files ? files : Object.entries(files));
  }

  list(): readonly string[] {
    return [...this.#files.keys()].sort();
  }

  read(path: string): FileContent | undefined {
    const text = this.#files.get(path);
    return text === undefined ? undefined : { text };
  }
}

/** A file set with some files written over; `undefined` stands for a deleted file. */
export class OverlayFiles implements FileSet {
  constructor(
    readonly base: FileSet,
    readonly over: ReadonlyMap<string, string | undefined>,
  ) {}

  list(): readonly string[] {
    const paths = new Set(this.base.list());
    for (const [path, text] of this.over) {
      if (text === undefined) paths.delete(path);
      else paths.add(path);
    }
    return [...paths].sort();
  }

  read(path: string): FileContent | undefined {
    if (!this.over.has(path)) return this.base.read(path);
    const text = this.over.get(path);
    return text === undefined ? undefined : { text };
  }
}

export function textOf(files: FileSet, path: string): string | undefined {
  const content = files.read(path);
  return content && 'text' in content ? content.text : undefined;
}
