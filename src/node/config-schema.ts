/** The one definition of the configuration; `schemas/config.json` is made from it. */
import { z } from 'zod';
import { isQuick } from './globs.js';

export const configSchema = z
  .strictObject({
    $schema: z.string().optional(),
    /** How objects cross a seam. */
    props: z.enum(['auto', 'members', 'objects']).optional(),
    /** A person's limits: what lies beyond them is named by `survey`. */
    limits: z
      .strictObject({
        lines: z.number().int().positive().optional(),
        props: z.number().int().positive().optional(),
        depth: z.number().int().positive().optional(),
      })
      .optional(),
    /** Tags of components from packages that look at their children one by one. */
    readsChildren: z.array(z.string()).optional(),
    /** Globs of files that are not the project's own. */
    exclude: z
      .array(
        z.string().refine(isQuick, 'a pattern like this can take longer than anybody waits: fewer `*`, `**` and `{}`'),
      )
      .max(200)
      .optional(),
    /** Larger files are listed and not read. */
    maxFileBytes: z.number().int().positive().optional(),
  })
  .describe('Verkstad configuration');

export type Config = z.infer<typeof configSchema>;
