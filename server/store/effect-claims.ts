// What a worker does with an act that it has claimed: marks it as being sent, ends it, postpones it, gives it back.
import type { Outcome } from '@playa/core/model/acts.ts';
import type { Fault } from '@playa/core/model/cells.ts';
import { cutUnits } from '@playa/core/text/graphemes.ts';
import { select, change, toTime, type Queryable } from '../db/database.ts';
import type { ClaimedEffect } from './effects.ts';

/** What shows that a worker has claimed an act. */
export type Claim = Pick<ClaimedEffect, 'id' | 'lease'>;
/** Locks a claimed act; false when the claim was lost meanwhile. */
export async function holdsClaim(db: Queryable, effect: Claim): Promise<boolean> {
  return (
    (await select(db, 'SELECT id FROM effects WHERE id = ? AND lease = ? FOR UPDATE', [effect.id, effect.lease]))
      .length > 0
  );
}

// Every change below names the lease: a worker that has lost its claim changes nothing (0 rows).
/** Ends acts that were done. Those whose claim was lost meanwhile stay as they are. Returns how many were ended. */
export async function endEffects(
  db: Queryable,
  done: readonly { effect: ClaimedEffect; outcome: Outcome }[],
): Promise<number> {
  if (done.length === 0) return 0;
  const ended = await change(
    db,
    `UPDATE effects SET outcome = CASE id ${done.map(() => 'WHEN ? THEN ?').join(' ')} END, status = 'done', lease = NULL, due_at = NULL, trouble = NULL
     WHERE id IN (?) AND (id, lease) IN (?)`,
    [
      ...done.flatMap(({ effect, outcome }) => [effect.id, JSON.stringify(outcome)]),
      // By the pairs alone, MariaDB would go through the whole outbox, and lock it.
      done.map(({ effect }) => effect.id),
      done.map(({ effect }) => [effect.id, effect.lease]),
    ],
  );
  return ended.rows;
}

/** Puts an effect back for a later try. `unsure` says whether this one may have gone out. */
export async function postponeEffect(
  db: Queryable,
  effect: Claim,
  later: { at: number; unsure: boolean; failures: number; trouble: string },
): Promise<boolean> {
  const done = await change(
    db,
    `UPDATE effects e JOIN workflows f ON f.id = e.workflow_id SET e.status = 'planned', e.unsure = ?, e.failures = ?, e.trouble = ?, e.lease = NULL,
       e.due_at = IF(f.status = 'paused', NULL, ?), e.parked_due_at = IF(f.status = 'paused', ?, NULL) WHERE e.id = ? AND e.lease = ?`,
    [
      later.unsure,
      later.failures,
      cutUnits(later.trouble, 1000),
      toTime(later.at),
      toTime(later.at),
      effect.id,
      effect.lease,
    ],
  );
  return done.rows > 0;
}

/**
 * Gives up the claim to an act that was not sent and whose run has moved on meanwhile. It is due at once, for whoever plans
 * it anew or takes it back.
 *
 * @returns false when its run is where it was, or the claim was lost
 */
export async function releaseOvertaken(
  db: Queryable,
  effect: Pick<Claim, 'id' | 'lease'>,
  trouble: string,
  now: number,
): Promise<boolean> {
  const done = await change(
    db,
    `UPDATE effects SET status = 'planned', unsure = 0, trouble = ?, lease = NULL, due_at = ?
     WHERE id = ? AND lease = ? AND overtaken = 1`,
    [cutUnits(trouble, 1000), toTime(now), effect.id, effect.lease],
  );
  return done.rows > 0;
}

/**
 * Sets an effect aside: until its account is connected again, or held for a person. `unsure` says whether it may have
 * gone out.
 */
export async function setEffectAside(
  db: Queryable,
  effect: Claim,
  aside: { until: 'account' | 'held'; unsure: boolean; trouble: string; fault?: Fault | undefined },
): Promise<boolean> {
  const done = await change(
    db,
    'UPDATE effects SET status = ?, unsure = ?, trouble = ?, fault = ?, lease = NULL, due_at = NULL WHERE id = ? AND lease = ?',
    [aside.until, aside.unsure, cutUnits(aside.trouble, 1000), aside.fault ?? null, effect.id, effect.lease],
  );
  return done.rows > 0;
}

/**
 * Notes, right before an act is sent where the network does not refuse repeats, that from here on it may have been: the
 * worker may die at any moment. What a dead worker had only claimed is not in doubt, and nobody is asked about it.
 *
 * @returns false when the claim was lost meanwhile: then nothing may be sent
 */
export async function markSending(db: Queryable, effect: Claim): Promise<boolean> {
  const held = await change(db, 'UPDATE effects SET unsure = 1 WHERE id = ? AND lease = ?', [effect.id, effect.lease]);
  return held.rows > 0;
}
