// Sheets of Playa's own that are kept in step with tables elsewhere: by what rules, how it stands, and which row is which.
import { z } from 'zod';
import { syncRulesSchema, type SyncRules, type Vanished } from '@playa/core/sheets/sync.ts';
import { change, fromTime, select, toTime, type Queryable } from '../db/database.ts';

const remarkSchema = z.object({
  row: z.number(),
  key: z.string(),
  /** refused: the other side does not take it. overwritten: both sides had changed it, and this was lost. */
  why: z.enum(['refused', 'overwritten']),
  says: z.string(),
  at: z.number(),
});
/** Something about a cell that a person should see. */
export type SyncRemark = z.infer<typeof remarkSchema>;
/** So many remarks are kept, the newest. */
export const MOST_REMARKS = 100;

const vanishedSchema = z.object({ side: z.enum(['here', 'there']), rows: z.number(), of: z.number() });

export interface SheetSync {
  id: number;
  brandId: number;
  sheetId: number;
  /** The table elsewhere. */
  outletId: number;
  rules: SyncRules;
  state: 'on' | 'paused';
  /** Whether rows that were on both sides have been paired. */
  joined: boolean;
  lease: string | null;
  failures: number;
  trouble: string | null;
  vanished: Vanished | null;
  onVanished: 'ask' | 'delete' | 'again';
  remarks: SyncRemark[];
  /** When both sides last said the same, milliseconds since 1970 UTC. */
  syncedAt: number | null;
}

export interface Row {
  id: number;
  brand_id: number;
  sheet_id: number;
  outlet_id: number;
  rules: string;
  state: 'on' | 'paused';
  joined_at: Date | null;
  lease: string | null;
  failures: number;
  trouble: string | null;
  vanished: string | null;
  on_vanished: 'ask' | 'delete' | 'again';
  remarks: string;
  synced_at: Date | null;
}

export const read = (row: Row): SheetSync => ({
  id: row.id,
  brandId: row.brand_id,
  sheetId: row.sheet_id,
  outletId: row.outlet_id,
  rules: syncRulesSchema.parse(JSON.parse(row.rules)),
  state: row.state,
  joined: row.joined_at !== null,
  lease: row.lease,
  failures: row.failures,
  trouble: row.trouble,
  vanished: row.vanished === null ? null : vanishedSchema.parse(JSON.parse(row.vanished)),
  onVanished: row.on_vanished,
  remarks: z.array(remarkSchema).parse(JSON.parse(row.remarks)),
  syncedAt: row.synced_at === null ? null : fromTime(row.synced_at),
});

/** The sync of a sheet. @param lock so that nobody changes it meanwhile */
export async function syncOfSheet(
  db: Queryable,
  brandId: number,
  sheetId: number,
  lock = false,
): Promise<SheetSync | undefined> {
  return (
    await select<Row>(db, `SELECT * FROM sheet_syncs WHERE sheet_id = ? AND brand_id = ?${lock ? ' FOR UPDATE' : ''}`, [
      sheetId,
      brandId,
    ])
  ).map(read)[0];
}

/** Which sheets are in step with which tables, by the tables' numbers. */
export async function sheetsInStep(
  db: Queryable,
  brandId: number,
): Promise<Map<number, { sheetId: number; name: string }>> {
  const rows = await select<{ outlet_id: number; sheet_id: number; name: string }>(
    db,
    `SELECT y.outlet_id, y.sheet_id, s.name FROM sheet_syncs y JOIN sheets s ON s.id = y.sheet_id
     WHERE y.brand_id = ? AND s.deleted_at IS NULL`,
    [brandId],
  );
  return new Map(rows.map((row) => [row.outlet_id, { sheetId: row.sheet_id, name: row.name }]));
}

/** With which tables the brand's sheets are in step, by the sheets' numbers. */
export async function tablesInStep(db: Queryable, brandId: number): Promise<Map<number, string>> {
  const rows = await select<{ sheet_id: number; name: string }>(
    db,
    'SELECT y.sheet_id, o.name FROM sheet_syncs y JOIN outlets o ON o.id = y.outlet_id WHERE y.brand_id = ?',
    [brandId],
  );
  return new Map(rows.map((row) => [row.sheet_id, row.name]));
}

