/** A change to a component and to all that shows it, proven by way of texts in which it stands written out wherever it is shown. */
import { ComponentTree } from '../analyze/tree.js';
import { isProblem, type Problem } from '../problems/problems.js';
import { Project } from '../project/project.js';
import { proveFiles } from '../proof/files.js';
import type { ProofResult } from '../proof/prove.js';
import { applied } from './change.js';
import { edited } from './home.js';
import { inline, type InlineChange } from './inline.js';

/**
 * `id`: the component, on both sides. `changed`: paths of files that differ. A problem where it cannot be written out, which says
 * nothing of the change.
 */
export function proveWrittenOut(
  before: Project,
  after: Project,
  id: string,
  changed: readonly string[],
): ProofResult | Problem {
  const sides: Project[] = [];
  const paths = new Set(changed);
  for (const side of [before, after]) {
    const out = writtenOut(side, id);
    if (isProblem(out)) return out;
    if (out.proof.answer !== 'same') return out.proof;
    for (const file of out.files) paths.add(file.path);
    sides.push(new Project(applied(side.files, out), side.ports));
  }
  const allowed = { resident: () => true };
  const proof = proveFiles(sides[0]!, sides[1]!, [...paths], 'forward', { allowed });
  return proof.answer === 'same' ? { ...proof, expanded: [id.slice(id.lastIndexOf('#') + 1)] } : proof;
}

/** As a person would write it out; where nobody could, as a text that is only for comparing. */
function writtenOut(project: Project, component: string): InlineChange | Problem {
  const plain = inline(project, { component });
  if (!isProblem(plain) && plain.proof.answer === 'same') return plain;
  // What decides whether it is shown is the same on both sides, and left out of the comparison.
  const tree = ComponentTree.of(project);
  const [use, ...others] = tree.usesOf(component);
  const outer = use?.host && tree.node(`${use.path}#${use.host.name}`);
  const lasting =
    use && outer && others.length === 0
      ? (outer.file.language.homes?.lasting(
          {
            file: outer.file,
            name: outer.component.name,
            span: { start: outer.component.start, end: outer.component.end },
          },
          { start: use.element.start, end: use.element.end },
          project.ports,
        ) ?? [])
      : [];
  const shown = use ? edited(project, use.path, lasting) : project;
  return inline(shown, { component, allowed: { resident: () => true } });
}
