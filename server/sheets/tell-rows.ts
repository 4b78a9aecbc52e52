// Rows as items: what happens to a row is told to the workflows that watch its sheet in the very transaction that does it,
// so that no look lies between a person's change and a run that waits for it.
import type { Item } from '@playa/core/items/item.ts';
import type { CellContext } from '@playa/core/sheets/cell.ts';
import { rowFields } from '@playa/core/sheets/row-fields.ts';
import type { Queryable } from '../db/database.ts';
import { itemsByIdentity } from '../store/items.ts';
import type { SheetRow } from '../store/sheet-rows.ts';
import { hurrySync } from '../store/sheet-syncs.ts';
import type { Sheet } from '../store/sheets.ts';
import { watchBy } from '../store/watches.ts';
import { setItemsGone, storeArrivals } from '../watch/arrivals.ts';

const identityOf = (row: Pick<SheetRow, 'id'>) => `row:${row.id}`;

/** Where a row is shown. */
export const rowAddress = (origin: string, sheet: Pick<Sheet, 'id' | 'brandId'>, row: number): string =>
  `${origin}/${sheet.brandId}/sheets/${sheet.id}?row=${row}`;

/** A row as an item of its sheet. */
export function rowItem(sheet: Sheet, row: SheetRow, context: CellContext, origin: string): Item {
  return {
    identity: identityOf(row),
    publishedAt: row.createdAt,
    fields: {
      ...rowFields(sheet.columns, row.cells, context),
      row: row.id,
      link: rowAddress(origin, sheet, row.id),
      id: String(row.id),
      outlet: { id: sheet.outletId, name: sheet.name },
    },
  };
}

/**
 * Tells the workflows that watch a sheet, and whoever keeps it in step with a table elsewhere, what became of some of its rows: those that are new start them, those that have
 * changed reach the runs that are about them, those that were deleted end them.
 *
 * @param rows as they are stored now
 * @param past new ones start nothing: they were there before anybody could watch
 */
export async function tellRows(
  db: Queryable,
  sheet: Sheet,
  rows: readonly SheetRow[],
  { context, origin, now, past = false }: { context: CellContext; origin: string; now: number; past?: boolean },
): Promise<void> {
  if (rows.length === 0) return;
  // A moment later: whoever types goes on typing.
  await hurrySync(db, sheet.id, now + 2000);
  const watch = await watchBy(db, sheet.brandId, sheet.watchId);
  if (!watch) return;
  const known = await itemsByIdentity(db, watch.id, rows.map(identityOf));
  const here = rows.filter((row) => !row.deleted);
  const items = (some: readonly SheetRow[]) => some.map((row) => rowItem(sheet, row, context, origin));
  const fresh = items(here.filter((row) => !known.has(identityOf(row))));
  const again = items(here.filter((row) => known.has(identityOf(row))));
  await storeArrivals(db, watch, { past: past ? fresh : [], fresh: past ? [] : fresh, again }, now);
  const gone = rows.flatMap((row) => (row.deleted ? (known.get(identityOf(row)) ?? []) : []));
  await setItemsGone(db, watch, gone, now);
}
