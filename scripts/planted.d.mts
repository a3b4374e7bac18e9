import type { Place } from './labelled.mjs';

export interface PlantedProject {
  readonly files: Record<string, string>;
  readonly groups: readonly { readonly kind: string; readonly places: readonly Place[] }[];
}
export function plantedProject(count: number, seed: number): PlantedProject;
