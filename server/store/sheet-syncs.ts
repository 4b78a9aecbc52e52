// Sheets of Playa's own that are kept in step with tables elsewhere: by what rules, how it stands, and which row is which.
import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import type { Cell } from '@playa/core/sheets/cell.ts';
import { syncRulesSchema, type AgreedCells, type SyncRules, type Vanished } from '@playa/core/sheets/sync.ts';
import { cutUnits } from '@playa/core/text/graphemes.ts';
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
const MOST_REMARKS = 100;

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

interface Row {
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

const read = (row: Row): SheetSync => ({
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

/** Claims syncs that are due, so that one worker alone compares each. */
export async function claimDueSyncs(db: Queryable, now: number, leaseMs: number, most: number): Promise<SheetSync[]> {
  const rows = await select<Row>(
    db,
    `SELECT y.* FROM sheet_syncs y JOIN sheets s ON s.id = y.sheet_id AND s.deleted_at IS NULL
     WHERE y.state = 'on' AND y.due_at <= ? ORDER BY y.due_at LIMIT ? FOR UPDATE SKIP LOCKED`,
    [toTime(now), most],
  );
  if (rows.length === 0) return [];
  const lease = randomUUID();
  await change(db, 'UPDATE sheet_syncs SET lease = ?, due_at = ? WHERE id IN (?)', [
    lease,
    toTime(now + leaseMs),
    rows.map(({ id }) => id),
  ]);
  return rows.map((row) => ({ ...read(row), lease }));
}

/** Keeps remarks, the newest. */
export async function keepRemarks(db: Queryable, id: number, remarks: readonly SyncRemark[]): Promise<void> {
  await change(db, 'UPDATE sheet_syncs SET remarks = ? WHERE id = ?', [
    JSON.stringify(remarks.slice(-MOST_REMARKS)),
    id,
  ]);
}

/** Notes that the rows of both sides have been paired. */
export async function noteJoined(db: Queryable, id: number, now: number): Promise<void> {
  await change(db, 'UPDATE sheet_syncs SET joined_at = ? WHERE id = ?', [toTime(now), id]);
}

/** The sync as it is now, locked, where the claim still holds and nobody has paused or ended it. */
export async function lockClaimed(
  db: Queryable,
  { id, lease }: Pick<SheetSync, 'id' | 'lease'>,
): Promise<SheetSync | undefined> {
  return (
    await select<Row>(db, "SELECT * FROM sheet_syncs WHERE id = ? AND lease = ? AND state = 'on' FOR UPDATE", [
      id,
      lease,
    ])
  ).map(read)[0];
}

/** Holds a claim for longer. */
export async function extendClaim(
  db: Queryable,
  { id, lease }: Pick<SheetSync, 'id' | 'lease'>,
  until: number,
): Promise<boolean> {
  const done = await change(db, 'UPDATE sheet_syncs SET due_at = ? WHERE id = ? AND lease = ?', [
    toTime(until),
    id,
    lease,
  ]);
  return done.rows > 0;
}

/** Ends a comparison. */
export async function endSync(
  db: Queryable,
  sync: Pick<SheetSync, 'id' | 'lease' | 'failures' | 'trouble' | 'vanished' | 'remarks' | 'onVanished' | 'syncedAt'>,
  dueAt: number,
): Promise<void> {
  await change(
    db,
    `UPDATE sheet_syncs SET lease = NULL, due_at = ?, failures = ?, trouble = ?, vanished = ?, remarks = ?,
       on_vanished = ?, synced_at = ? WHERE id = ? AND lease = ?`,
    [
      toTime(dueAt),
      sync.failures,
      sync.trouble && cutUnits(sync.trouble, 500),
      sync.vanished && JSON.stringify(sync.vanished),
      JSON.stringify(sync.remarks.slice(-MOST_REMARKS)),
      sync.onVanished,
      sync.syncedAt === null ? null : toTime(sync.syncedAt),
      sync.id,
      sync.lease,
    ],
  );
}

/** Which row is which. */
export interface SyncedRow {
  row: number;
  /** Null while it is not known whether it has been added there. */
  there: string | null;
  /** By what the network knows that addition again, and the cells that are sent with it. */
  adding: { key: string; cells: Record<string, Cell> } | null;
  agreed: AgreedCells;
}

interface LinkRow {
  row_id: number;
  remote_id: string | null;
  add_key: string | null;
  adding: string | null;
  agreed: string;
}
const agreedSchema = z.record(z.string(), z.object({ here: z.string(), there: z.string() }));
const cellsSchema = z.record(z.string(), z.union([z.string(), z.number(), z.boolean(), z.null()]));

/** All rows of a sync that are on both sides, or on their way there. */
export async function syncedRows(db: Queryable, syncId: number): Promise<SyncedRow[]> {
  const rows = await select<LinkRow>(db, 'SELECT * FROM sheet_sync_rows WHERE sync_id = ? ORDER BY row_id', [syncId]);
  return rows.map((row) => ({
    row: row.row_id,
    there: row.remote_id,
    adding:
      row.add_key === null ? null : { key: row.add_key, cells: cellsSchema.parse(JSON.parse(row.adding ?? '{}')) },
    agreed: agreedSchema.parse(JSON.parse(row.agreed)),
  }));
}

/** Writes down which row is which, over what was known of it. */
export async function keepSyncedRows(db: Queryable, syncId: number, rows: readonly SyncedRow[]): Promise<void> {
  for (let at = 0; at < rows.length; at += 500)
    await change(db, 'REPLACE INTO sheet_sync_rows (sync_id, row_id, remote_id, add_key, adding, agreed) VALUES ?', [
      rows
        .slice(at, at + 500)
        .map(({ row, there, adding, agreed }) => [
          syncId,
          row,
          there,
          adding?.key ?? null,
          adding ? JSON.stringify(adding.cells) : null,
          JSON.stringify(agreed),
        ]),
    ]);
}

/** Forgets which row is which. */
export async function dropSyncedRows(db: Queryable, syncId: number, rows: readonly number[]): Promise<void> {
  if (rows.length > 0)
    await change(db, 'DELETE FROM sheet_sync_rows WHERE sync_id = ? AND row_id IN (?)', [syncId, rows]);
}
