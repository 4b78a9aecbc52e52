// First claims of posts and answers that are about to go out, made together: one statement for all that come in a moment.
import { inTransaction } from '../db/database.ts';
import type { Services } from '../base/services.ts';
import { claimFirst, type FirstClaim } from '../store/claims.ts';

interface Waiting extends FirstClaim {
  told: (first: boolean) => void;
  failed: (error: unknown) => void;
}

/** Claims what nobody has claimed before. While one statement is on its way, the next ones gather. */
export class ClaimQueue {
  readonly #services: Pick<Services, 'pool'>;
  #queue: Waiting[] = [];
  #busy = false;

  constructor(services: Pick<Services, 'pool'>) {
    this.#services = services;
  }

  /** Whether the act is the first to claim this. @throws when the database does not answer */
  first(claim: FirstClaim): Promise<boolean> {
    return new Promise((told, failed) => {
      this.#queue.push({ ...claim, told, failed });
      if (!this.#busy) void this.#work();
    });
  }

  async #work(): Promise<void> {
    this.#busy = true;
    // Others that are about to be sent in this very moment come along.
    await Promise.resolve();
    while (this.#queue.length > 0) {
      const together = this.#queue;
      this.#queue = [];
      try {
        const first = await inTransaction(this.#services.pool, (db) => claimFirst(db, together));
        together.forEach(({ told }, index) => told(first[index]!));
      } catch (error) {
        for (const { failed } of together) failed(error);
      }
    }
    this.#busy = false;
  }
}
