import { createHash, randomUUID } from 'node:crypto';
import { traceSchema, type Trace } from '@playa/core/model/cells.ts';
import { nextWake, runStateSchema, type RunState } from '@playa/core/model/state.ts';
import { upgradeState } from '@playa/core/engine/upgrade.ts';
import { cutUnits } from '@playa/core/text/graphemes.ts';
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
const read = (row: Row): Run => ({
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
  state: row.state === null ? null : runStateSchema.parse(upgradeState(JSON.parse(row.state))),
  trace: traceSchema.parse(JSON.parse(row.trace)),
  trouble: row.trouble,
  dueAt: fromTimeOrNull(row.due_at),
  createdAt: fromTime(row.created_at),
  changedAt: fromTime(row.changed_at),
});

/** A run whose state cannot be read: by another version of Playa it was written, or it was damaged. */
export interface UnreadableRun {
  id: number;
  brandId: number;
  workflowId: number;
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
      unreadable.push({ id: row.id, brandId: row.brand_id, workflowId: row.workflow_id, error });
    }
  }
  return { runs, unreadable };
}

/** A run for showing: one that cannot be read is shown without what it had come to. */
function readForShow(row: Row): Run {
  try {
    return read(row);
  } catch {
    return read({ ...row, state: null, trace: '{}', trouble: row.trouble ?? UNREADABLE });
  }
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
}

export const orderHash = (order: string): Buffer => createHash('sha256').update(order).digest();

/** Starts a run, unless the workflow has already had one for this item. Returns whether it did. */
export async function addRun(db: Queryable, run: NewRun): Promise<boolean> {
  const added = await change(
    db,
    `INSERT IGNORE INTO runs (uuid, brand_id, workflow_id, version, item_id, occurrence, item_revision, order_hash, backfill, status, trace, due_at, created_at, changed_at)
     VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, 'new', '{}', ?, ?, ?)`,
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
      toTime(run.dueAt),
      toTime(run.now),
      toTime(run.now),
    ],
  );
  return added.rows > 0;
}

/** Ends the part of the past that has not begun. Returns how many runs that were. */
export async function dropBackfill(db: Queryable, brandId: number, workflowId: number): Promise<number> {
  const done = await change(
    db,
    "DELETE FROM runs WHERE brand_id = ? AND workflow_id = ? AND backfill = 1 AND status = 'new'",
    [brandId, workflowId],
  );
  return done.rows;
}

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

export async function lockRun(db: Queryable, id: number): Promise<Run | undefined> {
  return (await select<Row>(db, 'SELECT * FROM runs WHERE id = ? FOR UPDATE', [id])).map(read)[0];
}

export async function runBy(db: Queryable, brandId: number, id: number): Promise<Run | undefined> {
  return (await select<Row>(db, 'SELECT * FROM runs WHERE brand_id = ? AND id = ?', [brandId, id])).map(read)[0];
}

