/**
 * What `--json` holds, defined once: the types that the commands fill, and the schemas that ship in `schemas/`. The
 * commands import types only, so that no command pays for loading the validator.
 */
import { z } from 'zod';

const lines = z.tuple([z.number().int(), z.number().int()]).describe('first and last line, 1-based and inclusive');
const range = z.tuple([z.number().int(), z.number().int()]).describe('[start, end) in UTF-16 offsets');
const typed = z.object({ name: z.string(), type: z.string().optional(), optional: z.boolean().optional() });
const seam = z.object({
  props: z.array(typed),
  events: z.array(typed),
  slots: z.array(z.object({ name: z.string() })),
});

const place = z.object({ path: z.string(), lines, range, component: z.string().optional() });

const problem = z.object({
  code: z.string(),
  message: z.string(),
  line: z.number().optional(),
  column: z.number().optional(),
});

const component = z.object({
  id: z.string().describe('path#Name'),
  name: z.string(),
  kind: z.enum(['function', 'class', 'helper', 'page']),
  path: z.string(),
  lines,
  range,
  exported: z.enum(['default', 'named', 'none']),
  props: z.array(
    z.object({ name: z.string(), type: z.string().optional(), required: z.boolean(), default: z.string().optional() }),
  ),
  state: z.array(z.string()),
  renders: z.array(z.string()).describe('ids of the components that it shows'),
  stateful: z.boolean(),
  effects: z.number(),
  handlers: z.number(),
  branches: z.number(),
  loops: z.number(),
  elements: z.number(),
  depth: z.number(),
  does: z.array(z.string()),
});

const finding = z.object({
  code: z.string(),
  severity: z.enum(['warning', 'hint']),
  path: z.string(),
  lines,
  message: z.string(),
  component: z.string().optional(),
});

const proposal = z.object({
  id: z.string(),
  step: z.string(),
  name: z.string(),
  component: z.string(),
  path: z.string(),
  lines,
  range,
  says: z.string().optional().describe('the first words that it shows'),
  seam,
  worth: z.object({ saved: z.number(), lighter: z.number(), seam: z.number(), total: z.number() }),
  why: z.array(z.string()),
  inside: z.string().optional().describe('id of the proposal that this one stands in'),
  statements: z.array(range).optional().describe('of a hook: the statements that go into it'),
  results: z.array(z.string()).optional().describe('of a hook: names that the component goes on using'),
  places: z
    .array(z.object({ path: z.string(), lines, range }))
    .optional()
    .describe('of what stands more than once: all its places'),
});

export const surveyFormat = z.object({
  format: z.literal('verkstad/survey@1'),
  root: z.string(),
  files: z.array(z.object({ path: z.string(), language: z.string(), lines: z.number(), problem: problem.optional() })),
  components: z.array(component),
  roots: z.array(z.string()),
  entries: z.array(z.string()),
  findings: z.array(finding),
  attention: z.array(z.object({ id: z.string(), reasons: z.array(z.string()) })),
  notRead: z
    .array(z.object({ what: z.string().describe('an ending, or what such files are'), files: z.number() }))
    .describe('files in languages that are not read'),
  proposals: z.array(proposal),
});
export type SurveyDocument = z.infer<typeof surveyFormat>;

export interface TreeNode {
  id: string;
  children: TreeNode[];
  /** Why the children are left out: it shows itself, it was opened further up, or the tree is deeper than 400. */
  left?: 'circle' | 'again' | 'depth';
}
const treeNode: z.ZodType<TreeNode> = z.lazy(() =>
  z.object({ id: z.string(), children: z.array(treeNode), left: z.enum(['circle', 'again', 'depth']).optional() }),
) as z.ZodType<TreeNode>;
export const treeFormat = z.object({ format: z.literal('verkstad/tree@1'), roots: z.array(treeNode) });
export type TreeDocument = z.infer<typeof treeFormat>;

