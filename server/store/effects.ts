import { randomUUID } from 'node:crypto';
import { outcomeSchema, readAct, type Act, type Outcome } from '@playa/core/engine/acts.ts';
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
  lease: string;
  /** When the claim is lost, milliseconds since 1970 UTC. */
  leaseUntil: number;
};
interface Row {
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
    `INSERT IGNORE INTO effects (effect_key, brand_id, workflow_id, run_id, step, outlet_id, account_id, action, input, status, due_at, parked_due_at, created_at) VALUES ?`,
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
          toTime(now),
        ];
      }),
    ],
  );
}

/** Locks acts that are due, or whose last claim was lost; others skip them. Run inside a transaction. */
export async function lockDueEffects(db: Queryable, now: number, most: number): Promise<(Row & { due: true })[]> {
  return select(db, 'SELECT * FROM effects WHERE due_at <= ? ORDER BY due_at, id LIMIT ? FOR UPDATE SKIP LOCKED', [
    toTime(now),
    most,
  ]);
}

/** Claims locked acts for one worker. Where repeats would be seen, `markSending` follows before anything is sent. */
export async function claimEffects(
  db: Queryable,
  rows: readonly Row[],
  now: number,
  leaseMs: number,
): Promise<ClaimedEffect[]> {
  if (rows.length === 0) return [];
  const lease = randomUUID();
  await change(
    db,
    `UPDATE effects SET status = 'sending', lease = ?, due_at = ?, first_sent_at = COALESCE(first_sent_at, ?) WHERE id IN (?)`,
    [lease, toTime(now + leaseMs), toTime(now), rows.map((row) => row.id)],
  );
  return rows.map((row) => ({
    ...readAct(row.action, JSON.parse(row.input)),
    id: row.id,
    key: row.effect_key,
    brandId: row.brand_id,
    workflowId: row.workflow_id,
    runId: row.run_id,
    place: row.step,
    outletId: row.outlet_id,
    accountId: row.account_id,
    unsure: row.unsure === 1,
    failures: row.failures,
    firstSentAt: fromTimeOrNull(row.first_sent_at),
    lease,
    leaseUntil: now + leaseMs,
  }));
}

/** Puts off acts that the network does not allow yet; they stay as they are. */
export async function putOffEffects(db: Queryable, effects: readonly { id: number; at: number }[]): Promise<void> {
  for (const { id, at } of effects)
    await change(db, "UPDATE effects SET due_at = ? WHERE id = ? AND status IN ('due', 'sending')", [toTime(at), id]);
}

/** Takes back what a run asked for and nobody has sent. What is on its way arrives. */
export async function cancelEffects(db: Queryable, runId: number): Promise<void> {
  await change(
    db,
    "UPDATE effects SET status = 'cancelled', due_at = NULL, parked_due_at = NULL WHERE run_id = ? AND status IN ('due', 'account', 'held') AND unsure = 0",
    [runId],
  );
}

/**
 * Notes, right before an act is sent where the network does not refuse repeats, that from here on it may have been: the
 * worker may die at any moment. What a dead worker had only claimed is not in doubt, and nobody is asked about it.
 *
 * @returns false when the claim was lost meanwhile: then nothing may be sent
 */
export async function markSending(db: Queryable, effect: ClaimedEffect): Promise<boolean> {
  const held = await change(db, 'UPDATE effects SET unsure = 1 WHERE id = ? AND lease = ?', [effect.id, effect.lease]);
  return held.rows > 0;
}

