/**
 * The record of every change. Before the first file is touched, an entry says what was there and what will be; then all
 * files are put in place, or none; then the entry is closed. After a crash at any point, `recover` puts the old state back.
 */
import { lstatSync, readdirSync, readFileSync, renameSync, rmSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { isProblem, problem, type Problem } from '../../core/problems/problems.js';
import type { Change } from '../../core/steps/change.js';
import { fingerprint } from '../../core/text/fingerprint.js';
import { readEntry, written, type JournalEntry } from './entry.js';
import { locked } from './lock.js';
import { makeOwn, OWN_FOLDER, ownTrouble, writeOwn } from './own-folder.js';
import {
  besideOf,
  newToken,
  place,
  placeTrouble,
  readText,
  realOperations,
  reasonOf,
  type DiskOperations,
  type Target,
} from './writing.js';

export type { JournalEntry };

/** What lies in the journal. */
export interface JournalContents {
  /** What this user's runs wrote, in order. */
  readonly own: readonly JournalEntry[];
  /** Entries that came from elsewhere: shown, never carried out. */
  readonly foreign: readonly JournalEntry[];
  /** Names of files that are no entries. */
  readonly damaged: readonly string[];
}

/** What a start found after a crash. */
export interface Recovered {
  readonly takenBack: readonly JournalEntry[];
  /** Cut short, and a file was edited since: nothing is touched. */
  readonly stuck: readonly { readonly entry: JournalEntry; readonly path: string }[];
  readonly foreign: readonly JournalEntry[];
  /** Names under which damaged entries were put aside. */
  readonly damaged: readonly string[];
}

const FOLDER = 'journal';
/** Older entries than these are dropped. */
const KEPT = 100;
/** A larger file is no entry of ours. */
const MOST_BYTES = 64_000_000;

export class Journal {
  constructor(
    /** Absolute path of the project's root. */
    readonly root: string,
    readonly disk: DiskOperations = realOperations,
    /** Told when another process is waited for. */
    readonly waits: (who: string) => void = () => undefined,
  ) {}

  /** Entries of this user, in order of their ids. */
  entries(): readonly JournalEntry[] {
    return this.contents().own;
  }

  contents(): JournalContents {
    const folder = this.#folder;
    const own: JournalEntry[] = [];
    const foreign: JournalEntry[] = [];
    const damaged: string[] = [];
    if (ownTrouble(this.root, FOLDER) || !statSync(folder, { throwIfNoEntry: false })) return { own, foreign, damaged };
    for (const name of readdirSync(folder).filter((n) => /^\d+\.json$/.test(n))) {
      const stat = lstatSync(join(folder, name));
      const read =
        stat.isFile() && stat.size <= MOST_BYTES ? readEntry(readFileSync(join(folder, name), 'utf8')) : undefined;
      if (read?.entry.id !== Number(name.slice(0, -5))) damaged.push(name);
      else (read.isOwn ? own : foreign).push(read.entry);
    }
    const inOrder = (list: JournalEntry[]) => list.sort((a, b) => a.id - b.id);
    return { own: inOrder(own), foreign: inOrder(foreign), damaged };
  }

  /** Writes a change, or says why not; then nothing has been written. */
  write(change: Pick<Change, 'step' | 'files'>, title: string): JournalEntry | Problem {
    const files = this.#filesOf(change);
    if (isProblem(files)) return files;
    return this.#locked(change.step, () => {
      const { own, foreign } = this.contents();
      const open = own.find(isUnfinished);
      if (open) return problem('journal-open', { path: `${OWN_FOLDER}/${FOLDER}` }, open.id, open.title);
      const entry: JournalEntry = {
        format: 'verkstad/journal@2',
        id: Math.max(0, ...[...own, ...foreign].map((e) => e.id)) + 1,
        at: new Date().toISOString(),
        step: change.step,
        title,
        state: 'open',
        token: newToken(),
        files,
      };
      const done = this.#carryOut(entry, targetsOf(entry, 'after'), 'done');
      if (!isProblem(done)) this.#prune();
      else if (done.code !== 'write-broken') rmSync(this.#fileOf(entry), { force: true });
      return done;
    });
  }

  /** Takes back the last change, or all changes down to and including `id`. */
  undo(id?: number): JournalEntry[] | Problem {
    return this.#locked('undo', () => {
      const done = this.entries().filter((e) => e.state === 'done');
      const going = id === undefined ? done.slice(-1) : done.filter((e) => e.id >= id);
      if (going.length === 0) return this.#nothing(id);
      // What a later change left is what an earlier one is checked against: look through all before touching any.
      const expected = new Map<string, string | null>();
      for (const entry of [...going].reverse()) {
        for (const { path, before, after } of entry.files) {
          const trouble = placeTrouble(this.root, path);
          if (trouble) return trouble;
          const now = expected.has(path) ? expected.get(path)! : this.#read(path);
          if (now !== after) return problem('undo-edited', { path }, path, entry.id);
          expected.set(path, before);
        }
      }
      const undone: JournalEntry[] = [];
      for (const entry of [...going].reverse()) {
        const back = this.#carryOut(
          { ...entry, state: 'undoing', token: newToken() },
          targetsOf(entry, 'before'),
          'undone',
        );
        if (isProblem(back)) {
          if (back.code !== 'write-broken') this.#save(entry);
          return back;
        }
        undone.push(back);
      }
      return undone;
    });
  }

  /** Closes an entry and leaves every file as it is: the way out where a change can be neither kept nor taken back. */
  leave(id: number): JournalEntry | Problem {
    return this.#locked('undo', () => {
      const entry = this.entries().find((e) => e.id === id && (e.state === 'done' || isUnfinished(e)));
      if (!entry) return this.#nothing(id);
      this.#clear(entry);
      return this.#save({ ...entry, state: 'left' });
    });
  }

  /** Puts right what a crash left half done: the state before that change. */
  recover(): Recovered | Problem {
    const { own, foreign, damaged } = this.contents();
    if (damaged.length === 0 && !own.some(isUnfinished))
      return { takenBack: [], stuck: [], foreign: foreign.filter(isUnfinished), damaged };
    return this.#locked('putting right what was cut short', () => {
      const aside = damaged.map((name) => {
        renameSync(join(this.#folder, name), join(this.#folder, `${name}.damaged`));
        return `${OWN_FOLDER}/${FOLDER}/${name}.damaged`;
      });
      const takenBack: JournalEntry[] = [];
      const stuck: { entry: JournalEntry; path: string }[] = [];
      // Another run may have finished what was open a moment ago.
      for (const entry of this.entries().filter(isUnfinished)) {
        const edited = entry.files.find(
          (f) => placeTrouble(this.root, f.path) ?? ![f.before, f.after].includes(this.#read(f.path)),
        );
        if (edited) {
          stuck.push({ entry, path: edited.path });
          continue;
        }
        this.#clear(entry);
        const going = entry.files.filter((f) => this.#read(f.path) !== f.before);
        const targets = targetsOf({ ...entry, files: going }, 'before');
        const back = this.#carryOut({ ...entry, state: 'undoing', token: newToken() }, targets, 'undone');
        if (isProblem(back)) return back;
        takenBack.push(back);
      }
      return { takenBack, stuck, foreign: foreign.filter(isUnfinished), damaged: aside };
    });
  }

  /** The entry is on disk before the first file is touched, and closed when the last one is in place. */
  #carryOut(entry: JournalEntry, targets: readonly Target[], end: 'done' | 'undone'): JournalEntry | Problem {
    const at = { path: `${OWN_FOLDER}/${FOLDER}` };
    try {
      this.#save(entry);
    } catch (error) {
      return problem('write-failed', at, reasonOf(error));
    }
    try {
      return place(this.root, targets, entry.token, this.disk) ?? this.#save({ ...entry, state: end });
    } catch (error) {
      return problem('write-broken', at, reasonOf(error));
    }
  }

  #filesOf({ files }: Pick<Change, 'files'>): JournalEntry['files'] | Problem {
    const result: JournalEntry['files'] = [];
    for (const file of files) {
      const trouble = placeTrouble(this.root, file.path);
      if (trouble) return trouble;
      const now = this.#read(file.path);
      if ((now === null ? undefined : fingerprint(now)) !== file.before)
        return problem(
          file.before === undefined ? 'target-exists' : 'changed-meanwhile',
          { path: file.path },
          file.path,
        );
      const mode = now === null ? undefined : statSync(join(this.root, file.path)).mode & 0o7777;
      result.push({ path: file.path, before: now, after: file.text ?? null, ...(mode === undefined ? {} : { mode }) });
    }
    return result;
  }

  #locked<T>(doing: string, run: () => T | Problem): T | Problem {
    try {
      const trouble = makeOwn(this.root, FOLDER);
      if (trouble) return trouble;
      return locked(join(this.root, OWN_FOLDER), `verkstad ${doing}`, run, this.waits);
    } catch (error) {
      return problem('write-failed', { path: OWN_FOLDER }, reasonOf(error));
    }
  }

  #nothing(id: number | undefined): Problem {
    const { foreign } = this.contents();
    if (foreign.some((e) => id === undefined || e.id === id))
      return problem('undo-foreign', { path: `${OWN_FOLDER}/${FOLDER}` });
    return problem('undo-nothing', { path: '.' }, id);
  }

  /** What a run that died has left beside its places. */
  #clear({ files, token }: JournalEntry): void {
    for (const { path } of files)
      if (!placeTrouble(this.root, path)) rmSync(besideOf(join(this.root, path), token), { force: true });
  }

  #prune(): void {
    const closed = this.entries().filter((e) => !isUnfinished(e));
    for (const entry of closed.slice(0, -KEPT)) rmSync(this.#fileOf(entry), { force: true });
    for (const name of readdirSync(this.#folder).filter((n) => n.endsWith('.new'))) rmSync(join(this.#folder, name));
  }

  #read(path: string): string | null {
    return readText(join(this.root, path));
  }

  get #folder(): string {
    return join(this.root, OWN_FOLDER, FOLDER);
  }

  #fileOf({ id }: JournalEntry): string {
    return join(this.root, OWN_FOLDER, nameOf(id));
  }

  #save(entry: JournalEntry): JournalEntry {
    writeOwn(this.root, nameOf(entry.id), written(entry), this.disk);
    return entry;
  }
}

function nameOf(id: number): string {
  return `${FOLDER}/${String(id).padStart(4, '0')}.json`;
}

function isUnfinished({ state }: JournalEntry): boolean {
  return state === 'open' || state === 'undoing';
}

function targetsOf({ files }: JournalEntry, to: 'before' | 'after'): Target[] {
  return files.map((f) => ({
    path: f.path,
    from: to === 'after' ? f.before : f.after,
    to: f[to],
    ...(f.mode === undefined ? {} : { mode: f.mode }),
  }));
}
