import { createHash, randomUUID } from 'node:crypto';
import { cutUnits } from '@playa/core/text/graphemes.ts';
import { z } from 'zod';
import type { FieldNames } from '@playa/core/items/rename.ts';
import { wakeWebsubs } from './websub.ts';
import { change, fromTimeOrNull, select, toTime, type Queryable } from '../db/database.ts';

export type WatchKind = 'feed' | 'hook' | 'schedule' | 'network';
export interface Watch {
  id: number;
  brandId: number;
  sourceKey: string;
  kind: WatchKind;
  params: unknown;
  name: string;
  things: string;
  memory: unknown;
  everySeconds: number;
  firstLookAt: number | null;
  lastLookAt: number | null;
  lastOkAt: number | null;
  failures: number;
  trouble: string | null;
  note: string | null;
  dueAt: number | null;
  /** Fields under names of people's own: from the path at the source. */
  names: FieldNames;
  /** How late items are usually seen, milliseconds. */
  usualDelay: number | null;
  /** How long until the next look, as the source's history suggests; milliseconds. */
  intervalMs: number | null;
}
interface Row {
  id: number;
  brand_id: number;
  source_key: string;
  kind: WatchKind;
  params: string;
  name: string;
  things: string;
  memory: string | null;
  every_seconds: number;
  first_look_at: Date | null;
  last_look_at: Date | null;
  last_ok_at: Date | null;
  failures: number;
  trouble: string | null;
  note: string | null;
  due_at: Date | null;
  names: string;
  usual_delay: number | null;
  interval_ms: number | null;
}
const read = (row: Row): Watch => ({
  id: row.id,
  brandId: row.brand_id,
  sourceKey: row.source_key,
  kind: row.kind,
  params: JSON.parse(row.params),
  name: row.name,
  things: row.things,
  memory: row.memory === null ? null : JSON.parse(row.memory),
  everySeconds: row.every_seconds,
  firstLookAt: fromTimeOrNull(row.first_look_at),
  lastLookAt: fromTimeOrNull(row.last_look_at),
  lastOkAt: fromTimeOrNull(row.last_ok_at),
  failures: row.failures,
  trouble: row.trouble,
  note: row.note,
  dueAt: fromTimeOrNull(row.due_at),
  names: row.names === '{}' ? NO_NAMES : namesSchema.parse(JSON.parse(row.names)),
  usualDelay: row.usual_delay,
  intervalMs: row.interval_ms,
});

const NO_NAMES: FieldNames = {};
const namesSchema = z.record(z.string(), z.string());

/** What makes two sources the same, as the column holds it: of a very long one its beginning and a hash of the whole. */
function storedKey(key: string): string {
  if (key.length <= 600) return key;
  return `${cutUnits(key, 530)}:${createHash('sha256').update(key).digest('hex')}`;
}

/** The brand's watch of a source; made when there is none, so that every workflow shares it. */
export async function keepWatch(
  db: Queryable,
  watch: {
    brandId: number;
    sourceKey: string;
    kind: WatchKind;
    params: unknown;
    name: string;
    things: string;
    everySeconds: number;
    /** The account that is asked. */
    accountId?: number;
  },
): Promise<number> {
  const sourceKey = storedKey(watch.sourceKey);
  await change(
    db,
    'INSERT IGNORE INTO watches (brand_id, source_key, kind, params, name, things, every_seconds, host, account_id) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)',
    [
      watch.brandId,
      sourceKey,
      watch.kind,
      JSON.stringify(watch.params),
      watch.name,
      watch.things,
      watch.everySeconds,
      watch.accountId === undefined ? hostOf(watch.params) : `account ${watch.accountId}`,
      watch.accountId ?? null,
    ],
  );
  const [row] = await select<{ id: number }>(db, 'SELECT id FROM watches WHERE brand_id = ? AND source_key = ?', [
    watch.brandId,
    sourceKey,
  ]);
  return row!.id;
}

export async function watchesOf(db: Queryable, brandId: number): Promise<Watch[]> {
  return (await select<Row>(db, 'SELECT * FROM watches WHERE brand_id = ? ORDER BY id', [brandId])).map(read);
}

export async function watchBy(db: Queryable, brandId: number, id: number): Promise<Watch | undefined> {
  return (await select<Row>(db, 'SELECT * FROM watches WHERE brand_id = ? AND id = ?', [brandId, id])).map(read)[0];
}

