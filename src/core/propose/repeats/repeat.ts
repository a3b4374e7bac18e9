/** A repeat as it is shown, chosen and handed to the steps. */
import type { RepeatKind } from '../../analyze/repeats/candidates.js';
import type { Alignment } from '../../forms/align.js';
import type { Span } from '../../text/edits.js';
import type { Input } from './input.js';
import type { Worth } from './worth.js';

export interface RepeatPlace extends Span {
  readonly path: string;
  /** The component that the place is in; undefined at the top of a file. */
  readonly component: string | undefined;
}

/** A name of the hosts that the common form reads as it is. */
export interface HostName {
  readonly name: string;
  readonly event: boolean;
}

/**
 * Why no step makes the places one: they have no common `form`, since some hold pieces that others lack; they differ in
 * more `differences` than one thing should be given, or in what no `input` carries; it is logic of a `language` whose logic
 * is only named; there is no `step` for what is alike, as for whole components and methods; or one of the places is `barred`:
 * it can become no component as it stands.
 */
export type ByHand = 'form' | 'differences' | 'input' | 'language' | 'step' | 'barred';

export interface Repeat {
  /** Stays the same as long as the places do. */
  readonly id: string;
  readonly kind: RepeatKind;
  /** Proposed name of the component, function, hook or layout. */
  readonly name: string;
  readonly places: readonly RepeatPlace[];
  /** Share of the places' nodes that is the same everywhere, 0 to 1. */
  readonly alike: number;
  readonly inputs: readonly Input[];
  readonly hostNames: readonly HostName[];
  readonly worth: Worth;
  readonly alignment: Alignment;
  /** Names of functions that stand at the top of every file and would leave it. */
  readonly leaving: readonly string[];
  /** What makes the places one; undefined for what is made by hand. */
  readonly step: 'unify' | 'frame' | undefined;
  readonly byHand: ByHand | undefined;
  /** The group that has all places of this one inside of its own. */
  readonly within?: string;
}