/**
 * Keeps a sheet in step with a table from now on. With the one it was in step with already, rows stay paired as they are;
 * with another they are paired anew.
 */
export async function keepSync(
  db: Queryable,
  sync: Pick<SheetSync, 'brandId' | 'sheetId' | 'outletId' | 'rules'>,
  now: number,
): Promise<void> {
  const rules = JSON.stringify(sync.rules);
  // Whoever compares by the old rules holds no claim any more.
  const same = await change(
    db,
    `UPDATE sheet_syncs SET rules = ?, state = 'on', lease = NULL, due_at = ?, failures = 0
     WHERE sheet_id = ? AND brand_id = ? AND outlet_id = ?`,
    [rules, toTime(now), sync.sheetId, sync.brandId, sync.outletId],
  );
  if (same.rows > 0) return;
  await removeSync(db, sync.brandId, sync.sheetId);
  await change(
    db,
    `INSERT INTO sheet_syncs (brand_id, sheet_id, outlet_id, rules, remarks, due_at, created_at)
     VALUES (?, ?, ?, ?, '[]', ?, ?)`,
    [sync.brandId, sync.sheetId, sync.outletId, rules, toTime(now), toTime(now)],
  );
}

/** Keeps a sheet in step no longer. Returns whether it was. */
export async function removeSync(db: Queryable, brandId: number, sheetId: number): Promise<boolean> {
  const done = await change(db, 'DELETE FROM sheet_syncs WHERE brand_id = ? AND sheet_id = ?', [brandId, sheetId]);
  return done.rows > 0;
}

/** Has a sheet compared soon: something was changed in it. */
export async function hurrySync(db: Queryable, sheetId: number, at: number): Promise<void> {
  await change(db, 'UPDATE sheet_syncs SET due_at = ? WHERE sheet_id = ? AND lease IS NULL AND due_at > ?', [
    toTime(at),
    sheetId,
    toTime(at),
  ]);
}

/** Has the sheets compared soon that are in step with tables of an account: it can be used again. */
export async function resumeSyncs(db: Queryable, accountId: number, now: number): Promise<void> {
  await change(
    db,
    `UPDATE sheet_syncs SET due_at = ?, failures = 0
     WHERE lease IS NULL AND outlet_id IN (SELECT id FROM outlets WHERE account_id = ?)`,
    [toTime(now), accountId],
  );
}

/** Takes back what was remarked about some rows: it quotes what they said. */
export async function dropRemarks(db: Queryable, sheetId: number, rows: readonly number[]): Promise<void> {
  const [found] = await select<{ id: number; remarks: string }>(
    db,
    'SELECT id, remarks FROM sheet_syncs WHERE sheet_id = ? FOR UPDATE',
    [sheetId],
  );
  if (!found) return;
  const left = z
    .array(remarkSchema)
    .parse(JSON.parse(found.remarks))
    .filter(({ row }) => !rows.includes(row));
  await change(db, 'UPDATE sheet_syncs SET remarks = ? WHERE id = ?', [JSON.stringify(left), found.id]);
}

/** Rows that are on their way to the other side go there empty first: what they said is not to be kept any more. */
export async function forgetAdding(db: Queryable, rows: readonly number[]): Promise<void> {
  if (rows.length === 0) return;
  await change(
    db,
    "UPDATE sheet_sync_rows SET adding = '{}', agreed = '{}', add_key = UUID() WHERE row_id IN (?) AND adding IS NOT NULL",
    [rows],
  );
}

/** What a person changes about a sync. It is compared at once; paused, nobody who compares holds it any more. */
export async function reviseSync(
  db: Queryable,
  sync: Pick<SheetSync, 'id' | 'state' | 'onVanished' | 'remarks' | 'vanished'>,
  now: number,
): Promise<void> {
  await change(
    db,
    `UPDATE sheet_syncs SET lease = IF(? = 'paused', NULL, lease), state = ?, on_vanished = ?, remarks = ?, vanished = ?,
       failures = 0, due_at = IF(lease IS NULL, ?, due_at) WHERE id = ?`,
    [
      sync.state,
      sync.state,
      sync.onVanished,
      JSON.stringify(sync.remarks.slice(-MOST_REMARKS)),
      sync.vanished && JSON.stringify(sync.vanished),
      toTime(now),
      sync.id,
    ],
  );
}
