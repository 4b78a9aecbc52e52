import { DIALECT, jsonSchemaSchema, type JsonSchema } from '@playa/core/items/json-schema.ts';
import { change, fromTimeOrNull, select, toTime, type Queryable } from '../db/database.ts';

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
