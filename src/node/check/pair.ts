/**
 * Both versions of an application side by side in a browser: the same is done to both, time passes on both only when it
 * is told to, and what can be seen of both is compared.
 */
import { differenceOf, nameOf, styleWords, type Seen } from './seen.js';
import { pause, type Action, type Side } from './side.js';

/** What differs, ready to be told. */
export interface Told {
  readonly words: string;
  readonly before?: number;
  readonly after?: number;
  /** Nothing is known to differ: one side took too long. */
  readonly late?: true;
}

/**
 * Whether an action that failed only took too long, by the message of the browser. What covers an element, hides it or
 * switches it off is named in the same message, and is a reason.
 */
export function isLate(message: string): boolean {
  return (
    /Timeout .*exceeded/.test(message) &&
    !/intercepts pointer events|not (?:enabled|visible|editable)|outside of the viewport|detached|did not find/.test(
      message,
    )
  );
}

/** How much time passes after an action, in milliseconds: for what comes at once, for loading, for what waits longer. */
const PASSES = [50, 400, 900];

/** Both sides of one run, from a clean start. */
export class Pair {
  constructor(
    readonly before: Side,
    readonly after: Side,
  ) {}

  #both<T>(run: (side: Side) => Promise<T>): Promise<[T, T]> {
    return Promise.all([run(this.before), run(this.after)]);
  }

  async open(path: string): Promise<void> {
    await this.#both((side) => side.page.goto(side.origin + path, { waitUntil: 'load' }));
    await this.#both((side) => side.quiet());
  }

  /** What comes at once after an action has come; nothing else. */
  async #turn(): Promise<void> {
    await this.#both((side) => side.quiet());
    await this.#both((side) => side.page.clock.runFor(PASSES[0]!));
    await this.#both((side) => side.quiet());
  }

  /** Lets time pass on both until nothing moves; always the same steps on both. */
  async settle(): Promise<void> {
    let last = '';
    for (let round = 0; round < 12; round++) {
      const now = (await this.#both((side) => side.quiet())).join(' ');
      if (now === last && round >= PASSES.length) return;
      last = now;
      await this.#both((side) => side.page.clock.runFor(PASSES[round] ?? 400));
    }
    await this.#both((side) => side.quiet());
  }

  /** Does the same on both; a message where only one of them could. `briefly`: more is to come at once. */
  async perform(action: Action, briefly = false): Promise<Told | undefined> {
    const failed = await this.#both((side) =>
      side.perform(action).then(
        () => undefined,
        (error: unknown) => (error as Error).message,
      ),
    );
    await (briefly ? this.#turn() : this.settle());
    if ((failed[0] === undefined) === (failed[1] === undefined)) return undefined;
    if (isLate((failed[0] ?? failed[1])!)) return { words: `to ${action.words} took too long`, late: true };
    const when = failed[0] === undefined ? 'before, and not now' : 'now, and not before';
    return { words: `one can ${action.words} ${when}`, before: action.node, after: action.node };
  }

  see(styled = false): Promise<[Seen, Seen]> {
    return this.#both((side) => side.see(styled));
  }

  agree(): void {
    this.before.agree();
    this.after.agree();
  }

  /** Gives time to what goes by the real one: a picture that is decoded, a request that is late. */
  async wait(): Promise<void> {
    await pause(150);
    await this.#both((side) => side.quiet());
  }

  /** What differs between two sights, in words; with what was said, asked and heard. */
  async told([was, is]: readonly [Seen, Seen], closely: boolean): Promise<Told | undefined> {
    const lists = [
      [this.before.said, this.after.said, 'the console said'],
      [this.before.asked, this.after.asked, 'the network was asked for'],
      [this.before.loaded, this.after.loaded, 'the network was asked for'],
    ] as const;
    const sight = differenceOf(was, is);
    if (sight?.style) {
      const [a, b] = await Promise.all([this.before.styleAt(sight.before!), this.after.styleAt(sight.after!)]);
      return { ...sight, words: styleWords(nameOf(was.nodes, sight.before!), a, b) };
    }
    if (sight) return sight;
    for (const [had, has, lead] of lists) {
      const words = listWords(lead, had, has);
      if (words) return { words };
    }
    if (!closely) return undefined;
    const [heard, now] = await this.#both((side) => side.heard());
    if (heard === now) return undefined;
    const [a, b] = [heard.split('\n'), now.split('\n')];
    const at = a.findIndex((line, i) => line !== b[i]);
    const line = (text: string | undefined) => text?.trim() ?? 'nothing';
    return { words: `assistive technology was told ${line(a[at])}, and is told ${line(b[at < 0 ? a.length : at])}` };
  }

  async clear(): Promise<void> {
    await this.#both((side) => side.clear());
  }

  async close(): Promise<void> {
    await this.#both((side) => side.close());
  }
}

function listWords(lead: string, had: readonly string[], has: readonly string[]): string | undefined {
  const at = Array.from({ length: Math.max(had.length, has.length) }, (_, i) => i).find((i) => had[i] !== has[i]);
  if (at === undefined) return undefined;
  const [was, is] = [had[at], has[at]];
  if (was === undefined) return `${lead} "${is!}" besides`;
  return is === undefined ? `${lead} "${was}", and does not any more` : `${lead} "${was}", and now "${is}"`;
}
