/**
 * Does things of one sort together: while some are on their way, the next ones gather, and go in one transaction after
 * them. Under a flood few transactions do much; otherwise nothing waits.
 */
export class Together<T> {
  readonly #all: (entries: T[]) => Promise<void>;
  #queue: T[] = [];
  #busy = false;

  /** @param all does what has gathered, and tells each of them what came of it; it must not throw */
  constructor(all: (entries: T[]) => Promise<void>) {
    this.#all = all;
  }

  add(entry: T): void {
    this.#queue.push(entry);
    if (!this.#busy) void this.#work();
  }

  async #work(): Promise<void> {
    this.#busy = true;
    // Others of this very moment come along.
    await Promise.resolve();
    while (this.#queue.length > 0) {
      const together = this.#queue;
      this.#queue = [];
      await this.#all(together);
    }
    this.#busy = false;
  }
}
