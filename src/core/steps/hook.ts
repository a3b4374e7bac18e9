/** The step that makes a hook of statements of a component: brought together first, then cut out as one run. */
import { isProblem, problem, withinDepth, type Problem } from '../problems/problems.js';
import { claimantOf } from '../language/registry.js';
import { OverlayFiles } from '../files/files.js';
import { Project } from '../project/project.js';
import { proveFiles, unresolvedNames } from '../proof/files.js';
import type { ProofResult } from '../proof/prove.js';
import { applyEdits, composeEdits, type Span } from '../text/edits.js';
import { settled } from './settle.js';
import { applied, editFile, writeFile, type Change } from './change.js';
import { askedTarget } from './target.js';
import type { Seam, TypeOracle } from '../language/cutting.js';
import type { Gathered } from '../language/hooking.js';

export interface HookRequest {
  readonly path: string;
  /** Ranges that hold whole statements of one component. */
  readonly statements: readonly Span[];
  /** After the first state where it is left out. */
  readonly name?: string;
  /** Project path for the new file. */
  readonly to?: string;
  readonly types?: TypeOracle;
}

export interface HookChange extends Change {
  readonly step: 'hook';
  readonly name: string;
  readonly target: string;
  /** From the first of the statements to the last, in the text before the change. */
  readonly region: Span;
  readonly statements: readonly Span[];
  /** Names that the component goes on using. */
  readonly results: readonly string[];
  readonly seam: Seam;
  readonly proof: ProofResult;
}

/** The change, proven or not (see `proof`), or why there can be none. */
export function hook(project: Project, request: HookRequest): HookChange | Problem {
  return withinDepth(request.path, () => {
    const file = project.source(request.path);
    if (isProblem(file)) return file;
    const { path, language, text } = file;
    const statements = [...request.statements].sort((a, b) => a.start - b.start);
    const region = { start: statements[0]?.start ?? 0, end: statements.at(-1)?.end ?? 0 };
    const at = { path, span: region };
    const { hooks, unify } = language;
    if (!hooks || !unify) return problem('file-language', at, language.label);
    const gathered = hooks.gather(file, project.ports, statements);
    if (isProblem(gathered)) return gathered;
    const wanted = request.name ?? hooks.nameFor(gathered.subject ?? 'logic');
    if (!/^use[A-Z]\w*$/.test(wanted)) return problem('hook-name', at, wanted);
    if (language.names(file, project.ports).has(wanted)) return problem('hook-taken', at, wanted);
    const extension = language.logic?.extension(file, project.ports);
    const expected = extension === undefined ? language.id : claimantOf(`it${extension}`)?.id;
    const asked = request.to ?? language.fileFor(project, path, wanted, extension);
    const target = askedTarget(project.files, asked, (to) => claimantOf(to)?.id === expected);
    if (isProblem(target)) return target;

    const together = { path, text: applyEdits(text, gathered.edits) };
    const made = new Project(new OverlayFiles(project.files, new Map([[path, together.text]])), project.ports);
    const unifying = unify({
      project: made,
      ports: project.ports,
      kind: 'logic',
      places: [{ file: together, span: gathered.span }],
      reference: 0,
      name: wanted,
      target,
      inputs: [],
      types: request.types && typesBefore(request.types, path, gathered),
      counterpart: (_, span) => span,
      asList: false,
    });
    if (isProblem(unifying)) return unifying;
    const edits = composeEdits(text, gathered.edits, unifying.edits.get(path) ?? []);
    const files = settled(project, [
      editFile(path, text, edits),
      ...[...unifying.files].map(([p, t]) => writeFile(project.files, p, t)),
    ]);
    const after = new Project(applied(project.files, { files }), project.ports);
    const changed = files.map((f) => f.path);
    const proof = proveFiles(project, after, changed);
    if (proof.answer === 'same') {
      const lost = unresolvedNames(project, after, changed);
      if (lost.length > 0) return problem('names-unresolved', at, lost.join(', '));
    }
    const { name, seam, notes } = unifying;
    const { results = [] } = unifying;
    return { step: 'hook', files, name, target, region, statements: gathered.statements, results, seam, proof, notes };
  });
}

/** The types that hold in the text as it is, asked for in the text in which the statements are together. */
function typesBefore(types: TypeOracle, path: string, { before }: Gathered): TypeOracle {
  const asked = (at: string, span: Span) => (at === path ? before(span) : span);
  return {
    typeAt: (at, span) => {
      const there = asked(at, span);
      return there && types.typeAt(at, there);
    },
    expectedAt: (at, span) => {
      const there = asked(at, span);
      return there && types.expectedAt(at, there);
    },
  };
}
