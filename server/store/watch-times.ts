// When sources are looked at: as a rule, at once, or no longer.
import { wakeWebsubs } from './websub.ts';
import { change, fromTimeOrNull, select, toTime, type Queryable } from '../db/database.ts';

/** Starts looking regularly, or stops when neither a live workflow nor the desk uses the watch any more. */
export async function scheduleWatches(db: Queryable, brandId: number, now: number): Promise<void> {
  const used = `(watches.desk = 1 OR EXISTS (SELECT 1 FROM subscriptions s JOIN workflows f ON f.id = s.workflow_id WHERE s.watch_id = watches.id AND f.status IN ('live', 'paused')))`;
  await change(
    db,
    `UPDATE watches SET due_at = ? WHERE brand_id = ? AND kind NOT IN ('hook', 'sheet', 'written') AND due_at IS NULL AND ${used}`,
    [toTime(now), brandId],
  );
  await change(db, `UPDATE watches SET due_at = NULL WHERE brand_id = ? AND lease IS NULL AND NOT ${used}`, [brandId]);
  await wakeWebsubs(db, brandId, now);
}

/**
 * Has watches looked at once that no live workflow keeps being looked at: somebody has them open. Not more often than if one
 * did, and never what is only told (hooks).
 *
 * @returns how many
 */
export async function wakeIdleWatches(
  db: Queryable,
  brandId: number,
  ids: readonly number[],
  now: number,
): Promise<number> {
  if (ids.length === 0) return 0;
  const woken = await change(
    db,
    `UPDATE watches SET due_at = ? WHERE brand_id = ? AND id IN (?) AND due_at IS NULL AND lease IS NULL AND kind NOT IN ('hook', 'sheet', 'written')
       AND (last_look_at IS NULL OR last_look_at < TIMESTAMPADD(SECOND, -every_seconds, ?))`,
    [toTime(now), brandId, ids, toTime(now)],
  );
  return woken.rows;
}

export async function isWatched(db: Queryable, watchId: number): Promise<boolean> {
  const rows = await select(
    db,
    `SELECT 1 FROM watches WHERE id = ? AND desk = 1
     UNION SELECT 1 FROM subscriptions s JOIN workflows f ON f.id = s.workflow_id WHERE s.watch_id = ? AND f.status IN ('live', 'paused') LIMIT 1`,
    [watchId, watchId],
  );
  return rows.length > 0;
}

/** The intervals of the other sources at a host that are being looked at, for sharing its budget. */
export async function intervalsAtHost(db: Queryable, watchId: number): Promise<number[]> {
  const rows = await select<{ ms: number }>(
    db,
    `SELECT COALESCE(o.interval_ms, o.every_seconds * 1000) AS ms FROM watches w JOIN watches o ON o.host = w.host AND o.id <> w.id
     WHERE w.id = ? AND o.due_at IS NOT NULL LIMIT 5000`,
    [watchId],
  );
  return rows.map((row) => Number(row.ms));
}

/** When the last items of a watch were published and seen, newest first. */
export async function momentsOf(
  db: Queryable,
  watchId: number,
  most: number,
): Promise<{ publishedAt: number | null; seenAt: number; past: boolean }[]> {
  const rows = await select<{ published_at: Date | null; seen_at: Date; past: number }>(
    db,
    'SELECT published_at, seen_at, past FROM items WHERE watch_id = ? ORDER BY seen_at DESC, id DESC LIMIT ?',
    [watchId, most],
  );
  return rows.map((row) => ({
    publishedAt: fromTimeOrNull(row.published_at),
    seenAt: row.seen_at.getTime(),
    past: row.past === 1,
  }));
}

/** Looks anew, at once, at what an account sees: it was connected again. */
export async function resumeWatches(db: Queryable, accountId: number, now: number): Promise<void> {
  await change(
    db,
    "UPDATE watches SET due_at = ?, lease = NULL, failures = 0 WHERE account_id = ? AND kind = 'network' AND due_at IS NOT NULL",
    [toTime(now), accountId],
  );
}

/** A network has pushed: the watch is looked at at once. A look that is going on may have missed it, and counts as lost. */
export async function hastenWatch(db: Queryable, id: number, now: number): Promise<void> {
  await change(db, 'UPDATE watches SET due_at = ?, lease = NULL WHERE id = ? AND due_at IS NOT NULL', [
    toTime(now),
    id,
  ]);
}

/** After so many failures in a row a source is not waited for. */
const GIVEN_UP = 5;

/** Of some watches, those that an account is asked for and that have not been looked at since a moment. */
export async function watchesToLookAt(db: Queryable, ids: readonly number[], since: number): Promise<Set<number>> {
  const rows = await select<{ id: number }>(
    db,
    `SELECT id FROM watches WHERE id IN (?) AND kind = 'network' AND due_at IS NOT NULL AND failures < ?
       AND (last_ok_at IS NULL OR last_ok_at < ?)`,
    [ids, GIVEN_UP, toTime(since)],
  );
  return new Set(rows.map((row) => row.id));
}

/**
 * Has a watch looked at now, unless that is already going on. Whoever has claimed it for longer than a look usually takes
 * may be dead, and is not waited for.
 *
 * @param leaseMs how long a claim lasts
 */
export async function hastenLook(db: Queryable, id: number, now: number, leaseMs: number): Promise<void> {
  await change(db, 'UPDATE watches SET due_at = ? WHERE id = ? AND due_at > ? AND (lease IS NULL OR due_at < ?)', [
    toTime(now),
    id,
    toTime(now),
    toTime(now + leaseMs - USUAL_LOOK),
  ]);
}

/**
 * Has the sources that fill the desk looked at once: somebody has it open. Not more often than a source that speaks all
 * the time is looked at.
 *
 * @returns how many
 */
export async function hastenDesk(db: Queryable, brandId: number, now: number): Promise<number> {
  const hastened = await change(
    db,
    `UPDATE watches w SET w.due_at = ?
     WHERE w.brand_id = ? AND w.kind = 'network' AND w.due_at > ? AND w.lease IS NULL
       AND w.last_look_at < TIMESTAMPADD(SECOND, -w.every_seconds, ?)
       AND (w.desk = 1 OR EXISTS (SELECT 1 FROM items i JOIN desk_entries d ON d.item_id = i.id WHERE i.watch_id = w.id))`,
    [toTime(now), brandId, toTime(now), toTime(now)],
  );
  return hastened.rows;
}

/** A look that takes longer than this is an odd one, milliseconds. */
const USUAL_LOOK = 15_000;
