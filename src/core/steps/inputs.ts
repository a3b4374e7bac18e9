/** The step that takes inputs out of a component which say nothing: no place hands them over, or every place does so alike. */
import { needlessInputs } from '../analyze/inputs.js';
import { ComponentTree } from '../analyze/tree.js';
import type { Fixed } from '../language/fixing.js';
import type { Seam } from '../language/cutting.js';
import { isProblem, problem, withinDepth, type Problem } from '../problems/problems.js';
import { Project } from '../project/project.js';
import { unresolvedNames } from '../proof/files.js';
import type { ProofResult } from '../proof/prove.js';
import { sortEdits } from '../text/edits.js';
import { applied, editFile, type Change } from './change.js';
import { findComponent } from './inline.js';
import { settled } from './settle.js';
import { proveWrittenOut } from './written-out.js';

export interface InputsStepRequest {
  /** A name, or `path#Name` where several have it. */
  readonly component: string;
  /** Which of its inputs; all that say nothing, where they are left out. */
  readonly names?: readonly string[];
}

export interface InputsChange extends Change {
  readonly step: 'inputs';
  readonly name: string;
  /** Path of the file that declares it. */
  readonly target: string;
  /** What the component is no longer handed, and what stands in it instead. */
  readonly fixed: readonly Fixed[];
  /** How many tags show it. */
  readonly uses: number;
  readonly seam: Seam;
  readonly proof: ProofResult;
}

/** The change, proven or not (see `proof`), or why there can be none. */
export function inputs(project: Project, request: InputsStepRequest): InputsChange | Problem {
  const found = findComponent(project, request.component);
  return isProblem(found) ? found : withinDepth(found.path, () => withoutThem(project, found.id, request));
}

function withoutThem(project: Project, id: string, { names: asked }: InputsStepRequest): InputsChange | Problem {
  const tree = ComponentTree.of(project);
  const node = tree.node(id)!;
  const { component, path, file } = node;
  const { name, start, end } = component;
  const at = { path, span: { start, end } };
  const { fixes, label } = file.language;
  if (!fixes) return problem('inputs-language', at, label);
  const uses = tree.usesOf(id);
  if (uses.length === 0) return problem('inputs-unshown', at, name);
  const known = component.props.map((p) => p.name).filter((p) => p !== 'children');
  const unknown = asked?.find((one) => !known.includes(one));
  if (unknown !== undefined) return problem('inputs-unknown', at, unknown, name, known);
  const names = asked ?? needlessInputs(tree, node);
  if (names.length === 0) return problem('inputs-nothing', at, name);
  const places = uses.map((use) => ({
    file: tree.project.source(use.path) as typeof file,
    span: { start: use.element.start, end: use.element.end },
  }));
  const { ports } = project;
  const done = fixes.fix({ project, ports, component: { file, name, span: at.span }, names, uses: places });
  if (isProblem(done)) return done;
  const files = settled(
    project,
    [...done.edits].flatMap(([one, edits]) => {
      const source = project.source(one);
      return isProblem(source) || edits.length === 0 ? [] : [editFile(one, source.text, sortEdits(edits))];
    }),
  );
  const after = new Project(applied(project.files, { files }), ports);
  const changed = files.map((f) => f.path);
  const proof = proveWrittenOut(project, after, id, changed);
  if (isProblem(proof))
    return problem('inputs-component', at, name, `what it does cannot be compared (${proof.message})`);
  if (proof.answer === 'same') {
    const lost = unresolvedNames(project, after, changed);
    if (lost.length > 0) return problem('names-unresolved', at, lost.join(', '));
  }
  const seam = { props: [], events: [], slots: [] };
  return { step: 'inputs', files, name, target: path, fixed: done.fixed, uses: uses.length, seam, proof, notes: [] };
}
