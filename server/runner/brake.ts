// More goes out than anybody can want: a workflow that has run away is paused, and everybody is told.
import { reachesPeople } from '@playa/core/model/acts.ts';
import { BRAKE, type Brake } from '@playa/core/workflow/settings.ts';
import type { Queryable } from '../db/database.ts';
import { countSent } from '../store/acts-waiting.ts';
import { type NewEffect } from '../store/effects.ts';
import { pauseByItself } from './failures.ts';

interface Braked {
  id: number;
  brandId: number;
  workflowId: number;
  /** Of the past that a person chose when going live, nothing is counted. */
  backfill: boolean;
}

/** Counts what is about to be sent in one transaction, on top of what was sent before it. */
export class BrakeCounts {
  readonly #db: Queryable;
  readonly #now: number;
  readonly #counts = new Map<string, { hour: number; day: number }>();

  constructor(db: Queryable, now: number) {
    this.#db = db;
    this.#now = now;
  }

  /** The first that is one too many pauses its workflow, so that it and whatever follows waits for a person. */
  async count(
    run: Braked,
    effects: readonly NewEffect[],
    { brake = BRAKE, outletName }: { brake: Brake | undefined; outletName: (outlet: number) => string },
  ): Promise<void> {
    if (run.backfill) return;
    for (const { outletId, action, plannedAt } of effects) {
      // What has a time of its own comes no faster than that, and can be seen in the calendar before.
      const later = typeof plannedAt === 'number' && plannedAt > this.#now + 60_000;
      if (outletId === null || !reachesPeople(action) || action === 'revise' || later) continue;
      const counts = await this.#at(run.workflowId, outletId);
      const over =
        ++counts.hour > brake.hour ? `${brake.hour} an hour` : ++counts.day > brake.day ? `${brake.day} a day` : null;
      if (over === null) continue;
      const says = `Paused by itself: more than ${over} at ${outletName(outletId)}. See whether it goes round in a circle, then let it go on.`;
      return pauseByItself(this.#db, run, says, `brake.${run.workflowId}.${run.id}`, this.#now);
    }
  }

  async #at(workflowId: number, outletId: number): Promise<{ hour: number; day: number }> {
    const key = `${workflowId}.${outletId}`;
    let counts = this.#counts.get(key);
    if (!counts) this.#counts.set(key, (counts = await countSent(this.#db, workflowId, outletId, this.#now)));
    return counts;
  }
}
