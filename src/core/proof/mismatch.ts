/** How a comparison ends early: with the first place where the two sides part, or where they cannot be told apart. */
import type { Node } from '../script/parser.js';
import type { ProofModule } from './module.js';

export interface MismatchPlace {
  readonly module: ProofModule;
  readonly node: Node;
}

/** Thrown and caught inside the proof alone. */
export class Mismatch extends Error {
  constructor(
    readonly answer: 'different' | 'unknown',
    message: string,
    readonly before?: MismatchPlace,
    readonly after?: MismatchPlace,
  ) {
    super(message);
  }
}
