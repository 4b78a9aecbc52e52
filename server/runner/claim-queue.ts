// First claims of posts and answers that are about to go out, made together: one statement for all that come in a moment.
import { inTransaction } from '../db/database.ts';
import type { Services } from '../base/services.ts';
import { claimFirst, type FirstClaim } from '../store/claims.ts';
import { Together } from './together.ts';

interface Waiting extends FirstClaim {
  told: (first: boolean) => void;
  failed: (error: unknown) => void;
}

/** Claims what nobody has claimed before. */
export class ClaimQueue {
  readonly #together: Together<Waiting>;

  constructor({ pool }: Pick<Services, 'pool'>) {
    this.#together = new Together(async (claims) => {
      try {
        const first = await inTransaction(pool, (db) => claimFirst(db, claims));
        claims.forEach(({ told }, index) => told(first[index]!));
      } catch (error) {
        for (const { failed } of claims) failed(error);
      }
    });
  }

  /** Whether the act is the first to claim this. @throws when the database does not answer */
  first(claim: FirstClaim): Promise<boolean> {
    return new Promise((told, failed) => this.#together.add({ ...claim, told, failed }));
  }
}
