import { randomUUID } from 'node:crypto';
import { outcomeSchema, publishInputSchema, type Outcome, type PublishInput } from '@playa/core/engine/effects.ts';
import { change, fromTimeOrNull, select, toTime, type Queryable } from '../db/database.ts';

export interface ClaimedEffect {
  id: number;
  key: string;
  brandId: number;
  workflowId: number;
  runId: number;
  step: string;
  outletId: number;
  accountId: number;
  action: 'publish';
  input: PublishInput;
  /** An earlier try may have gone out without our hearing of it. */
  unsure: boolean;
  failures: number;
  firstSentAt: number | null;
  lease: string;
}
interface Row {
  id: number;
  effect_key: string;
  brand_id: number;
  workflow_id: number;
  run_id: number;
  step: string;
  outlet_id: number;
  account_id: number;
  action: 'publish';
  input: string;
  status: string;
  unsure: number;
  failures: number;
  first_sent_at: Date | null;
}

/**
 * Puts an effect into the outbox. Its key is unique: storing it a second time does nothing. In a paused workflow it is
 * stored without a time, and gets one when the workflow goes on.
 */
export async function addEffect(
  db: Queryable,
  effect: {
    key: string;
    brandId: number;
    workflowId: number;
    runId: number;
    step: string;
    outletId: number;
    accountId: number;
    action: 'publish';
    input: PublishInput;
  },
  now: number,
): Promise<void> {
  await change(
    db,
    `INSERT IGNORE INTO effects (effect_key, brand_id, workflow_id, run_id, step, outlet_id, account_id, action, input, status, due_at, parked_due_at, created_at)
     SELECT ?, ?, ?, ?, ?, ?, ?, ?, ?, 'due', IF(status = 'paused', NULL, ?), IF(status = 'paused', ?, NULL), ? FROM workflows WHERE id = ?`,
    [
      effect.key,
      effect.brandId,
      effect.workflowId,
      effect.runId,
      effect.step,
      effect.outletId,
      effect.accountId,
      effect.action,
      JSON.stringify(effect.input),
      toTime(now),
      toTime(now),
      toTime(now),
      effect.workflowId,
    ],
  );
}

/**
 * Claims effects that are due, or whose last claim was lost. From here on each counts as perhaps sent, because the
 * worker may die at any moment after this is committed. Run inside a transaction.
 */
export async function claimDueEffects(
  db: Queryable,
  now: number,
  leaseMs: number,
  most: number,
): Promise<ClaimedEffect[]> {
  const rows = await select<Row>(
    db,
    'SELECT * FROM effects WHERE due_at <= ? ORDER BY due_at, id LIMIT ? FOR UPDATE SKIP LOCKED',
    [toTime(now), most],
  );
  const claimed: ClaimedEffect[] = [];
  for (const row of rows) {
    const lease = randomUUID();
    const unsure = row.status === 'sending' || row.unsure === 1;
    await change(
      db,
      "UPDATE effects SET status = 'sending', unsure = ?, lease = ?, due_at = ?, first_sent_at = COALESCE(first_sent_at, ?) WHERE id = ?",
      [unsure, lease, toTime(now + leaseMs), toTime(now), row.id],
    );
    claimed.push({
      id: row.id,
      key: row.effect_key,
      brandId: row.brand_id,
      workflowId: row.workflow_id,
      runId: row.run_id,
      step: row.step,
      outletId: row.outlet_id,
      accountId: row.account_id,
      action: row.action,
      input: publishInputSchema.parse(JSON.parse(row.input)),
      unsure,
      failures: row.failures,
      firstSentAt: fromTimeOrNull(row.first_sent_at),
      lease,
    });
  }
  return claimed;
}

// Every change below names the lease: a worker that has lost its claim changes nothing (0 rows).

export async function endEffect(db: Queryable, effect: ClaimedEffect, outcome: Outcome): Promise<boolean> {
  return (
    (
      await change(
        db,
        "UPDATE effects SET status = 'done', outcome = ?, lease = NULL, due_at = NULL, trouble = NULL WHERE id = ? AND lease = ?",
        [JSON.stringify(outcome), effect.id, effect.lease],
      )
    ).rows > 0
  );
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
