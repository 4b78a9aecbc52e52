import { randomUUID } from 'node:crypto';
import { change, fromTimeOrNull, select, toTime, type Queryable } from '../db/database.ts';

export type WatchKind = 'feed';
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
});

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
  },
): Promise<number> {
  await change(
    db,
    'INSERT IGNORE INTO watches (brand_id, source_key, kind, params, name, things, every_seconds) VALUES (?, ?, ?, ?, ?, ?, ?)',
    [
      watch.brandId,
      watch.sourceKey,
      watch.kind,
      JSON.stringify(watch.params),
      watch.name,
      watch.things,
      watch.everySeconds,
    ],
  );
  const [row] = await select<{ id: number }>(db, 'SELECT id FROM watches WHERE brand_id = ? AND source_key = ?', [
    watch.brandId,
    watch.sourceKey,
  ]);
  return row!.id;
}

export async function watchesOf(db: Queryable, brandId: number): Promise<Watch[]> {
  return (await select<Row>(db, 'SELECT * FROM watches WHERE brand_id = ? ORDER BY id', [brandId])).map(read);
}

export async function watchBy(db: Queryable, brandId: number, id: number): Promise<Watch | undefined> {
  return (await select<Row>(db, 'SELECT * FROM watches WHERE brand_id = ? AND id = ?', [brandId, id])).map(read)[0];
}

export interface ClaimedWatch extends Watch {
  lease: string;
}

/** Claims watches that are due, each for one worker. A claim is lost after `leaseMs`. Run inside a transaction. */
export async function claimDueWatches(
  db: Queryable,
  now: number,
  leaseMs: number,
  most: number,
): Promise<ClaimedWatch[]> {
  const rows = await select<Row>(
    db,
    'SELECT * FROM watches WHERE due_at <= ? ORDER BY due_at LIMIT ? FOR UPDATE SKIP LOCKED',
    [toTime(now), most],
  );
  return leaseAll(db, rows, now + leaseMs);
}

/** Claims one watch now, whatever its time; waits for whoever holds its row. */
export async function claimWatch(db: Queryable, id: number, now: number, leaseMs: number): Promise<ClaimedWatch> {
  const rows = await select<Row>(db, 'SELECT * FROM watches WHERE id = ? FOR UPDATE', [id]);
  return (await leaseAll(db, rows, now + leaseMs))[0]!;
}

async function leaseAll(db: Queryable, rows: Row[], until: number): Promise<ClaimedWatch[]> {
  const claimed: ClaimedWatch[] = [];
  for (const row of rows) {
    const lease = randomUUID();
    await change(db, 'UPDATE watches SET lease = ?, due_at = ? WHERE id = ?', [lease, toTime(until), row.id]);
    claimed.push({ ...read(row), lease });
  }
  return claimed;
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
  },
): Promise<void> {
  await change(
    db,
    `UPDATE watches SET lease = NULL, due_at = ?, last_look_at = ?, trouble = ?, failures = IF(?, 0, failures + 1),
       last_ok_at = IF(?, ?, last_ok_at), first_look_at = IF(?, COALESCE(first_look_at, ?), first_look_at),
       memory = COALESCE(?, memory), note = IF(?, ?, note) WHERE id = ?`,
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
      id,
    ],
  );
}

/** Starts looking regularly, or stops when no live workflow uses the watch any more. */
export async function scheduleWatches(db: Queryable, brandId: number, now: number): Promise<void> {
  const used = `EXISTS (SELECT 1 FROM subscriptions s JOIN workflows f ON f.id = s.workflow_id WHERE s.watch_id = watches.id AND f.status = 'live')`;
  await change(db, `UPDATE watches SET due_at = ? WHERE brand_id = ? AND due_at IS NULL AND ${used}`, [
    toTime(now),
    brandId,
  ]);
  await change(db, `UPDATE watches SET due_at = NULL WHERE brand_id = ? AND lease IS NULL AND NOT ${used}`, [brandId]);
}

export async function isWatched(db: Queryable, watchId: number): Promise<boolean> {
  const rows = await select(
    db,
    "SELECT 1 FROM subscriptions s JOIN workflows f ON f.id = s.workflow_id WHERE s.watch_id = ? AND f.status = 'live' LIMIT 1",
    [watchId],
  );
  return rows.length > 0;
}
