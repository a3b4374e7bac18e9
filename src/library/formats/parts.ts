/** What several formats are made of. */
import * as v from 'valibot';

export const lines = v.pipe(
  v.tuple([v.pipe(v.number(), v.integer()), v.pipe(v.number(), v.integer())]),
  v.description('first and last line, 1-based and inclusive'),
);
export const range = v.pipe(
  v.tuple([v.pipe(v.number(), v.integer()), v.pipe(v.number(), v.integer())]),
  v.description('[start, end) in UTF-16 offsets'),
);
export const typed = v.object({ name: v.string(), type: v.optional(v.string()), optional: v.optional(v.boolean()) });
export const seam = v.object({
  props: v.array(typed),
  events: v.array(typed),
  slots: v.array(v.object({ name: v.string() })),
});

export const place = v.object({ path: v.string(), lines, range, component: v.optional(v.string()) });

export const problem = v.object({
  code: v.string(),
  message: v.string(),
  line: v.optional(v.number()),
  column: v.optional(v.number()),
});

export const component = v.object({
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

export const finding = v.object({
  code: v.string(),
  severity: v.picklist(['warning', 'hint']),
  path: v.string(),
  lines,
  message: v.string(),
  component: v.optional(v.string()),
});

export const proposal = v.object({
  id: v.string(),
  step: v.string(),
  name: v.string(),
  component: v.string(),
  path: v.string(),
  lines,
  range,
  helper: v.optional(v.pipe(v.string(), v.description('the function that gives it back and goes with it'))),
  says: v.optional(v.pipe(v.string(), v.description('the first words that it shows'))),
  seam,
  worth: v.object({ saved: v.number(), lighter: v.number(), seam: v.number(), total: v.number() }),
  why: v.array(v.string()),
  inside: v.optional(v.pipe(v.string(), v.description('id of the proposal that this one stands in'))),
  content: v.optional(
    v.pipe(
      v.object({ lines, range, seam }),
      v.description('a piece that could stay written in the host, and what would cross then'),
    ),
  ),
  statements: v.optional(v.pipe(v.array(range), v.description('of a hook: the statements that go into it'))),
  results: v.optional(v.pipe(v.array(v.string()), v.description('of a hook: names that the component goes on using'))),
  to: v.optional(v.pipe(v.string(), v.description('of a request: the module that it goes to'))),
  home: v.optional(v.pipe(v.string(), v.description('of states: the component that is to keep them'))),
  places: v.optional(
    v.pipe(
      v.array(v.object({ path: v.string(), lines, range })),
      v.description('of what stands more than once: all its places'),
    ),
  ),
});
