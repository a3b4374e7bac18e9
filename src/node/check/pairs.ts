/** Pairs of pages for a course of trials. Two are enough: one is cleared and opened anew while the other one is in use. */
import type { Pair } from './pair.js';

/** After that many uses a pair gives way to another one: what happened with its clock is told to each page it opens. */
const USES = 16;

export class Pairs {
  readonly #uses = new Map<Pair, number>();
  readonly #spare: Pair[] = [];
  #ready: Promise<Pair> | undefined;

  /** `make` gives a pair of pages that nothing was opened in; all are opened at the path `entry`. */
  constructor(
    readonly make: () => Promise<Pair>,
    readonly entry: string,
  ) {}

  /** A pair that was opened from a clean start, and in which nothing else has happened. */
  async next(): Promise<Pair> {
    const pair = await (this.#ready ?? this.#opened());
    this.#ready = this.#opened();
    // Whoever asks for it hears of what went wrong; nobody may.
    this.#ready.catch(() => undefined);
    return pair;
  }

  /** The pair is not used any more. */
  back(pair: Pair): void {
    this.#spare.push(pair);
  }

  async close(): Promise<void> {
    const ready = await this.#ready?.catch(() => undefined);
    await Promise.all([...this.#spare, ...(ready ? [ready] : [])].map((pair) => pair.close()));
  }

  async #opened(): Promise<Pair> {
    const pair = (await this.#cleared()) ?? (await this.make());
    this.#uses.set(pair, (this.#uses.get(pair) ?? 0) + 1);
    await pair.open(this.entry);
    return pair;
  }

  async #cleared(): Promise<Pair | undefined> {
    const pair = this.#spare.pop();
    if (!pair) return undefined;
    if (this.#uses.get(pair)! < USES)
      try {
        await pair.clear();
        return pair;
      } catch {
        // A page that crashed, or that does not let itself be left: another window takes its place.
      }
    this.#uses.delete(pair);
    await pair.close();
    return undefined;
  }
}
