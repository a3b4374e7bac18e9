/** How a place is named on the command line. `FILE:FROM-TO`: FROM and TO are lines or `line:column`; one line may stand alone. */
import type { Lines } from '../core/text/lines.js';

export interface GivenRange {
  readonly file: string;
  /** Offsets, or undefined when the lines are not in the file. */
  span(lines: Lines): { start: number; end: number } | undefined;
}

export function parseRange(text: string): GivenRange | undefined {
  const match = /^(.+?):(\d+)(?::(\d+))?(?:-(\d+)(?::(\d+))?)?$/.exec(text);
  if (!match) return undefined;
  const [, file, fromLine, fromColumn, toLine, toColumn] = match;
  const from = Number(fromLine);
  const to = Number(toLine ?? fromLine);
  return {
    file: file!,
    span(lines) {
      const first = lines.lineStart(from);
      const last = lines.lineStart(to);
      if (first === undefined || last === undefined || to < from || to > lines.count) return undefined;
      const start = fromColumn === undefined ? first : Math.min(first + Number(fromColumn) - 1, lines.lineEnd(from));
      const end = toColumn === undefined ? lines.lineEnd(to) : Math.min(last + Number(toColumn), lines.lineEnd(to));
      return end >= start ? { start, end } : undefined;
    },
  };
}

/** `FILE:NAME`: a function of a file, with the component that it is in before it where that is said. */
export function parseNamed(text: string): { readonly file: string; readonly name: string } | undefined {
  const match = /^(.+?\.\w+):([\p{L}_$][\p{L}\p{N}_$]*(?:\.[\p{L}_$][\p{L}\p{N}_$]*)?)$/u.exec(text);
  return match ? { file: match[1]!, name: match[2]! } : undefined;
}

/** What `repeats` calls a group: the first letter of its kind, and five digits. */
export const REPEAT_ID = /^[mlf][0-9a-f]{5}$/;

/** The file among what `apply` is given; the rest are numbers of steps, ids of repeats, or `all`. */
export function planFile(given: readonly string[]): string | undefined {
  return given.find((word) => !/^(?:\d+|all)$/.test(word) && !REPEAT_ID.test(word));
}
