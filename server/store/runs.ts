import { randomUUID } from 'node:crypto';
import { traceSchema, type Trace } from '@playa/core/engine/cells.ts';
import { runStateSchema, type RunState } from '@playa/core/engine/state.ts';
import { change, fromTime, fromTimeOrNull, select, toTime, type Queryable } from '../db/database.ts';

export interface Run {
  id: number;
  uuid: string;
  brandId: number;
  workflowId: number;
  version: number;
  itemId: number;
  status: 'new' | 'waiting' | 'held' | 'done' | 'stopped';
  state: RunState | null;
  trace: Trace;
  trouble: string | null;
  dueAt: number | null;
  createdAt: number;
  changedAt: number;
}
interface Row {
  id: number;
  uuid: string;
  brand_id: number;
  workflow_id: number;
  version: number;
  item_id: number;
  status: Run['status'];
  state: string | null;
  trace: string;
  trouble: string | null;
  due_at: Date | null;
  created_at: Date;
  changed_at: Date;
}
const read = (row: Row): Run => ({
  id: row.id,
  uuid: row.uuid,
  brandId: row.brand_id,
  workflowId: row.workflow_id,
  version: row.version,
  itemId: row.item_id,
  status: row.status,
  state: row.state === null ? null : runStateSchema.parse(JSON.parse(row.state)),
  trace: traceSchema.parse(JSON.parse(row.trace)),
  trouble: row.trouble,
  dueAt: fromTimeOrNull(row.due_at),
  createdAt: fromTime(row.created_at),
  changedAt: fromTime(row.changed_at),
});

/** Starts a run, unless the workflow has already had one for this item. Returns whether it did. */
export async function addRun(
  db: Queryable,
  run: { brandId: number; workflowId: number; version: number; itemId: number; dueAt: number; now: number },
): Promise<boolean> {
  const added = await change(
    db,
    `INSERT IGNORE INTO runs (uuid, brand_id, workflow_id, version, item_id, status, trace, due_at, created_at, changed_at)
     VALUES (?, ?, ?, ?, ?, 'new', '{}', ?, ?, ?)`,
    [
      randomUUID(),
      run.brandId,
      run.workflowId,
      run.version,
      run.itemId,
      toTime(run.dueAt),
      toTime(run.now),
      toTime(run.now),
    ],
  );
  return added.rows > 0;
}

/** Locks runs that are due, for this transaction only; others skip them. */
export async function lockDueRuns(db: Queryable, now: number, most: number): Promise<Run[]> {
  return (
    await select<Row>(db, 'SELECT * FROM runs WHERE due_at <= ? ORDER BY due_at LIMIT ? FOR UPDATE SKIP LOCKED', [
      toTime(now),
      most,
    ])
  ).map(read);
}

export async function lockRun(db: Queryable, id: number): Promise<Run | undefined> {
  return (await select<Row>(db, 'SELECT * FROM runs WHERE id = ? FOR UPDATE', [id])).map(read)[0];
}

export async function runBy(db: Queryable, brandId: number, id: number): Promise<Run | undefined> {
  return (await select<Row>(db, 'SELECT * FROM runs WHERE brand_id = ? AND id = ?', [brandId, id])).map(read)[0];
}

/** Stores how far a run has come. */
export async function saveRun(
  db: Queryable,
  run: { id: number; state: RunState; trace: Trace },
  now: number,
): Promise<void> {
  await change(
    db,
    'UPDATE runs SET status = ?, state = ?, trace = ?, due_at = NULL, trouble = NULL, changed_at = ? WHERE id = ?',
    [run.state.status, JSON.stringify(run.state), JSON.stringify(run.trace), toTime(now), run.id],
  );
}

/** Sets a run aside that Playa itself cannot take further. Nothing of it is lost. */
export async function holdRun(db: Queryable, id: number, trouble: string, now: number): Promise<void> {
  await change(db, "UPDATE runs SET status = 'held', trouble = ?, due_at = NULL, changed_at = ? WHERE id = ?", [
    trouble.slice(0, 500),
    toTime(now),
    id,
  ]);
}

/** A workflow's runs: those that wait for something first, then the newest. */
export async function runsOf(db: Queryable, brandId: number, workflowId: number, most: number): Promise<Run[]> {
  const rows = await select<Row>(
    db,
    `SELECT * FROM runs WHERE brand_id = ? AND workflow_id = ?
     ORDER BY FIELD(status, 'held', 'waiting', 'new') DESC, id DESC LIMIT ?`,
    [brandId, workflowId, most],
  );
  return rows.map(read);
}

/** Runs that wait for a person, oldest first. */
export async function heldRuns(db: Queryable, brandId: number, most: number): Promise<(Run & { workflow: string })[]> {
  const rows = await select<Row & { workflow: string }>(
    db,
    `SELECT r.*, f.name AS workflow FROM runs r JOIN workflows f ON f.id = r.workflow_id
     WHERE r.brand_id = ? AND r.status = 'held' ORDER BY r.changed_at LIMIT ?`,
    [brandId, most],
  );
  return rows.map((row) => ({ ...read(row), workflow: row.workflow }));
}

/** Runs that are still to begin, soonest first. */
export async function comingRuns(
  db: Queryable,
  brandId: number,
  most: number,
): Promise<(Run & { workflow: string })[]> {
  const rows = await select<Row & { workflow: string }>(
    db,
    `SELECT r.*, f.name AS workflow FROM runs r JOIN workflows f ON f.id = r.workflow_id
     WHERE r.brand_id = ? AND r.status = 'new' AND f.status = 'live' AND r.due_at IS NOT NULL ORDER BY r.due_at LIMIT ?`,
    [brandId, most],
  );
  return rows.map((row) => ({ ...read(row), workflow: row.workflow }));
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
