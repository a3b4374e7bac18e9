/** Unified diffs, for people and for `patch`. */
import { createTwoFilesPatch } from 'diff';

/** Unified diff of one file; a side that is `undefined` is shown as `/dev/null`. Empty when both sides are equal. */
export function unifiedDiff(path: string, before: string | undefined, after: string | undefined): string {
  if (before === after) return '';
  const from = before === undefined ? '/dev/null' : `a/${path}`;
  const to = after === undefined ? '/dev/null' : `b/${path}`;
  const patch = createTwoFilesPatch(from, to, before ?? '', after ?? '', undefined, undefined, { context: 3 });
  return patch.replace(/^=+\n/, '');
}
