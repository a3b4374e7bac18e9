/**
 * What `--json` holds, defined once: the types that the commands fill, and the schemas that ship in `schemas/`. The
 * commands import types only, so that no command pays for loading the validator.
 */
import * as v from 'valibot';

const lines = v.pipe(
  v.tuple([v.pipe(v.number(), v.integer()), v.pipe(v.number(), v.integer())]),
  v.description('first and last line, 1-based and inclusive'),
);
const range = v.pipe(
  v.tuple([v.pipe(v.number(), v.integer()), v.pipe(v.number(), v.integer())]),
  v.description('[start, end) in UTF-16 offsets'),
);
const typed = v.object({ name: v.string(), type: v.optional(v.string()), optional: v.optional(v.boolean()) });
const seam = v.object({
  props: v.array(typed),
  events: v.array(typed),
  slots: v.array(v.object({ name: v.string() })),
});

const place = v.object({ path: v.string(), lines, range, component: v.optional(v.string()) });

const problem = v.object({
  code: v.string(),
  message: v.string(),
  line: v.optional(v.number()),
  column: v.optional(v.number()),
});

const component = v.object({
  id: v.pipe(v.string(), v.description('path#Name')),
  name: v.string(),
  kind: v.picklist(['function', 'class', 'helper', 'page']),
  path: v.string(),
  lines,
  range,
  exported: v.picklist(['default', 'named', 'none']),
  props: v.array(
    v.object({
      name: v.string(),
      type: v.optional(v.string()),
      required: v.boolean(),
      default: v.optional(v.string()),
    }),
  ),
  state: v.array(v.string()),
  renders: v.pipe(v.array(v.string()), v.description('ids of the components that it shows')),
  stateful: v.boolean(),
  effects: v.number(),
  handlers: v.number(),
  branches: v.number(),
  loops: v.number(),
  elements: v.number(),
  depth: v.number(),
  does: v.array(v.string()),
});

const finding = v.object({
  code: v.string(),
  severity: v.picklist(['warning', 'hint']),
  path: v.string(),
  lines,
  message: v.string(),
  component: v.optional(v.string()),
});

const proposal = v.object({
  id: v.string(),
  step: v.string(),
  name: v.string(),
  component: v.string(),
  path: v.string(),
  lines,
  range,
  says: v.optional(v.pipe(v.string(), v.description('the first words that it shows'))),
  seam,
  worth: v.object({ saved: v.number(), lighter: v.number(), seam: v.number(), total: v.number() }),
  why: v.array(v.string()),
  inside: v.optional(v.pipe(v.string(), v.description('id of the proposal that this one stands in'))),
  statements: v.optional(v.pipe(v.array(range), v.description('of a hook: the statements that go into it'))),
  results: v.optional(v.pipe(v.array(v.string()), v.description('of a hook: names that the component goes on using'))),
  places: v.optional(
    v.pipe(
      v.array(v.object({ path: v.string(), lines, range })),
      v.description('of what stands more than once: all its places'),
    ),
  ),
});

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

export const changeFormat = v.object({
  format: v.literal('verkstad/change@1'),
  step: v.string(),
  name: v.string(),
  target: v.string(),
  taken: v.optional(v.pipe(v.object({ path: v.string(), lines, range }), v.description('extract: what was cut out'))),
  places: v.optional(v.pipe(v.array(place), v.description('unify and frame: what became uses'))),
  files: v.array(
    v.object({
      path: v.string(),
      change: v.picklist(['edit', 'create', 'move', 'delete']),
      from: v.optional(v.string()),
    }),
  ),
  seam,
  proof: v.object({ answer: v.picklist(['same', 'different', 'unknown']), detail: v.optional(v.string()) }),
  types: v.object({
    answer: v.picklist(['same', 'worse', 'skipped']),
    reason: v.optional(v.string()),
    errors: v.array(v.object({ path: v.string(), code: v.number(), message: v.string() })),
  }),
  notes: v.array(v.string()),
});
export type ChangeDocument = v.InferOutput<typeof changeFormat>;

