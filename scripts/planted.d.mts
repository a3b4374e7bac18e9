import type { Place } from './labelled.mjs';

export interface PlantedProject {
  readonly files: Record<string, string>;
  readonly groups: readonly { readonly kind: string; readonly places: readonly Place[] }[];
}
/** The same numbers for the same seed, in [0, 1). */
export function random(seed: number): () => number;
export function plantedProject(count: number, seed: number): PlantedProject;
