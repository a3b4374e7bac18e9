/**
 * Writing a change to disk so that nothing is lost. Before the first file is touched, a journal entry says what was
 * there and what will be; each file is written beside its place and renamed into it; then the entry is closed. After a
 * crash at any point, `recover` puts the old state back.
 */
import {
  closeSync,
  existsSync,
  fsyncSync,
  lstatSync,
  mkdirSync,
  openSync,
  readdirSync,
  readFileSync,
  realpathSync,
  renameSync,
  rmSync,
  writeSync,
} from 'node:fs';
import { dirname, join, sep } from 'node:path';
import { problem, type Problem } from '../core/problems/problems.js';
import type { Change } from '../core/steps/change.js';
import { fingerprint } from '../core/text/fingerprint.js';

/** The few operations that change the disk, so that a test can stop between any two of them. */
export interface DiskOperations {
  write(path: string, text: string): void;
  rename(from: string, to: string): void;
  remove(path: string): void;
}

export const realOperations: DiskOperations = {
  write(path, text) {
    mkdirSync(dirname(path), { recursive: true });
    const file = openSync(path, 'w');
    writeSync(file, text);
    fsyncSync(file);
    closeSync(file);
  },
  rename: renameSync,
  remove: (path) => rmSync(path, { force: true }),
};

export interface JournalEntry {
  readonly format: 'verkstad/journal@1';
  readonly id: number;
  readonly step: string;
  readonly title: string;
  /** `open` and `undoing` are seen only after a crash. */
  readonly state: 'open' | 'done' | 'undoing' | 'undone';
  readonly files: readonly { readonly path: string; readonly before: string | null; readonly after: string | null }[];
}

const FOLDER = '.verkstad/journal';

export class Journal {
  constructor(
    /** Absolute path of the project's root. */
    readonly root: string,
    readonly disk: DiskOperations = realOperations,
  ) {}

  /** Entries in order of their ids. */
  entries(): JournalEntry[] {
    const folder = join(this.root, FOLDER);
    if (!existsSync(folder)) return [];
    return readdirSync(folder)
      .filter((name) => /^\d+\.json$/.test(name))
      .map((name) => JSON.parse(readFileSync(join(folder, name), 'utf8')) as JournalEntry)
      .sort((a, b) => a.id - b.id);
  }

  /** Writes a change, or says why not; then nothing has been written. */
  write(change: Pick<Change, 'step' | 'files'>, title: string): JournalEntry | Problem {
    const files: { path: string; before: string | null; after: string | null }[] = [];
    for (const file of change.files) {
      const trouble = placeTrouble(this.root, file.path);
      if (trouble) return trouble;
      const now = this.#read(file.path);
      const print = now === undefined ? undefined : fingerprint(now);
      if (print !== file.before)
        return problem(
          file.before === undefined ? 'target-exists' : 'changed-meanwhile',
          { path: file.path },
          file.path,
        );
      files.push({ path: file.path, before: now ?? null, after: file.text ?? null });
    }
    const last = this.entries().at(-1);
    const entry: JournalEntry = {
      format: 'verkstad/journal@1',
      id: (last?.id ?? 0) + 1,
      step: change.step,
      title,
      state: 'open',
      files,
    };
    this.#save(entry);
    for (const { path, after } of files) this.#put(path, after);
    return this.#save({ ...entry, state: 'done' });
  }

  /** Takes back the last change, or all changes down to and including `id`. */
  undo(id?: number): JournalEntry[] | Problem {
    const done = this.entries().filter((e) => e.state === 'done');
    const going = id === undefined ? done.slice(-1) : done.filter((e) => e.id >= id);
    if (going.length === 0) return problem('undo-nothing', { path: '.' });
    // What a later change left is what an earlier one is checked against: look through all before touching any.
    const expected = new Map<string, string | null>();
    for (const entry of [...going].reverse()) {
      for (const file of entry.files) {
        const trouble = placeTrouble(this.root, file.path);
        if (trouble) return trouble;
        const now = expected.has(file.path) ? expected.get(file.path)! : (this.#read(file.path) ?? null);
        if (now !== file.after) return problem('undo-edited', { path: file.path }, file.path);
        expected.set(file.path, file.before);
      }
    }
    const undone: JournalEntry[] = [];
    for (const entry of [...going].reverse()) {
      this.#save({ ...entry, state: 'undoing' });
      for (const file of entry.files) this.#put(file.path, file.before);
      undone.push(this.#save({ ...entry, state: 'undone' }));
    }
    return undone;
  }

  /** Puts right what a crash left half done: the state before that change. Returns the entries that it found. */
  recover(): JournalEntry[] | Problem {
    const broken = this.entries().filter((e) => e.state === 'open' || e.state === 'undoing');
    for (const entry of broken) {
      for (const file of entry.files) {
        const now = this.#read(file.path) ?? null;
        if (now !== file.before && now !== file.after) return problem('undo-edited', { path: file.path }, file.path);
      }
    }
    for (const entry of broken) {
      for (const file of entry.files)
        if ((this.#read(file.path) ?? null) !== file.before) this.#put(file.path, file.before);
      this.#save({ ...entry, state: 'undone' });
    }
    return broken;
  }

  #read(path: string): string | undefined {
    const at = join(this.root, path);
    return existsSync(at) ? readFileSync(at, 'utf8') : undefined;
  }

  #put(path: string, text: string | null): void {
    const at = join(this.root, path);
    if (text === null) return this.disk.remove(at);
    const beside = `${at}.verkstad-new`;
    this.disk.write(beside, text);
    this.disk.rename(beside, at);
  }

  #save(entry: JournalEntry): JournalEntry {
    const at = join(this.root, FOLDER, `${String(entry.id).padStart(4, '0')}.json`);
    this.disk.write(`${at}.new`, JSON.stringify(entry, null, 1));
    this.disk.rename(`${at}.new`, at);
    return entry;
  }
}

/** Nothing is written outside the root, through a link neither. */
export function placeTrouble(root: string, path: string): Problem | undefined {
  const outside = () => problem('target-outside', { path }, path);
  if (path.split('/').includes('..')) return outside();
  let at = join(root, path);
  if (existsSync(at) && lstatSync(at).isSymbolicLink()) return outside();
  while (!existsSync(at)) at = dirname(at);
  const [real, whole] = [realpathSync(at), realpathSync(root)];
  return real === whole || real.startsWith(whole + sep) ? undefined : outside();
}
