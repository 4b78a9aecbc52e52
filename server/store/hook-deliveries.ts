// What was sent to web hooks.
import { cutUnits } from '@playa/core/text/graphemes.ts';
import {
  change,
  toTime,
  inTransaction,
  select,
  fromTime,
  fromTimeOrNull,
  type Queryable,
  type Pool,
} from '../db/database.ts';

/** Something that was sent to a hook. */
export interface Delivery {
  id: number;
  watchId: number;
  brandId: number;
  messageHash: Buffer;
  body: Buffer;
  contentType: string;
  receivedAt: number;
  test: boolean;
}

/** Stores a delivery, unless it has been stored before. Returns whether it is new. */
export async function addDelivery(
  db: Queryable,
  delivery: {
    watchId: number;
    brandId: number;
    messageHash: Buffer;
    /** Where the body is what it is known by. */
    bodyHash?: Buffer | undefined;
    body: Buffer;
    contentType: string;
    test: boolean;
  },
  now: number,
): Promise<boolean> {
  const added = await change(
    db,
    'INSERT IGNORE INTO deliveries (watch_id, brand_id, message_hash, body_hash, body, content_type, received_at, test) VALUES (?, ?, ?, ?, ?, ?, ?, ?)',
    [
      delivery.watchId,
      delivery.brandId,
      delivery.messageHash,
      delivery.bodyHash ?? null,
      delivery.body,
      cutUnits(delivery.contentType, 200),
      toTime(now),
      delivery.test,
    ],
  );
  return added.rows > 0;
}

/**
 * Stores a delivery that names itself by its body alone, unless the same body came within a time before: then it is its
 * sender trying again. Whoever sends the same at the same time waits, so that one of them is seen by the other.
 *
 * @param since milliseconds since 1970 UTC
 * @returns whether it was taken as new
 */
export async function addDeliveryByBody(
  pool: Pool,
  delivery: Parameters<typeof addDelivery>[1] & { bodyHash: Buffer },
  since: number,
  now: number,
): Promise<boolean> {
  return inTransaction(pool, async (db) => {
    // The hook's own row is what those that come at once wait for.
    await select(db, 'SELECT watch_id FROM hooks WHERE watch_id = ? FOR UPDATE', [delivery.watchId]);
    const before = await select(
      db,
      'SELECT 1 FROM deliveries WHERE watch_id = ? AND body_hash = ? AND received_at > ? LIMIT 1',
      [delivery.watchId, delivery.bodyHash, toTime(since)],
    );
    return before.length === 0 && addDelivery(db, delivery, now);
  });
}

/** Locks deliveries that nobody has read yet; others skip them. */
export async function lockUnread(db: Queryable, most: number): Promise<Delivery[]> {
  const rows = await select<{
    id: number;
    watch_id: number;
    brand_id: number;
    message_hash: Buffer;
    body: Buffer;
    content_type: string;
    received_at: Date;
    test: number;
  }>(db, 'SELECT * FROM deliveries WHERE read_at IS NULL ORDER BY id LIMIT ? FOR UPDATE SKIP LOCKED', [most]);
  return rows.map((row) => ({
    id: row.id,
    watchId: row.watch_id,
    brandId: row.brand_id,
    messageHash: row.message_hash,
    body: row.body,
    contentType: row.content_type,
    receivedAt: fromTime(row.received_at),
    test: row.test === 1,
  }));
}

export async function markRead(
  db: Queryable,
  id: number,
  result: { itemId: number | null; trouble: string | null },
  now: number,
): Promise<void> {
  await change(db, 'UPDATE deliveries SET read_at = ?, item_id = ?, trouble = ? WHERE id = ?', [
    toTime(now),
    result.itemId,
    result.trouble === null ? null : cutUnits(result.trouble, 500),
    id,
  ]);
}

/** What came lately, newest first, for showing. */
export async function recentDeliveries(
  db: Queryable,
  brandId: number,
  watchId: number,
  most: number,
): Promise<
  { id: number; receivedAt: number; readAt: number | null; test: boolean; trouble: string | null; body: string }[]
> {
  const rows = await select<{
    id: number;
    received_at: Date;
    read_at: Date | null;
    test: number;
    trouble: string | null;
    body: Buffer;
  }>(
    db,
    'SELECT id, received_at, read_at, test, trouble, SUBSTRING(body, 1, 20000) AS body FROM deliveries WHERE brand_id = ? AND watch_id = ? ORDER BY id DESC LIMIT ?',
    [brandId, watchId, most],
  );
  return rows.map((row) => ({
    id: row.id,
    receivedAt: fromTime(row.received_at),
    readAt: fromTimeOrNull(row.read_at),
    test: row.test === 1,
    trouble: row.trouble,
    body: row.body.toString('utf8'),
  }));
}

/** Bodies that were read long ago; what they made is kept as items. */
export async function forgetDeliveries(db: Queryable, before: number, most: number): Promise<void> {
  await change(db, 'DELETE FROM deliveries WHERE read_at < ? LIMIT ?', [toTime(before), most]);
}
