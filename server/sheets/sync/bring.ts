// One comparison of a sheet with the table it is kept in step with: what came from there is written here in one transaction,
// and what has to be written there is noted in it.
import { randomUUID } from 'node:crypto';
import { sayCell, type Cell, type CellContext } from '@playa/core/sheets/cell.ts';
import { MOST_ROWS } from '@playa/core/sheets/column.ts';
import { withCells } from '@playa/core/sheets/merge-edit.ts';
import { pairRows } from '@playa/core/sheets/pair-rows.ts';
import { planSync, type RowLink, type SyncPlan, type Vanished } from '@playa/core/sheets/sync.ts';
import type { Services } from '../../base/services.ts';
import type { RemoteRow, TableRows } from '../../connectors/connector.ts';
import { inTransaction, type Queryable } from '../../db/database.ts';
import { noteChange } from '../../store/changes.ts';
import * as rows from '../../store/sheet-rows.ts';
import * as syncs from '../../store/sheet-syncs.ts';
import * as syncedRows from '../../store/synced-rows.ts';
import * as sheetSyncClaims from '../../store/sheet-sync-claims.ts';
import { countChange, lockSheet, type Sheet } from '../../store/sheets.ts';
import { cellContextOf } from '../context.ts';
import { tellRows } from '../tell-rows.ts';
import { columnPairs, markOf, readThere, sayThere, type ColumnPair } from './reach.ts';
import type { SyncedRow } from '../../store/synced-rows.ts';

/** What is to be done there, and what both sides know of each other. */
export interface Outgoing {
  pairs: readonly ColumnPair[];
  context: CellContext;
  /** By the numbers of rows here. */
  links: Map<number, SyncedRow>;
  /** The rows there as they were read. */
  there: ReadonlyMap<string, RemoteRow>;
  send: SyncPlan['send'];
  remove: SyncPlan['deleteThere'];
  /** The count of the sheet's changes that was compared. */
  changes: number;
  vanished: Vanished | null;
  /** What the other side does not take. */
  remarks: syncs.SyncRemark[];
  /** Cells that are in step: "row:key". */
  settled: Set<string>;
  /** What keeps rows or columns apart, in words. */
  notes: string[];
}

/** Everything that is written here in one comparison. */
interface Bringing {
  db: Queryable;
  sheet: Sheet;
  count: number;
  now: number;
  known: ReadonlyMap<number, rows.SheetRow>;
}

/** The rows of a sheet, with those deleted ones that some links lead to. */
async function rowsWith(db: Queryable, sheet: Sheet, linked: readonly number[]): Promise<Map<number, rows.SheetRow>> {
  const all = await rows.rowsOfSheet(db, sheet.brandId, sheet.id, null, MOST_ROWS);
  const known = new Map(all.map((row) => [row.id, row]));
  const deleted = await rows.rowsById(
    db,
    sheet.brandId,
    sheet.id,
    linked.filter((id) => !known.has(id)),
  );
  for (const [id, row] of deleted) known.set(id, row);
  return known;
}

/**
 * Compares, and writes here what came from there.
 *
 * @returns what is to be done there; undefined when the claim was lost or the sheet is gone
 */