/** A watch under a look: only what asking for news takes. Most looks find nothing new, and read no more than this. */
export interface ClaimedWatch {
  id: number;
  kind: WatchKind;
  params: unknown;
  validators: { etag?: string; modified?: string };
  /** Whether it was being looked at regularly, rather than idle. */
  watched: boolean;
  lease: string;
}
interface ClaimedRow {
  id: number;
  watched: number;
  kind: WatchKind;
  params: string;
  etag: string | null;
  modified: string | null;
}
const CLAIMED = `SELECT id, kind, params, due_at IS NOT NULL AS watched, JSON_VALUE(memory, '$.validators.etag') AS etag,
  JSON_VALUE(memory, '$.validators.modified') AS modified FROM watches`;

/** Claims watches that are due, each for one worker. A claim is lost after `leaseMs`. Run inside a transaction. */
export async function claimDueWatches(
  db: Queryable,
  now: number,
  leaseMs: number,
  most: number,
): Promise<ClaimedWatch[]> {
  const rows = await select<ClaimedRow>(
    db,
    `${CLAIMED} WHERE due_at <= ? ORDER BY due_at LIMIT ? FOR UPDATE SKIP LOCKED`,
    [toTime(now), most],
  );
  return leaseAll(db, rows, now + leaseMs);
}

/** Claims one watch now, whatever its time; waits for whoever holds its row. */
export async function claimWatch(db: Queryable, id: number, now: number, leaseMs: number): Promise<ClaimedWatch> {
  const rows = await select<ClaimedRow>(db, `${CLAIMED} WHERE id = ? FOR UPDATE`, [id]);
  return (await leaseAll(db, rows, now + leaseMs))[0]!;
}

async function leaseAll(db: Queryable, rows: ClaimedRow[], until: number): Promise<ClaimedWatch[]> {
  if (rows.length === 0) return [];
  const lease = randomUUID();
  await change(db, 'UPDATE watches SET lease = ?, due_at = ? WHERE id IN (?)', [
    lease,
    toTime(until),
    rows.map((row) => row.id),
  ]);
  return rows.map(({ id, kind, params, watched, etag, modified }) => ({
    id,
    watched: watched === 1,
    kind,
    params: JSON.parse(params),
    validators: { ...(etag !== null && { etag }), ...(modified !== null && { modified }) },
    lease,
  }));
}

/** The whole of a watch that is being looked at. */
export async function claimedWatch(db: Queryable, id: number): Promise<Watch | undefined> {
  return (await select<Row>(db, 'SELECT * FROM watches WHERE id = ?', [id])).map(read)[0];
}

/** Locks a claimed watch for storing what was seen; false when the claim was lost meanwhile. */
export async function holdsLease(db: Queryable, id: number, lease: string): Promise<boolean> {
  return (await select(db, 'SELECT id FROM watches WHERE id = ? AND lease = ? FOR UPDATE', [id, lease])).length > 0;
}

export async function endLook(
  db: Queryable,
  id: number,
  look: {
    now: number;
    ok: boolean;
    memory?: unknown;
    trouble: string | null;
    /** What was odd in what was read; left as it was when nothing new was read. */
    note?: string | null;
    nextAt: number | null;
    intervalMs?: number;
    usualDelay?: number | null;
  },
): Promise<void> {
  await change(
    db,
    `UPDATE watches SET lease = NULL, due_at = ?, last_look_at = ?, trouble = ?, failures = IF(?, 0, failures + 1),
       last_ok_at = IF(?, ?, last_ok_at), first_look_at = IF(?, COALESCE(first_look_at, ?), first_look_at),
       memory = COALESCE(?, memory), note = IF(?, ?, note), interval_ms = COALESCE(?, interval_ms),
       usual_delay = COALESCE(?, usual_delay) WHERE id = ?`,
    [
      look.nextAt === null ? null : toTime(look.nextAt),
      toTime(look.now),
      look.trouble,
      look.ok,
      look.ok,
      toTime(look.now),
      look.ok,
      toTime(look.now),
      look.memory === undefined ? null : JSON.stringify(look.memory),
      look.note !== undefined,
      look.note ?? null,
      look.intervalMs ?? null,
      look.usualDelay ?? null,
      id,
    ],
  );
}

