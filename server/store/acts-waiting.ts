// Acts that wait for their account, or for their workflow to go on; and how many there were, for the brake.
import { change, select, toTime, type Queryable } from '../db/database.ts';

/** After an account was connected again: what waited for it goes on. Returns how many. */
export async function resumeAccount(db: Queryable, brandId: number, accountId: number, now: number): Promise<number> {
  const done = await change(
    db,
    `UPDATE effects e JOIN workflows f ON f.id = e.workflow_id SET e.status = 'planned',
       e.due_at = IF(f.status = 'paused', NULL, GREATEST(?, COALESCE(e.planned_at, ?))),
       e.parked_due_at = IF(f.status = 'paused', GREATEST(?, COALESCE(e.planned_at, ?)), NULL)
     WHERE e.brand_id = ? AND e.account_id = ? AND e.status = 'account'`,
    [toTime(now), toTime(now), toTime(now), toTime(now), brandId, accountId],
  );
  return done.rows;
}

export async function waitingForAccounts(db: Queryable, brandId: number): Promise<Map<number, number>> {
  const rows = await select<{ account_id: number; waiting: number }>(
    db,
    `SELECT a.id AS account_id, COUNT(*) AS waiting FROM accounts a
       JOIN effects e ON e.account_id = a.id AND e.status = 'account' WHERE a.brand_id = ? GROUP BY a.id`,
    [brandId],
  );
  return new Map(rows.map((row) => [row.account_id, Number(row.waiting)]));
}

/**
 * How many acts of a workflow at an outlet were asked for in the last hour and day and not taken back, since a person last
 * let it go on. The part of the past that it began with does not count.
 */
export async function countSent(
  db: Queryable,
  workflowId: number,
  outletId: number,
  now: number,
): Promise<{ hour: number; day: number }> {
  const [row] = await select<{ hour: string | null; day: number }>(
    db,
    `SELECT SUM(e.created_at > ?) AS hour, COUNT(*) AS day FROM effects e JOIN runs r ON r.id = e.run_id
       JOIN workflows f ON f.id = e.workflow_id
     WHERE e.workflow_id = ? AND e.outlet_id = ? AND e.created_at > GREATEST(?, COALESCE(f.brake_from, ?))
       AND e.action IN ('publish', 'reply', 'message', 'react') AND e.status <> 'cancelled' AND r.backfill = 0
       AND (e.planned_at IS NULL OR e.planned_at <= TIMESTAMPADD(MINUTE, 1, e.created_at))`,
    [toTime(now - 3_600_000), workflowId, outletId, toTime(now - 86_400_000), toTime(0)],
  );
  return { hour: Number(row!.hour ?? 0), day: Number(row!.day) };
}

/** A paused workflow sends nothing; the times of what it would send are kept, also of what a worker claimed and lost. */
export async function parkEffects(db: Queryable, brandId: number, workflowId: number, now: number): Promise<void> {
  await change(
    db,
    `UPDATE effects SET parked_due_at = due_at, due_at = NULL WHERE brand_id = ? AND workflow_id = ?
       AND due_at IS NOT NULL AND (status = 'planned' OR (status = 'sending' AND due_at <= ?))`,
    [brandId, workflowId, toTime(now)],
  );
}

export async function unparkEffects(db: Queryable, brandId: number, workflowId: number): Promise<void> {
  await change(
    db,
    'UPDATE effects SET due_at = parked_due_at, parked_due_at = NULL WHERE brand_id = ? AND workflow_id = ? AND parked_due_at IS NOT NULL',
    [brandId, workflowId],
  );
}
