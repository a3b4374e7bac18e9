/**
 * Pages of a language without components, written into one that has them: each becomes a component that its page mounts,
 * and the step itself is then done there. Both parts are proven, and the change is one.
 */
import { isProblem, problem, type Problem } from '../problems/problems.js';
import { basename, componentNameFromFile, dirname, relativeFrom } from '../files/paths.js';
import type { Hypertext, PlainPage } from '../language/hypertext.js';
import type { Language } from '../language/language.js';
import type { SourceFile } from '../language/ports.js';
import { languages } from '../language/registry.js';
import { AS_WRITTEN } from '../plain/scan.js';
import { spell } from '../languages/spell.js';
import { Project } from '../project/project.js';
import { provePage } from '../proof/pages.js';
import type { ProofResult } from '../proof/prove.js';
import { applyEdits, movedOffset, type Span } from '../text/edits.js';
import { indentUnitOf, lineEndOf, relocation } from '../text/layout.js';
import { applied, createFile, editFile, type Change, type FileChange } from './change.js';
import { literally } from '../text/pattern.js';

/** A page written as a component. */
export interface WrittenPage {
  /** Project path of the component. */
  readonly path: string;
  readonly name: string;
  readonly files: readonly FileChange[];
  readonly notes: readonly string[];
  readonly proof: ProofResult;
  /** Where a span of the page stands in the component. */
  at(span: Span): Span;
  /** Where a span of the component stands in the page, as closely as can be told. */
  from(span: Span): Span;
  /** What of the page became the component. */
  readonly shown: Span;
}

/** The language that a step on this file writes into: its own, unless it has no components. */
export function targetLanguage(
  file: SourceFile & { language: Language },
  into: string | undefined,
): Language | Problem {
  const at = { path: file.path };
  if (!file.language.page)
    return into === undefined ? file.language : problem('into-needless', at, file.language.label);
  const possible = languages().filter((l) => l.hypertext);
  const ids = possible.map((l) => l.id).join(', ');
  if (into === undefined) return problem('into-missing', at, file.language.label, ids);
  return possible.find((l) => l.id === into) ?? problem('into-unknown', at, into, ids);
}

/** Writes pages as components; each finds the names of those before it taken. */
export function writePages(
  project: Project,
  paths: readonly string[],
  language: Language,
): { readonly project: Project; readonly pages: ReadonlyMap<string, WrittenPage> } | Problem {
  const hypertext = language.hypertext!;
  const taken = new Set(project.files.list().map((p) => p.toLowerCase()));
  const drafts = new Map<string, Omit<WrittenPage, 'proof'>>();
  for (const path of paths) {
    const page = writePage(project, path, hypertext, taken);
    if (isProblem(page)) return page;
    drafts.set(path, page);
    for (const file of page.files) taken.add(file.path.toLowerCase());
  }
  const files = [...drafts.values()].flatMap((page) => page.files);
  const after = new Project(applied(project.files, { files }), project.ports);
  const pages = new Map(
    [...drafts].map(([path, page]) => [
      path,
      { ...page, proof: provePage(project, path, after, page.path, hypertext) },
    ]),
  );
  return { project: after, pages };
}

/** The change from the project before to the one after both the pages and the step were written. */
export function withPages<T extends Change & { readonly proof: ProofResult }>(
  pages: readonly WrittenPage[],
  step: T,
): T {
  const merged = new Map<string, FileChange>();
  for (const file of [...pages.flatMap((p) => p.files), ...step.files]) {
    const earlier = merged.get(file.path);
    merged.set(file.path, earlier?.change === 'create' ? createFile(file.path, file.text!) : file);
  }
  const files = [...merged.values()];
  const wrong = pages.find((p) => p.proof.answer !== 'same');
  const expanded = pages.map((p) => p.name);
  const proof =
    wrong?.proof ??
    (step.proof.answer === 'same' ? { ...step.proof, expanded: [...expanded, ...step.proof.expanded] } : step.proof);
  const notes = [...new Set([...pages.flatMap((p) => p.notes), ...step.notes])];
  return { ...step, files, notes, proof };
}