/** Starts looking regularly, or stops when no live workflow uses the watch any more. */
export async function scheduleWatches(db: Queryable, brandId: number, now: number): Promise<void> {
  const used = `EXISTS (SELECT 1 FROM subscriptions s JOIN workflows f ON f.id = s.workflow_id WHERE s.watch_id = watches.id AND f.status IN ('live', 'paused'))`;
  await change(
    db,
    `UPDATE watches SET due_at = ? WHERE brand_id = ? AND kind <> 'hook' AND due_at IS NULL AND ${used}`,
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
    `UPDATE watches SET due_at = ? WHERE brand_id = ? AND id IN (?) AND due_at IS NULL AND lease IS NULL AND kind <> 'hook'
       AND (last_look_at IS NULL OR last_look_at < TIMESTAMPADD(SECOND, -every_seconds, ?))`,
    [toTime(now), brandId, ids, toTime(now)],
  );
  return woken.rows;
}

export async function isWatched(db: Queryable, watchId: number): Promise<boolean> {
  const rows = await select(
    db,
    "SELECT 1 FROM subscriptions s JOIN workflows f ON f.id = s.workflow_id WHERE s.watch_id = ? AND f.status IN ('live', 'paused') LIMIT 1",
    [watchId],
  );
  return rows.length > 0;
}

function hostOf(params: unknown): string | null {
  const { url } = (params ?? {}) as { url?: unknown };
  return typeof url === 'string' && URL.canParse(url) ? cutUnits(new URL(url).host, 255) : null;
}

/**
 * Ends looks at which nothing had changed, many at once. The next is due after the interval that is known; a watch that
 * no live workflow uses any more is not looked at again.
 */
export async function endUnchangedLooks(
  db: Queryable,
  looks: readonly { id: number; lease: string }[],
  now: number,
): Promise<void> {
  if (looks.length === 0) return;
  await change(
    db,
    `UPDATE watches w SET w.lease = NULL, w.last_look_at = ?, w.last_ok_at = ?, w.trouble = NULL, w.failures = 0,
       w.due_at = IF(EXISTS (SELECT 1 FROM subscriptions s JOIN workflows f ON f.id = s.workflow_id WHERE s.watch_id = w.id AND f.status IN ('live', 'paused')),
         TIMESTAMPADD(MICROSECOND, 1000 * COALESCE(w.interval_ms, w.every_seconds * 1000), ?), NULL)
     WHERE w.id IN (?) AND w.lease IN (?)`,
    [
      toTime(now),
      toTime(now),
      toTime(now),
      looks.map((look) => look.id),
      [...new Set(looks.map((look) => look.lease))],
    ],
  );
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

export async function setWatchNames(db: Queryable, brandId: number, id: number, names: FieldNames): Promise<void> {
  await change(db, 'UPDATE watches SET names = ? WHERE brand_id = ? AND id = ?', [JSON.stringify(names), brandId, id]);
}

/** Looks anew, at once, at what an account sees: it was connected again. */
export async function resumeWatches(db: Queryable, accountId: number, now: number): Promise<void> {
  await change(
    db,
    "UPDATE watches SET due_at = ?, lease = NULL, failures = 0 WHERE account_id = ? AND kind = 'network' AND due_at IS NOT NULL",
    [toTime(now), accountId],
  );
}

/** A network has rung: the watch is looked at at once. A look that is going on may have missed it, and counts as lost. */
export async function ringWatch(db: Queryable, id: number, now: number): Promise<void> {
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

/** The outlet that a watch looks at with an account; null for feeds, hooks and schedules. */
export async function outletOfWatch(db: Queryable, id: number): Promise<number | null> {
  const [row] = await select<{ id: number }>(
    db,
    `SELECT o.id FROM watches w JOIN outlets o ON o.account_id = w.account_id AND o.remote_id = JSON_VALUE(w.params, '$.outlet')
     WHERE w.id = ?`,
    [id],
  );
  return row?.id ?? null;
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
/** A look that takes longer than this is an odd one, milliseconds. */
const USUAL_LOOK = 15_000;

/** The watches that an account is asked for. */
export async function watchesOfAccount(db: Queryable, accountId: number): Promise<Watch[]> {
  return (await select<Row>(db, 'SELECT * FROM watches WHERE account_id = ?', [accountId])).map(read);
}
