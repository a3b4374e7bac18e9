/** Two versions of a project compared as the proof compares: files that changed, renames followed by what they hold. */
import { basename, dirname, extname, join, relativeFrom } from '../files/paths.js';
import { OverlayFiles, textOf } from '../files/files.js';
import { isProblem } from '../problems/problems.js';
import { Project } from '../project/project.js';
import { proveFiles } from './files.js';
import type { ProofResult } from './prove.js';

export interface Rename {
  readonly from: string;
  readonly to: string;
}

export interface VersionsCompared {
  /** Exported components that both versions have, by the ids that they have now, and files without any. */
  readonly compared: readonly string[];
  readonly renamed: readonly Rename[];
  readonly result: ProofResult;
  /** Files that the proof cannot read. */
  readonly left: readonly { readonly path: string; readonly why: string }[];
}

/** Lines that two files must share to be one file that was moved. */
const ALIKE = 0.6;

/** `changed`: paths that differ; what is no source is left, with the reason. */
export function compareVersions(before: Project, after: Project, changed: readonly string[]): VersionsCompared {
  const renamed = renamesIn(before, after, changed);
  const { project, rewritten } = withRenames(before, renamed);
  const gone = new Set(renamed.map((r) => r.from));
  const paths = [...new Set([...changed.filter((path) => !gone.has(path)), ...rewritten])];
  const left: { path: string; why: string }[] = [];
  const readable = paths.filter((path) => {
    const why = whyLeft(project, path) ?? whyLeft(after, path);
    if (why !== undefined) left.push({ path, why });
    return why === undefined;
  });
  const forward = proveFiles(project, after, readable);
  // A component that went back is one that was cut out, seen from the other side.
  const back = forward.answer === 'same' ? forward : proveFiles(after, project, readable, 'back');
  const result = back.answer === 'same' ? back : forward;
  return { compared: comparedIn(project, after, readable), renamed, result, left };
}

function whyLeft(project: Project, path: string): string | undefined {
  const file = project.source(path);
  if (isProblem(file)) {
    if (file.code === 'file-unknown' || file.code === 'file-empty') return undefined;
    return file.code === 'file-language' ? 'it is no source that is compared by text' : file.message;
  }
  return file.language.prove ? undefined : `${file.language.label} is not compared by text`;
}

function comparedIn(before: Project, after: Project, paths: readonly string[]): string[] {
  return paths.flatMap((path) => {
    const [was, is] = [before.model(path), after.model(path)];
    if (isProblem(was) || isProblem(is)) return [];
    const names = was.components
      .map((c) => c.name)
      .filter((name) => is.components.some((c) => c.name === name && c.exported !== 'none'));
    return names.length > 0 ? names.map((name) => `${path}#${name}`) : [path];
  });
}

/** Each file that is gone with the new one that holds most of it. */
function renamesIn(before: Project, after: Project, changed: readonly string[]): Rename[] {
  const gone = changed.filter((path) => textOf(after.files, path) === undefined);
  const made = changed.filter((path) => textOf(before.files, path) === undefined);
  const pairs = gone.flatMap((from) =>
    made
      .filter((to) => extname(to) === extname(from))
      .map((to) => ({ from, to, alike: alike(textOf(before.files, from) ?? '', textOf(after.files, to) ?? '') })),
  );
  const bonus = (pair: Rename) => (basename(pair.from) === basename(pair.to) ? 0.1 : 0);
  pairs.sort((a, b) => b.alike + bonus(b) - (a.alike + bonus(a)));
  const taken = new Set<string>();
  return pairs.flatMap(({ from, to, alike: share }) => {
    if (share < ALIKE || taken.has(from) || taken.has(to)) return [];
    taken.add(from).add(to);
    return [{ from, to }];
  });
}

/** The share of lines that two texts have in common; imports and blank lines say nothing. */
function alike(a: string, b: string): number {
  const linesOf = (text: string) =>
    text
      .split('\n')
      .map((line) => line.trim())
      .filter((line) => line.length > 1 && !/^(?:import|export \{).*from/.test(line));
  const [left, right] = [linesOf(a), linesOf(b)];
  const counts = new Map<string, number>();
  for (const line of left) counts.set(line, (counts.get(line) ?? 0) + 1);
  let common = 0;
  for (const line of right) {
    const count = counts.get(line) ?? 0;
    if (count > 0) common++;
    counts.set(line, count - 1);
  }
  return (2 * common) / Math.max(1, left.length + right.length);
}

const SPECIFIER = /(\bfrom\s*|\bimport\s*\(?\s*|\brequire\(\s*)(["'])(\.{1,2}\/[^"'\n]*)\2/g;

/** The older version with its files where the newer one has them, and every import following. */
function withRenames(before: Project, renamed: readonly Rename[]): { project: Project; rewritten: string[] } {
  if (renamed.length === 0) return { project: before, rewritten: [] };
  const to = new Map(renamed.map((r) => [r.from, r.to]));
  const over = new Map<string, string | undefined>();
  const rewritten: string[] = [];
  for (const path of before.sources()) {
    const text = textOf(before.files, path);
    if (text === undefined) continue;
    const home = to.get(path) ?? path;
    const now = text.replace(SPECIFIER, (whole, lead: string, quote: string, source: string) => {
      const found = before.resolver.resolve(path, source);
      const target = 'path' in found ? found.path : join(dirname(path), source);
      if (target === undefined) return whole;
      const moved = to.get(target) ?? target;
      if (home === path && moved === target) return whole;
      const relative = relativeFrom(dirname(home), moved);
      const bare =
        extname(source) === extname(target) ? relative : relative.slice(0, -extname(moved).length || undefined);
      return `${lead}${quote}${bare}${quote}`;
    });
    if (home !== path) over.set(path, undefined);
    if (home === path && now === text) continue;
    over.set(home, now);
    rewritten.push(home);
  }
  return { project: new Project(new OverlayFiles(before.files, over), before.ports), rewritten };
}
