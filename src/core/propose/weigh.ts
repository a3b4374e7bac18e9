/** What there is to weigh beside where to cut: who owns state, reasons to change, conditions, components that take too much. */
import { inputsOf, type Inputs } from '../analyze/inputs.js';
import { ownershipOf, type OwnedState, type Ownership } from '../analyze/ownership.js';
import { reasonsOf, type Reasons } from '../analyze/reasons.js';
import { ComponentTree, type TreeNode } from '../analyze/tree.js';
import { alternativesOf, type Alternatives } from './alternatives.js';
import type { Project } from '../project/project.js';
import type { ComponentPlan, RegionProposal } from './regions/propose.js';
import type { SummaryCache } from '../analyze/summary.js';
import type { Value, ValueUse } from '../analyze/uses.js';

export interface WeighedState extends OwnedState {
  /** The new component that it would go along with, once the plan is taken. */
  readonly then?: string;
  /** The new component that alone would use it, and that it cannot go along with, for it comes and goes. */
  readonly only?: string;
}

export interface Weighed extends Omit<Ownership, 'states'> {
  readonly states: readonly WeighedState[];
  /** Components with more than one reason to change. */
  readonly reasons: readonly ({ readonly component: string } & Reasons)[];
  readonly alternatives: readonly Alternatives[];
  readonly inputs: readonly Inputs[];
}

export interface WeighOptions {
  /** Props beyond which a component takes too much. */
  readonly props: number;
  readonly cache?: SummaryCache;
}

/** Weighs the components that plans were made for. */
export function weigh(project: Project, plans: readonly ComponentPlan[], options: WeighOptions): Weighed {
  const tree = ComponentTree.of(project, options.cache);
  const planned = plans.flatMap((plan) => {
    const node = tree.node(`${plan.path}#${plan.component}`);
    return node ? [{ node, plan }] : [];
  });
  const nodes: readonly TreeNode[] = planned.map((p) => p.node);
  const { states, drilled, classes } = ownershipOf(tree, nodes);
  return {
    states: states.map((state) => {
      const of = planned.find((p) => p.node.id === state.component);
      const value = tree.values(state.component).find((v) => v.binding.name === state.name);
      return { ...state, ...(of && value ? afterPlan(value, of.plan) : {}) };
    }),
    drilled,
    classes,
    reasons: nodes
      .map((node) => ({ component: node.id, ...reasonsOf(tree.values(node.id)) }))
      .filter((r) => r.groups.length > 1),
    alternatives: planned.flatMap(({ node, plan }) => alternativesOf(tree, node, plan)),
    inputs: inputsOf(tree, nodes, options.props),
  };
}

function afterPlan({ binding, uses }: Value, { proposals }: ComponentPlan): { then?: string; only?: string } {
  const goesWith = (p: RegionProposal, name: string) =>
    p.moved.some((m) => m.replace(/^(?:this|props)\./, '') === name);
  // The innermost of those that it goes along with.
  const then = proposals.filter((p) => goesWith(p, binding.name)).at(-1);
  if (then) return { then: then.name };
  const isIn = (p: RegionProposal, use: ValueUse) =>
    use.by ? goesWith(p, use.by.name) : use.at >= p.region.start && use.at < p.region.end;
  const only = uses.length > 0 && proposals.filter((p) => uses.every((use) => isIn(p, use))).at(-1);
  return only ? { only: only.name } : {};
}