const componentName = v.pipe(v.string(), v.regex(/^[A-Z][\p{L}\p{N}_$]*$/u));
const planPlace = {
  path: v.string(),
  lines: v.pipe(lines, v.description('1-based, inclusive; for people: only range counts')),
  range: v.pipe(range, v.description('[start, end) in UTF-16 offsets, in the text that the plan was made on')),
};
const planStep = v.variant('step', [
  v.strictObject({
    step: v.literal('extract'),
    name: v.pipe(componentName, v.description('of the new component')),
    component: v.pipe(v.string(), v.description('that it is cut out of, as it was when the plan was made')),
    ...planPlace,
    to: v.optional(v.pipe(v.string(), v.description('path of the new file; made from the name where it is left out'))),
  }),
  v.strictObject({
    step: v.literal('hook'),
    name: v.pipe(v.string(), v.regex(/^use[A-Z]\w*$/), v.description('of the new hook')),
    component: v.pipe(v.string(), v.description('whose logic it is')),
    ...planPlace,
    statements: v.pipe(v.array(range), v.minLength(1), v.description('the statements that go into it, in text order')),
    to: v.optional(v.pipe(v.string(), v.description('path of the new file; made from the name where it is left out'))),
  }),
  v.strictObject({
    step: v.literal('unify'),
    id: v.pipe(v.string(), v.description('of the group, as `repeats` calls it')),
    kind: v.picklist(['markup', 'logic', 'frame']),
    name: v.pipe(v.string(), v.description('of what the places become')),
    component: v.pipe(v.string(), v.description('that they stand in')),
    ...planPlace,
    places: v.pipe(
      v.array(v.strictObject({ path: v.string(), lines, range })),
      v.minLength(2),
      v.description('all places; path, lines and range above are those of the first'),
    ),
  }),
  v.strictObject({
    step: v.literal('page'),
    name: v.pipe(componentName, v.description('of the component that a page becomes')),
    component: v.pipe(v.string(), v.description('what the page is called')),
    ...planPlace,
    into: v.pipe(v.string(), v.description('the language that it is written in')),
    to: v.pipe(v.string(), v.description('path of the new file, in which later steps cut')),
  }),
  v.strictObject({
    step: v.literal('inline'),
    name: v.pipe(componentName, v.description('of the component that goes back where it is shown')),
    component: v.pipe(v.string(), v.description('that shows it')),
    ...planPlace,
  }),
]);

export const planFormat = v.strictObject({
  format: v.literal('verkstad/plan@1'),
  files: v.pipe(
    v.array(v.strictObject({ path: v.string(), fingerprint: v.string() })),
    v.description('the text that the plan was made on'),
  ),
  steps: v.pipe(
    v.array(planStep),
    v.description('in the order in which they are taken: pages, what repeats, inner regions before outer ones'),
  ),
});
export type PlanDocument = v.InferOutput<typeof planFormat>;

export interface OutlineDocument {
  label: string;
  title?: string | undefined;
  made?: true | undefined;
  children: OutlineDocument[];
}
const outlineNode: v.GenericSchema<OutlineDocument> = v.lazy(() =>
  v.object({
    label: v.string(),
    title: v.optional(v.string()),
    made: v.optional(v.literal(true)),
    children: v.array(outlineNode),
  }),
);

const figures = v.object({
  components: v.number(),
  lines: v.object({ host: v.number(), longest: v.number() }),
  crossing: v.pipe(v.number(), v.description('props, events and slots of all boundaries together')),
  twice: v.pipe(v.number(), v.description('lines of markup that would stand more than once')),
});

