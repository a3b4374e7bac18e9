/** From two projects to the two sides of a proof: the written text, read afresh. */
import { isProblem } from '../problems/problems.js';
import type { Project } from '../project/project.js';
import { lostLoad } from './loads.js';
import { Side, type Turn } from './side.js';
import type { Language } from '../language/language.js';
import type { SourceFile } from '../language/ports.js';
import { loadedLanguages } from '../language/registry.js';
import type { ProofModule } from '../language/proof-module.js';
import { prove, type Otherwise, type ProofResult } from './prove.js';

/** Compares the files at `paths` as they are in two projects; `turn`: which of the two is the older one. */
export function proveFiles(
  before: Project,
  after: Project,
  paths: readonly string[],
  turn: Turn = 'forward',
  otherwise: Otherwise = {},
): ProofResult {
  const left = modulesOf(before, paths);
  const right = modulesOf(after, paths);
  if ('answer' in left) return left;
  if ('answer' in right) return right;
  const isByWay = otherwise.allowed !== undefined;
  const [x, y] = [sideOf(before, left, isByWay), sideOf(after, right, isByWay)];
  const result = prove(x, y, turn, otherwise);
  if (result.answer !== 'same') return result;
  const [older, was, is] = turn === 'back' ? [after, y, x] : [before, x, y];
  const lost = lostLoad(was, is, (path) => isImported(older, path, paths));
  if (!lost) return result;
  const detail = `${lost.path} is loaded no more, and does something as it is: ${lost.does}`;
  return { answer: 'different', code: 'file-not-loaded', detail };
}

/** Whether any other file of the project loads this one. */
function isImported(project: Project, path: string, changed: readonly string[]): boolean {
  return project.sources().some((from) => {
    if (changed.includes(from) || from === path) return false;
    const model = project.model(from);
    if (isProblem(model)) return false;
    const sources = [...model.imports.filter((i) => !i.typeOnly).map((i) => i.source), ...model.loads];
    return sources.some((source) => {
      const target = project.resolver.resolve(from, source);
      return target.kind === 'file' && target.path === path;
    });
  });
}

function sideOf(project: Project, modules: ReadonlyMap<string, ProofModule>, throughOthers: boolean): Side {
  const opened = new Map<string, ProofModule | undefined>();
  const open = (path: string): ProofModule | undefined => {
    if (modules.has(path)) return modules.get(path);
    if (opened.has(path)) return opened.get(path);
    const file = project.source(path);
    const module = isProblem(file) ? undefined : proofModule(file, project);
    opened.set(path, isProblem(module) ? undefined : module);
    return opened.get(path);
  };
  return new Side(modules, (from, source) => project.resolver.resolve(from, source), open, throughOthers);
}

/** A file as the proof compares it, whichever languages have a part in it. */
function proofModule(file: SourceFile & { readonly language: Language }, { ports }: Project) {
  const module = file.language.prove?.(file, ports);
  if (!module || isProblem(module)) return module;
  for (const language of loadedLanguages()) {
    const lowered = language === file.language ? undefined : language.proveModule?.(module);
    if (lowered) return lowered;
  }
  return module;
}

function modulesOf(
  project: Project,
  paths: readonly string[],
): Map<string, ProofModule> | Extract<ProofResult, { answer: 'unknown' | 'different' }> {
  const modules = new Map<string, ProofModule>();
  for (const path of paths) {
    const file = project.source(path);
    if (isProblem(file)) {
      if (file.code === 'file-unknown') continue;
      return { answer: 'unknown', code: 'file-unread', detail: `${path} ${file.message}` };
    }
    const module = proofModule(file, project);
    if (!module)
      return { answer: 'unknown', code: 'file-unread', detail: `${file.language.label} cannot be compared yet` };
    if (isProblem(module))
      return {
        answer: 'different',
        code: 'file-unread',
        detail: `${path} ${module.message}`,
        ...(module.span ? { after: { path, span: module.span } } : {}),
      };
    modules.set(path, module);
  }
  return modules;
}

/** Names of values that have no meaning in the changed files and had none to need before; imports of nothing as well. */
export function unresolvedNames(before: Project, after: Project, paths: readonly string[]): string[] {
  const known = new Set(['undefined', 'NaN', 'Infinity']);
  const left = modulesOf(before, paths);
  const right = modulesOf(after, paths);
  if ('answer' in left || 'answer' in right) return [];
  const missing = (project: Project, module: ProofModule) =>
    module.script.program.body.flatMap((s) =>
      s.type === 'ImportDeclaration' && project.resolver.resolve(module.path, s.source.value).kind === 'missing'
        ? [s.source.value]
        : [],
    );
  for (const module of left.values()) {
    for (const reference of module.scopes.unresolved()) known.add(nameIn(reference));
    for (const name of module.undeclared ?? []) known.add(name);
    for (const source of missing(before, module)) known.add(source.replace(/^(\.{1,2}\/)+/, ''));
  }
  const lost = new Set<string>();
  for (const module of right.values()) {
    for (const reference of module.scopes.unresolved())
      if (reference.isValueReference && !known.has(nameIn(reference)) && !isMade(nameIn(reference)))
        lost.add(nameIn(reference));
    for (const name of module.undeclared ?? []) if (!known.has(name)) lost.add(name);
    for (const source of missing(after, module)) if (!known.has(source.replace(/^(\.{1,2}\/)+/, ''))) lost.add(source);
  }
  return [...lost];
}

/** Names that only made syntax uses begin with a `$` or hold a colon. */
function isMade(name: string): boolean {
  return name.startsWith('$') || name.includes(':');
}

function nameIn(reference: { readonly identifier: object }): string {
  return String((reference.identifier as { name?: unknown }).name);
}