const value = z.string().nullable().describe('source text at each place; null where nothing is passed');
const input = z.object({
  name: z.string(),
  type: z.string().optional(),
  values: z.array(value),
  default: z.string().optional(),
});
export const repeatsFormat = z.object({
  format: z.literal('verkstad/repeats@1'),
  groups: z.array(
    z.object({
      id: z.string(),
      kind: z.enum(['markup', 'logic', 'frame']),
      name: z.string(),
      alike: z.number().describe('share of the first place that is the same everywhere, 0 to 1'),
      places: z.array(place),
      differs: z
        .array(
          z.object({
            values: z.array(value),
            inputs: z.array(z.string()).describe('props, events and slots in which the difference shows'),
          }),
        )
        .describe('one entry for what differs in the same way'),
      props: z.array(input),
      slots: z.array(input),
      events: z.array(input),
      worth: z.object({ saved: z.number(), lighter: z.number(), seam: z.number(), total: z.number() }),
      lines: z.number().describe('about so many lines go away'),
      step: z
        .enum(['unify', 'frame'])
        .optional()
        .describe('what makes the places one; left out where no step does yet'),
      byHand: z
        .enum(['form', 'differences', 'input', 'language', 'step', 'barred'])
        .optional()
        .describe(
          'why no step does: some places have a piece that others lack; too many differences; one that no input can carry; logic of a language whose logic is only named; a piece for which there is no step; a place that can become no component as it stands',
        ),
      within: z.string().optional().describe('the group that has all places of this one inside of its own'),
    }),
  ),
  leftOut: z.array(z.string()).describe('files not looked at: generated, built, vendored, tests'),
  unread: z.array(z.string()),
});
export type RepeatsDocument = z.infer<typeof repeatsFormat>;

export const changeFormat = z.object({
  format: z.literal('verkstad/change@1'),
  step: z.string(),
  name: z.string(),
  target: z.string(),
  taken: z.object({ path: z.string(), lines, range }).optional().describe('extract: what was cut out'),
  places: z.array(place).optional().describe('unify and frame: what became uses'),
  files: z.array(
    z.object({ path: z.string(), change: z.enum(['edit', 'create', 'move', 'delete']), from: z.string().optional() }),
  ),
  seam,
  proof: z.object({ answer: z.enum(['same', 'different', 'unknown']), detail: z.string().optional() }),
  types: z.object({
    answer: z.enum(['same', 'worse', 'skipped']),
    reason: z.string().optional(),
    errors: z.array(z.object({ path: z.string(), code: z.number(), message: z.string() })),
  }),
  notes: z.array(z.string()),
});
export type ChangeDocument = z.infer<typeof changeFormat>;

const componentName = z.string().regex(/^[A-Z][\p{L}\p{N}_$]*$/u);
const planPlace = {
  path: z.string(),
  lines: lines.describe('1-based, inclusive; for people: only range counts'),
  range: range.describe('[start, end) in UTF-16 offsets, in the text that the plan was made on'),
};
const planStep = z.discriminatedUnion('step', [
  z.strictObject({
    step: z.literal('extract'),
    name: componentName.describe('of the new component'),
    component: z.string().describe('that it is cut out of, as it was when the plan was made'),
    ...planPlace,
    to: z.string().optional().describe('path of the new file; made from the name where it is left out'),
  }),
  z.strictObject({
    step: z.literal('hook'),
    name: z
      .string()
      .regex(/^use[A-Z]\w*$/)
      .describe('of the new hook'),
    component: z.string().describe('whose logic it is'),
    ...planPlace,
    statements: z.array(range).min(1).describe('the statements that go into it, in text order'),
    to: z.string().optional().describe('path of the new file; made from the name where it is left out'),
  }),
  z.strictObject({
    step: z.literal('unify'),
    id: z.string().describe('of the group, as `repeats` calls it'),
    kind: z.enum(['markup', 'logic', 'frame']),
    name: z.string().describe('of what the places become'),
    component: z.string().describe('that they stand in'),
    ...planPlace,
    places: z
      .array(z.strictObject({ path: z.string(), lines, range }))
      .min(2)
      .describe('all places; path, lines and range above are those of the first'),
  }),
  z.strictObject({
    step: z.literal('page'),
    name: componentName.describe('of the component that a page becomes'),
    component: z.string().describe('what the page is called'),
    ...planPlace,
    into: z.string().describe('the language that it is written in'),
    to: z.string().describe('path of the new file, in which later steps cut'),
  }),
  z.strictObject({
    step: z.literal('inline'),
    name: componentName.describe('of the component that goes back where it is shown'),
    component: z.string().describe('that shows it'),
    ...planPlace,
  }),
]);

