/** What a check answers, whatever level it is of. */
export type Answer = 'same' | 'different' | 'unchecked';
export const LEVELS = ['expand', 'types', 'render', 'browser'] as const;
export type Level = (typeof LEVELS)[number];

export interface Spot {
  readonly path: string;
  /** 1-based. */
  readonly line: number;
  readonly column: number;
}

export interface Difference {
  readonly level: Level;
  /** The component, page or state that differs. */
  readonly what: string;
  /** What a person would see, in a sentence. */
  readonly words: string;
  readonly before?: Spot;
  readonly after?: Spot;
  /** What one does on the page to see it. */
  readonly steps?: readonly string[];
  /** Pictures of both sides, with the region marked; paths relative to the root. */
  readonly pictures?: readonly [string, string];
}

export interface LevelReport {
  readonly level: Level;
  readonly answer: Answer;
  /** What was compared: names of files, components, pages. */
  readonly compared: readonly string[];
  /** For people: "12 components, 36 renderings". */
  readonly figures: string;
  readonly differences: readonly Difference[];
  /** What could not be checked, and why. */
  readonly left: readonly { readonly what: string; readonly why: string }[];
}

/** The answer of a level: a difference counts, and nothing compared is not the same. */
export function answerOf(
  compared: readonly unknown[],
  differences: readonly unknown[],
  left: readonly unknown[],
): Answer {
  if (differences.length > 0) return 'different';
  return compared.length === 0 || left.length > 0 ? 'unchecked' : 'same';
}
