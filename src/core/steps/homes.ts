/** States that could live further down, each tried: what one component below alone uses, and what that takes off its host. */
import type { OwnedState } from '../analyze/ownership.js';
import { ComponentTree } from '../analyze/tree.js';
import type { Seam } from '../language/cutting.js';
import type { ComponentModel } from '../markup/model.js';
import { isProblem } from '../problems/problems.js';
import type { Project } from '../project/project.js';
import type { Worth } from '../propose/repeats/worth.js';
import { home } from './home.js';

export interface HomeProposal {
  /** The states, for people. */
  readonly name: string;
  readonly states: readonly string[];
  /** The component that keeps them. */
  readonly component: ComponentModel;
  readonly path: string;
  /** Id of the component that would keep them. */
  readonly home: string;
  /** Names that leave the host. */
  readonly moved: readonly string[];
  /** What components on the way would take. */
  readonly seam: Seam;
  /** In names: those that leave the host, and those that are handed down less. */
  readonly worth: Worth;
  readonly why: readonly string[];
}

/** A step for each component below that alone uses some of the states, where it can be proven and takes something away. */
export function proposeHomes(project: Project, states: readonly OwnedState[]): readonly HomeProposal[] {
  const tree = ComponentTree.of(project);
  const together = new Map<string, OwnedState[]>();
  for (const state of states) {
    if (!state.home || state.kind === 'context' || state.needless !== undefined) continue;
    const key = `${state.component} ${state.home.component}`;
    together.set(key, [...(together.get(key) ?? []), state]);
  }
  return [...together.values()].flatMap((group): HomeProposal[] => {
    const [first] = group;
    const node = tree.node(first!.component);
    const to = first!.home!.component;
    if (!node?.file.language.homes) return [];
    const names = group.map((s) => s.name);
    const change = home(project, { component: node.id, names, in: to });
    if (isProblem(change) || change.proof.answer !== 'same') return [];
    const { moved, dropped, seam } = change;
    const added = seam.props.length + seam.events.length;
    const wider = added - dropped.length;
    const worth = { saved: 0, lighter: moved.length, seam: wider, total: moved.length - wider };
    if (worth.total <= 0) return [];
    const target = to.slice(to.lastIndexOf('#') + 1);
    const why = [
      `${target} alone uses ${names.length === 1 ? 'it' : 'them'}`,
      `${moved.length} ${moved.length === 1 ? 'name' : 'names'} less in ${node.component.name}: ${moved.join(', ')}`,
      ...(dropped.length > 0 ? [`no longer handed down: ${dropped.join(', ')}`] : []),
    ];
    const { component, path } = node;
    return [{ name: names.join(', '), states: names, component, path, home: to, moved, seam, worth, why }];
  });
}
