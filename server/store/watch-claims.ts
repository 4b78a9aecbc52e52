// One worker looks at a source at a time: claims of looks, and what came of them.
import { randomUUID } from 'node:crypto';
import { change, select, toTime, type Queryable } from '../db/database.ts';
import { type WatchKind, type Watch, type Row, read } from './watches.ts';

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
       w.due_at = IF(w.desk = 1 OR EXISTS (SELECT 1 FROM subscriptions s JOIN workflows f ON f.id = s.workflow_id WHERE s.watch_id = w.id AND f.status IN ('live', 'paused')),
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
