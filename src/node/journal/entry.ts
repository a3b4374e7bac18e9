/** One change on record, as a document. */
import * as v from 'valibot';
import { isSealed, sealOf } from './seal.js';

const entryFormat = v.strictObject({
  format: v.literal('verkstad/journal@2'),
  id: v.pipe(v.number(), v.integer(), v.minValue(1)),
  /** When it was begun; ISO 8601. */
  at: v.string(),
  step: v.string(),
  title: v.string(),
  /** `open` and `undoing` are seen only after a crash. */
  state: v.picklist(['open', 'done', 'undoing', 'undone', 'left']),
  /** In the names of what was written beside its place. */
  token: v.pipe(v.string(), v.regex(/^[0-9a-f]+$/)),
  files: v.array(
    v.strictObject({
      path: v.string(),
      before: v.nullable(v.string()),
      after: v.nullable(v.string()),
      mode: v.optional(v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(0o7777))),
    }),
  ),
});

export type JournalEntry = Readonly<v.InferOutput<typeof entryFormat>>;

const sealedFormat = v.strictObject({ seal: v.string(), entry: entryFormat });

export function written(entry: JournalEntry): string {
  return JSON.stringify({ seal: sealOf(JSON.stringify(entry)), entry }, null, 1);
}

/** `isOwn`: whether this user's own run wrote it. Undefined: it is no entry. */
export function readEntry(text: string): { readonly entry: JournalEntry; readonly isOwn: boolean } | undefined {
  try {
    const read = v.safeParse(sealedFormat, JSON.parse(text));
    if (!read.success) return undefined;
    const { entry, seal } = read.output;
    return { entry, isOwn: isSealed(JSON.stringify(entry), seal) };
  } catch {
    return undefined;
  }
}
