/**
 * What unifying is worth, in tokens: one for each node of the neutral form (a name, a literal, an
 * attribute, an operator), and three more for an element, which has two tags.
 *
 * saved    what all places hold now, less one definition and a use at every place, each with what it is given
 * lighter  text costs its reader the logarithm of the names in scope where it stands; counted for what leaves the hosts,
 *          less what it costs in the new component, in nodes of five bits (a scope of thirty-two names)
 * seam     what there is to know about the interface: its width times the logarithm of its width
 */
import type { Alignment, Hole, Place } from '../../forms/align.js';
import type { Forms } from '../../forms/forms.js';
import type { Given, Input } from './input.js';

export interface Worth {
  readonly saved: number;
  readonly lighter: number;
  readonly seam: number;
  readonly total: number;
}

/** A new function or component with its export, and the import in a file. */
const DEFINITION = 4;
export const IMPORT = 2;
export const USE = 3;
const TAGS = 3;
const BITS_A_NODE = 5;

export interface WorthInput {
  readonly alignment: Alignment;
  readonly inputs: readonly Input[];
  /** Names of the hosts that the places read as they are: props as well. */
  readonly hostNames: number;
  /** Names in scope at each place. */
  readonly inScope: readonly number[];
  /** Files that will import the new thing. */
  readonly files: number;
}

export function worthOf(forms: Forms, { alignment, inputs, hostNames, inScope, files }: WorthInput): Worth {
  const { places } = alignment;
  const size = (place: Place) => weight(forms, place.first, place.end);
  const held = places.reduce((sum, place) => sum + size(place), 0);
  const width = inputs.length + hostNames;
  const fixed = fixedSize(forms, alignment);
  const definition = fixed + DEFINITION + width + inputs.reduce((n, i) => n + i.sites.length, 0);
  const passed = places.map((_, p) =>
    inputs.reduce((n, input) => n + (input.values[p] ? 1 + givenSize(forms, input.values[p]) : 0), USE + hostNames),
  );
  const saved = held - definition - passed.reduce((a, b) => a + b, 0) - IMPORT * files;
  const leaving = places.reduce((n, place, p) => n + (size(place) - passed[p]!) * Math.log2(1 + inScope[p]!), 0);
  const lighter = Math.max(0, leaving - definition * Math.log2(1 + width)) / BITS_A_NODE;
  const seam = (width * Math.log2(1 + width)) / BITS_A_NODE;
  const round = (n: number) => Math.round(n);
  return { saved: round(saved), lighter: round(lighter), seam: round(seam), total: round(saved + lighter - seam) };
}

/** Tokens of the reference that no hole takes. */
export function fixedSize(forms: Forms, { places, reference, holes }: Alignment): number {
  const { first, end } = places[reference]!;
  return weight(forms, first, end) - holes.reduce((taken, hole) => taken + holeSize(forms, hole), 0);
}

/** Tokens of the reference that a hole takes. */
export function holeSize(forms: Forms, hole: Hole): number {
  if (hole.kind === 'value') return weightOf(forms, hole.node);
  if (hole.kind === 'attribute') return hole.node === undefined ? 0 : weightOf(forms, hole.node);
  return hole.kind === 'slot' ? hole.nodes.reduce((sum, node) => sum + weightOf(forms, node), 0) : 0;
}

/** Tokens of the nodes `[first, end)`. */
export function weight(forms: Forms, first: number, end: number): number {
  let tokens = end - first;
  for (let node = first; node < end; node++) if (forms.labelOf(node).startsWith('<')) tokens += TAGS;
  return tokens;
}

function weightOf(forms: Forms, node: number): number {
  return weight(forms, node, node + forms.size[node]!);
}

export function givenSize(forms: Forms, given: Given): number {
  switch (given.kind) {
    case 'string':
      return 1;
    case 'flag':
      return 0;
    case 'code':
      return weightOf(forms, given.node);
    case 'markup':
      return given.nodes.reduce((n, node) => n + weightOf(forms, node), 0);
    case 'record':
      return given.entries.reduce((n, entry) => n + 1 + givenSize(forms, entry.given), 0);
  }
}
