// Which row of a sheet is which row of a table elsewhere, and what both last agreed on.
import type { Cell } from '@playa/core/sheets/cell.ts';
import type { AgreedCells } from '@playa/core/sheets/sync.ts';
import { z } from 'zod';
import { select, change, type Queryable } from '../db/database.ts';

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
