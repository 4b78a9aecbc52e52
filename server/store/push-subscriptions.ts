import { change, select, toTime, type Queryable } from '../db/database.ts';

/** Where a network calls when there is something new. */
export interface PushSubscription {
  watchId: number;
  brandId: number;
  sealedSecret: Buffer;
  remoteId: string;
  lastPushedAt: number | null;
}
interface Row {
  watch_id: number;
  brand_id: number;
  sealed_secret: Buffer;
  remote_id: string;
  last_pushed_at: Date | null;
}
const read = (row: Row): PushSubscription => ({
  watchId: row.watch_id,
  brandId: row.brand_id,
  sealedSecret: row.sealed_secret,
  remoteId: row.remote_id,
  lastPushedAt: row.last_pushed_at?.getTime() ?? null,
});

export async function subscriptionOf(db: Queryable, watchId: number): Promise<PushSubscription | undefined> {
  return (await select<Row>(db, 'SELECT * FROM push_subscriptions WHERE watch_id = ?', [watchId])).map(read)[0];
}

/** The subscription behind the secret part of its address. */
export async function subscriptionByToken(db: Queryable, tokenHash: Buffer): Promise<PushSubscription | undefined> {
  return (await select<Row>(db, 'SELECT * FROM push_subscriptions WHERE token_hash = ?', [tokenHash])).map(read)[0];
}

export async function keepSubscription(
  db: Queryable,
  push: { watchId: number; brandId: number; tokenHash: Buffer; sealedSecret: Buffer; remoteId: string },
  now: number,
): Promise<void> {
  await change(
    db,
    'REPLACE INTO push_subscriptions (watch_id, brand_id, token_hash, sealed_secret, remote_id, since) VALUES (?, ?, ?, ?, ?, ?)',
    [push.watchId, push.brandId, push.tokenHash, push.sealedSecret, push.remoteId, toTime(now)],
  );
}

export async function notePush(db: Queryable, watchId: number, now: number): Promise<void> {
  await change(db, 'UPDATE push_subscriptions SET last_pushed_at = ? WHERE watch_id = ?', [toTime(now), watchId]);
}

export async function dropSubscription(db: Queryable, watchId: number): Promise<void> {
  await change(db, 'DELETE FROM push_subscriptions WHERE watch_id = ?', [watchId]);
}
