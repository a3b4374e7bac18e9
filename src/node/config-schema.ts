/** The one definition of the configuration; `schemas/config.json` is made from it. */
import * as v from 'valibot';
import { isQuick } from './globs.js';

export const configSchema = v.pipe(
  v.strictObject({
    $schema: v.optional(v.string()),
    /** How objects cross a seam. */
    props: v.optional(v.picklist(['auto', 'members', 'objects'])),
    /** A person's limits: what lies beyond them is named by `survey`. */
    limits: v.optional(
      v.strictObject({
        lines: v.optional(v.pipe(v.number(), v.integer(), v.minValue(1))),
        props: v.optional(v.pipe(v.number(), v.integer(), v.minValue(1))),
        depth: v.optional(v.pipe(v.number(), v.integer(), v.minValue(1))),
      }),
    ),
    /** Tags of components from packages that look at their children one by one. */
    readsChildren: v.optional(v.array(v.string())),
    /** Globs of files that are not the project's own. */
    exclude: v.optional(
      v.pipe(
        v.array(
          v.pipe(
            v.string(),
            v.check(isQuick, 'a pattern like this can take longer than anybody waits: fewer `*`, `**` and `{}`'),
          ),
        ),
        v.maxLength(200),
      ),
    ),
    /** Larger files are listed and not read. */
    maxFileBytes: v.optional(v.pipe(v.number(), v.integer(), v.minValue(1))),
  }),
  v.description('Verkstad configuration'),
);

export type Config = v.InferOutput<typeof configSchema>;
