/** Lagoon's clock. It can be moved, so that a past can be lived through in a moment. */
export class Clock {
  #offset = 0;

  now(): number {
    return Date.now() + this.#offset;
  }

  /** Sets what time it is, in milliseconds since 1970; null goes back to the real time. */
  set(moment: number | null): void {
    this.#offset = moment === null ? 0 : moment - Date.now();
  }
}
