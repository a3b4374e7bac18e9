/** Where to cut, and what was weighed beside it. */
import * as v from 'valibot';
import { lines, proposal } from './parts.js';

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
    v.array(
      v.object({
        name: v.string(),
        through: v.array(v.string()),
        content: v.optional(
          v.pipe(
            v.array(v.object({ component: v.string(), without: v.array(v.string()) })),
            v.description('where it could go through as content: what each component on the way would no longer take'),
          ),
        ),
      }),
    ),
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
