// Sheets are made, given other columns, and deleted.
import { isWritten, type Column } from '@playa/core/sheets/column.ts';
import type { Step } from '@playa/core/steps/index.ts';
import type { SheetView } from '@playa/core/sheets/view.ts';
import type { OutletDetails } from '@playa/core/model/world.ts';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { outletsUsed, watchesUsed } from '@playa/core/workflow/uses.ts';
import { inTransaction, type Queryable } from '../db/database.ts';
import type { Services } from '../base/services.ts';
import { addAudit } from '../store/audit.ts';
import { noteChange } from '../store/changes.ts';
import { addOwnOutlet, reviseOwnOutlet } from '../store/outlets.ts';
import { bumpEpoch } from '../store/users.ts';
import { rowsOfSheet } from '../store/sheet-rows.ts';
import * as sheets from '../store/sheets.ts';
import { noteFirstLook, renameWatch } from '../store/watches.ts';
import { keepSource } from '../watch/kinds/keep.ts';
import { sheetKind } from '../watch/kinds/sheet.ts';
import { usesOf, type Use } from '../world/uses.ts';
import { cellContextOf } from './context.ts';
import { tellRows } from './tell-rows.ts';

/** Why something cannot be done to a sheet. */
export class SheetTrouble extends Error {
  override name = 'SheetTrouble';
  /** gone: it is not there. stale: somebody else has changed it. used: a live workflow needs it. full: too many rows. */
  readonly why: 'gone' | 'stale' | 'used' | 'full';
  /** The revision that is there now, of a sheet that somebody else has changed. */
  readonly current: number | undefined;
  constructor(why: SheetTrouble['why'], message: string, current?: number) {
    super(message);
    this.why = why;
    this.current = current;
  }
}

const detailsOf = (columns: readonly Column[]): OutletDetails => ({
  columns: columns.map((column) => ({
    name: column.key,
    ...(column.name !== column.key && { label: column.name }),
    type: column.type,
    ...(!isWritten(column) && { computed: true }),
  })),
});

const addressOf = (services: Services, brandId: number, id: number) =>
  `${services.config.origin}/${brandId}/sheets/${id}`;

/** Makes a sheet. Workflows can watch it and write into it from then on. Returns its number. */
export async function makeSheet(
  services: Services,
  brandId: number,
  sheet: { name: string; columns: Column[] },
): Promise<number> {
  return inTransaction(services.pool, async (db) => {
    const now = services.clock();
    const outlet = { kind: 'sheet' as const, name: sheet.name, address: null, details: detailsOf(sheet.columns) };
    const outletId = await addOwnOutlet(db, brandId, outlet);
    const watchId = await keepSource(db, sheetKind, {
      brandId,
      params: {},
      name: `${sheet.name}: rows`,
      things: 'rows',
      everySeconds: 3600,
    });
    await noteFirstLook(db, watchId, now);
    const id = await sheets.addSheet(db, { brandId, ...sheet, outletId, watchId }, now);
    await reviseOwnOutlet(db, brandId, outletId, {
      ...outlet,
      address: addressOf(services, brandId, id),
      goneAt: null,
    });
    await addAudit(db, services.actor, { brandId, did: 'made', about: 'sheet', id, name: sheet.name }, now);
    await noteChange(db, brandId, 'sheets', id, now);
    return id;
  });
}

/** The workflows that watch a sheet or write into it. */
export const usesOfSheet = (
  db: Queryable,
  sheet: Pick<sheets.Sheet, 'brandId' | 'watchId' | 'outletId'>,
): Promise<Use[]> => usesOf(db, sheet.brandId, usingSheet(sheet));

/** Finds the steps of workflows that begin with rows of a sheet, or write to it. */
export const usingSheet =
  (sheet: Pick<sheets.Sheet, 'watchId' | 'outletId'>) =>
  (definition: Definition): readonly Step[] =>
    watchesUsed(definition).has(sheet.watchId) || outletsUsed(definition).has(sheet.outletId) ? definition.steps : [];

/** The live workflows that rows of a sheet may start. */
export const startedBy = async (db: Queryable, sheet: Pick<sheets.Sheet, 'brandId' | 'watchId'>): Promise<string[]> => {
  const uses = await usesOf(db, sheet.brandId, (definition) =>
    watchesUsed(definition).has(sheet.watchId) ? definition.steps : [],
  );
  return uses.filter((use) => use.live).map((use) => use.workflow);
};

