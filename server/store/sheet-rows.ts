// Rows of sheets, and what was changed in them.
import { z } from 'zod';
import type { Actor } from '@playa/core/access/actor.ts';
import type { Cell, Cells } from '@playa/core/sheets/cell.ts';
import { change, fromTime, select, toTime, type Queryable } from '../db/database.ts';
import { actorId } from './audit.ts';

export interface SheetRow {
  id: number;
  sheetId: number;
  place: number;
  cells: Cells;
  revision: number;
  /** The sheet's count at its last change. */
  changed: number;
  createdAt: number;
  changedAt: number;
  deleted: boolean;
}

interface Row {
  id: number;
  sheet_id: number;
  place: number;
  cells: string;
  revision: number;
  changed: number;
  created_at: Date;
  changed_at: Date;
  deleted_at: Date | null;
}

const cellsSchema = z.record(z.string(), z.union([z.string(), z.number(), z.boolean(), z.null()]));
const readCells = (text: string): Cells => cellsSchema.parse(JSON.parse(text));

const read = (row: Row): SheetRow => ({
  id: row.id,
  sheetId: row.sheet_id,
  place: Number(row.place),
  cells: readCells(row.cells),
  revision: row.revision,
  changed: Number(row.changed),
  createdAt: fromTime(row.created_at),
  changedAt: fromTime(row.changed_at),
  deleted: row.deleted_at !== null,
});

/** Between rows, so that one can be put between two. */
const APART = 1024;

/** Rows in their order, from after a place. */
export async function rowsOfSheet(
  db: Queryable,
  brandId: number,
  sheetId: number,
  after: { place: number; id: number } | null,
  most: number,
): Promise<SheetRow[]> {
  const rows = await select<Row>(
    db,
    `SELECT * FROM sheet_rows WHERE sheet_id = ? AND brand_id = ? AND deleted_at IS NULL
       ${after ? 'AND (place > ? OR (place = ? AND id > ?))' : ''} ORDER BY place, id LIMIT ?`,
    [sheetId, brandId, ...(after ? [after.place, after.place, after.id] : []), most],
  );
  return rows.map(read);
}

/** Rows that changed after a count, deleted ones among them, in the order in which they changed. */
export async function rowsChangedSince(
  db: Queryable,
  brandId: number,
  sheetId: number,
  since: number,
  most: number,
): Promise<SheetRow[]> {
  const rows = await select<Row>(
    db,
    'SELECT * FROM sheet_rows WHERE sheet_id = ? AND brand_id = ? AND changed > ? ORDER BY changed, id LIMIT ?',
    [sheetId, brandId, since, most],
  );
  return rows.map(read);
}

export async function rowsById(
  db: Queryable,
  brandId: number,
  sheetId: number,
  ids: readonly number[],
): Promise<Map<number, SheetRow>> {
  if (ids.length === 0) return new Map();
  const rows = await select<Row>(db, 'SELECT * FROM sheet_rows WHERE id IN (?) AND sheet_id = ? AND brand_id = ?', [
    ids,
    sheetId,
    brandId,
  ]);
  return new Map(rows.map((row) => [row.id, read(row)]));
}

/** How many rows a sheet has, and where the last stands. */
export async function endOfSheet(db: Queryable, sheetId: number): Promise<{ count: number; place: number }> {
  const [row] = await select<{ count: number; place: number | null }>(
    db,
    'SELECT COUNT(*) AS count, MAX(place) AS place FROM sheet_rows WHERE sheet_id = ? AND deleted_at IS NULL',
    [sheetId],
  );
  return { count: Number(row!.count), place: Number(row!.place ?? 0) };
}

