// People whom workflows wrote to, and whether they wrote again: kept as it happens, so that nothing is counted anew.
import { change, select, toTime, type Queryable } from '../db/database.ts';

/** Notes that a run has written to whoever said something. The first time counts. */
export async function noteReached(
  db: Queryable,
  {
    runId,
    brandId,
    workflowId,
    itemId,
    at,
  }: { runId: number; brandId: number; workflowId: number; itemId: number; at: number },
): Promise<void> {
  await change(
    db,
    `INSERT IGNORE INTO journeys (run_id, brand_id, workflow_id, contact_id, first_at)
     SELECT ?, ?, ?, contact_id, ? FROM desk_entries WHERE item_id = ? AND contact_id IS NOT NULL`,
    [runId, brandId, workflowId, toTime(at), itemId],
  );
}

/** Notes that somebody has written again. Runs that wrote to them are taken up at once: some end by it. */
export async function noteWroteAgain(db: Queryable, contactId: number, at: number, now: number): Promise<void> {
  await change(
    db,
    `UPDATE journeys j JOIN runs r ON r.id = j.run_id JOIN workflows f ON f.id = r.workflow_id
     SET r.changed = 1, r.due_at = IF(f.status = 'paused', NULL, ?), r.parked_due_at = IF(f.status = 'paused', ?, NULL)
     WHERE j.contact_id = ? AND j.first_at < ? AND r.status IN ('waiting', 'held') AND r.trouble IS NULL`,
    [toTime(now), toTime(now), contactId, toTime(at)],
  );
  await change(db, 'UPDATE journeys SET again_at = ? WHERE contact_id = ? AND first_at < ? AND again_at IS NULL', [
    toTime(at),
    contactId,
    toTime(at),
  ]);
}

/** Whether somebody has written again since a run wrote to them. */
export async function wroteAgain(db: Queryable, runId: number): Promise<boolean> {
  const rows = await select(db, 'SELECT 1 FROM journeys WHERE run_id = ? AND again_at IS NOT NULL', [runId]);
  return rows.length > 0;
}

/** Notes that somebody wants to be left alone. */
export async function noteStopped(db: Queryable, contactId: number, at: number): Promise<void> {
  await change(db, 'UPDATE journeys SET stopped_at = ? WHERE contact_id = ? AND first_at <= ? AND stopped_at IS NULL', [
    toTime(at),
    contactId,
    toTime(at),
  ]);
}

/** What became of the people that a workflow wrote to. */
export interface Journeys {
  workflowId: number;
  workflow: string;
  /** How many it wrote to. */
  begun: number;
  /** Wrote again; asked to be left alone; neither for so long that nothing more is to be expected; neither yet. */
  again: number;
  stopped: number;
  silent: number;
  open: number;
}

/** @param silentAfter milliseconds without a word after which nothing more is expected */
export async function journeysSince(
  db: Queryable,
  brandId: number,
  since: number,
  { now, silentAfter }: { now: number; silentAfter: number },
): Promise<Journeys[]> {
  const workflows = await select<{ id: number; name: string }>(
    db,
    `SELECT f.id, f.name FROM workflows f WHERE f.brand_id = ? AND EXISTS (SELECT 1 FROM journeys j WHERE j.workflow_id = f.id AND j.first_at >= ?)`,
    [brandId, toTime(since)],
  );
  if (workflows.length === 0) return [];
  // Each by itself, out of an index in its order: together they would have to be sorted.
  const one = `SELECT ? AS workflowId, COUNT(*) AS begun, SUM(stopped_at IS NOT NULL) AS stopped,
      SUM(stopped_at IS NULL AND again_at IS NOT NULL) AS again,
      SUM(stopped_at IS NULL AND again_at IS NULL AND first_at < ?) AS silent,
      SUM(stopped_at IS NULL AND again_at IS NULL AND first_at >= ?) AS open
    FROM journeys WHERE workflow_id = ? AND first_at >= ?`;
  const silent = toTime(now - silentAfter);
  const counted = await select<Omit<Journeys, 'workflow'>>(
    db,
    workflows.map(() => one).join(' UNION ALL '),
    workflows.flatMap(({ id }) => [id, silent, silent, id, toTime(since)]),
  );
  const names = new Map(workflows.map(({ id, name }) => [id, name]));
  const rows = counted
    .map((row) => ({ ...row, workflowId: Number(row.workflowId), workflow: names.get(Number(row.workflowId)) ?? '' }))
    .sort((a, b) => Number(b.begun) - Number(a.begun) || a.workflow.localeCompare(b.workflow));
  return rows.map((row) => ({
    ...row,
    ...{ begun: Number(row.begun), again: Number(row.again), stopped: Number(row.stopped) },
    ...{ silent: Number(row.silent), open: Number(row.open) },
  }));
}
