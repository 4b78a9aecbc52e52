import { randomUUID } from 'node:crypto';
import { readAct, type Act, type Outcome } from '@playa/core/model/acts.ts';
import type { Fault } from '@playa/core/model/cells.ts';
import { cutUnits } from '@playa/core/text/graphemes.ts';
import { change, fromTimeOrNull, select, toTime, type Queryable } from '../db/database.ts';

/** An act in the outbox, claimed by this worker. */
export type ClaimedEffect = Act & {
  id: number;
  key: string;
  brandId: number;
  workflowId: number;
  runId: number;
  /** The step, with the numbers of the elements it is done for. */
  place: string;
  outletId: number | null;
  accountId: number | null;
  /** An earlier try may have gone out without our hearing of it. */
  unsure: boolean;
  failures: number;
  firstSentAt: number | null;
  /** When it was meant to go, where that was not at once. */
  plannedAt: number | null;
  lease: string;
  /** When the claim is lost, milliseconds since 1970 UTC. */
  leaseUntil: number;
  /** Its run had moved on before it was claimed this time: it is looked for, and not sent anew. */
  overtaken: boolean;
};

/** An act whose input cannot be read, claimed all the same so that it can be put before a person. */
export interface UnreadableEffect {
  id: number;
  key: string;
  brandId: number;
  workflowId: number;
  runId: number;
  lease: string;
  unsure: boolean;
  error: unknown;
}

/** An act of the outbox that is due, as it is stored. */
export interface DueEffect {
  id: number;
  effect_key: string;
  brand_id: number;
  workflow_id: number;
  run_id: number;
  step: string;
  outlet_id: number | null;
  account_id: number | null;
  action: string;
  input: string;
  status: string;
  unsure: number;
  failures: number;
  first_sent_at: Date | null;
  planned_at: Date | null;
  overtaken: number;
  /** Of whoever had claimed it before. */
  lease: string | null;
}

/** An act to be done. */
export type NewEffect = Act & {
  key: string;
  brandId: number;
  workflowId: number;
  runId: number;
  place: string;
  outletId: number | null;
  accountId: number | null;
  dueAt: number;
  /** When it was meant to go, where that is not at once. */
  plannedAt?: number | null;
  /** The time of its outlet's timetable that it holds. */
  slot?: number | null;
};

/**
 * Puts acts into the outbox. Their keys are unique: storing one a second time does nothing. In a paused workflow they
 * are stored without a time, and get one when the workflow goes on.
 */
export async function addEffects(
  db: Queryable,
  effects: readonly NewEffect[],
  paused: ReadonlySet<number>,
  now: number,
): Promise<void> {
  if (effects.length === 0) return;
  await change(
    db,
    `INSERT IGNORE INTO effects (effect_key, brand_id, workflow_id, run_id, step, outlet_id, account_id, action, input, status, due_at, parked_due_at, planned_at, slot_at, created_at) VALUES ?`,
    [
      effects.map((effect) => {
        const waits = paused.has(effect.workflowId);
        return [
          effect.key,
          effect.brandId,
          effect.workflowId,
          effect.runId,
          effect.place,
          effect.outletId,
          effect.accountId,
          effect.action,
          JSON.stringify(effect.input),
          'due',
          waits ? null : toTime(effect.dueAt),
          waits ? toTime(effect.dueAt) : null,
          orNull(effect.plannedAt),
          orNull(effect.slot),
          toTime(now),
        ];
      }),
    ],
  );
  await checkStored(
    db,
    effects.filter((effect) => typeof effect.slot === 'number').map((effect) => effect.key),
  );
}

const orNull = (moment: number | null | undefined): Date | null => (typeof moment === 'number' ? toTime(moment) : null);

/** Whoever found its time taken would be left out in silence: that must never be. */
async function checkStored(db: Queryable, keys: readonly string[]): Promise<void> {
  if (keys.length === 0) return;
  const [row] = await select<{ n: number }>(db, 'SELECT COUNT(*) AS n FROM effects WHERE effect_key IN (?)', [keys]);
  if (Number(row!.n) < new Set(keys).size) throw new Error('A time that was taken has been given a second time.');
}

