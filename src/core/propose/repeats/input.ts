/** What differs between places, as something that each of them hands over. */
import type { AttributeHole, Hole, RunHole, ValueHole } from '../../forms/align.js';

/** What a place hands over. */
export type Given =
  | { readonly kind: 'string'; readonly text: string }
  | { readonly kind: 'flag' }
  /** An expression: node of the neutral form. */
  | { readonly kind: 'code'; readonly node: number }
  /** Attributes that only some places have, by their names. */
  | { readonly kind: 'record'; readonly entries: readonly { readonly name: string; readonly given: Given }[] }
  /** Markup: siblings of the neutral form. */
  | { readonly kind: 'markup'; readonly nodes: readonly number[] };

/** How an input stands in the common form. */
export type Site =
  /** In place of the hole; for a string with `head` and `tail` around it. */
  | { readonly kind: 'whole'; readonly hole: Hole; readonly head: string; readonly tail: string }
  /** All of the holes, which are attributes of one element. */
  | { readonly kind: 'spread'; readonly hole: AttributeHole; readonly holes: readonly AttributeHole[] }
  /** The part is there when the input is. */
  | { readonly kind: 'guard'; readonly hole: RunHole }
  /** The hole is `on` when the input is `key`, else `off`. */
  | {
      readonly kind: 'choice';
      readonly hole: ValueHole | AttributeHole;
      readonly key: string;
      readonly on: Given | undefined;
      readonly off: Given | undefined;
    };

export interface Input {
  name: string;
  readonly kind: 'prop' | 'event' | 'slot' | 'flag';
  readonly sites: Site[];
  /** One for each place; undefined where nothing is passed. */
  readonly values: readonly (Given | undefined)[];
  /** Held by all places but one. */
  readonly default?: Given;
}
