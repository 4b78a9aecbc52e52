// Sheets of Playa's own: their names, columns and views.
import { columnsSchema, type Column } from '@playa/core/sheets/column.ts';
import { sheetViewsSchema, type SheetView } from '@playa/core/sheets/view.ts';
import { change, fromTime, select, toTime, type Queryable } from '../db/database.ts';

export interface Sheet {
  id: number;
  brandId: number;
  name: string;
  columns: Column[];
  /** Grows when its name, its columns or its views change. */
  revision: number;
  views: SheetView[];
  /** How often any of its rows has changed. */
  changes: number;
  /** As what workflows write into it. */
  outletId: number;
  /** As what workflows watch it. */
  watchId: number;
  createdAt: number;
}

interface Row {
  id: number;
  brand_id: number;
  name: string;
  columns: string;
  revision: number;
  views: string;
  changes: number;
  outlet_id: number;
  watch_id: number;
  created_at: Date;
}

const read = (row: Row): Sheet => ({
  id: row.id,
  brandId: row.brand_id,
  name: row.name,
  columns: columnsSchema.parse(JSON.parse(row.columns)),
  revision: row.revision,
  views: sheetViewsSchema.parse(JSON.parse(row.views)),
  changes: Number(row.changes),
  outletId: row.outlet_id,
  watchId: row.watch_id,
  createdAt: fromTime(row.created_at),
});

export async function addSheet(
  db: Queryable,
  sheet: Pick<Sheet, 'brandId' | 'name' | 'columns' | 'outletId' | 'watchId'>,
  now: number,
): Promise<number> {
  const { id } = await change(
    db,
    "INSERT INTO sheets (brand_id, name, columns, views, outlet_id, watch_id, created_at) VALUES (?, ?, ?, '[]', ?, ?, ?)",
    [sheet.brandId, sheet.name, JSON.stringify(sheet.columns), sheet.outletId, sheet.watchId, toTime(now)],
  );
  return id;
}

/** The brand's sheets with how many rows each has. */
/** A brand's sheets by name. @param after the one behind which they begin; null for the first */
export async function sheetsPage(
  db: Queryable,
  brandId: number,
  after: { name: string; id: number } | null,
  most: number,
): Promise<(Sheet & { rows: number })[]> {
  const rows = await select<Row & { count: number }>(
    db,
    `SELECT s.*, (SELECT COUNT(*) FROM sheet_rows r WHERE r.sheet_id = s.id AND r.deleted_at IS NULL) AS count
     FROM sheets s WHERE s.brand_id = ? AND s.deleted_at IS NULL${after ? ' AND (s.name, s.id) > (?, ?)' : ''}
     ORDER BY s.name, s.id LIMIT ?`,
    [brandId, ...(after ? [after.name, after.id] : []), most],
  );
  return rows.map((row) => ({ ...read(row), rows: Number(row.count) }));
}

export async function sheetBy(db: Queryable, brandId: number, id: number): Promise<Sheet | undefined> {
  return (
    await select<Row>(db, 'SELECT * FROM sheets WHERE brand_id = ? AND id = ? AND deleted_at IS NULL', [brandId, id])
  ).map(read)[0];
}

/**
 * The sheet behind an outlet.
 *
 * @param lock so that its rows change one after the other
 */
export async function sheetOfOutlet(
  db: Queryable,
  brandId: number,
  outletId: number,
  lock = false,
): Promise<Sheet | undefined> {
  return (
    await select<Row>(
      db,
      `SELECT * FROM sheets WHERE outlet_id = ? AND brand_id = ? AND deleted_at IS NULL${lock ? ' FOR UPDATE' : ''}`,
      [outletId, brandId],
    )
  ).map(read)[0];
}

/** A sheet, locked. */
export async function lockSheet(db: Queryable, brandId: number, id: number): Promise<Sheet | undefined> {
  return (
    await select<Row>(db, 'SELECT * FROM sheets WHERE brand_id = ? AND id = ? AND deleted_at IS NULL FOR UPDATE', [
      brandId,
      id,
    ])
  ).map(read)[0];
}

/** A sheet that nobody else changes meanwhile, also one that was deleted and could be brought back. */
export async function sheetForGood(db: Queryable, brandId: number, id: number): Promise<Sheet | undefined> {
  return (await select<Row>(db, 'SELECT * FROM sheets WHERE brand_id = ? AND id = ? FOR UPDATE', [brandId, id])).map(
    read,
  )[0];
}

/** The columns of sheets by the watches that they are. */
export async function columnsByWatch(db: Queryable, brandId: number): Promise<Map<number, Sheet>> {
  const rows = await select<Row>(db, 'SELECT * FROM sheets WHERE brand_id = ? AND deleted_at IS NULL', [brandId]);
  return new Map(rows.map((row) => [row.watch_id, read(row)]));
}

/** Stores a sheet's name, columns and views, and counts its revision on. */
export async function reviseSheet(
  db: Queryable,
  sheet: Pick<Sheet, 'id' | 'brandId' | 'name' | 'columns' | 'views'>,
): Promise<void> {
  await change(
    db,
    'UPDATE sheets SET name = ?, columns = ?, views = ?, revision = revision + 1 WHERE id = ? AND brand_id = ?',
    [sheet.name, JSON.stringify(sheet.columns), JSON.stringify(sheet.views), sheet.id, sheet.brandId],
  );
}

/** Counts changes of rows on. Returns the count that those which follow are stored with. */
export async function countChange(db: Queryable, sheet: Pick<Sheet, 'id' | 'changes'>): Promise<number> {
  await change(db, 'UPDATE sheets SET changes = changes + 1 WHERE id = ?', [sheet.id]);
  const [row] = await select<{ changes: number }>(db, 'SELECT changes FROM sheets WHERE id = ?', [sheet.id]);
  return Number(row!.changes);
}

/** Deletes a sheet, or brings a deleted one back. Returns whether there was one to do it to. */
export async function setSheetDeleted(
  db: Queryable,
  brandId: number,
  id: number,
  deletedAt: number | null,
): Promise<boolean> {
  const done = await change(
    db,
    'UPDATE sheets SET deleted_at = ? WHERE brand_id = ? AND id = ? AND (deleted_at IS NULL) = ?',
    [deletedAt === null ? null : toTime(deletedAt), brandId, id, deletedAt !== null],
  );
  return done.rows > 0;
}
