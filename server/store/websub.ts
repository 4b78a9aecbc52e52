import { cutUnits } from '@playa/core/text/graphemes.ts';
import { change, fromTimeOrNull, select, toTime, type Queryable } from '../db/database.ts';

/** A subscription at a hub. */
export interface WebSub {
  watchId: number;
  brandId: number;
  hub: string;
  topic: string;
  sealedCallback: Buffer;
  sealedSecret: Buffer;
  status: 'idle' | 'asked' | 'active' | 'denied';
  until: number | null;
  renewAt: number | null;
  trouble: string | null;
  lastPushAt: number | null;
}
interface Row {
  watch_id: number;
  brand_id: number;
  hub: string;
  topic: string;
  sealed_callback: Buffer;
  sealed_secret: Buffer;
  status: WebSub['status'];
  until: Date | null;
  renew_at: Date | null;
  trouble: string | null;
  last_push_at: Date | null;
}
const read = (row: Row): WebSub => ({
  watchId: row.watch_id,
  brandId: row.brand_id,
  hub: row.hub,
  topic: row.topic,
  sealedCallback: row.sealed_callback,
  sealedSecret: row.sealed_secret,
  status: row.status,
  until: fromTimeOrNull(row.until),
  renewAt: fromTimeOrNull(row.renew_at),
  trouble: row.trouble,
  lastPushAt: fromTimeOrNull(row.last_push_at),
});

export async function websubOf(db: Queryable, watchId: number): Promise<WebSub | undefined> {
  return (await select<Row>(db, 'SELECT * FROM websub WHERE watch_id = ?', [watchId])).map(read)[0];
}

export async function websubByCallback(db: Queryable, hash: Buffer): Promise<WebSub | undefined> {
  return (await select<Row>(db, 'SELECT * FROM websub WHERE callback_hash = ?', [hash])).map(read)[0];
}

/** Keeps what a subscription is about to be asked with. */
export async function keepWebsub(
  db: Queryable,
  sub: Pick<WebSub, 'watchId' | 'brandId' | 'hub' | 'topic' | 'sealedCallback' | 'sealedSecret'> & {
    callbackHash: Buffer;
  },
  renewAt: number,
): Promise<void> {
  await change(
    db,
    `INSERT INTO websub (watch_id, brand_id, hub, topic, callback_hash, sealed_callback, sealed_secret, status, renew_at) VALUES (?, ?, ?, ?, ?, ?, ?, 'asked', ?)
     ON DUPLICATE KEY UPDATE hub = VALUES(hub), topic = VALUES(topic), callback_hash = VALUES(callback_hash),
       sealed_callback = VALUES(sealed_callback), sealed_secret = VALUES(sealed_secret), status = 'asked', renew_at = VALUES(renew_at), trouble = NULL`,
    [
      sub.watchId,
      sub.brandId,
      sub.hub,
      sub.topic,
      sub.callbackHash,
      sub.sealedCallback,
      sub.sealedSecret,
      toTime(renewAt),
    ],
  );
}

/** The hub has verified the intent: the subscription holds until its lease ends. */
export async function activateWebsub(db: Queryable, watchId: number, until: number, renewAt: number): Promise<void> {
  await change(db, "UPDATE websub SET status = 'active', until = ?, renew_at = ?, trouble = NULL WHERE watch_id = ?", [
    toTime(until),
    toTime(renewAt),
    watchId,
  ]);
}

export async function denyWebsub(db: Queryable, watchId: number, trouble: string, renewAt: number): Promise<void> {
  await change(db, "UPDATE websub SET status = 'denied', until = NULL, trouble = ?, renew_at = ? WHERE watch_id = ?", [
    cutUnits(trouble, 500),
    toTime(renewAt),
    watchId,
  ]);
}

export async function notePush(db: Queryable, watchId: number, now: number): Promise<void> {
  await change(db, 'UPDATE websub SET last_push_at = ? WHERE watch_id = ?', [toTime(now), watchId]);
}

/** Takes subscriptions that are to be renewed, putting the next try off so that only one worker asks. */
export async function takeDueRenewals(db: Queryable, now: number, again: number, most: number): Promise<WebSub[]> {
  const rows = await select<Row>(
    db,
    'SELECT * FROM websub WHERE renew_at <= ? ORDER BY renew_at LIMIT ? FOR UPDATE SKIP LOCKED',
    [toTime(now), most],
  );
  if (rows.length > 0)
    await change(db, 'UPDATE websub SET renew_at = ? WHERE watch_id IN (?)', [
      toTime(again),
      rows.map((row) => row.watch_id),
    ]);
  return rows.map(read);
}

/** Remembers a hub to subscribe to once a live workflow listens. */
export async function idleWebsub(
  db: Queryable,
  sub: Pick<WebSub, 'watchId' | 'brandId' | 'hub' | 'topic' | 'sealedCallback' | 'sealedSecret'> & {
    callbackHash: Buffer;
  },
): Promise<void> {
  await keepWebsub(db, sub, 0);
  await change(db, "UPDATE websub SET status = 'idle', renew_at = NULL, until = NULL WHERE watch_id = ?", [
    sub.watchId,
  ]);
}

/** Has hubs asked to tell, now that a live workflow listens. */
export async function wakeWebsubs(db: Queryable, brandId: number, now: number): Promise<void> {
  await change(
    db,
    `UPDATE websub SET renew_at = ? WHERE brand_id = ? AND status = 'idle' AND EXISTS (
       SELECT 1 FROM subscriptions s JOIN workflows f ON f.id = s.workflow_id WHERE s.watch_id = websub.watch_id AND f.status = 'live')`,
    [toTime(now), brandId],
  );
}

export async function forgetWebsub(db: Queryable, watchId: number): Promise<void> {
  await change(db, 'DELETE FROM websub WHERE watch_id = ?', [watchId]);
}
