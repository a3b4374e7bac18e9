/** The steps that bring template and script of a component together in one file, and that put them in files of their own. */
import { OverlayFiles } from '../files/files.js';
import type { Joined, Joining, JoinOptions } from '../language/joining.js';
import { languages } from '../language/registry.js';
import { isProblem, problem, withinDepth, type Problem } from '../problems/problems.js';
import { Project } from '../project/project.js';
import { proveFiles, unresolvedNames } from '../proof/files.js';
import type { ProofResult } from '../proof/prove.js';
import { applied, createFile, deleteFile, editFile, type Change } from './change.js';
import type { Seam } from '../language/cutting.js';

export interface JoinChange extends Change {
  readonly step: 'join' | 'part';
  /** The components, for people. */
  readonly name: string;
  readonly target: string;
  readonly seam: Seam;
  readonly proof: ProofResult;
}

/** One file for each component that the file at `path` has in pieces. */
export function join(project: Project, path: string, options: JoinOptions = {}): JoinChange | Problem {
  return withinDepth(path, () => {
    const file = project.source(path);
    if (isProblem(file)) return file;
    for (const { joining } of languages()) {
      const found = joining?.join(project, path, options);
      if (isProblem(found)) return found;
      if (joining && found) return changeOf(project, 'join', path, joining, found);
    }
    return problem('join-nothing', { path });
  });
}

/** Template and script of the component at `path` in files of their own. */
export function part(project: Project, path: string): JoinChange | Problem {
  return withinDepth(path, () => {
    const file = project.source(path);
    if (isProblem(file)) return file;
    const { joining, label } = file.language;
    if (!joining) return problem('part-language', { path }, label);
    const found = joining.part(project, path);
    return isProblem(found) ? found : changeOf(project, 'part', path, joining, found);
  });
}

function changeOf(
  project: Project,
  step: 'join' | 'part',
  path: string,
  joining: Joined,
  { edits, created, deleted, components, notes, before }: Joining,
): JoinChange | Problem {
  const text = (at: string) => {
    const file = project.source(at);
    return isProblem(file) ? '' : file.text;
  };
  const change = {
    files: [
      ...[...edits].map(([at, list]) => editFile(at, text(at), list)),
      ...[...created].map(([at, content]) => createFile(at, content)),
      ...deleted.map((at) => deleteFile(at, text(at))),
    ],
  };
  const after = new Project(applied(project.files, change), project.ports);
  const wholes = new Map<string, string>();
  for (const at of before.keys()) {
    const content = joining.whole(after, at);
    if (isProblem(content)) return content;
    wholes.set(at, content);
  }
  // Both sides as one file for each component, the written side read afresh.
  const left = new Project(new OverlayFiles(project.files, before), project.ports);
  const right = new Project(new OverlayFiles(after.files, wholes), project.ports);
  const paths = [...before.keys()];
  const proof = proveFiles(left, right, paths);
  if (proof.answer === 'same') {
    const lost = unresolvedNames(left, right, paths);
    if (lost.length > 0) return problem('names-unresolved', { path }, lost.join(', '));
  }
  return {
    step,
    ...change,
    name: components.join(', '),
    target: step === 'join' ? [...before.keys()].join(', ') : [...created.keys()].join(', '),
    seam: { props: [], events: [], slots: [] },
    proof,
    notes,
  };
}
