/** What is seen of a project: survey, tree, repeats. */
import * as v from 'valibot';
import { place, problem, component, finding, proposal } from './parts.js';

export const surveyFormat = v.object({
  format: v.literal('verkstad/survey@1'),
  root: v.string(),
  files: v.array(v.object({ path: v.string(), language: v.string(), lines: v.number(), problem: v.optional(problem) })),
  components: v.array(component),
  roots: v.array(v.string()),
  entries: v.array(v.string()),
  findings: v.array(finding),
  attention: v.array(v.object({ id: v.string(), reasons: v.array(v.string()) })),
  notRead: v.pipe(
    v.array(
      v.object({ what: v.pipe(v.string(), v.description('an ending, or what such files are')), files: v.number() }),
    ),
    v.description('files in languages that are not read'),
  ),
  proposals: v.array(proposal),
});
export type SurveyDocument = v.InferOutput<typeof surveyFormat>;

export interface TreeNode {
  id: string;
  children: TreeNode[];
  /** Why the children are left out: it shows itself, it was opened further up, or the tree is deeper than 400. */
  left?: 'circle' | 'again' | 'depth';
}
const treeNode: v.GenericSchema<TreeNode> = v.lazy(() =>
  v.object({ id: v.string(), children: v.array(treeNode), left: v.optional(v.picklist(['circle', 'again', 'depth'])) }),
) as v.GenericSchema<TreeNode>;
export const treeFormat = v.object({ format: v.literal('verkstad/tree@1'), roots: v.array(treeNode) });
export type TreeDocument = v.InferOutput<typeof treeFormat>;

const value = v.nullable(v.pipe(v.string(), v.description('source text at each place; null where nothing is passed')));
const input = v.object({
  name: v.string(),
  type: v.optional(v.string()),
  values: v.array(value),
  default: v.optional(v.string()),
});
export const repeatsFormat = v.object({
  format: v.literal('verkstad/repeats@1'),
  groups: v.array(
    v.object({
      id: v.string(),
      kind: v.picklist(['markup', 'logic', 'frame']),
      name: v.string(),
      alike: v.pipe(v.number(), v.description('share of the first place that is the same everywhere, 0 to 1')),
      places: v.array(place),
      differs: v.pipe(
        v.array(
          v.object({
            values: v.array(value),
            inputs: v.pipe(v.array(v.string()), v.description('props, events and slots in which the difference shows')),
          }),
        ),
        v.description('one entry for what differs in the same way'),
      ),
      props: v.array(input),
      slots: v.array(input),
      events: v.array(input),
      worth: v.object({ saved: v.number(), lighter: v.number(), seam: v.number(), total: v.number() }),
      lines: v.pipe(v.number(), v.description('about so many lines go away')),
      step: v.optional(
        v.pipe(
          v.picklist(['unify', 'frame']),
          v.description('what makes the places one; left out where no step does yet'),
        ),
      ),
      byHand: v.optional(
        v.pipe(
          v.picklist(['form', 'differences', 'input', 'language', 'step', 'barred']),
          v.description(
            'why no step does: some places have a piece that others lack; too many differences; one that no input can carry; logic of a language whose logic is only named; a piece for which there is no step; a place that can become no component as it stands',
          ),
        ),
      ),
      within: v.optional(
        v.pipe(v.string(), v.description('the group that has all places of this one inside of its own')),
      ),
    }),
  ),
  leftOut: v.pipe(v.array(v.string()), v.description('files not looked at: generated, built, vendored, tests')),
  unread: v.array(v.string()),
});
export type RepeatsDocument = v.InferOutput<typeof repeatsFormat>;
