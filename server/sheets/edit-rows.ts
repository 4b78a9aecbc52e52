// People edit rows: written over what they have seen and nothing else, written down, and told to workflows at once.
import { readCell, type Cell, type CellContext, type Cells } from '@playa/core/sheets/cell.ts';
import { isWritten, MOST_ROWS, type Column } from '@playa/core/sheets/column.ts';
import { mergeEdit, withCells, type CellEdit, type EditConflict } from '@playa/core/sheets/merge-edit.ts';
import { inTransaction, type Queryable } from '../db/database.ts';
import type { Services } from '../base/services.ts';
import { noteChange } from '../store/changes.ts';
import * as rows from '../store/sheet-rows.ts';
import { countChange, lockSheet, type Sheet } from '../store/sheets.ts';
import { cellContextOf } from './context.ts';
import { SheetTrouble } from './keep-sheet.ts';
import { tellRows } from './tell-rows.ts';

/** Everything that one change of a sheet's rows works with. */
interface Editing {
  db: Queryable;
  sheet: Sheet;
  context: CellContext;
  now: number;
}

/** What came of an edit. */
export interface Edited {
  /** The rows as they are now. */
  rows: rows.SheetRow[];
  /** Cells that somebody else has changed meanwhile, and that stay as they are. */
  conflicts: (EditConflict & { row: number; by: string | null })[];
}

/** One transaction about a sheet, which nobody else changes meanwhile. @throws SheetTrouble */
async function editing<T>(
  services: Services,
  brandId: number,
  sheetId: number,
  work: (with_: Editing) => Promise<{ result: T; changed: rows.SheetRow[]; deeds: rows.RowDeed[] }>,
): Promise<T> {
  return inTransaction(services.pool, async (db) => {
    const now = services.clock();
    const sheet = await lockSheet(db, brandId, sheetId);
    if (!sheet) throw new SheetTrouble('gone', 'This sheet is gone.');
    const context = await cellContextOf(db, brandId);
    const { result, changed, deeds } = await work({ db, sheet, context, now });
    if (changed.length > 0) {
      await rows.addRowHistory(db, brandId, services.actor, deeds, now);
      await tellRows(db, sheet, changed, { context, origin: services.config.origin, now });
      await noteChange(db, brandId, 'sheets', sheetId, now);
    }
    return result;
  });
}

/** What was typed, read by the columns; what is worked out, or unknown, is left out. */
export function readCells(
  columns: readonly Column[],
  typed: Readonly<Record<string, Cell>>,
  context: CellContext,
): Record<string, Cell> {
  const cells: Record<string, Cell> = {};
  for (const column of columns)
    if (isWritten(column) && Object.hasOwn(typed, column.key))
      cells[column.key] = readCell(column, typed[column.key]!, context).value;
  return cells;
}

/** Adds rows at the end. @throws SheetTrouble when there are too many */
export function addSheetRows(
  services: Services,
  brandId: number,
  sheetId: number,
  typed: readonly Readonly<Record<string, Cell>>[],
): Promise<rows.SheetRow[]> {
  return editing(services, brandId, sheetId, async ({ db, sheet, context, now }) => {
    const end = await rows.endOfSheet(db, sheetId);
    if (end.count + typed.length > MOST_ROWS)
      throw new SheetTrouble('full', `A sheet has at most ${MOST_ROWS.toLocaleString('en')} rows.`);
    const cells = typed.map((each) => withCells({}, readCells(sheet.columns, each, context)));
    const changed = await countChange(db, sheet);
    const added = await rows.addRows(db, sheet, cells, { place: end.place, changed, now });
    const deeds = added.map((row) => ({ rowId: row.id, did: 'added' as const, was: {}, became: row.cells }));
    return { result: added, changed: added, deeds };
  });
}

/** Writes cells of rows; each only where it still says what the person has seen. @throws SheetTrouble */
export function editSheetRows(
  services: Services,
  brandId: number,
  sheetId: number,
  edits: readonly { row: number; cells: readonly CellEdit[] }[],
): Promise<Edited> {
  return editing(services, brandId, sheetId, async ({ db, sheet, context, now }) => {
    const known = await rows.rowsById(db, brandId, sheetId, [...new Set(edits.map(({ row }) => row))]);
    const edited: Edited = { rows: [], conflicts: [] };
    const changed = new Map<number, rows.SheetRow>();
    const deeds: rows.RowDeed[] = [];
    const count = await countChange(db, sheet);
    for (const { row: id, cells: typed } of edits) {
      const row = changed.get(id) ?? known.get(id);
      if (!row || row.deleted) {
        edited.conflicts.push(...(await deletedConflicts(db, brandId, id, typed)));
        continue;
      }
      const read = readCells(sheet.columns, Object.fromEntries(typed.map(({ key, after }) => [key, after])), context);
      const wanted = typed.flatMap(({ key, before }) =>
        Object.hasOwn(read, key) ? [{ key, before, after: read[key]! }] : [],
      );
      const { write, conflicts } = mergeEdit(row.cells, wanted);
      const by = conflicts.length > 0 ? await lastBy(db, brandId, id) : null;
      edited.conflicts.push(...conflicts.map((each) => ({ ...each, row: id, by })));
      const keys = Object.keys(write);
      if (keys.length === 0) {
        if (conflicts.length > 0) edited.rows.push(row);
        continue;
      }
      const next = {
        ...row,
        cells: withCells(row.cells, write),
        revision: row.revision + 1,
        changed: count,
        changedAt: now,
      };
      await rows.reviseRow(db, next, count, now);
      changed.set(id, next);
      deeds.push({ rowId: id, did: 'changed', was: picked(row.cells, keys), became: write });
    }
    edited.rows.push(...changed.values());
    return { result: edited, changed: [...changed.values()], deeds };
  });
}

const picked = (cells: Cells, keys: readonly string[]): Record<string, Cell> =>
  Object.fromEntries(keys.map((key) => [key, cells[key] ?? null]));

async function deletedConflicts(
  db: Queryable,
  brandId: number,
  row: number,
  typed: readonly CellEdit[],
): Promise<Edited['conflicts']> {
  const by = await lastBy(db, brandId, row);
  return typed.map(({ key, after }) => ({ key, now: null, wanted: after, row, by }));
}

/** Who changed a row last, by name. */
async function lastBy(db: Queryable, brandId: number, row: number): Promise<string | null> {
  const [last] = await rows.historyOfRow(db, brandId, row, 1);
  return last?.by ?? last?.run?.workflow ?? null;
}

/** Deletes rows, or brings deleted ones back. Returns them as they are then. @throws SheetTrouble */
export function setRowsDeleted(
  services: Services,
  brandId: number,
  sheetId: number,
  ids: readonly number[],
  deleted: boolean,
): Promise<rows.SheetRow[]> {
  return editing(services, brandId, sheetId, async ({ db, sheet, now }) => {
    const known = await rows.rowsById(db, brandId, sheetId, ids);
    const count = await countChange(db, sheet);
    const changed: rows.SheetRow[] = [];
    for (const row of known.values()) {
      if (row.deleted === deleted) continue;
      const next = { ...row, deleted, revision: row.revision + 1, changed: count, changedAt: now };
      await rows.reviseRow(db, next, count, now);
      changed.push(next);
    }
    const did = deleted ? ('deleted' as const) : ('restored' as const);
    const deeds = changed.map((row) => ({
      rowId: row.id,
      did,
      was: deleted ? row.cells : {},
      became: deleted ? {} : row.cells,
    }));
    return { result: changed, changed, deeds };
  });
}
