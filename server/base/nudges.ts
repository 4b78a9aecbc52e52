/**
 * Tells whoever waits for work in this process that there may be some. Nothing is kept for those who do not wait: a
 * promise that lives as long as the process, raced again and again, would keep every race in memory.
 */
export class Nudges {
  #count = 0;
  readonly #waiting = new Set<() => void>();

  /** How often it was nudged. Asked for before looking for work, so that a nudge meanwhile is not missed. */
  get count(): number {
    return this.#count;
  }

  /** How many wait. */
  get waiting(): number {
    return this.#waiting.size;
  }

  nudge(): void {
    this.#count++;
    for (const wake of [...this.#waiting]) wake();
  }

  /**
   * Waits for a time, or less: until a nudge, where one is heeded, or until everything stops.
   *
   * @param since the count from which on a nudge ends the wait; null when nothing but time helps
   */
  wait(milliseconds: number, since: number | null, stop: AbortSignal): Promise<void> {
    if (stop.aborted || (since !== null && since !== this.#count)) return Promise.resolve();
    return new Promise((resolve) => {
      const wake = () => {
        clearTimeout(timer);
        this.#waiting.delete(wake);
        stop.removeEventListener('abort', wake);
        resolve();
      };
      const timer = setTimeout(wake, milliseconds);
      stop.addEventListener('abort', wake);
      if (since !== null) this.#waiting.add(wake);
    });
  }
}
