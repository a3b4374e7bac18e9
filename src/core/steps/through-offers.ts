/** What is handed through components that do not use it, with how it could go through them as content: tried, and proven. */
import type { DrilledValue } from '../analyze/ownership.js';
import { isProblem } from '../problems/problems.js';
import type { Project } from '../project/project.js';
import { through } from './through.js';

export interface DrilledOffer extends DrilledValue {
  /** What the components between would no longer take, where the step can be taken. */
  readonly content?: {
    /** Name of the lowest component that hands it on, for the step. */
    readonly component: string;
    readonly dropped: readonly { readonly component: string; readonly inputs: readonly string[] }[];
  };
}

export function withContentOffered(project: Project, drilled: readonly DrilledValue[]): readonly DrilledOffer[] {
  const tried = new Map<string, DrilledOffer['content']>();
  return drilled.map((value) => {
    const [owner, ...way] = value.through;
    const between = way.slice(0, -1);
    const lowest = between.at(-1);
    if (owner === undefined || lowest === undefined) return value;
    const key = value.through.join(' ');
    if (!tried.has(key)) {
      const change = through(project, { component: lowest, in: owner });
      const isDone = !isProblem(change) && change.proof.answer === 'same';
      tried.set(key, isDone ? { component: nameOf(lowest), dropped: change.dropped } : undefined);
    }
    const content = tried.get(key);
    return content ? { ...value, content } : value;
  });
}

function nameOf(id: string): string {
  return id.slice(id.lastIndexOf('#') + 1);
}
