// Sheets and their rows, as they are asked for and answered.
import { groupSchema } from '@playa/core/conditions/condition.ts';
import { columnSchema } from '@playa/core/sheets/column.ts';
import { z } from 'zod';
import { moment, useSchema } from '../contract/schemas.ts';
import * as rows from '../../store/sheet-rows.ts';
import { sheetBy, type Sheet } from '../../store/sheets.ts';
import { Problem } from '../problem.ts';
import { id } from '../contract/endpoint.ts';

export const name = z.string().trim().min(1, 'A sheet needs a name.').max(120);
export const cell = z.union([z.string().max(20000), z.number(), z.boolean(), z.null()]);
export const cells = z.record(z.string().max(60), cell);
export const params = z.object({ id });
export const namedSchema = z.object({ id: z.number(), name: z.string() });
const viewSchema = z
  .object({
    name: z.string(),
    sort: z.array(z.object({ key: z.string(), down: z.boolean() })),
    filter: groupSchema.nullable(),
    hidden: z.array(z.string()),
  })
  .meta({ id: 'SheetView' });
export const rowSchema = z
  .object({
    id: z.number(),
    place: z.number(),
    cells: z.record(z.string(), cell),
    revision: z.number(),
    changed: z.number().meta({ description: 'The count of the sheet at its last change.' }),
    createdAt: moment,
    changedAt: moment,
    deleted: z.boolean(),
  })
  .meta({ id: 'SheetRow' });
export const sheetSchema = z
  .object({
    id: z.number(),
    name: z.string(),
    columns: z.array(columnSchema),
    revision: z.number(),
    views: z.array(viewSchema),
    changes: z.number().meta({ description: 'How often any row has changed: to hand on as `since`.' }),
    outletId: z.number(),
    watchId: z.number(),
    uses: z.array(useSchema),
  })
  .meta({ id: 'Sheet' });
export const shown = ({ id: sheetId, name: called, columns, revision, views, changes, outletId, watchId }: Sheet) => ({
  id: sheetId,
  name: called,
  columns,
  revision,
  views,
  changes,
  outletId,
  watchId,
});

export const bare = ({ sheetId: _, ...row }: rows.SheetRow) => ({ ...row, cells: { ...row.cells } });
/** The sheet, or 404. */
export async function sheetOr404(
  pool: Parameters<typeof sheetBy>[0],
  brandId: number,
  sheetId: number,
): Promise<Sheet> {
  const sheet = await sheetBy(pool, brandId, sheetId);
  if (!sheet) throw new Problem(404, 'There is no such sheet.');
  return sheet;
}
