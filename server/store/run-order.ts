// Which runs wait for others of their workflow.
import { change, select, toTime, type Queryable } from '../db/database.ts';

/** Makes a new run wait for others of its workflow. */
export async function queueRun(db: Queryable, id: number): Promise<void> {
  await change(db, 'UPDATE runs SET queued = 1, due_at = NULL WHERE id = ?', [id]);
}

/** What a new run must wait behind: earlier ones of the same order, or too many under way. */
export async function isBehind(
  db: Queryable,
  run: { id: number; workflowId: number; orderHash: Buffer | null },
  atOnce: number | null,
): Promise<boolean> {
  if (run.orderHash) {
    const earlier = await select(
      db,
      "SELECT 1 FROM runs WHERE workflow_id = ? AND order_hash = ? AND id < ? AND status IN ('new', 'waiting', 'held') LIMIT 1",
      [run.workflowId, run.orderHash, run.id],
    );
    if (earlier.length > 0) return true;
  }
  if (atOnce === null) return false;
  const [row] = await select<{ under_way: number }>(
    db,
    "SELECT COUNT(*) AS under_way FROM runs WHERE workflow_id = ? AND status = 'waiting'",
    [run.workflowId],
  );
  return Number(row!.under_way) >= atOnce;
}

/** Lets runs that waited for others try again: the next of the same order, and the next of all. */
export async function releaseRuns(
  db: Queryable,
  workflowId: number,
  ended: Buffer | null,
  most: number,
  now: number,
): Promise<void> {
  if (ended)
    await change(
      db,
      'UPDATE runs SET queued = 0, due_at = ? WHERE workflow_id = ? AND queued = 1 AND order_hash = ? ORDER BY id LIMIT 1',
      [toTime(now), workflowId, ended],
    );
  // One that has to follow an earlier run of its order would only be queued again, and those behind it stay waiting.
  const free = await select<{ id: number }>(
    db,
    `SELECT r.id FROM runs r WHERE r.workflow_id = ? AND r.queued = 1 AND (r.order_hash IS NULL OR NOT EXISTS (
       SELECT 1 FROM runs e WHERE e.workflow_id = r.workflow_id AND e.order_hash = r.order_hash AND e.id < r.id
         AND e.status IN ('new', 'waiting', 'held')))
     ORDER BY r.id LIMIT ?`,
    [workflowId, most],
  );
  if (free.length > 0)
    await change(db, 'UPDATE runs SET queued = 0, due_at = ? WHERE id IN (?)', [
      toTime(now),
      free.map((run) => run.id),
    ]);
}