export const planFormat = z.strictObject({
  format: z.literal('verkstad/plan@1'),
  files: z
    .array(z.strictObject({ path: z.string(), fingerprint: z.string() }))
    .describe('the text that the plan was made on'),
  steps: z
    .array(planStep)
    .describe('in the order in which they are taken: pages, what repeats, inner regions before outer ones'),
});
export type PlanDocument = z.infer<typeof planFormat>;

export interface OutlineDocument {
  label: string;
  title?: string | undefined;
  made?: true | undefined;
  children: OutlineDocument[];
}
const outlineNode: z.ZodType<OutlineDocument> = z.lazy(() =>
  z.object({
    label: z.string(),
    title: z.string().optional(),
    made: z.literal(true).optional(),
    children: z.array(outlineNode),
  }),
);

const figures = z.object({
  components: z.number(),
  lines: z.object({ host: z.number(), longest: z.number() }),
  crossing: z.number().describe('props, events and slots of all boundaries together'),
  twice: z.number().describe('lines of markup that would stand more than once'),
});

export const proposeFormat = z.object({
  format: z.literal('verkstad/propose@1'),
  proposals: z.array(proposal),
  components: z
    .array(
      z.object({
        id: z.string().describe('path#Name'),
        lines,
        size: z.object({ before: z.number(), after: z.number().describe('about as many') }),
        outline: z.array(outlineNode).describe('what it shows afterwards'),
        fine: z.array(z.string()).describe('why nothing is proposed'),
        turnedDown: z
          .array(
            z.object({
              lines,
              reason: z.enum(['refused', 'wide', 'worth']),
              why: z.string(),
              instead: z.string().optional().describe('what would open it'),
            }),
          )
          .describe('what was considered and not proposed, the largest first'),
      }),
    )
    .describe('components that were looked at'),
  states: z
    .array(
      z.object({
        component: z.string().describe('id of the component that it lives in'),
        name: z.string(),
        kind: z.enum(['state', 'context', 'data']).describe('data: filled by something that loads'),
        readers: z.array(z.string()),
        writers: z.array(z.string()),
        home: z
          .object({ component: z.string(), lighter: z.array(z.string()).describe('names that would go along') })
          .optional()
          .describe('the one component below that uses it'),
        then: z.string().optional().describe('the proposed component that it goes along with'),
        only: z.string().optional().describe('the proposed component that alone would use it, and comes and goes'),
        needless: z.string().optional().describe('why it need not be a state'),
      }),
    )
    .describe('who reads and writes each state, and where it could live'),
  drilled: z
    .array(z.object({ name: z.string(), through: z.array(z.string()) }))
    .describe('values handed through components that do not use them: ids from the owner to the last one'),
  classes: z.array(z.string()).describe('ids of classes that keep nothing'),
  reasons: z.array(
    z.object({
      component: z.string(),
      groups: z.array(z.object({ names: z.array(z.string()), effects: z.number() })),
      shared: z.array(z.string()).describe('values that several groups read'),
    }),
  ),
  alternatives: z.array(
    z.object({
      component: z.string(),
      value: z.string(),
      forms: z.array(z.string()),
      places: z.array(lines),
      section: figures,
      variant: figures,
    }),
  ),
  inputs: z
    .array(
      z.object({
        component: z.string(),
        props: z.number(),
        uses: z.number(),
        flags: z.array(z.string()),
        handedOn: z.array(z.string()),
        alike: z.array(z.object({ name: z.string(), value: z.string() })),
        unused: z.array(z.string()),
        combinations: z.object({ used: z.array(z.array(z.string())), possible: z.number() }).optional(),
        instead: z.array(z.string()),
      }),
    )
    .describe('components that take too much'),
  history: z
    .object({
      since: z.string(),
      commits: z.number(),
      often: z.array(z.object({ path: z.string(), commits: z.number() })),
      together: z.array(z.object({ paths: z.tuple([z.string(), z.string()]), commits: z.number(), of: z.number() })),
    })
    .optional()
    .describe('what git says; absent where there is no repository'),
  unread: z.array(z.string()),
  notWeighed: z.array(z.string()).describe('files of languages that have no components'),
  pages: z
    .array(z.object({ path: z.string(), name: z.string(), to: z.string(), into: z.string() }))
    .optional()
    .describe(
      'pages that were weighed as the components that they become; lines and ranges are those of the component',
    ),
  leftOut: z.array(z.string()).describe('files not looked at: generated, vendored, tests'),
});
export type ProposeDocument = z.infer<typeof proposeFormat>;

