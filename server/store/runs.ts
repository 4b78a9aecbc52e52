import { createHash, randomUUID } from 'node:crypto';
import { traceSchema, type Trace } from '@playa/core/model/cells.ts';
import { nextWake, runStateSchema, type RunState } from '@playa/core/model/state.ts';
import { upgradeState } from '@playa/core/engine/upgrade.ts';
import { cutUnits } from '@playa/core/text/graphemes.ts';
import { addCounts, type Counted } from './counts.ts';
import { keepStuck } from './held.ts';
import { change, fromTime, fromTimeOrNull, select, toTime, type Queryable } from '../db/database.ts';

export interface Run {
  id: number;
  uuid: string;
  brandId: number;
  workflowId: number;
  version: number;
  itemId: number;
  itemRevision: number;
  status: 'new' | 'waiting' | 'held' | 'done' | 'stopped' | 'cancelled';
  state: RunState | null;
  trace: Trace;
  /** Waits for other runs of the workflow. */
  queued: boolean;
  /** What it has to follow in order, if the workflow keeps an order. */
  orderHash: Buffer | null;
  /** Part of the past that the workflow began with. */
  backfill: boolean;
  /** Its trace was let go. */
  thinned: boolean;
  /** The thing it is about says something else since it was last taken further. */
  changed: boolean;
  /** As it was last stored: what the records know of it. */
  was: { status: Run['status']; wakes: boolean };
  trouble: string | null;
  dueAt: number | null;
  createdAt: number;
  changedAt: number;
}

export interface Row {
  id: number;
  uuid: string;
  brand_id: number;
  workflow_id: number;
  version: number;
  item_id: number;
  item_revision: number;
  queued: number;
  order_hash: Buffer | null;
  backfill: number;
  thinned: number;
  changed: number;
  status: Run['status'];
  state: string | null;
  trace: string;
  trouble: string | null;
  due_at: Date | null;
  created_at: Date;
  changed_at: Date;
}

export const read = (row: Row): Run => {
  const state = row.state === null ? null : runStateSchema.parse(upgradeState(JSON.parse(row.state)));
  return {
    id: row.id,
    uuid: row.uuid,
    brandId: row.brand_id,
    workflowId: row.workflow_id,
    version: row.version,
    itemId: row.item_id,
    itemRevision: row.item_revision,
    queued: row.queued === 1,
    orderHash: row.order_hash,
    backfill: row.backfill === 1,
    thinned: row.thinned === 1,
    changed: row.changed === 1,
    status: row.status,
    state,
    was: { status: row.status, wakes: state !== null && nextWake(state) !== null },
    trace: traceSchema.parse(JSON.parse(row.trace)),
    trouble: row.trouble,
    dueAt: fromTimeOrNull(row.due_at),
    createdAt: fromTime(row.created_at),
    changedAt: fromTime(row.changed_at),
  };
};

/** A run whose state cannot be read: by another version of Playa it was written, or it was damaged. */
export interface UnreadableRun {
  id: number;
  brandId: number;
  workflowId: number;
  itemId: number;
  /** Why it is held already. */
  trouble: string | null;
  error: unknown;
}

/** Why a run that cannot be read waits for a person. */
export const UNREADABLE =
  'Playa cannot read how far this item had come; another version of Playa may have written it. It is kept, and can be tried again.';

/** Runs, each read by itself: one that cannot be read keeps no other from being read. */
function readEach(rows: readonly Row[]): { runs: Run[]; unreadable: UnreadableRun[] } {
  const runs: Run[] = [];
  const unreadable: UnreadableRun[] = [];
  for (const row of rows) {
    try {
      runs.push(read(row));
    } catch (error) {
      const { id, brand_id: brandId, workflow_id: workflowId, item_id: itemId, trouble } = row;
      unreadable.push({ id, brandId, workflowId, itemId, trouble, error });
    }
  }
  return { runs, unreadable };
}

/** A run as it is stored: what it holds is written once. */
export type SavedRun = Run & { state: RunState; stored: { state: string; trace: string } };

/** A run to be. */
export interface NewRun {
  brandId: number;
  workflowId: number;
  version: number;
  itemId: number;
  dueAt: number;
  now: number;
  /** 0 when its item appeared; counts up when an item that changed is run again. */
  occurrence?: number;
  itemRevision?: number;
  /** The value that runs keep an order by, if the workflow does. */
  order?: string | null;
  /** Part of the past that a workflow begins with. */
  backfill?: boolean;
  /** It ends before it begins, at this place of the sheet and for this reason. */
  ended?: { place: string; why: string };
}

export const orderHash = (order: string): Buffer => createHash('sha256').update(order).digest();

