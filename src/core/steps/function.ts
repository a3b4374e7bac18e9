/** The step that writes a component which is a class as a function. */
import type { Seam } from '../language/cutting.js';
import { isProblem, problem, withinDepth, type Problem } from '../problems/problems.js';
import { Project } from '../project/project.js';
import { unresolvedNames } from '../proof/files.js';
import type { ProofResult } from '../proof/prove.js';
import type { Span } from '../text/edits.js';
import { idOf } from '../analyze/graph.js';
import { ComponentTree } from '../analyze/tree.js';
import { handlingOf } from './handed.js';
import { applied, editFile, type Change } from './change.js';
import { settled } from './settle.js';

export interface FunctionRequest {
  readonly path: string;
  /** The name of the class. */
  readonly component: string;
}

export interface FunctionChange extends Change {
  readonly step: 'function';
  readonly name: string;
  readonly target: string;
  /** The class, in the text before the change. */
  readonly region: Span;
  /** States that it keeps. */
  readonly states: readonly string[];
  readonly seam: Seam;
  readonly proof: ProofResult;
}

/** The change, proven or not (see `proof`), or why there can be none. */
export function toFunction(project: Project, { path: asked, component }: FunctionRequest): FunctionChange | Problem {
  return withinDepth(asked, () => {
    const file = project.source(asked);
    if (isProblem(file)) return file;
    const { path, language, text } = file;
    const { functions } = language;
    if (!functions) return problem('function-language', { path }, language.label);
    const written = functions.write({ project, ports: project.ports, file, component });
    if (isProblem(written)) return written;
    const tree = ComponentTree.of(project);
    const asking = tree
      .usesOf(idOf(path, component))
      .find(({ element }) => element.attributes.some((a) => a.name === 'ref'));
    if (asking) {
      const at = { path: asking.path, span: asking.element };
      return problem('function-reached', at, component, 'its object is asked for with a ref');
    }
    const unseen = new Set<string>();
    for (const [name, handings] of written.handed) {
      if (handings.length === 0) unseen.add(name);
      for (const { tag, prop } of handings) {
        const handling = handlingOf(tree, path, tag, prop);
        const why = `<${tag}> keeps "${name}", which reads what may be newer by then`;
        if (handling === 'keeps') return problem('function-late', { path, span: written.region }, component, why);
        if (handling === 'unseen') unseen.add(name).add(`<${tag}>`);
      }
    }
    const files = settled(project, [editFile(path, text, written.edits)]);
    const after = new Project(applied(project.files, { files }), project.ports);
    const now = after.source(path);
    if (isProblem(now)) return now;
    const deviation = functions.compare(file, now, written, project.ports);
    const proof: ProofResult = deviation
      ? {
          answer: 'different',
          code: 'component-function',
          detail: deviation.detail,
          before: { path, span: written.region },
        }
      : { answer: 'same', compared: [path], expanded: [] };
    if (proof.answer === 'same') {
      const lost = unresolvedNames(project, after, [path]);
      if (lost.length > 0) return problem('names-unresolved', { path, span: written.region }, lost.join(', '));
    }
    const { region, states } = written;
    const notes = [...(unseen.size > 0 ? [unseenNote([...unseen])] : []), ...written.notes];
    const seam = { props: [], events: [], slots: [] };
    return { step: 'function', files, name: component, target: path, region, states, seam, proof, notes };
  });
}

/** `names`: functions, and the tags that they are handed to. */
function unseenNote(names: readonly string[]): string {
  const tags = names.filter((name) => name.startsWith('<'));
  const own = names.filter((name) => !name.startsWith('<'));
  const are = own.length === 1 ? 'is another function' : 'are other functions';
  const where = tags.length > 0 ? `what ${tags.join(', ')} ${tags.length === 1 ? 'does' : 'do'}` : 'what is done';
  return `${own.join(', ')} ${are} with each rendering now; ${where} with ${own.length === 1 ? 'it' : 'them'} was not seen: who keeps an older one knows older values`;
}
