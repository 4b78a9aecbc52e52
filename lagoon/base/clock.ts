/** Lagoon's clock. It can be moved, so that a past can be lived through in a moment. */
export class Clock {
  /** By how much it is ahead of the machine's when nobody has moved it. */
  readonly #ahead: number;
  #offset: number;

  constructor(ahead = 0) {
    this.#ahead = ahead;
    this.#offset = ahead;
  }

  now(): number {
    return Date.now() + this.#offset;
  }

  /** Sets what time it is, in milliseconds since 1970; null goes back to where it began. */
  set(moment: number | null): void {
    this.#offset = moment === null ? this.#ahead : moment - Date.now();
  }
}
