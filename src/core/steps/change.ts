/** A change as data: it can be printed, applied in memory, written by a host, taken back. */
import { OverlayFiles, textOf, type FileSet } from '../files/files.js';
import { applyEdits, type Edit } from '../text/edits.js';
import { fingerprint } from '../text/fingerprint.js';
import { unifiedDiff } from '../text/diff.js';

export interface FileChange {
  readonly path: string;
  readonly change: 'edit' | 'create' | 'delete';
  /** Fingerprint of the text that the change was computed from; undefined for a new file. */
  readonly before: string | undefined;
  /** For an edit. */
  readonly edits: readonly Edit[];
  /** The text afterwards; undefined for a deleted file. */
  readonly text: string | undefined;
}

export interface Change {
  readonly step: string;
  readonly files: readonly FileChange[];
  readonly notes: readonly string[];
}

export function editFile(path: string, text: string, edits: readonly Edit[]): FileChange {
  return { path, change: 'edit', before: fingerprint(text), edits, text: applyEdits(text, edits) };
}

export function createFile(path: string, text: string): FileChange {
  return { path, change: 'create', before: undefined, edits: [], text };
}

/** A file with a text, whether it stands there already or not; for an edit, all between what is the same at either end. */
export function writeFile(files: FileSet, path: string, text: string): FileChange {
  const known = textOf(files, path);
  if (known === undefined) return createFile(path, text);
  let start = 0;
  while (start < known.length && known[start] === text[start]) start++;
  let same = 0;
  while (same < Math.min(known.length, text.length) - start && known.at(-1 - same) === text.at(-1 - same)) same++;
  const end = known.length - same;
  return editFile(path, known, [{ start, end, text: text.slice(start, text.length - same) }]);
}

export function deleteFile(path: string, text: string): FileChange {
  return { path, change: 'delete', before: fingerprint(text), edits: [], text: undefined };
}

/** The files as they are after the change. */
export function applied(files: FileSet, change: Pick<Change, 'files'>): FileSet {
  return new OverlayFiles(files, new Map(change.files.map((f) => [f.path, f.text])));
}

/** The change as one unified diff. */
export function diffOf(files: FileSet, change: Pick<Change, 'files'>): string {
  return change.files
    .map((f) => unifiedDiff(f.path, f.change === 'create' ? undefined : textOf(files, f.path), f.text))
    .join('');
}
