import type { Project } from '../src/core/index.js';

export interface FactoredCase {
  readonly name: string;
  readonly page: string;
  readonly files: Record<string, string>;
}
export interface Judged {
  readonly children: number;
  readonly proposed: number;
  readonly found: number;
  readonly missed: readonly string[];
  readonly extra: readonly string[];
  readonly refused: readonly string[];
}
export function readFactored(): FactoredCase[];
export function monolithOf(one: FactoredCase): { readonly project: Project; readonly text: string };
export function judgeFactored(cases: readonly FactoredCase[]): Judged;