/** Locks a claimed act; false when the claim was lost meanwhile. */
export async function holdsClaim(db: Queryable, effect: ClaimedEffect): Promise<boolean> {
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
     WHERE (id, lease) IN (?)`,
    [
      ...done.flatMap(({ effect, outcome }) => [effect.id, JSON.stringify(outcome)]),
      done.map(({ effect }) => [effect.id, effect.lease]),
    ],
  );
  return ended.rows;
}

/** Puts an effect back for a later try. `unsure` says whether this one may have gone out. */
export async function postponeEffect(
  db: Queryable,
  effect: ClaimedEffect,
  later: { at: number; unsure: boolean; failures: number; trouble: string },
): Promise<boolean> {
  const done = await change(
    db,
    `UPDATE effects e JOIN workflows f ON f.id = e.workflow_id SET e.status = 'due', e.unsure = ?, e.failures = ?, e.trouble = ?, e.lease = NULL,
       e.due_at = IF(f.status = 'paused', NULL, ?), e.parked_due_at = IF(f.status = 'paused', ?, NULL) WHERE e.id = ? AND e.lease = ?`,
    [
      later.unsure,
      later.failures,
      later.trouble.slice(0, 1000),
      toTime(later.at),
      toTime(later.at),
      effect.id,
      effect.lease,
    ],
  );
  return done.rows > 0;
}

/**
 * Sets an effect aside: until its account is connected again, or held for a person. `unsure` says whether it may have
 * gone out.
 */
export async function setEffectAside(
  db: Queryable,
  effect: ClaimedEffect,
  aside: { until: 'account' | 'held'; unsure: boolean; trouble: string },
): Promise<boolean> {
  const done = await change(
    db,
    'UPDATE effects SET status = ?, unsure = ?, trouble = ?, lease = NULL, due_at = NULL WHERE id = ? AND lease = ?',
    [aside.until, aside.unsure, aside.trouble.slice(0, 1000), effect.id, effect.lease],
  );
  return done.rows > 0;
}

/** After an account was connected again: what waited for it goes on. Returns how many. */
export async function resumeAccount(db: Queryable, brandId: number, accountId: number, now: number): Promise<number> {
  const done = await change(
    db,
    `UPDATE effects e JOIN workflows f ON f.id = e.workflow_id SET e.status = 'due',
       e.due_at = IF(f.status = 'paused', NULL, ?), e.parked_due_at = IF(f.status = 'paused', ?, NULL)
     WHERE e.brand_id = ? AND e.account_id = ? AND e.status = 'account'`,
    [toTime(now), toTime(now), brandId, accountId],
  );
  return done.rows;
}

export async function waitingForAccounts(db: Queryable, brandId: number): Promise<Map<number, number>> {
  const rows = await select<{ account_id: number; waiting: number }>(
    db,
    "SELECT account_id, COUNT(*) AS waiting FROM effects WHERE brand_id = ? AND status = 'account' GROUP BY account_id",
    [brandId],
  );
  return new Map(rows.map((row) => [row.account_id, Number(row.waiting)]));
}

/** What came of a run's effects that are settled, by key. */
export async function settledEffects(
  db: Queryable,
  runId: number,
): Promise<Map<string, { outcome: Outcome } | { says: string; unsure: boolean }>> {
  const rows = await select<{
    effect_key: string;
    status: string;
    outcome: string | null;
    trouble: string | null;
    unsure: number;
  }>(
    db,
    "SELECT effect_key, status, outcome, trouble, unsure FROM effects WHERE run_id = ? AND status IN ('done', 'held')",
    [runId],
  );
  return new Map(
    rows.map((row) => [
      row.effect_key,
      row.outcome === null
        ? { says: row.trouble ?? '', unsure: row.unsure === 1 }
        : { outcome: outcomeSchema.parse(JSON.parse(row.outcome)) },
    ]),
  );
}

/** Effects that will be tried again, by run, for saying when. */
export async function retriesOf(
  db: Queryable,
  brandId: number,
  runIds: readonly number[],
): Promise<{ runId: number; key: string; dueAt: number | null; trouble: string }[]> {
  if (runIds.length === 0) return [];
  const rows = await select<{ run_id: number; effect_key: string; due_at: Date | null; trouble: string }>(
    db,
    "SELECT run_id, effect_key, due_at, trouble FROM effects WHERE brand_id = ? AND run_id IN (?) AND status IN ('due', 'account') AND trouble IS NOT NULL",
    [brandId, runIds],
  );
  return rows.map((row) => ({
    runId: row.run_id,
    key: row.effect_key,
    dueAt: fromTimeOrNull(row.due_at),
    trouble: row.trouble,
  }));
}

export async function parkEffects(db: Queryable, brandId: number, workflowId: number): Promise<void> {
  await change(
    db,
    "UPDATE effects SET parked_due_at = due_at, due_at = NULL WHERE brand_id = ? AND workflow_id = ? AND status = 'due' AND due_at IS NOT NULL",
    [brandId, workflowId],
  );
}

export async function unparkEffects(db: Queryable, brandId: number, workflowId: number): Promise<void> {
  await change(
    db,
    'UPDATE effects SET due_at = parked_due_at, parked_due_at = NULL WHERE brand_id = ? AND workflow_id = ? AND parked_due_at IS NOT NULL',
    [brandId, workflowId],
  );
}
