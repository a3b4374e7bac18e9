/** How a comparison ends early: with the first place where the two sides part, or where they cannot be told apart. */
import type { Node } from '../script/parser.js';
import type { ProofModule } from '../language/proof-module.js';

export interface MismatchPlace {
  readonly module: ProofModule;
  readonly node: Node;
}

/** Every way to end, with what it says of the two sides. Codes are stable. */
const ANSWERS = {
  // Code.
  'code-kind': 'different',
  'code-value': 'different',
  'code-parts': 'different',
  'name-meaning': 'different',
  'name-pairing': 'different',
  'name-declared': 'different',
  'name-bound': 'different',
  'function-mode': 'different',
  'function-parameters': 'different',
  'function-body': 'different',
  'function-several': 'different',
  'call-arguments': 'different',
  'method-unbound': 'different',
  'this-kind': 'different',
  'this-moved': 'different',
  'read-early': 'different',
  'value-changed': 'unknown',
  'value-eager': 'different',
  'statement-kind': 'different',
  'statement-gone': 'different',
  'statement-added': 'different',
  'statement-order': 'different',
  'statement-lost': 'different',
  // Markup.
  'markup-kind': 'different',
  'markup-added': 'different',
  'markup-gone': 'different',
  'markup-text': 'different',
  'tag-native': 'different',
  'tag-component': 'different',
  'tag-pragma': 'different',
  'attribute-kind': 'different',
  'attribute-name': 'different',
  'attribute-value': 'different',
  'attribute-added': 'different',
  'attribute-gone': 'different',
  'key-added': 'different',
  'key-gone': 'different',
  'key-twice': 'different',
  'key-on-several': 'different',
  'key-inside': 'different',
  'outlet-fallback': 'different',
  // What a component is, and where it stands.
  'component-body': 'unknown',
  'component-forms': 'different',
  'component-function': 'different',
  'component-return': 'unknown',
  'component-props': 'unknown',
  'component-props-deeper': 'unknown',
  'component-children-read': 'different',
  'component-parent-read': 'different',
  'component-directive': 'different',
  'component-for-value': 'different',
  'component-in-try': 'different',
  'component-style-scope': 'different',
  'use-spread': 'unknown',
  'use-passed-twice': 'different',
  'use-passed-untaken': 'different',
  'hook-moved': 'different',
  'hook-lifetime': 'different',
  'hook-renders-less': 'different',
  'hook-outside': 'unknown',
  'hook-result': 'unknown',
  'hook-assigned': 'different',
  'call-moved': 'different',
  'list-unwritten': 'unknown',
  'list-keys': 'different',
  // Files.
  'file-declaration-gone': 'different',
  'file-declaration-new': 'different',
  'file-declaration-moved': 'different',
  'file-declaration-unexplained': 'different',
  'file-statement-gone': 'different',
  'file-statement-added': 'different',
  'file-export-gone': 'different',
  'file-not-loaded': 'different',
} as const satisfies Record<string, 'different' | 'unknown'>;

export type MismatchCode = keyof typeof ANSWERS;

export const mismatchCodes = Object.keys(ANSWERS) as MismatchCode[];

/** Thrown and caught inside the proof alone. */
export class Mismatch extends Error {
  constructor(
    readonly code: MismatchCode,
    message: string,
    readonly before?: MismatchPlace,
    readonly after?: MismatchPlace,
  ) {
    super(message);
  }

  get answer(): 'different' | 'unknown' {
    return ANSWERS[this.code];
  }
}
