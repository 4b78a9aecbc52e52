// Whether workflows run: live, paused by a person or by themselves, locked for whoever decides about their runs.
import { change, select, toTime, type Queryable } from '../db/database.ts';
import { type Workflow } from './workflows.ts';

export async function setStatus(
  db: Queryable,
  brandId: number,
  id: number,
  status: Workflow['status'],
  now: number,
): Promise<void> {
  // Whatever Playa paused it for is settled by a person deciding.
  await change(
    db,
    // Assignments are made from left to right: the brake looks at what the workflow was before.
    `UPDATE workflows SET brake_from = IF(status = 'live', brake_from, ?), status = ?, paused_because = NULL,
       failures_in_row = 0, paused_at = ? WHERE brand_id = ? AND id = ?`,
    [toTime(now), status, status === 'paused' ? toTime(now) : null, brandId, id],
  );
}

/** Keeps anybody else from beginning or ending runs of a workflow until this transaction ends. */
export async function lockWorkflow(db: Queryable, id: number): Promise<void> {
  await select(db, 'SELECT id FROM workflows WHERE id = ? FOR UPDATE', [id]);
}

/** Counts a failed run; returns how many have failed in a row. */
export async function countFailure(db: Queryable, id: number): Promise<number> {
  await change(db, 'UPDATE workflows SET failures_in_row = failures_in_row + 1 WHERE id = ?', [id]);
  const [row] = await select<{ failures_in_row: number }>(db, 'SELECT failures_in_row FROM workflows WHERE id = ?', [
    id,
  ]);
  return row?.failures_in_row ?? 0;
}

export async function forgetFailures(db: Queryable, id: number): Promise<void> {
  await change(db, 'UPDATE workflows SET failures_in_row = 0 WHERE id = ? AND failures_in_row > 0', [id]);
}

/** Pauses a live workflow for a reason of Playa's own. Returns whether it was live. */
export async function pauseBecause(
  db: Queryable,
  brandId: number,
  id: number,
  why: string,
  now: number,
): Promise<boolean> {
  const done = await change(
    db,
    "UPDATE workflows SET status = 'paused', paused_because = ?, failures_in_row = 0, paused_at = ? WHERE brand_id = ? AND id = ? AND status = 'live'",
    [why, toTime(now), brandId, id],
  );
  return done.rows > 0;
}

/** Which of these workflows are paused. Their rows are kept from changing until the transaction ends. */
export async function pausedWorkflows(db: Queryable, ids: readonly number[]): Promise<Set<number>> {
  const rows = await select<{ id: number; status: string }>(
    db,
    'SELECT id, status FROM workflows WHERE id IN (?) ORDER BY id LOCK IN SHARE MODE',
    [ids],
  );
  return new Set(rows.filter((row) => row.status === 'paused').map((row) => row.id));
}
