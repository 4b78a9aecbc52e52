// What is known of things whose workflow waits for a condition to turn true.
import type { Readiness } from '@playa/core/triggers/tell.ts';
import { change, fromTime, fromTimeOrNull, select, toTime, type Queryable } from '../db/database.ts';
import { read, type Row as ItemRow, type StoredItem } from './items.ts';

/** A workflow that waits, and the source it waits at. */
export interface Waits {
  brandId: number;
  workflowId: number;
  watchId: number;
}

/** What is known of a thing, locked; null when nothing is. */
export async function lockReadiness(db: Queryable, workflowId: number, itemId: number): Promise<Readiness | null> {
  const [row] = await select<{ holds: number; turns_at: Date | null }>(
    db,
    'SELECT holds, turns_at FROM readiness WHERE workflow_id = ? AND item_id = ? FOR UPDATE',
    [workflowId, itemId],
  );
  return row ? { holds: row.holds === 1, turnsAt: fromTimeOrNull(row.turns_at) } : null;
}

/** Keeps what is known of things, in place of what was. */
export async function keepReadiness(
  db: Queryable,
  { brandId, workflowId, watchId }: Waits,
  known: readonly (Readiness & { itemId: number })[],
): Promise<void> {
  if (known.length === 0) return;
  await change(
    db,
    `INSERT INTO readiness (workflow_id, item_id, brand_id, watch_id, holds, turns_at) VALUES ?
     ON DUPLICATE KEY UPDATE watch_id = VALUES(watch_id), holds = VALUES(holds), turns_at = VALUES(turns_at)`,
    [
      known.map(({ itemId, holds, turnsAt }) => [
        workflowId,
        itemId,
        brandId,
        watchId,
        holds,
        turnsAt === null ? null : toTime(turnsAt),
      ]),
    ],
  );
}

/** Forgets what is known of the things of a workflow, at one source or at all. */
export async function forgetReadiness(db: Queryable, workflowId: number, watchId?: number): Promise<void> {
  await change(
    db,
    `DELETE FROM readiness WHERE workflow_id = ?${watchId === undefined ? '' : ' AND watch_id = ?'}`,
    watchId === undefined ? [workflowId] : [workflowId, watchId],
  );
}

/** A thing whose condition turns by itself. */
export interface Turning extends Waits {
  itemId: number;
  turnsAt: number;
}

/** Things of live workflows whose condition turns by a moment, soonest first. */
export async function turningBy(db: Queryable, moment: number, most: number): Promise<Turning[]> {
  const rows = await select<Omit<Turning, 'turnsAt'> & { turnsAt: Date }>(
    db,
    `SELECT t.brand_id AS brandId, t.workflow_id AS workflowId, t.watch_id AS watchId, t.item_id AS itemId, t.turns_at AS turnsAt
     FROM readiness t JOIN workflows f ON f.id = t.workflow_id
     WHERE t.turns_at <= ? AND f.status = 'live' ORDER BY t.turns_at LIMIT ?`,
    [toTime(moment), most],
  );
  return rows.map((row) => ({ ...row, turnsAt: fromTime(row.turnsAt) }));
}

/** When the next thing of a live workflow turns; null when none does. */
export async function nextTurning(db: Queryable): Promise<number | null> {
  const [row] = await select<{ next: Date | null }>(
    db,
    `SELECT MIN(t.turns_at) AS next FROM readiness t JOIN workflows f ON f.id = t.workflow_id WHERE f.status = 'live'`,
  );
  return fromTimeOrNull(row?.next ?? null);
}

/** Looks at a thing again at a moment; null for never. */
export async function putOffTurning(
  db: Queryable,
  { workflowId, itemId }: Pick<Turning, 'workflowId' | 'itemId'>,
  at: number | null,
): Promise<void> {
  await change(db, 'UPDATE readiness SET turns_at = ? WHERE workflow_id = ? AND item_id = ?', [
    at === null ? null : toTime(at),
    workflowId,
    itemId,
  ]);
}

/** The things at a source that a workflow knows nothing of yet, in pages by their number. Gone ones are left out. */
export async function itemsToWaitFor(
  db: Queryable,
  { workflowId, watchId }: Waits,
  after: number,
  most: number,
): Promise<StoredItem[]> {
  const rows = await select<ItemRow>(
    db,
    `SELECT i.* FROM items i LEFT JOIN readiness t ON t.workflow_id = ? AND t.item_id = i.id
     WHERE i.watch_id = ? AND i.id > ? AND i.gone = 0 AND t.item_id IS NULL ORDER BY i.id LIMIT ?`,
    [workflowId, watchId, after, most],
  );
  return rows.map(read);
}

/** The things at a source whose condition did not hold when it was last looked at, in pages by their number. */
export async function itemsNotReady(
  db: Queryable,
  { workflowId, watchId }: Waits,
  after: number,
  most: number,
): Promise<StoredItem[]> {
  const rows = await select<ItemRow>(
    db,
    `SELECT i.* FROM readiness t JOIN items i ON i.id = t.item_id
     WHERE t.workflow_id = ? AND t.watch_id = ? AND t.item_id > ? AND t.holds = 0 AND i.gone = 0 ORDER BY t.item_id LIMIT ?`,
    [workflowId, watchId, after, most],
  );
  return rows.map(read);
}

/** What a workflow has done about a thing so far. */
export interface DoneAbout {
  /** The number that the next run about it has. */
  occurrence: number;
  /** One is under way. */
  open: boolean;
  /** One that was withdrawn has yet to hear of a change, by which it may come back. */
  mayComeBack: boolean;
  /** Something went out for it. */
  wentOut: boolean;
}

export async function doneAbout(db: Queryable, workflowId: number, itemId: number): Promise<DoneAbout> {
  const [row] = await select<{ next: number; open: number; back: number; went: number }>(
    db,
    `SELECT COALESCE(MAX(r.occurrence) + 1, 0) AS next,
       COALESCE(SUM(r.status IN ('new', 'waiting', 'held')), 0) AS open,
       COALESCE(SUM(r.status = 'stopped' AND r.withdrawn = 1 AND r.changed = 1), 0) AS back,
       EXISTS (SELECT 1 FROM runs o JOIN logbook l ON l.run_id = o.id
         WHERE o.workflow_id = ? AND o.item_id = ? AND l.action IN ('publish', 'reply', 'message')) AS went
     FROM runs r WHERE r.workflow_id = ? AND r.item_id = ?`,
    [workflowId, itemId, workflowId, itemId],
  );
  return {
    occurrence: Number(row?.next ?? 0),
    open: Number(row?.open ?? 0) > 0,
    mayComeBack: Number(row?.back ?? 0) > 0,
    wentOut: row?.went === 1,
  };
}
