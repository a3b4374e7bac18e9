/** The step by which logic leaves its file for a module: requests, calculations, constants. */
import { isProblem, problem, withinDepth, type Problem } from '../problems/problems.js';
import { claimantOf } from '../language/registry.js';
import { normalize } from '../files/paths.js';
import { Project } from '../project/project.js';
import { proveFiles, unresolvedNames } from '../proof/files.js';
import type { ProofResult } from '../proof/prove.js';
import type { Span } from '../text/edits.js';
import type { Seam, TypeOracle } from '../language/cutting.js';
import type { Wanted } from '../language/to-module.js';
import { isReserved } from '../script/reserved.js';
import { applied, editFile, writeFile, type Change } from './change.js';
import { settled } from './settle.js';

export interface ModuleRequest {
  readonly path: string;
  /** Declarations by their names, or code by its place. */
  readonly wanted: Wanted;
  /** Of the function; after what it sends or gives where it is left out. */
  readonly name?: string;
  /** Project path of the module, which may be there already. */
  readonly to?: string;
  readonly types?: TypeOracle;
}

export interface ModuleChange extends Change {
  readonly step: 'module';
  /** The function, or all that left. */
  readonly name: string;
  readonly target: string;
  /** In the text before the change. */
  readonly region: Span;
  /** What the module gives that it did not give before. */
  readonly names: readonly string[];
  readonly seam: Seam;
  readonly proof: ProofResult;
}

/** The change, proven or not (see `proof`), or why there can be none. */
export function module(project: Project, request: ModuleRequest): ModuleChange | Problem {
  return withinDepth(request.path, () => {
    const file = project.source(request.path);
    if (isProblem(file)) return file;
    const { path, language, text } = file;
    const { toModule } = language;
    if (!toModule) return problem('file-language', { path }, language.label);
    const to = request.to === undefined ? undefined : normalize(request.to);
    if (request.to !== undefined && to === undefined)
      return problem('target-outside', { path: request.to }, request.to);
    if (to !== undefined && (!/\.[cm]?[jt]s$/.test(to) || to === path))
      return problem('module-target', { path: to }, to);
    const { wanted, name, types } = request;
    if (name !== undefined && (!/^[\p{Ll}_$][\p{L}\p{N}_$]*$/u.test(name) || isReserved(name)))
      return problem('name-invalid', { path }, name);
    const left = toModule.leave({ project, ports: project.ports, file, wanted, name, target: to, types });
    if (isProblem(left)) return left;
    if (claimantOf(left.target) === undefined) return problem('target-language', { path: left.target });
    const files = settled(project, [
      editFile(path, text, left.edits),
      writeFile(project.files, left.target, left.text),
    ]);
    const after = new Project(applied(project.files, { files }), project.ports);
    const changed = files.map((f) => f.path);
    const proof = proveFiles(project, after, changed);
    if (proof.answer === 'same') {
      const lost = unresolvedNames(project, after, changed);
      if (lost.length > 0) return problem('names-unresolved', { path, span: left.region }, lost.join(', '));
    }
    const { target, region, names, parameters, notes } = left;
    const called = 'names' in wanted ? wanted.names.join(', ') : names.at(-1)!;
    const seam = { props: parameters ?? [], events: [], slots: [] };
    return { step: 'module', files, name: called, target, region, names, seam, proof, notes };
  });
}