/**
 * Gives a sheet another name, other columns or views. Keys of columns stay, so nothing that uses one has to change; cells
 * of a column that is left out are kept, and come back with it.
 *
 * @param revision the one that was changed
 * @throws SheetTrouble
 */
export async function changeSheet(
  services: Services,
  brandId: number,
  id: number,
  revision: number,
  next: { name?: string | undefined; columns?: Column[] | undefined; views?: SheetView[] | undefined },
): Promise<void> {
  await inTransaction(services.pool, async (db) => {
    const now = services.clock();
    const sheet = await sheets.lockSheet(db, brandId, id);
    if (!sheet) throw new SheetTrouble('gone', 'This sheet is gone.');
    if (sheet.revision !== revision)
      throw new SheetTrouble(
        'stale',
        'Somebody else has changed this sheet since you opened it. What you changed is kept here.',
        sheet.revision,
      );
    const changed: sheets.Sheet = {
      ...sheet,
      name: next.name ?? sheet.name,
      columns: next.columns ?? sheet.columns,
      views: next.views ?? sheet.views,
    };
    await sheets.reviseSheet(db, changed);
    const shapeChanged = JSON.stringify(changed.columns) !== JSON.stringify(sheet.columns);
    if (shapeChanged || changed.name !== sheet.name) {
      await reviseOwnOutlet(db, brandId, sheet.outletId, {
        name: changed.name,
        address: addressOf(services, brandId, id),
        details: detailsOf(changed.columns),
        goneAt: null,
      });
      await renameWatch(db, brandId, sheet.watchId, `${changed.name}: rows`);
      const names = (columns: readonly Column[]) => columns.map((each) => `${each.name} (${each.type})`).join(', ');
      const deed = { brandId, did: 'changed', about: 'sheet', id, name: changed.name } as const;
      await addAudit(db, services.actor, { ...deed, was: names(sheet.columns), became: names(changed.columns) }, now);
      // What rows say to workflows may be something else now.
      const context = await cellContextOf(db, brandId);
      for (let after: { place: number; id: number } | null = null; ;) {
        const rows: Awaited<ReturnType<typeof rowsOfSheet>> = await rowsOfSheet(db, brandId, id, after, 1000);
        await tellRows(db, changed, rows, { context, origin: services.config.origin, now });
        const last = rows.at(-1);
        if (!last || rows.length < 1000) break;
        after = { place: last.place, id: last.id };
      }
      await bumpEpoch(db, brandId);
      await noteChange(db, brandId, 'workflows', null, now);
    }
    await noteChange(db, brandId, 'sheets', id, now);
  });
}

/** Deletes a sheet that no live workflow uses. @throws SheetTrouble */
export async function removeSheet(services: Services, brandId: number, id: number): Promise<void> {
  await inTransaction(services.pool, async (db) => {
    const now = services.clock();
    const sheet = await sheets.lockSheet(db, brandId, id);
    if (!sheet) throw new SheetTrouble('gone', 'This sheet is gone.');
    const live = (await usesOfSheet(db, sheet)).find((use) => use.live);
    if (live)
      throw new SheetTrouble(
        'used',
        `“${live.workflow}” is live and uses it. Pause it or take the sheet out there first.`,
      );
    await sheets.setSheetDeleted(db, brandId, id, now);
    const { name } = sheet;
    await reviseOwnOutlet(db, brandId, sheet.outletId, { name, address: null, details: {}, goneAt: now });
    await addAudit(db, services.actor, { brandId, did: 'deleted', about: 'sheet', id, name }, now);
    await noteChange(db, brandId, 'sheets', id, now);
    await noteChange(db, brandId, 'workflows', null, now);
  });
}

/** Brings a deleted sheet back. @throws SheetTrouble when it was not deleted */
export async function restoreSheet(services: Services, brandId: number, id: number): Promise<void> {
  await inTransaction(services.pool, async (db) => {
    const now = services.clock();
    if (!(await sheets.setSheetDeleted(db, brandId, id, null)))
      throw new SheetTrouble('gone', 'There is no such deleted sheet.');
    const { name, columns, outletId } = (await sheets.lockSheet(db, brandId, id))!;
    await reviseOwnOutlet(db, brandId, outletId, {
      name,
      address: addressOf(services, brandId, id),
      details: detailsOf(columns),
      goneAt: null,
    });
    await addAudit(db, services.actor, { brandId, did: 'restored', about: 'sheet', id, name }, now);
    await noteChange(db, brandId, 'sheets', id, now);
    await noteChange(db, brandId, 'workflows', null, now);
  });
}