export const appliedFormat = z.object({
  format: z.literal('verkstad/applied@1'),
  steps: z.array(changeFormat),
  left: z.array(z.string()).describe('names of the steps that were not taken'),
  stopped: z.object({ code: z.string(), message: z.string(), path: z.string() }).optional(),
});
export type AppliedDocument = z.infer<typeof appliedFormat>;

export const refusalFormat = z.object({
  format: z.literal('verkstad/refusal@1'),
  code: z.string(),
  message: z.string(),
  path: z.string(),
  lines: lines.optional(),
  instead: z.array(z.string()),
});

export const undoFormat = z.object({
  format: z.literal('verkstad/undo@1'),
  changes: z.array(
    z.object({
      id: z.number(),
      step: z.string(),
      title: z.string(),
      files: z.array(z.object({ path: z.string(), change: z.enum(['edit', 'create', 'delete']) })),
    }),
  ),
});
export type UndoDocument = z.infer<typeof undoFormat>;

const spot = z.object({ path: z.string(), line: z.number(), column: z.number() });
const level = z.enum(['expand', 'types', 'render', 'browser']);
const checkAnswer = z.enum(['same', 'different', 'unchecked']);
export const checkFormat = z.object({
  format: z.literal('verkstad/check@1'),
  answer: checkAnswer.describe('unchecked: nothing differs, but something could not be compared'),
  against: z.string().describe('what it is compared with, for people'),
  changed: z.array(z.string()).describe('files that differ'),
  levels: z.array(
    z.object({
      level,
      answer: checkAnswer,
      compared: z.array(z.string()).describe('components, files or pages that were compared'),
      figures: z.string().describe('how much, for people'),
      left: z.array(z.object({ what: z.string(), why: z.string() })).describe('what could not be checked'),
    }),
  ),
  differences: z.array(
    z.object({
      level,
      what: z.string().describe('the component, file or page'),
      words: z.string().describe('what a person would see'),
      before: spot.optional(),
      after: spot.optional(),
      steps: z.array(z.string()).optional().describe('what one does on the page to see it'),
      pictures: z.tuple([z.string(), z.string()]).optional().describe('before and now; paths relative to the root'),
    }),
  ),
});
export type CheckDocument = z.infer<typeof checkFormat>;

export const formats = {
  survey: surveyFormat,
  tree: treeFormat,
  repeats: repeatsFormat,
  change: changeFormat,
  refusal: refusalFormat,
  undo: undoFormat,
  propose: proposeFormat,
  plan: planFormat,
  applied: appliedFormat,
  check: checkFormat,
};