export function bringIn(
  services: Services,
  claimed: syncs.SheetSync,
  read: Awaited<ReturnType<TableRows['read']>>,
): Promise<Outgoing | undefined> {
  return inTransaction(services.pool, async (db) => {
    const now = services.clock();
    const sheet = await lockSheet(db, claimed.brandId, claimed.sheetId);
    const sync = sheet && (await sheetSyncClaims.lockClaimed(db, claimed));
    if (!sheet || !sync) return undefined;
    const context = await cellContextOf(db, sheet.brandId);
    const { pairs, missing } = columnPairs(sync.rules, sheet.columns, read.columns);
    const notes = missing.map((name) => `There is no column “${name}” there any more.`);
    if (!read.whole)
      notes.push(`There are more than ${MOST_ROWS.toLocaleString('en')} rows there; the rest stay apart.`);
    const links = new Map((await syncedRows.syncedRows(db, sync.id)).map((link) => [link.row, link]));
    const known = await rowsWith(db, sheet, [...links.keys()]);
    const here = [...known.values()];
    const readCell = readThere(pairs, context);
    const fresh: SyncedRow[] = [];
    const keep = (link: SyncedRow) => {
      links.set(link.row, link);
      fresh.push(link);
    };
    if (!sync.joined)
      for (const link of pairRows(here, read.rows, { columns: pairs, match: sync.rules.match }, readCell))
        keep({ row: link.row, there: link.there, adding: null, agreed: link.agreed });
    const pending = [...links.values()].some((link) => link.there === null);
    const plan = planSync({
      // What is on its way there is not to be added once more.
      here: here.filter((row) => links.get(row.id)?.there !== null),
      there: read.rows,
      whole: read.whole,
      links: [...links.values()].flatMap(({ row, there, agreed }): RowLink[] =>
        there ? [{ row, there, agreed }] : [],
      ),
      rules: { ...sync.rules, columns: pairs },
      read: readCell,
      mark: markOf,
      onVanished: sync.onVanished,
    });
    // One of those may be what is on its way.
    if (pending) plan.addHere = [];
    const writes = plan.bring.length + plan.addHere.length + plan.deleteHere.length > 0;
    const count = writes ? await countChange(db, sheet) : sheet.changes;
    const bringing: Bringing = { db, sheet, count, now, known };

    for (const { row, agreed } of plan.agree) {
      const link = links.get(row)!;
      keep({ ...link, agreed: { ...link.agreed, ...agreed } });
    }
    const changed = await writeRows(bringing, plan);
    const added = await addRows(bringing, plan, keep);
    if (added.full) notes.push(`The sheet is full: it has ${MOST_ROWS.toLocaleString('en')} rows.`);
    for (const { row } of plan.addThere) {
      const { cells } = known.get(row)!;
      const mapped = Object.fromEntries(pairs.map(({ key }) => [key, cells[key] ?? null]));
      const agreed = Object.fromEntries(pairs.map(({ key }) => [key, { here: markOf(mapped[key]!), there: '' }]));
      keep({ row, there: null, adding: { key: randomUUID(), cells: sayThere(pairs, mapped, context) }, agreed });
    }
    if (!sync.joined) await sheetSyncClaims.noteJoined(db, sync.id, now);
    const gone = [...plan.forget, ...plan.deleteHere];
    await syncedRows.keepSyncedRows(db, sync.id, [...new Map(fresh.map((link) => [link.row, link])).values()]);
    await syncedRows.dropSyncedRows(db, sync.id, gone);
    for (const row of gone) links.delete(row);

    const telling = { context, origin: services.config.origin, now };
    await tellRows(db, sheet, changed.rows, telling);
    // What was there before anybody kept it in step is not news.
    await tellRows(db, sheet, added.rows, { ...telling, past: !sync.joined });
    await rows.addRowHistory(db, sheet.brandId, services.actor, [...changed.deeds, ...added.deeds], now);
    if (writes) await noteChange(db, sheet.brandId, 'sheets', sheet.id, now);

    // Written down with what was written over: whatever comes of the sending, it is told.
    const columnOf = new Map(pairs.map(({ key, column }) => [key, column]));
    const lost = plan.conflicts.map(({ row, key, lost: cell }): syncs.SyncRemark => ({
      row,
      key,
      why: 'overwritten',
      says: sayCell(columnOf.get(key)!, cell, context),
      at: now,
    }));
    if (lost.length > 0) {
      await sheetSyncClaims.keepRemarks(db, sync.id, [...sync.remarks, ...lost]);
      await noteChange(db, sheet.brandId, 'sheets', sheet.id, now);
    }
    return {
      pairs,
      context,
      links,
      there: new Map(read.rows.map((row) => [row.id, row])),
      send: plan.send,
      remove: plan.deleteThere,
      changes: count,
      vanished: plan.vanished,
      remarks: [],
      settled: new Set([
        ...plan.bring.flatMap(({ row, cells }) => Object.keys(cells).map((key) => `${row}:${key}`)),
        ...plan.agree.flatMap(({ row, agreed }) => Object.keys(agreed).map((key) => `${row}:${key}`)),
      ]),
      notes,
    };
  });
}

/** Rows here that become what is said there, come back, or go. */
async function writeRows(
  { db, count, now, known }: Bringing,
  plan: SyncPlan,
): Promise<{ rows: rows.SheetRow[]; deeds: rows.RowDeed[] }> {
  const changed: rows.SheetRow[] = [];
  const deeds: rows.RowDeed[] = [];
  const put = async (row: rows.SheetRow, cells: Record<string, Cell>, deleted: boolean) => {
    const next = {
      ...row,
      cells: withCells(row.cells, cells),
      deleted,
      revision: row.revision + 1,
      changed: count,
      changedAt: now,
    };
    await rows.reviseRow(db, next, count, now);
    changed.push(next);
    return next;
  };
  for (const { row: id, cells, restore } of plan.bring) {
    const row = known.get(id)!;
    await put(row, cells, restore ? false : row.deleted);
    if (restore) deeds.push({ rowId: id, did: 'restored', was: {}, became: withCells(row.cells, cells) });
    else {
      const was = Object.fromEntries(Object.keys(cells).map((key) => [key, row.cells[key] ?? null]));
      deeds.push({ rowId: id, did: 'changed', was, became: cells });
    }
  }
  for (const id of plan.deleteHere) {
    const row = known.get(id)!;
    await put(row, {}, true);
    deeds.push({ rowId: id, did: 'deleted', was: row.cells, became: {} });
  }
  return { rows: changed, deeds };
}

/** Rows that are new there, as far as the sheet has room. */
async function addRows(
  { db, sheet, count, now }: Bringing,
  plan: SyncPlan,
  keep: (link: SyncedRow) => void,
): Promise<{ rows: rows.SheetRow[]; deeds: rows.RowDeed[]; full: boolean }> {
  if (plan.addHere.length === 0) return { rows: [], deeds: [], full: false };
  const end = await rows.endOfSheet(db, sheet.id);
  const room = Math.max(0, MOST_ROWS - end.count);
  const some = plan.addHere.slice(0, room);
  const added = await rows.addRows(
    db,
    sheet,
    some.map(({ cells }) => withCells({}, cells)),
    { place: end.place, changed: count, now },
  );
  for (const [index, row] of added.entries())
    keep({ row: row.id, there: some[index]!.there, adding: null, agreed: some[index]!.agreed });
  const deeds = added.map((row) => ({ rowId: row.id, did: 'added' as const, was: {}, became: row.cells }));
  return { rows: added, deeds, full: some.length < plan.addHere.length };
}