/** Accounts and workflows of which enough acts are on their way already. */
export interface Busy {
  accounts: readonly number[];
  /** For acts without an account: calls of services. */
  workflows: readonly number[];
}

/**
 * Locks acts that are due, or whose last claim was lost; others skip them. Acts of a run whose thing has changed meanwhile
 * are let be until the run has taken that up: they may say something else then. Run inside a transaction.
 */
export async function lockDueEffects(
  db: Queryable,
  now: number,
  most: number,
  busy: Busy = { accounts: [], workflows: [] },
): Promise<DueEffect[]> {
  const without =
    (busy.accounts.length ? ' AND (account_id IS NULL OR account_id NOT IN (?))' : '') +
    (busy.workflows.length ? ' AND (account_id IS NOT NULL OR workflow_id NOT IN (?))' : '');
  return select(
    db,
    `SELECT * FROM effects WHERE due_at <= ?${without}
       AND (status <> 'due' OR unsure = 1 OR NOT EXISTS (SELECT 1 FROM runs r WHERE r.id = effects.run_id AND r.changed = 1))
     ORDER BY due_at, id LIMIT ? FOR UPDATE SKIP LOCKED`,
    [
      toTime(now),
      ...(busy.accounts.length ? [busy.accounts] : []),
      ...(busy.workflows.length ? [busy.workflows] : []),
      most,
    ],
  );
}

/**
 * Claims locked acts for one worker. Where repeats would be seen, `markSending` follows before anything is sent.
 *
 * @param inDoubt numbers of those that an earlier worker may have sent
 */
export async function claimEffects(
  db: Queryable,
  rows: readonly DueEffect[],
  now: number,
  leaseMs: number,
  inDoubt: ReadonlySet<number> = new Set(),
): Promise<{ claimed: ClaimedEffect[]; unreadable: UnreadableEffect[] }> {
  const claimed: ClaimedEffect[] = [];
  const unreadable: UnreadableEffect[] = [];
  if (rows.length === 0) return { claimed, unreadable };
  const lease = randomUUID();
  await change(
    db,
    `UPDATE effects SET status = 'sending', lease = ?, due_at = ?, first_sent_at = COALESCE(first_sent_at, ?) WHERE id IN (?)`,
    [lease, toTime(now + leaseMs), toTime(now), rows.map((row) => row.id)],
  );
  const doubtful = rows.filter(({ id }) => inDoubt.has(id)).map(({ id }) => id);
  if (doubtful.length > 0) await change(db, 'UPDATE effects SET unsure = 1 WHERE id IN (?)', [doubtful]);
  for (const row of rows) {
    const owner = { id: row.id, key: row.effect_key, brandId: row.brand_id, workflowId: row.workflow_id };
    const claim = { ...owner, runId: row.run_id, unsure: row.unsure === 1 || inDoubt.has(row.id), lease };
    try {
      claimed.push({
        ...readAct(row.action, JSON.parse(row.input)),
        ...claim,
        place: row.step,
        outletId: row.outlet_id,
        accountId: row.account_id,
        failures: row.failures,
        firstSentAt: fromTimeOrNull(row.first_sent_at),
        plannedAt: fromTimeOrNull(row.planned_at),
        leaseUntil: now + leaseMs,
        overtaken: row.overtaken === 1,
      });
    } catch (error) {
      unreadable.push({ ...claim, error });
    }
  }
  return { claimed, unreadable };
}

/** Puts off acts that the network does not allow yet; they stay as they are. */
export async function putOffEffects(db: Queryable, effects: readonly { id: number; at: number }[]): Promise<void> {
  for (const { id, at } of effects)
    await change(db, "UPDATE effects SET due_at = ? WHERE id = ? AND status IN ('due', 'sending')", [toTime(at), id]);
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
    `UPDATE effects e JOIN workflows f ON f.id = e.workflow_id SET e.status = 'due', e.unsure = ?, e.failures = ?, e.trouble = ?, e.lease = NULL,
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
    `UPDATE effects SET status = 'due', unsure = 0, trouble = ?, lease = NULL, due_at = ?
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
