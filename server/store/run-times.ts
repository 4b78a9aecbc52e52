// When runs are taken up, and when not: woken, put off, parked while their workflow is paused.
import { change, fromTime, select, toTime, type Queryable } from '../db/database.ts';
import { addCounts } from './counts.ts';

/** Ends the part of the past that has not begun. Returns how many runs that were. Run inside a transaction. */
export async function dropBackfill(db: Queryable, brandId: number, workflowId: number): Promise<number> {
  const rows = await select<{ id: number; at: Date }>(
    db,
    `SELECT id, created_at AS at FROM runs WHERE brand_id = ? AND workflow_id = ? AND backfill = 1 AND status = 'new' FOR UPDATE`,
    [brandId, workflowId],
  );
  if (rows.length === 0) return 0;
  await change(db, 'DELETE FROM runs WHERE id IN (?)', [rows.map((row) => row.id)]);
  const of = { brandId, workflowId, what: 'run', state: 'new', outletId: null, n: -1 } as const;
  await addCounts(
    db,
    rows.map(({ at }) => ({ ...of, at: fromTime(at) })),
  );
  return rows.length;
}

/** Wakes a run at a moment, unless it is due earlier. In a paused workflow it is kept for later. */
export async function wakeRunBy(db: Queryable, id: number, at: number): Promise<void> {
  await change(
    db,
    `UPDATE runs r JOIN workflows f ON f.id = r.workflow_id SET
       r.due_at = IF(f.status = 'paused', NULL, LEAST(COALESCE(r.due_at, ?), ?)),
       r.parked_due_at = IF(f.status = 'paused', LEAST(COALESCE(r.parked_due_at, ?), ?), NULL)
     WHERE r.id = ? AND r.status IN ('waiting', 'held')`,
    [toTime(at), toTime(at), toTime(at), toTime(at), id],
  );
}

/** Puts off a run that is about to wake. */
export async function putOffRun(db: Queryable, id: number, at: number): Promise<void> {
  await change(db, 'UPDATE runs SET due_at = ? WHERE id = ?', [toTime(at), id]);
}

/** A paused workflow's runs begin nothing; their times are kept for when it goes on. */
export async function parkRuns(db: Queryable, brandId: number, workflowId: number): Promise<void> {
  await change(
    db,
    'UPDATE runs SET parked_due_at = due_at, due_at = NULL WHERE brand_id = ? AND workflow_id = ? AND due_at IS NOT NULL',
    [brandId, workflowId],
  );
}

export async function unparkRuns(db: Queryable, brandId: number, workflowId: number): Promise<void> {
  await change(
    db,
    'UPDATE runs SET due_at = parked_due_at, parked_due_at = NULL WHERE brand_id = ? AND workflow_id = ? AND parked_due_at IS NOT NULL',
    [brandId, workflowId],
  );
}

/** When something is due next, a run or an act, whatever the workflow; milliseconds since 1970 UTC. */
export async function nextDue(db: Queryable): Promise<number | null> {
  const [row] = await select<{ due: Date | null }>(
    db,
    `SELECT LEAST(COALESCE((SELECT MIN(due_at) FROM runs), '9999-01-01'), COALESCE((SELECT MIN(due_at) FROM effects), '9999-01-01')) AS due`,
  );
  const due = row?.due ? new Date(row.due).getTime() : null;
  return due === null || due > Date.UTC(9998, 0, 1) ? null : due;
}
