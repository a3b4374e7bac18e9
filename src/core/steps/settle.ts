/** The last look at what a step wrote, before it is proven: the languages join what now fits in a line. */
import { languageOf } from '../language/registry.js';
import type { Project } from '../project/project.js';
import { applied, createFile, editFile, type FileChange } from './change.js';
import { textOf } from '../files/files.js';
import { composeEdits, sortEdits, type Edit, type Span } from '../text/edits.js';

export function settled(project: Project, changes: readonly FileChange[]): FileChange[] {
  const files = applied(project.files, { files: changes });
  return changes.map((change) => {
    const { path, text, edits } = change;
    const language = languageOf(path);
    if (text === undefined || !language?.settle) return change;
    const changed = change.change === 'create' ? [{ start: 0, end: text.length }] : spansAfter(edits);
    const joined = language.settle({ file: { path, text }, changed, files, ports: project.ports });
    if (joined.length === 0) return change;
    if (change.change === 'create') return createFile(path, editFile(path, text, joined).text!);
    const before = textOf(project.files, path)!;
    return editFile(path, before, composeEdits(before, edits, joined));
  });
}

/** Where the text of each edit stands afterwards. */
function spansAfter(edits: readonly Edit[]): Span[] {
  let shift = 0;
  return sortEdits(edits).map(({ start, end, text }) => {
    const at = start + shift;
    shift += text.length - (end - start);
    return { start: at, end: at + text.length };
  });
}