/** Stores how far runs have come, and when they want to be woken; in a paused workflow they are not. */
export async function saveRuns(
  db: Queryable,
  runs: readonly Pick<SavedRun, 'id' | 'workflowId' | 'state' | 'stored' | 'changed'>[],
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

/**
 * Notes that the thing some runs are about has changed. Those that are under way are taken up at once; of those that ended
 * by an earlier change before anything was done, the last of each workflow may come back.
 *
 * @returns the workflows whose runs were met
 */
export async function markChanged(db: Queryable, itemId: number, now: number): Promise<Set<number>> {
  const rows = await select<{ id: number; workflow_id: number; status: Run['status'] }>(
    db,
    `SELECT id, workflow_id, status FROM runs WHERE item_id = ? AND trouble IS NULL
       AND (status IN ('new', 'waiting', 'held') OR withdrawn = 1) ORDER BY id`,
    [itemId],
  );
  const open = rows.filter((row) => row.status !== 'stopped');
  const workflows = new Set(open.map((row) => row.workflow_id));
  const ended = new Map(
    rows
      .filter((row) => row.status === 'stopped' && !workflows.has(row.workflow_id))
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

/** Of some items, those that a run is under way about. */
export async function itemsBeingAnswered(
  db: Queryable,
  brandId: number,
  itemIds: readonly number[],
): Promise<Set<number>> {
  if (itemIds.length === 0) return new Set();
  const rows = await select<{ item_id: number }>(
    db,
    "SELECT DISTINCT item_id FROM runs WHERE brand_id = ? AND item_id IN (?) AND status IN ('new', 'waiting', 'held')",
    [brandId, itemIds],
  );
  return new Set(rows.map((row) => row.item_id));
}

/** Stores which revision of its item a run is about from here on, and that it knows of the change. */
export async function setRunRevision(db: Queryable, id: number, revision: number, withdrawn: boolean): Promise<void> {
  await change(db, 'UPDATE runs SET item_revision = ?, changed = 0, withdrawn = ? WHERE id = ?', [
    revision,
    withdrawn,
    id,
  ]);
}

/** Puts off a run that is about to wake. */
export async function putOffRun(db: Queryable, id: number, at: number): Promise<void> {
  await change(db, 'UPDATE runs SET due_at = ? WHERE id = ?', [toTime(at), id]);
}

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

/** How many runs of a workflow have not ended, by what they wait for. */
export async function openRunCounts(
  db: Queryable,
  brandId: number,
  workflowId: number,
): Promise<{ new: number; waiting: number; held: number; backfill: number; old: number }> {
  const [row] = await select<Record<'fresh' | 'waiting' | 'held' | 'backfill' | 'old', string | null>>(
    db,
    `SELECT SUM(r.status = 'new') AS fresh, SUM(r.status = 'waiting') AS waiting, SUM(r.status = 'held') AS held,
       SUM(r.status = 'new' AND r.backfill) AS backfill, SUM(r.version <> f.live_version) AS old
     FROM runs r JOIN workflows f ON f.id = r.workflow_id
     WHERE r.brand_id = ? AND r.workflow_id = ? AND r.status IN ('new', 'waiting', 'held')`,
    [brandId, workflowId],
  );
  const count = (text: string | null | undefined) => Number(text ?? 0);
  return {
    new: count(row?.fresh),
    waiting: count(row?.waiting),
    held: count(row?.held),
    backfill: count(row?.backfill),
    old: count(row?.old),
  };
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

/** Sets a run aside that Playa itself cannot take further. Nothing of it is lost. */
export async function holdRun(db: Queryable, id: number, trouble: string, now: number): Promise<void> {
  await change(db, "UPDATE runs SET status = 'held', trouble = ?, due_at = NULL, changed_at = ? WHERE id = ?", [
    cutUnits(trouble, 500),
    toTime(now),
    id,
  ]);
}

/** A workflow's runs: those that wait for something first, then the newest. */
export async function runsOf(db: Queryable, brandId: number, workflowId: number, most: number): Promise<Run[]> {
  const rows = await select<Row>(
    db,
    `SELECT * FROM runs WHERE brand_id = ? AND workflow_id = ?
     ORDER BY FIELD(status, 'new', 'waiting', 'held') DESC, id DESC LIMIT ?`,
    [brandId, workflowId, most],
  );
  return rows.map(readForShow);
}

/** How many runs a workflow has had, by what became of them; and what went out in all. */
export interface RunCounts {
  runs: number;
  held: number;
  waiting: number;
  stopped: number;
  posts: number;
  /** Answers, letters, likes. */
  answers: number;
  /** Rows, labels, calls and the like. */
  others: number;
}

export async function runCounts(db: Queryable, brandId: number, workflowId: number): Promise<RunCounts> {
  const [row] = await select<Record<'runs' | 'held' | 'waiting' | 'stopped', string | number | null>>(
    db,
    `SELECT COUNT(*) AS runs, SUM(status = 'held') AS held, SUM(status IN ('new', 'waiting')) AS waiting,
       SUM(status = 'stopped') AS stopped FROM runs WHERE brand_id = ? AND workflow_id = ?`,
    [brandId, workflowId],
  );
  const [sent] = await select<Record<'posts' | 'answers' | 'total', string | number | null>>(
    db,
    `SELECT SUM(action = 'publish') AS posts, SUM(action IN ('reply', 'message', 'react')) AS answers, COUNT(*) AS total
     FROM logbook WHERE brand_id = ? AND workflow_id = ?`,
    [brandId, workflowId],
  );
  const count = (value: string | number | null | undefined) => Number(value ?? 0);
  const [posts, answers] = [count(sent?.posts), count(sent?.answers)];
  return {
    runs: count(row?.runs),
    held: count(row?.held),
    waiting: count(row?.waiting),
    stopped: count(row?.stopped),
    posts,
    answers,
    others: count(sent?.total) - posts - answers,
  };
}

/** Runs that wait for a person, oldest first. */
export async function heldRuns(db: Queryable, brandId: number, most: number): Promise<(Run & { workflow: string })[]> {
  const rows = await select<Row & { workflow: string }>(
    db,
    `SELECT r.*, f.name AS workflow FROM runs r JOIN workflows f ON f.id = r.workflow_id
     WHERE r.brand_id = ? AND r.status = 'held' ORDER BY r.changed_at LIMIT ?`,
    [brandId, most],
  );
  return rows.map((row) => ({ ...readForShow(row), workflow: row.workflow }));
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
  return rows.map((row) => ({ ...readForShow(row), workflow: row.workflow }));
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