/** Adds rows at the end, in the given order. Returns them as they are stored. */
export async function addRows(
  db: Queryable,
  sheet: { id: number; brandId: number },
  rows: readonly Cells[],
  at: { place: number; changed: number; now: number },
): Promise<SheetRow[]> {
  const added: SheetRow[] = [];
  for (const [index, cells] of rows.entries()) {
    const place = at.place + (index + 1) * APART;
    const { id } = await change(
      db,
      `INSERT INTO sheet_rows (brand_id, sheet_id, place, cells, changed, created_at, changed_at)
       VALUES (?, ?, ?, ?, ?, ?, ?)`,
      [sheet.brandId, sheet.id, place, JSON.stringify(cells), at.changed, toTime(at.now), toTime(at.now)],
    );
    added.push({
      id,
      sheetId: sheet.id,
      place,
      cells,
      revision: 1,
      changed: at.changed,
      createdAt: at.now,
      changedAt: at.now,
      deleted: false,
    });
  }
  return added;
}

/** Stores a row as it is from now on. Its revision counts on. */
export async function reviseRow(
  db: Queryable,
  row: Pick<SheetRow, 'id' | 'cells' | 'deleted'>,
  changed: number,
  now: number,
): Promise<void> {
  await change(
    db,
    `UPDATE sheet_rows SET cells = ?, deleted_at = ?, revision = revision + 1, changed = ?, changed_at = ? WHERE id = ?`,
    [JSON.stringify(row.cells), row.deleted ? toTime(now) : null, changed, toTime(now), row.id],
  );
}

export type RowDid = 'added' | 'changed' | 'deleted' | 'restored';

/** What was done to a row. */
export interface RowDeed {
  rowId: number;
  did: RowDid;
  /** The cells that changed. */
  was: Readonly<Record<string, Cell>>;
  became: Readonly<Record<string, Cell>>;
}

/** Writes down what was done to rows, in the transaction that does it. */
export async function addRowHistory(
  db: Queryable,
  brandId: number,
  actor: Actor,
  deeds: readonly RowDeed[],
  now: number,
): Promise<void> {
  if (deeds.length === 0) return;
  await change(db, 'INSERT INTO sheet_history (brand_id, row_id, at, actor, actor_id, did, was, became) VALUES ?', [
    deeds.map((deed) => [
      brandId,
      deed.rowId,
      toTime(now),
      actor.kind,
      actorId(actor),
      deed.did,
      JSON.stringify(deed.was),
      JSON.stringify(deed.became),
    ]),
  ]);
}

/** What was done to a row, for showing. */
export interface RowDone {
  id: number;
  at: number;
  did: RowDid;
  /** Who did it, by name; null for a run. */
  by: string | null;
  /** The run that did it. */
  run: { id: number; workflowId: number; workflow: string } | null;
  was: Cells;
  became: Cells;
}

/** What was done to a row, newest first. */
export async function historyOfRow(db: Queryable, brandId: number, rowId: number, most: number): Promise<RowDone[]> {
  const rows = await select<{
    id: number;
    at: Date;
    did: RowDid;
    by: string | null;
    runId: number | null;
    workflowId: number | null;
    workflow: string | null;
    was: string;
    became: string;
  }>(
    db,
    `SELECT h.id, h.at, h.did, u.name AS 'by', r.id AS runId, f.id AS workflowId, f.name AS workflow, h.was, h.became
     FROM sheet_history h LEFT JOIN users u ON h.actor = 'person' AND u.id = h.actor_id
       LEFT JOIN runs r ON h.actor = 'run' AND r.id = h.actor_id LEFT JOIN workflows f ON f.id = r.workflow_id
     WHERE h.row_id = ? AND h.brand_id = ? ORDER BY h.id DESC LIMIT ?`,
    [rowId, brandId, most],
  );
  return rows.map(({ id, at, did, by, runId, workflowId, workflow, was, became }) => ({
    id,
    at: fromTime(at),
    did,
    by,
    run: runId === null || workflowId === null ? null : { id: runId, workflowId, workflow: workflow ?? '' },
    was: readCells(was),
    became: readCells(became),
  }));
}
