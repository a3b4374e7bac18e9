/** One change on record, as a document. */
import { z } from 'zod';
import { isSealed, sealOf } from './seal.js';

const entryFormat = z.strictObject({
  format: z.literal('verkstad/journal@2'),
  id: z.int().positive(),
  /** When it was begun; ISO 8601. */
  at: z.string(),
  step: z.string(),
  title: z.string(),
  /** `open` and `undoing` are seen only after a crash. */
  state: z.enum(['open', 'done', 'undoing', 'undone', 'left']),
  /** In the names of what was written beside its place. */
  token: z.string().regex(/^[0-9a-f]+$/),
  files: z.array(
    z.strictObject({
      path: z.string(),
      before: z.string().nullable(),
      after: z.string().nullable(),
      mode: z.int().nonnegative().max(0o7777).optional(),
    }),
  ),
});

export type JournalEntry = Readonly<z.infer<typeof entryFormat>>;

const sealedFormat = z.strictObject({ seal: z.string(), entry: entryFormat });

export function written(entry: JournalEntry): string {
  return JSON.stringify({ seal: sealOf(JSON.stringify(entry)), entry }, null, 1);
}

/** `isOwn`: whether this user's own run wrote it. Undefined: it is no entry. */
export function readEntry(text: string): { readonly entry: JournalEntry; readonly isOwn: boolean } | undefined {
  try {
    const read = sealedFormat.safeParse(JSON.parse(text));
    if (!read.success) return undefined;
    const { entry, seal } = read.data;
    return { entry, isOwn: isSealed(JSON.stringify(entry), seal) };
  } catch {
    return undefined;
  }
}
