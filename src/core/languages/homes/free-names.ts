/** Names that something has already, and new ones beside them. */
export class FreeNames {
  readonly #taken: Set<string>;

  constructor(taken: Iterable<string>) {
    this.#taken = new Set(taken);
  }

  has(name: string): boolean {
    return this.#taken.has(name);
  }

  /** A name that nothing is called by any more. */
  free(name: string): void {
    this.#taken.delete(name);
  }

  /** The name itself where there is room for it, else with a number behind it; it is taken from then on. */
  take(name: string): string {
    let free = name;
    for (let i = 2; this.#taken.has(free); i++) free = `${name}${i}`;
    this.#taken.add(free);
    return free;
  }
}
