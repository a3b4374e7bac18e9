/**
 * Style sheets as far as moving rules with their markup needs them: which rules there are, and what their selectors may
 * match. The parser is handed in, so that it is loaded only when a file has styles that must be divided.
 */
import type { Span } from '../text/edits.js';

export interface StyleParser {
  /** `lang`: `css` or the word that the block gives. Undefined where the text cannot be parsed, or not be taken apart. */
  parse(css: string, lang: string): readonly StyleEntry[] | undefined;
}

/** Spans are offsets into the style sheet. */
export type StyleEntry = StyleRule | StyleGroup | StyleOther;

export interface StyleRule extends Span {
  readonly kind: 'rule';
  /** With what stands around it, where rules are nested. */
  readonly selectors: readonly Selector[];
  /** Declarations, and mixins that are put in. */
  readonly own: readonly Span[];
  /** Rules inside of it. */
  readonly entries: readonly StyleEntry[];
}

/** `@media`, `@supports`, `@layer`, `@container` around rules. */
export interface StyleGroup extends Span {
  readonly kind: 'group';
  /** `@media (width < 600px)`. */
  readonly head: string;
  readonly entries: readonly StyleEntry[];
}

/** Anything else that stands at the top: `@keyframes`, `@font-face`, `@import`, comments. */
export interface StyleOther extends Span {
  readonly kind: 'other';
  /** Of keyframes, a variable, a mixin or a function. */
  readonly name?: string;
  /** Another sheet, from which anything may come that is used here. */
  readonly readsIn?: boolean;
}

export interface Selector {
  /** The element that carries the scope: the last one in front of `:deep()`. */
  readonly subject: Compound;
  /** What must stand around it or before it. */
  readonly others: readonly Compound[];
  /** `outlet`: content that was passed in; `everywhere`: outside of every scope. */
  readonly reach: 'scoped' | 'outlet' | 'everywhere';
}

export interface Compound {
  readonly tag: string | undefined;
  readonly classes: readonly string[];
  readonly id: string | undefined;
}
