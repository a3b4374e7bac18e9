/** Proposals that take the function along that gives them back: once it shows one component, it is in the way. */
import { textOf } from '../files/files.js';
import { isProblem } from '../problems/problems.js';
import type { Project } from '../project/project.js';
import type { ComponentPlan, RegionProposal } from '../propose/regions/propose.js';
import { Lines } from '../text/lines.js';
import { dissolve } from './dissolve.js';

/** Plans that say which functions go with a cut, proven. */
export function withHelpers(project: Project, plans: readonly ComponentPlan[]): readonly ComponentPlan[] {
  return plans.map((plan) => {
    const file = project.source(plan.path);
    if (isProblem(file) || !file.language.dissolving || plan.proposals.length === 0) return plan;
    const { ports } = project;
    const { dissolving } = file.language;
    const helpers = dissolving.list({ project, ports, file }).flatMap((name) => {
      const helper = dissolving.find({ project, ports, file, name });
      return isProblem(helper) || helper.tag !== undefined ? [] : [{ ...helper, asked: name }];
    });
    let fewer = 0;
    const proposals = plan.proposals.map((proposal): RegionProposal => {
      const { region, name, relief, inside, why } = proposal;
      const helper = helpers.find(({ shown }) => shown.start === region.start && shown.end === region.end);
      const change = helper && dissolve(project, { path: plan.path, helper: helper.asked, name });
      if (!change || isProblem(change) || change.proof.answer !== 'same' || change.name !== name) return proposal;
      const host = change.files.find((f) => f.path === plan.path)!;
      const gone = new Lines(textOf(project.files, plan.path)!).count - new Lines(host.text!).count;
      const more = Math.max(0, gone - relief);
      if (inside === undefined) fewer += more;
      const words = `${helper.name} is gone then: its calls become tags`;
      return { ...proposal, relief: relief + more, helper: helper.asked, why: [...why, words] };
    });
    return { ...plan, proposals, size: { ...plan.size, after: plan.size.after - fewer } };
  });
}
