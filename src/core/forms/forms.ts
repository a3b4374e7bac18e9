/**
 * The neutral form: markup and code of a whole project as one tree of labelled nodes, whatever language they were
 * written in. Repeats are found and compared on it.
 *
 * Nodes lie in pre-order in flat arrays, a few bytes for each byte of source: node `i` with `size[i]` nodes has its
 * first part at `i + 1`, and what follows it at `i + size[i]`. A label says what a node is and where in a language it can
 * stand; a leaf has a value (a name, a literal, a text) besides. Shapes compare by labels alone.
 */

/** What may take the place of a node: other siblings, another attribute value, any expression, or nothing. */
export type Role = 'markup' | 'attribute' | 'expression' | 'other';

export const FLAGS = { markup: 1, host: 2, hook: 4, await: 8, key: 16 } as const;
/** What is said of whatever holds such a node as well. */
const HANDED_UP = FLAGS.markup | FLAGS.host | FLAGS.hook | FLAGS.await;

export interface FormFile {
  readonly path: string;
  /** Index of its first node. */
  readonly first: number;
}

export class Forms {
  label = new Int32Array(4096);
  /** Interned value of a leaf; 0 for what has none. */
  value = new Int32Array(4096);
  size = new Int32Array(4096);
  start = new Int32Array(4096);
  end = new Int32Array(4096);
  /** What stands somewhere inside: markup, `this` and its like, a hook call, an `await`. */
  flags = new Uint8Array(4096);
  length = 0;
  readonly files: FormFile[] = [];
  /** Nodes that a person has asked to leave as they are. */
  readonly left: number[] = [];
  readonly #strings: string[] = [''];
  readonly #ids = new Map<string, number>([['', 0]]);
  readonly #roles: Role[] = ['other'];
  readonly #open: number[] = [];

  /** The number of a label or value. A value may be spelled like a label (`"<div>"`): the role is the label's, whichever is met first. */
  intern(text: string, role: Role = 'other'): number {
    let id = this.#ids.get(text);
    if (id === undefined) {
      id = this.#strings.length;
      this.#ids.set(text, id);
      this.#strings.push(text);
      this.#roles.push(role);
    } else if (role !== 'other') this.#roles[id] = role;
    return id;
  }

  labelOf(node: number): string {
    return this.#strings[this.label[node]!]!;
  }

  valueOf(node: number): string {
    return this.#strings[this.value[node]!]!;
  }

  roleOf(node: number): Role {
    return this.#roles[this.label[node]!]!;
  }

  /** The first part of a node with a label; undefined where there is none. */
  partLabelled(node: number, label: number): number | undefined {
    for (let at = node + 1, end = node + this.size[node]!; at < end; at += this.size[at]!)
      if (this.label[at] === label) return at;
    return undefined;
  }

  /** The parts of a node, in order. */
  partsOf(node: number): number[] {
    const parts: number[] = [];
    for (let at = node + 1, end = node + this.size[node]!; at < end; at += this.size[at]!) parts.push(at);
    return parts;
  }

  file(node: number): FormFile {
    let low = 0;
    let high = this.files.length - 1;
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (this.files[middle]!.first <= node) low = middle;
      else high = middle - 1;
    }
    return this.files[low]!;
  }

  /** The parents of the nodes `[first, end)`, by index less `first`; -1 for what has none among them. */
  parentsWithin({ first, end }: { readonly first: number; readonly end: number }): Int32Array {
    const parents = new Int32Array(end - first).fill(-1);
    for (let node = first; node < end; node++) {
      const last = node + this.size[node]!;
      for (let part = node + 1; part < last; part += this.size[part]!) parents[part - first] = node;
    }
    return parents;
  }

  beginFile(path: string): void {
    this.files.push({ path, first: this.length });
  }

  open(label: number, start: number, end: number, value = 0): number {
    const node = this.length++;
    if (node === this.label.length) this.#grow();
    this.label[node] = label;
    this.value[node] = value;
    this.start[node] = start;
    this.end[node] = end;
    this.flags[node] = 0;
    this.#open.push(node);
    return node;
  }

  close(): void {
    const node = this.#open.pop()!;
    this.size[node] = this.length - node;
    const above = this.#open[this.#open.length - 1];
    if (above !== undefined) this.flags[above]! |= this.flags[node]! & HANDED_UP;
  }

  /** Sets a flag on the innermost open node, and so on all that hold it where it is handed up. */
  flag(flag: number): void {
    const node = this.#open[this.#open.length - 1];
    if (node !== undefined) this.flags[node]! |= flag;
  }

  leaf(label: number, start: number, end: number, value = 0): void {
    this.open(label, start, end, value);
    this.close();
  }

  /** Forgets everything from `node` on, as when a file turns out to be unreadable half way. */
  truncate(node: number): void {
    this.length = node;
    this.#open.length = 0;
    while (this.files.length > 0 && this.files[this.files.length - 1]!.first >= node) this.files.pop();
  }

  #grow(): void {
    const wider = (array: Int32Array): Int32Array<ArrayBuffer> => {
      const result = new Int32Array(array.length * 2);
      result.set(array);
      return result;
    };
    this.label = wider(this.label);
    this.value = wider(this.value);
    this.size = wider(this.size);
    this.start = wider(this.start);
    this.end = wider(this.end);
    const flags = new Uint8Array(this.flags.length * 2);
    flags.set(this.flags);
    this.flags = flags;
  }
}