export const proposeFormat = v.object({
  format: v.literal('verkstad/propose@1'),
  proposals: v.array(proposal),
  components: v.pipe(
    v.array(
      v.object({
        id: v.pipe(v.string(), v.description('path#Name')),
        lines,
        size: v.object({ before: v.number(), after: v.pipe(v.number(), v.description('about as many')) }),
        outline: v.pipe(v.array(outlineNode), v.description('what it shows afterwards')),
        fine: v.pipe(v.array(v.string()), v.description('why nothing is proposed')),
        turnedDown: v.pipe(
          v.array(
            v.object({
              lines,
              reason: v.picklist(['refused', 'wide', 'worth']),
              why: v.string(),
              instead: v.optional(v.pipe(v.string(), v.description('what would open it'))),
            }),
          ),
          v.description('what was considered and not proposed, the largest first'),
        ),
      }),
    ),
    v.description('components that were looked at'),
  ),
  states: v.pipe(
    v.array(
      v.object({
        component: v.pipe(v.string(), v.description('id of the component that it lives in')),
        name: v.string(),
        kind: v.pipe(v.picklist(['state', 'context', 'data']), v.description('data: filled by something that loads')),
        readers: v.array(v.string()),
        writers: v.array(v.string()),
        home: v.optional(
          v.pipe(
            v.object({
              component: v.string(),
              lighter: v.pipe(v.array(v.string()), v.description('names that would go along')),
            }),
            v.description('the one component below that uses it'),
          ),
        ),
        then: v.optional(v.pipe(v.string(), v.description('the proposed component that it goes along with'))),
        only: v.optional(
          v.pipe(v.string(), v.description('the proposed component that alone would use it, and comes and goes')),
        ),
        needless: v.optional(v.pipe(v.string(), v.description('why it need not be a state'))),
      }),
    ),
    v.description('who reads and writes each state, and where it could live'),
  ),
  drilled: v.pipe(
    v.array(v.object({ name: v.string(), through: v.array(v.string()) })),
    v.description('values handed through components that do not use them: ids from the owner to the last one'),
  ),
  classes: v.pipe(v.array(v.string()), v.description('ids of classes that keep nothing')),
  reasons: v.array(
    v.object({
      component: v.string(),
      groups: v.array(v.object({ names: v.array(v.string()), effects: v.number() })),
      shared: v.pipe(v.array(v.string()), v.description('values that several groups read')),
    }),
  ),
  alternatives: v.array(
    v.object({
      component: v.string(),
      value: v.string(),
      forms: v.array(v.string()),
      places: v.array(lines),
      section: figures,
      variant: figures,
    }),
  ),
  inputs: v.pipe(
    v.array(
      v.object({
        component: v.string(),
        props: v.number(),
        uses: v.number(),
        flags: v.array(v.string()),
        handedOn: v.array(v.string()),
        alike: v.array(v.object({ name: v.string(), value: v.string() })),
        unused: v.array(v.string()),
        combinations: v.optional(v.object({ used: v.array(v.array(v.string())), possible: v.number() })),
        instead: v.array(v.string()),
      }),
    ),
    v.description('components that take too much'),
  ),
  history: v.optional(
    v.pipe(
      v.object({
        since: v.string(),
        commits: v.number(),
        often: v.array(v.object({ path: v.string(), commits: v.number() })),
        together: v.array(v.object({ paths: v.tuple([v.string(), v.string()]), commits: v.number(), of: v.number() })),
      }),
      v.description('what git says; absent where there is no repository'),
    ),
  ),
  unread: v.array(v.string()),
  notWeighed: v.pipe(v.array(v.string()), v.description('files of languages that have no components')),
  pages: v.optional(
    v.pipe(
      v.array(v.object({ path: v.string(), name: v.string(), to: v.string(), into: v.string() })),
      v.description(
        'pages that were weighed as the components that they become; lines and ranges are those of the component',
      ),
    ),
  ),
  leftOut: v.pipe(v.array(v.string()), v.description('files not looked at: generated, vendored, tests')),
});
export type ProposeDocument = v.InferOutput<typeof proposeFormat>;

export const appliedFormat = v.object({
  format: v.literal('verkstad/applied@1'),
  steps: v.array(changeFormat),
  left: v.pipe(v.array(v.string()), v.description('names of the steps that were not taken')),
  stopped: v.optional(v.object({ code: v.string(), message: v.string(), path: v.string() })),
});
export type AppliedDocument = v.InferOutput<typeof appliedFormat>;

export const refusalFormat = v.object({
  format: v.literal('verkstad/refusal@1'),
  code: v.string(),
  message: v.string(),
  path: v.string(),
  lines: v.optional(lines),
  instead: v.array(v.string()),
});

export const undoFormat = v.object({
  format: v.literal('verkstad/undo@1'),
  changes: v.array(
    v.object({
      id: v.number(),
      step: v.string(),
      title: v.string(),
      files: v.array(v.object({ path: v.string(), change: v.picklist(['edit', 'create', 'delete']) })),
    }),
  ),
});
export type UndoDocument = v.InferOutput<typeof undoFormat>;

const spot = v.object({ path: v.string(), line: v.number(), column: v.number() });
const level = v.picklist(['expand', 'types', 'render', 'browser']);
const checkAnswer = v.picklist(['same', 'different', 'unchecked']);
export const checkFormat = v.object({
  format: v.literal('verkstad/check@1'),
  answer: v.pipe(checkAnswer, v.description('unchecked: nothing differs, but something could not be compared')),
  against: v.pipe(v.string(), v.description('what it is compared with, for people')),
  changed: v.pipe(v.array(v.string()), v.description('files that differ')),
  levels: v.array(
    v.object({
      level,
      answer: checkAnswer,
      compared: v.pipe(v.array(v.string()), v.description('components, files or pages that were compared')),
      figures: v.pipe(v.string(), v.description('how much, for people')),
      left: v.pipe(
        v.array(v.object({ what: v.string(), why: v.string() })),
        v.description('what could not be checked'),
      ),
    }),
  ),
  differences: v.array(
    v.object({
      level,
      what: v.pipe(v.string(), v.description('the component, file or page')),
      words: v.pipe(v.string(), v.description('what a person would see')),
      before: v.optional(spot),
      after: v.optional(spot),
      steps: v.optional(v.pipe(v.array(v.string()), v.description('what one does on the page to see it'))),
      pictures: v.optional(
        v.pipe(v.tuple([v.string(), v.string()]), v.description('before and now; paths relative to the root')),
      ),
    }),
  ),
});
export type CheckDocument = v.InferOutput<typeof checkFormat>;

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