/** Starts a run, unless the workflow has already had one for this item. Returns whether it did. */
export async function addRun(db: Queryable, run: NewRun): Promise<boolean> {
  const state = run.ended ? 'stopped' : 'new';
  const trace: Trace = run.ended ? { [run.ended.place]: { kind: 'stops', why: run.ended.why } } : {};
  const added = await change(
    db,
    `INSERT IGNORE INTO runs (uuid, brand_id, workflow_id, version, item_id, occurrence, item_revision, order_hash, backfill, status, trace, due_at, created_at, changed_at)
     VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
    [
      randomUUID(),
      run.brandId,
      run.workflowId,
      run.version,
      run.itemId,
      run.occurrence ?? 0,
      run.itemRevision ?? 0,
      run.order ? orderHash(run.order) : null,
      run.backfill ?? false,
      state,
      JSON.stringify(trace),
      run.ended ? null : toTime(run.dueAt),
      toTime(run.now),
      toTime(run.now),
    ],
  );
  if (added.rows === 0) return false;
  const { brandId, workflowId, now } = run;
  await addCounts(db, [{ brandId, workflowId, what: 'run', state, outletId: null, at: now, n: 1 }]);
  return true;
}

/** One run stands elsewhere than it did. */
const moved = (
  run: Pick<Run, 'brandId' | 'workflowId' | 'createdAt'>,
  from: Run['status'],
  to: Run['status'],
): Counted[] => {
  if (from === to) return [];
  const { brandId, workflowId, createdAt: at } = run;
  const of = { brandId, workflowId, what: 'run', outletId: null, at } as const;
  return [
    { ...of, state: from, n: -1 },
    { ...of, state: to, n: 1 },
  ];
};

/** Locks runs that are due, for this transaction only; others skip them. */
export async function lockDueRuns(
  db: Queryable,
  now: number,
  most: number,
): Promise<{ runs: Run[]; unreadable: UnreadableRun[] }> {
  return readEach(
    await select<Row>(db, 'SELECT * FROM runs WHERE due_at <= ? ORDER BY due_at, id LIMIT ? FOR UPDATE SKIP LOCKED', [
      toTime(now),
      most,
    ]),
  );
}

/** Locks runs in one order, so that two workers never wait for each other. By their numbers. */
export async function lockRuns(
  db: Queryable,
  ids: readonly number[],
): Promise<{ runs: Map<number, Run>; unreadable: UnreadableRun[] }> {
  if (ids.length === 0) return { runs: new Map(), unreadable: [] };
  const { runs, unreadable } = readEach(
    await select<Row>(db, 'SELECT * FROM runs WHERE id IN (?) ORDER BY id FOR UPDATE', [ids]),
  );
  return { runs: new Map(runs.map((run) => [run.id, run])), unreadable };
}

/** Locks runs that wait or are held, by their numbers. `last` is where to go on; null when there were none. */
export async function openRunsAfter(
  db: Queryable,
  after: number,
  most: number,
): Promise<{ runs: Run[]; unreadable: UnreadableRun[]; last: number | null }> {
  const rows = await select<Row>(
    db,
    "SELECT * FROM runs WHERE id > ? AND status IN ('waiting', 'held') ORDER BY id LIMIT ? FOR UPDATE",
    [after, most],
  );
  return { ...readEach(rows), last: rows.at(-1)?.id ?? null };
}

export async function lockRun(db: Queryable, id: number): Promise<Run | undefined> {
  return (await select<Row>(db, 'SELECT * FROM runs WHERE id = ? FOR UPDATE', [id])).map(read)[0];
}

export async function runBy(db: Queryable, brandId: number, id: number): Promise<Run | undefined> {
  return (await select<Row>(db, 'SELECT * FROM runs WHERE brand_id = ? AND id = ?', [brandId, id])).map(read)[0];
}

/** Stores how far runs have come, and when they want to be woken; in a paused workflow they are not. */
export async function saveRuns(
  db: Queryable,
  runs: readonly SavedRun[],
  paused: ReadonlySet<number>,
  now: number,
): Promise<void> {
  if (runs.length === 0) return;
  const by = (value: (run: (typeof runs)[number]) => unknown) => runs.flatMap((run) => [run.id, value(run)]);
  const cases = `CASE id ${runs.map(() => 'WHEN ? THEN ?').join(' ')} END`;
  const wake = (run: (typeof runs)[number], parked: boolean) => {
    // What has changed meanwhile does not wait for a moment.
    const at = run.changed ? now : nextWake(run.state);
    return at === null || paused.has(run.workflowId) !== parked ? null : toTime(at);
  };
  await change(
    db,
    `UPDATE runs SET status = ${cases}, state = ${cases}, trace = ${cases}, due_at = ${cases}, parked_due_at = ${cases},
       queued = 0, trouble = NULL, changed_at = ? WHERE id IN (?)`,
    [
      ...by((run) => run.state.status),
      ...by((run) => run.stored.state),
      ...by((run) => run.stored.trace),
      ...by((run) => wake(run, false)),
      ...by((run) => wake(run, true)),
      toTime(now),
      runs.map((run) => run.id),
    ],
  );
  await addCounts(
    db,
    runs.flatMap((run) => moved(run, run.was.status, run.state.status)),
  );
  for (const run of runs) run.was = { status: run.state.status, wakes: nextWake(run.state) !== null };
}

/** Sets a run aside that Playa itself cannot take further. Nothing of it is lost. */
export async function holdRun(db: Queryable, id: number, trouble: string, now: number): Promise<void> {
  const [run] = await select<{
    brandId: number;
    workflowId: number;
    itemId: number;
    status: Run['status'];
    created: Date;
  }>(
    db,
    `SELECT brand_id AS brandId, workflow_id AS workflowId, item_id AS itemId, status, created_at AS created
     FROM runs WHERE id = ? FOR UPDATE`,
    [id],
  );
  if (!run) return;
  const says = cutUnits(trouble, 500);
  await change(db, "UPDATE runs SET status = 'held', trouble = ?, due_at = NULL, changed_at = ? WHERE id = ?", [
    says,
    toTime(now),
    id,
  ]);
  await addCounts(db, moved({ ...run, createdAt: fromTime(run.created) }, run.status, 'held'));
  await keepStuck(db, { ...run, id }, says, now);
}

/** The version that a run is on; 0 for a run that is gone. */
export async function versionOfRun(db: Queryable, id: number): Promise<number> {
  return (await select<{ version: number }>(db, 'SELECT version FROM runs WHERE id = ?', [id]))[0]?.version ?? 0;
}
