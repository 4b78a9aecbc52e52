// What workflows do at a sheet of Playa's own: rows are added, brought up to date and found in the transaction that records
// the act, so that it is done exactly once.
import type { ActInput, Outcome } from '@playa/core/model/acts.ts';
import type { Fields } from '@playa/core/items/item.ts';
import { fieldText } from '@playa/core/items/read-field.ts';
import { readCell, type Cell, type CellContext } from '@playa/core/sheets/cell.ts';
import { fold, isWritten, MOST_ROWS, type Column } from '@playa/core/sheets/column.ts';
import { withCells } from '@playa/core/sheets/merge-edit.ts';
import { rowFields } from '@playa/core/sheets/row-fields.ts';
import { NetworkTrouble } from '../connectors/connector.ts';
import type { Queryable } from '../db/database.ts';
import { noteChange } from '../store/changes.ts';
import * as rows from '../store/sheet-rows.ts';
import { countChange, sheetOfOutlet, type Sheet } from '../store/sheets.ts';
import { cellContextOf } from './context.ts';
import { rowAddress, rowItem, tellRows } from './tell-rows.ts';

/** Who writes, and where sheets are shown. */
export interface Writing {
  brandId: number;
  outletId: number;
  runId: number;
  origin: string;
  now: number;
}

/** What was written, and what has to be done once the run knows of it. */
export interface Written {
  outcome: Outcome;
  /** What now stands in the cells that were written, as the row's fields say it: to be known again. */
  wrote: Record<string, string>;
  /** Tells workflows of the row, in the same transaction. */
  tell: () => Promise<void>;
}

async function sheetAt(db: Queryable, { brandId, outletId }: Writing): Promise<Sheet> {
  const sheet = await sheetOfOutlet(db, brandId, outletId, true);
  if (!sheet) throw new NetworkTrouble('fix', 'The sheet was deleted.', { definite: true });
  return sheet;
}

/** A column by its key, or by what people call it. @throws NetworkTrouble when there is none that can be written */
function columnOf(sheet: Sheet, name: string): Column {
  const column =
    sheet.columns.find(({ key }) => key === name) ?? sheet.columns.find((each) => fold(each.name) === fold(name));
  if (!column) throw new NetworkTrouble('fix', `${sheet.name} has no column “${name}”.`, { definite: true });
  if (!isWritten(column))
    throw new NetworkTrouble('fix', `“${column.name}” of ${sheet.name} is worked out by Playa and cannot be written.`, {
      definite: true,
    });
  return column;
}

/**
 * Adds a row or brings one up to date. Only the columns named are written.
 *
 * @throws NetworkTrouble when the sheet, a column or the row is gone, or the sheet is full
 */
export async function recordRow(db: Queryable, input: ActInput<'record'>, writing: Writing): Promise<Written> {
  const { brandId, runId, origin, now } = writing;
  const sheet = await sheetAt(db, writing);
  const context = await cellContextOf(db, brandId);
  const write: Record<string, Cell> = {};
  for (const [name, text] of Object.entries(input.values)) {
    const column = columnOf(sheet, name);
    write[column.key] = readCell(column, text, context).value;
  }
  const existing = await rowFor(db, sheet, input, context);
  const changed = await countChange(db, sheet);
  let row: rows.SheetRow;
  let deed: rows.RowDeed;
  if (existing) {
    const keys = Object.keys(write);
    row = {
      ...existing,
      cells: withCells(existing.cells, write),
      revision: existing.revision + 1,
      changed,
      changedAt: now,
    };
    await rows.reviseRow(db, row, changed, now);
    const was = Object.fromEntries(keys.map((key) => [key, existing.cells[key] ?? null]));
    deed = { rowId: row.id, did: 'changed', was, became: write };
  } else {
    if (input.match) {
      const column = columnOf(sheet, input.match.column);
      write[column.key] ??= readCell(column, input.match.value, context).value;
    }
    const end = await rows.endOfSheet(db, sheet.id);
    if (end.count >= MOST_ROWS)
      throw new NetworkTrouble('fix', `${sheet.name} is full: it has ${MOST_ROWS.toLocaleString('en')} rows.`, {
        definite: true,
      });
    [row] = (await rows.addRows(db, sheet, [withCells({}, write)], { place: end.place, changed, now })) as [
      rows.SheetRow,
    ];
    deed = { rowId: row.id, did: 'added', was: {}, became: row.cells };
  }
  await rows.addRowHistory(db, brandId, { kind: 'run', runId }, [deed], now);
  const { fields } = rowItem(sheet, row, context, origin);
  return {
    outcome: { remoteId: String(row.id), url: rowAddress(origin, sheet, row.id), at: now },
    wrote: Object.fromEntries(Object.keys(write).map((key) => [key, fieldText(fields[key])])),
    async tell() {
      await tellRows(db, sheet, [row], { context, origin, now });
      await noteChange(db, brandId, 'sheets', sheet.id, now);
    },
  };
}

/** The row that is meant; undefined when one is to be added. */
async function rowFor(
  db: Queryable,
  sheet: Sheet,
  input: ActInput<'record'>,
  context: CellContext,
): Promise<rows.SheetRow | undefined> {
  if (input.row !== undefined) {
    const row = (await rows.rowsById(db, sheet.brandId, sheet.id, [Number(input.row) || 0])).get(Number(input.row));
    if (!row || row.deleted) throw new NetworkTrouble('fix', 'The row was deleted.', { definite: true, missing: true });
    return row;
  }
  if (!input.match) return undefined;
  return (await rowsWhere(db, sheet, columnOf(sheet, input.match.column), input.match.value, context, 1))[0];
}

/** Rows whose cell says something, read as its column reads it; capitals make no difference. */
async function rowsWhere(
  db: Queryable,
  sheet: Sheet,
  column: Column,
  value: string,
  context: CellContext,
  most: number,
): Promise<rows.SheetRow[]> {
  const wanted = fold(fieldText(readCell(column, value, context).value));
  if (wanted === '') return [];
  const all = await rows.rowsOfSheet(db, sheet.brandId, sheet.id, null, MOST_ROWS);
  return all.filter((row) => fold(fieldText(row.cells[column.key])) === wanted).slice(0, most);
}

/** How many rows a look-up gives at most. */
const MOST_FOUND = 100;

/** Finds rows by what stands in a column. @throws NetworkTrouble */
export async function findRows(db: Queryable, input: ActInput<'find'>, writing: Writing): Promise<Fields[]> {
  const sheet = await sheetAt(db, writing);
  const context = await cellContextOf(db, writing.brandId);
  const column = sheet.columns.find(({ key }) => key === input.by) ?? columnOf(sheet, input.by);
  const found = isWritten(column)
    ? await rowsWhere(db, sheet, column, input.value, context, MOST_FOUND)
    : (await rows.rowsOfSheet(db, sheet.brandId, sheet.id, null, MOST_ROWS))
        .filter(
          (row) => fold(fieldText(rowFields(sheet.columns, row.cells, context)[column.key])) === fold(input.value),
        )
        .slice(0, MOST_FOUND);
  return found.map((row) => rowItem(sheet, row, context, writing.origin).fields);
}
