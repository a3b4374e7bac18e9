/** What a step does, plans of steps, refusals, what is taken back, what a check saw. */
import * as v from 'valibot';
import { lines, range, seam, place } from './parts.js';

export const changeFormat = v.object({
  format: v.literal('verkstad/change@1'),
  step: v.string(),
  name: v.string(),
  target: v.string(),
  taken: v.optional(v.pipe(v.object({ path: v.string(), lines, range }), v.description('extract: what was cut out'))),
  dissolved: v.optional(v.pipe(v.string(), v.description('extract: the function that gave it back, and is gone'))),
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
const coded = v.record(v.string(), v.string());
const seamEntries = {
  inputs: v.optional(v.pipe(coded, v.description('expressions of the host, by the name that the part has for them'))),
  events: v.optional(v.pipe(coded, v.description('what the host does, by the name of what happened'))),
  slots: v.optional(
    v.pipe(
      v.record(v.string(), range),
      v.description('[start, end) of what stays written in the host, by the slot; `children` stands between the tags'),
    ),
  ),
};
const repeatSeam = v.strictObject(seamEntries);
const planSeam = v.strictObject({
  ...seamEntries,
  stays: v.optional(v.pipe(v.array(v.string()), v.description('names that stay in the host'))),
  along: v.optional(v.pipe(v.array(v.string()), v.description('names that go along'))),
});
const planStep = v.variant('step', [
  v.strictObject({
    step: v.literal('extract'),
    name: v.pipe(componentName, v.description('of the new component')),
    component: v.pipe(v.string(), v.description('that it is cut out of, as it was when the plan was made')),
    ...planPlace,
    helper: v.optional(
      v.pipe(v.string(), v.description('the function that gives the region back and is gone afterwards')),
    ),
    apart: v.optional(
      v.pipe(
        v.boolean(),
        v.description('the region is all that the component shows; what it keeps and does stays there'),
      ),
    ),
    seam: v.optional(v.pipe(planSeam, v.description('what crosses, where that is not what it would be by itself'))),
    to: v.optional(v.pipe(v.string(), v.description('path of the new file; made from the name where it is left out'))),
  }),
  v.strictObject({
    step: v.literal('forms'),
    name: v.pipe(componentName, v.description('of the component that asks the same in many places')),
    component: v.pipe(v.string(), v.description('the same')),
    ...planPlace,
    by: v.pipe(
      v.string(),
      v.description('the value that decides, or what it is compared with, as the component writes it'),
    ),
    names: v.optional(
      v.pipe(
        v.array(componentName),
        v.minLength(1),
        v.description('of the new components, in the order in which it asks for the answers'),
      ),
    ),
    newLifetime: v.optional(
      v.pipe(
        v.boolean(),
        v.description('though what stands in several forms would be made anew when the answer changes'),
      ),
    ),
  }),
  v.strictObject({
    step: v.literal('function'),
    name: v.pipe(componentName, v.description('of the class that becomes a function')),
    component: v.pipe(v.string(), v.description('the same')),
    ...planPlace,
  }),
  v.strictObject({
    step: v.literal('home'),
    name: v.pipe(v.string(), v.description('of the states, for people')),
    component: v.pipe(v.string(), v.description('that keeps them')),
    ...planPlace,
    states: v.pipe(v.array(v.string()), v.minLength(1), v.description('names of what is kept')),
    in: v.optional(
      v.pipe(
        v.string(),
        v.description('the component that is to keep them; the lowest one that all uses are in, where it is left out'),
      ),
    ),
    newLifetime: v.optional(v.pipe(v.boolean(), v.description('though they would live for another time'))),
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
    step: v.literal('inputs'),
    name: v.pipe(componentName, v.description('of the component that takes them')),
    component: v.pipe(v.string(), v.description('the same')),
    ...planPlace,
    names: v.optional(
      v.pipe(
        v.array(v.string()),
        v.minLength(1),
        v.description('of its inputs; all that say nothing, where they are left out'),
      ),
    ),
  }),
  v.strictObject({
    step: v.literal('through'),
    name: v.pipe(componentName, v.description('of the component that hands on what it does not use')),
    component: v.pipe(v.string(), v.description('the same')),
    ...planPlace,
    inputs: v.optional(
      v.pipe(
        v.array(v.string()),
        v.minLength(1),
        v.description('names of its inputs; all that it only hands on, where they are left out'),
      ),
    ),
    in: v.optional(
      v.pipe(
        v.string(),
        v.description('the component above in which it is to be written; as far up as possible, where it is left out'),
      ),
    ),
  }),
  v.strictObject({
    step: v.literal('module'),
    name: v.pipe(
      v.string(),
      v.regex(/^[\p{L}_$][\p{L}\p{N}_$]*(?:, [\p{L}_$][\p{L}\p{N}_$]*)*$/u),
      v.description('of the function; of declarations, their names, for people'),
    ),
    component: v.pipe(v.string(), v.description('that it stands in, or its file')),
    ...planPlace,
    names: v.optional(
      v.pipe(v.array(v.string()), v.minLength(1), v.description('declarations; else the code at range')),
    ),
    to: v.optional(v.pipe(v.string(), v.description('path of the module, new or there already'))),
  }),
  v.strictObject({
    step: v.literal('unify'),
    id: v.pipe(v.string(), v.description('of the group, as `repeats` calls it')),
    kind: v.picklist(['markup', 'logic', 'frame']),
    asList: v.optional(v.pipe(v.boolean(), v.description('a list of records, and one use in a loop of it'))),
    seam: v.optional(v.pipe(repeatSeam, v.description('what the places hand over; pieces of the first place'))),
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
  v.strictObject({
    step: v.pipe(v.picklist(['join', 'part']), v.description('template and script together in one file, or apart')),
    name: v.pipe(v.string(), v.description('of the file, for people')),
    component: v.string(),
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