function writePage(
  project: Project,
  path: string,
  hypertext: Hypertext,
  taken: ReadonlySet<string>,
): Omit<WrittenPage, 'proof'> | Problem {
  const file = project.source(path);
  if (isProblem(file)) return file;
  const page = file.language.page!(file);
  if (isProblem(page)) return page;
  const edits = spell(page.shown, file, hypertext.spelling);
  if (isProblem(edits)) return edits;
  const { name, target } = nameFor(path, hypertext.extension(project.files), taken);
  const roots = page.shown.filter((p) => p.kind !== 'text' || file.text.slice(p.start, p.end).trim()).length;
  const style = { unit: indentUnitOf(file.text), lineEnd: lineEndOf(file.text), roots };
  const fixed = fixedSpans(page, file.text);
  const moves = relocation(file.text, page.span, hypertext.margin(style), edits, fixed);
  const markup = applyEdits(file.text.slice(page.span.start, page.span.end), moves);
  const text = hypertext.component(name, markup, style);
  const before = text.indexOf(markup);
  const root = freeId(file.text);
  const script = hypertext.mount(name, relativeFrom(dirname(path), target), root).join('\n');
  const emptied = page.emptied(root, script);
  const stem = path.replace(/\.[^.]*$/, '');
  const files = [
    editFile(path, file.text, emptied.edits),
    createFile(target, text),
    ...emptied.scripts.map((s) => createFile(stem + s.suffix, s.text)),
  ];
  const existing = files.find((f) => f.change === 'create' && taken.has(f.path.toLowerCase()));
  if (existing) return problem('target-exists', { path: existing.path }, existing.path);
  const at = (offset: number) => before + movedOffset(moves, offset - page.span.start);
  return {
    path: target,
    name,
    files,
    shown: page.span,
    notes: [...emptied.notes, ...hypertext.notes(page.shown).map((note) => `${basename(path)}: ${note}`)],
    at: ({ start, end }) => ({ start: at(start), end: at(end) }),
    from: ({ start, end }) => ({ start: firstAt(page.span, at, start), end: firstAt(page.span, at, end) }),
  };
}

/** The first offset in a span that is moved to a place or behind it. */
function firstAt({ start, end }: Span, at: (offset: number) => number, wanted: number): number {
  let [low, high] = [start, end];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (at(middle) < wanted) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** For the element to mount in: an id that the page does not have. */
function freeId(text: string): string {
  const isTaken = (id: string) => new RegExp(`\\bid\\s*=\\s*["']?${literally(id)}(?![\\w-])`, 'i').test(text);
  return ['app', 'root', 'page'].find((id) => !isTaken(id)) ?? `page-${text.length}`;
}

function nameFor(path: string, extension: string, taken: ReadonlySet<string>): { name: string; target: string } {
  const stem = basename(path).replace(/\.[^.]*$/, '');
  const base = stem === 'index' ? 'Index' : componentNameFromFile(path);
  const name = /Page$/.test(base) ? base : `${base}Page`;
  for (let i = 1; ; i++) {
    const called = /^\d/.test(name) ? `Page${name}` : name;
    const numbered = i === 1 ? called : `${called}${i}`;
    const target = `${dirname(path) ? `${dirname(path)}/` : ''}${numbered}${extension}`;
    if (!taken.has(target.toLowerCase())) return { name: numbered, target };
  }
}

/** Text whose lines are content: what stands in `<pre>`, and in attributes and comments over several lines. */
function fixedSpans(page: PlainPage, text: string): Span[] {
  const fixed: Span[] = [];
  const visit = (pieces: PlainPage['shown']): void => {
    for (const piece of pieces) {
      if (piece.kind !== 'element') continue;
      if (AS_WRITTEN.has(piece.name.toLowerCase())) fixed.push(piece);
      for (const { value, name } of piece.attributes)
        if (value && name !== 'class' && text.slice(value.start, value.end).includes('\n')) fixed.push(value);
      visit(piece.children);
    }
  };
  visit(page.shown);
  return fixed;
}
