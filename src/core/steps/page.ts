/** The step that writes a page of a language without components as a component of its own, which the page mounts. */
import type { Language } from '../language/language.js';
import { isProblem, problem, withinDepth, type Problem } from '../problems/problems.js';
import type { Project } from '../project/project.js';
import type { ProofResult } from '../proof/prove.js';
import type { Change } from './change.js';
import type { Seam } from '../language/cutting.js';
import { targetLanguage, writePages, type WrittenPage } from './pages.js';

export interface PageChange extends Change {
  readonly step: 'page';
  readonly name: string;
  /** Project path of the component. */
  readonly target: string;
  /** Empty: a page is given nothing. */
  readonly seam: Seam;
  readonly proof: ProofResult;
}

export interface PageRequest {
  readonly path: string;
  /** Id of the language to write in. */
  readonly into: string;
}

/** The change, proven or not (see `proof`), or why there can be none. */
export function page(project: Project, { path, into }: PageRequest): PageChange | Problem {
  return withinDepth(path, () => {
    const language = languageFor(project, path, into);
    if (isProblem(language)) return language;
    const written = writePages(project, [path], language);
    if (isProblem(written)) return written;
    const { name, path: target, files, notes, proof } = written.pages.get(path)!;
    return { step: 'page', name, target, files, notes, proof, seam: { props: [], events: [], slots: [] } };
  });
}

/** A project in which pages are components, so that these can be weighed. */
export interface PagesWritten {
  readonly into: string;
  readonly before: Project;
  readonly project: Project;
  /** By the path of the page. */
  readonly pages: ReadonlyMap<string, WrittenPage>;
  /** Why the others cannot be written, or are not proven to be the same. */
  readonly unwritten: readonly Problem[];
}

/** Writes all of the pages that can be written; a problem where the language is none to write in. */
export function pagesInto(project: Project, paths: readonly string[], into: string): PagesWritten | Problem {
  const pages = new Map<string, WrittenPage>();
  const unwritten: Problem[] = [];
  let after = project;
  for (const path of paths) {
    const language = languageFor(project, path, into);
    if (isProblem(language)) {
      if (language.code === 'into-unknown') return language;
      unwritten.push(language);
      continue;
    }
    const written = withinDepth(path, () => writePages(after, [path], language));
    const trouble = isProblem(written) ? written : notProven(path, written.pages.get(path)!);
    if (isProblem(written) || trouble) {
      unwritten.push(trouble!);
      continue;
    }
    pages.set(path, written.pages.get(path)!);
    after = written.project;
  }
  return { into, before: project, project: after, pages, unwritten };
}

function notProven(path: string, { proof }: WrittenPage): Problem | undefined {
  return proof.answer === 'same' ? undefined : problem('proof-different', { path }, proof.detail);
}

function languageFor(project: Project, path: string, into: string): Language | Problem {
  const file = project.source(path);
  return isProblem(file) ? file : targetLanguage(file, into);
}
