export interface Place {
  readonly path: string;
  readonly lines: readonly [number, number];
}
export interface LabelledCase {
  readonly name: string;
  readonly files: Record<string, string>;
  readonly groups: ReadonlyMap<string, readonly Place[]>;
}
export function readCases(): LabelledCase[];
export function matches(wanted: readonly Place[], reported: readonly Place[]): boolean;
