// Somebody who is forgotten goes from the rows of Playa's own sheets that workflows have written about them too.
import { isWritten } from '@playa/core/sheets/column.ts';
import type { Services } from '../base/services.ts';
import type { Queryable } from '../db/database.ts';
import { cellContextOf } from '../sheets/context.ts';
import { tellRows } from '../sheets/tell-rows.ts';
import { noteChange } from '../store/changes.ts';
import { rewordOwnRows } from '../store/own-things.ts';
import { rewordRows, rowsWrittenBy } from '../store/rows-about.ts';
import { reviseRow, rowsById, type SheetRow } from '../store/sheet-rows.ts';
import { dropRemarks, forgetAdding } from '../store/sheet-syncs.ts';
import { countChange, sheetForGood } from '../store/sheets.ts';

/**
 * Takes words out of the rows that some runs have written, of what was done to those rows, and of what runs about them did.
 * What colleagues have typed into the same rows is looked through as well; rows of other sheets are not.
 *
 * @param put a text without what is not to be known any more
 */
export async function forgetInRows(
  services: Pick<Services, 'config'>,
  db: Queryable,
  brandId: number,
  runs: readonly number[],
  put: (text: string) => string,
  now: number,
): Promise<void> {
  for (const [sheetId, ids] of await rowsWrittenBy(db, brandId, runs)) {
    const sheet = await sheetForGood(db, brandId, sheetId);
    if (!sheet) continue;
    const known = await rowsById(db, brandId, sheetId, ids);
    const written = sheet.columns.filter(isWritten).map(({ key }) => key);
    const count = await countChange(db, sheet);
    const changed: SheetRow[] = [];
    for (const row of known.values()) {
      const cells = { ...row.cells };
      for (const key of written) {
        const cell = cells[key];
        if (typeof cell === 'string') cells[key] = put(cell);
      }
      if (written.every((key) => cells[key] === row.cells[key])) continue;
      const next = { ...row, cells, revision: row.revision + 1, changed: count, changedAt: now };
      await reviseRow(db, next, count, now);
      changed.push(next);
    }
    const context = await cellContextOf(db, brandId);
    // Runs that wait about such a row follow it, as when a colleague corrects it.
    await tellRows(db, sheet, changed, { context, origin: services.config.origin, now });
    await rewordRows(db, sheet.watchId, ids, put);
    await dropRemarks(db, sheetId, ids);
    await forgetAdding(db, ids);
    await rewordOwnRows(db, brandId, sheet.outletId, ids, put);
    await noteChange(db, brandId, 'sheets', sheetId, now);
  }
}
