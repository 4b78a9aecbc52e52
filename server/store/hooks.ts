import { cutUnits } from '@playa/core/text/graphemes.ts';
import { DIALECT, jsonSchemaSchema, type JsonSchema } from '@playa/core/items/json-schema.ts';
import {
  change,
  fromTime,
  fromTimeOrNull,
  inTransaction,
  select,
  toTime,
  type Pool,
  type Queryable,
} from '../db/database.ts';

/** A secret address that somebody calls. */
export interface Hook {
  watchId: number;
  brandId: number;
  sealedToken: Buffer;
  /** Until when the address before this one works too; null when there is none. */
  oldUntil: number | null;
  /** The key senders sign with; null when signatures are not asked for. */
  sealedSecret: Buffer | null;
  identityField: string | null;
  schema: JsonSchema;
}
interface Row {
  watch_id: number;
  brand_id: number;
  sealed_token: Buffer;
  old_until: Date | null;
  sealed_secret: Buffer | null;
  identity_field: string | null;
  json_schema: string;
}
const read = (row: Row): Hook => ({
  watchId: row.watch_id,
  brandId: row.brand_id,
  sealedToken: row.sealed_token,
  oldUntil: fromTimeOrNull(row.old_until),
  sealedSecret: row.sealed_secret,
  identityField: row.identity_field,
  schema: jsonSchemaSchema.parse(JSON.parse(row.json_schema)),
});

export async function addHook(
  db: Queryable,
  hook: { watchId: number; brandId: number; tokenHash: Buffer; sealedToken: Buffer },
): Promise<void> {
  await change(
    db,
    'INSERT INTO hooks (watch_id, brand_id, token_hash, sealed_token, json_schema) VALUES (?, ?, ?, ?, ?)',
    [
      hook.watchId,
      hook.brandId,
      hook.tokenHash,
      hook.sealedToken,
      JSON.stringify({ $schema: DIALECT, type: 'object' }),
    ],
  );
}

/** The hook at an address, also at one that was replaced lately. */
export async function hookByToken(db: Queryable, tokenHash: Buffer, now: number): Promise<Hook | undefined> {
  return (
    await select<Row>(db, 'SELECT * FROM hooks WHERE token_hash = ? OR (old_token_hash = ? AND old_until > ?)', [
      tokenHash,
      tokenHash,
      toTime(now),
    ])
  ).map(read)[0];
}

export async function hookBy(db: Queryable, brandId: number, watchId: number, lock = false): Promise<Hook | undefined> {
  return (
    await select<Row>(db, `SELECT * FROM hooks WHERE brand_id = ? AND watch_id = ?${lock ? ' FOR UPDATE' : ''}`, [
      brandId,
      watchId,
    ])
  ).map(read)[0];
}

export async function setHookSecret(
  db: Queryable,
  brandId: number,
  watchId: number,
  sealed: Buffer | null,
): Promise<void> {
  await change(db, 'UPDATE hooks SET sealed_secret = ? WHERE brand_id = ? AND watch_id = ?', [
    sealed,
    brandId,
    watchId,
  ]);
}

/** Gives a hook another address; the one before it works until a moment. */
export async function setHookAddress(
  db: Queryable,
  hook: { brandId: number; watchId: number; tokenHash: Buffer; sealedToken: Buffer; oldUntil: number },
): Promise<void> {
  // Assignments are made from left to right: the old ones are kept before they are replaced.
  await change(
    db,
    `UPDATE hooks SET old_token_hash = token_hash, old_sealed_token = sealed_token, old_until = ?,
       token_hash = ?, sealed_token = ? WHERE brand_id = ? AND watch_id = ?`,
    [toTime(hook.oldUntil), hook.tokenHash, hook.sealedToken, hook.brandId, hook.watchId],
  );
}

/**
 * Takes back that an address was replaced, while the old one still works; the new one works as long as that would have.
 *
 * @returns whether there was one to go back to
 */
export async function restoreHookAddress(
  db: Queryable,
  brandId: number,
  watchId: number,
  now: number,
): Promise<boolean> {
  const [row] = await select<{ token: Buffer; sealed: Buffer; old: Buffer; old_sealed: Buffer }>(
    db,
    `SELECT token_hash AS token, sealed_token AS sealed, old_token_hash AS old, old_sealed_token AS old_sealed
     FROM hooks WHERE brand_id = ? AND watch_id = ? AND old_until > ? FOR UPDATE`,
    [brandId, watchId, toTime(now)],
  );
  if (!row) return false;
  await change(
    db,
    'UPDATE hooks SET token_hash = ?, sealed_token = ?, old_token_hash = ?, old_sealed_token = ? WHERE brand_id = ? AND watch_id = ?',
    [row.old, row.old_sealed, row.token, row.sealed, brandId, watchId],
  );
  return true;
}

export async function setIdentityField(
  db: Queryable,
  brandId: number,
  watchId: number,
  field: string | null,
): Promise<void> {
  await change(db, 'UPDATE hooks SET identity_field = ? WHERE brand_id = ? AND watch_id = ?', [
    field,
    brandId,
    watchId,
  ]);
}

export async function setHookSchema(db: Queryable, watchId: number, schema: JsonSchema): Promise<void> {
  await change(db, 'UPDATE hooks SET json_schema = ? WHERE watch_id = ?', [JSON.stringify(schema), watchId]);
}

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

/** What the bodies of a brand's hooks have taught, by watch. */
export async function hookSchemas(db: Queryable, brandId: number): Promise<Map<number, JsonSchema>> {
  const rows = await select<{ watchId: number; schema: string }>(
    db,
    'SELECT watch_id AS watchId, json_schema AS `schema` FROM hooks WHERE brand_id = ?',
    [brandId],
  );
  return new Map(
    rows.flatMap(({ watchId, schema }) => {
      const read = jsonSchemaSchema.safeParse(JSON.parse(schema));
      return read.success ? [[watchId, read.data] as const] : [];
    }),
  );
}
