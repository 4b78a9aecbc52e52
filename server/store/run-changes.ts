// What becomes of runs whose item has changed, and of those that ended long ago.
import { change, select, toTime, type Queryable } from '../db/database.ts';
import type { Run } from './runs.ts';

/**
 * Notes that the thing some runs are about has changed. Those that are under way are taken up at once; of those that ended
 * by an earlier change before anything was done, the last of each workflow may come back.
 *
 * @returns the workflows whose runs were met
 */
export async function markChanged(db: Queryable, itemId: number, now: number): Promise<Set<number>> {
  const rows = await select<{ id: number; workflow_id: number; status: Run['status']; joined: number }>(
    db,
    `SELECT r.id, r.workflow_id, r.status, EXISTS(SELECT 1 FROM gathered e WHERE e.run_id = r.id) AS joined
     FROM runs r WHERE r.item_id = ? AND r.trouble IS NULL AND (r.status IN ('new', 'waiting', 'held') OR r.withdrawn = 1
       OR EXISTS(SELECT 1 FROM gathered e WHERE e.run_id = r.id)) ORDER BY r.id`,
    [itemId],
  );
  // One that has put something into what is gathered has ended, and is under way all the same.
  const open = rows.filter((row) => row.status !== 'stopped' || row.joined);
  const workflows = new Set(open.map((row) => row.workflow_id));
  const ended = new Map(
    rows
      .filter((row) => row.status === 'stopped' && !row.joined && !workflows.has(row.workflow_id))
      .map((row) => [row.workflow_id, row]),
  );
  const ids = [...open, ...ended.values()].map((row) => row.id);
  if (ids.length === 0) return new Set();
  // One that has not begun keeps its time; whoever takes it up reads the item anew.
  await change(
    db,
    `UPDATE runs r JOIN workflows f ON f.id = r.workflow_id SET r.changed = 1,
       r.due_at = IF(r.status = 'new', r.due_at, IF(f.status = 'paused', NULL, ?)),
       r.parked_due_at = IF(r.status = 'new', r.parked_due_at, IF(f.status = 'paused', ?, NULL))
     WHERE r.id IN (?)`,
    [toTime(now), toTime(now), ids],
  );
  return new Set([...workflows, ...ended.keys()]);
}

/** Has a run go through its steps again: something of it was not sent after all. */
export async function markRunChanged(db: Queryable, runId: number, now: number): Promise<void> {
  await change(
    db,
    `UPDATE runs r JOIN workflows f ON f.id = r.workflow_id SET r.changed = 1,
       r.due_at = IF(f.status = 'paused', NULL, ?), r.parked_due_at = IF(f.status = 'paused', ?, NULL)
     WHERE r.id = ?`,
    [toTime(now), toTime(now), runId],
  );
}

/** Notes whether a run ended before anybody saw anything of it, so that it begins when its item comes back. */
export async function setRunWithdrawn(db: Queryable, id: number, withdrawn: boolean): Promise<void> {
  await change(db, 'UPDATE runs SET withdrawn = ? WHERE id = ?', [withdrawn, id]);
}

/** Stores which revision of its item a run is about from here on, and that it knows of the change. */
export async function setRunRevision(db: Queryable, id: number, revision: number, withdrawn: boolean): Promise<void> {
  await change(db, 'UPDATE runs SET item_revision = ?, changed = 0, withdrawn = ? WHERE id = ?', [
    revision,
    withdrawn,
    id,
  ]);
}

/** Moves a run to another version of its workflow. */
export async function setRunVersion(db: Queryable, id: number, version: number): Promise<void> {
  await change(db, 'UPDATE runs SET version = ? WHERE id = ?', [version, id]);
}

/** Runs of a workflow that have not ended, on other versions than the given one. */
export async function openRunsOnOldVersions(
  db: Queryable,
  brandId: number,
  workflowId: number,
  version: number,
): Promise<{ id: number; version: number; status: Run['status'] }[]> {
  return select(
    db,
    "SELECT id, version, status FROM runs WHERE brand_id = ? AND workflow_id = ? AND version <> ? AND status IN ('new', 'waiting', 'held') ORDER BY id",
    [brandId, workflowId, version],
  );
}

/**
 * Lets go of what old runs said about each step, and of the acts they asked for. That they ran stays known, so that
 * nothing runs twice, and the logbook keeps what went out. Returns how many.
 */
export async function thinRuns(db: Queryable, before: number, most: number): Promise<number> {
  const rows = await select<{ id: number }>(
    db,
    "SELECT id FROM runs WHERE status IN ('done', 'stopped', 'cancelled') AND thinned = 0 AND changed_at < ? ORDER BY changed_at LIMIT ? FOR UPDATE SKIP LOCKED",
    [toTime(before), most],
  );
  if (rows.length === 0) return 0;
  const ids = rows.map((row) => row.id);
  await change(db, "DELETE FROM effects WHERE run_id IN (?) AND status <> 'sending'", [ids]);
  await change(db, "UPDATE runs SET thinned = 1, state = NULL, trace = '{}' WHERE id IN (?)", [ids]);
  return ids.length;
}
