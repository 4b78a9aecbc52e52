// People have a sheet kept in step with a table elsewhere: they see first what would come of it, and decide what Playa will
// not decide alone.
import { sayCell, type Cell } from '@playa/core/sheets/cell.ts';
import { MOST_ROWS } from '@playa/core/sheets/column.ts';
import { pairRows } from '@playa/core/sheets/pair-rows.ts';
import { planSync, type RowLink, type SyncRules } from '@playa/core/sheets/sync.ts';
import type { Services } from '../../base/services.ts';
import { inTransaction } from '../../db/database.ts';
import { mustBeAt, revisionOf } from '../../db/revision.ts';
import { addAudit } from '../../store/audit.ts';
import { noteChange } from '../../store/changes.ts';
import { outletBy, type Outlet } from '../../store/outlets.ts';
import { accountsOf } from '../../store/accounts.ts';
import { rowsOfSheet } from '../../store/sheet-rows.ts';
import * as syncs from '../../store/sheet-syncs.ts';
import * as syncedRows from '../../store/synced-rows.ts';
import { lockSheet, sheetBy } from '../../store/sheets.ts';
import { cellContextOf } from '../context.ts';
import { SheetTrouble, startedBy } from '../keep-sheet.ts';
import { columnPairs, markOf, reachTable, readThere } from './reach.ts';

/** Among some outlets, tables elsewhere that the brand's accounts can read and write whole, with the sheets that are in step with them already. */
export async function tablesElsewhere(services: Services, brandId: number, outlets: readonly Outlet[]) {
  const { pool, connectors } = services;
  const accounts = new Map((await accountsOf(pool, brandId)).map((account) => [account.id, account]));
  const tables = outlets.filter(({ accountId, gone }) => {
    const account = accountId === null ? undefined : accounts.get(accountId);
    return !gone && account?.status === 'ok' && connectors[account.kind].table !== undefined;
  });
  const taken = await syncs.sheetsInStep(pool, brandId);
  return tables.map(({ id, name, details }) => ({
    id,
    name,
    columns: (details.columns ?? []).map((column) => ({ name: column.name, type: column.type })),
    inStepWith: taken.get(id) ?? null,
  }));
}

/** A cell that would be written over, by the words of both sides. */
export interface Differs {
  row: number;
  key: string;
  here: string;
  there: string;
}
/** So many examples of each are shown. */
const MOST_SHOWN = 50;

/** What keeping a sheet in step with a table would do first. Nothing is written. @throws SheetTrouble, NetworkTrouble */
export async function previewSync(
  services: Services,
  brandId: number,
  sheetId: number,
  asked: { outletId: number; rules: SyncRules },
) {
  const { pool } = services;
  const sheet = await sheetBy(pool, brandId, sheetId);
  if (!sheet) throw new SheetTrouble('gone', 'This sheet is gone.');
  const reached = await reachTable(services, brandId, asked.outletId);
  const read = await reached.table.read(reached.session, reached.outlet, MOST_ROWS);
  const context = await cellContextOf(pool, brandId);
  const { pairs, missing } = columnPairs(asked.rules, sheet.columns, read.columns);
  const readCell = readThere(pairs, context);
  const here = await rowsOfSheet(pool, brandId, sheetId, null, MOST_ROWS);
  const known = await syncs.syncOfSheet(pool, brandId, sheetId);
  const links: RowLink[] =
    known?.joined && known.outletId === asked.outletId
      ? (await syncedRows.syncedRows(pool, known.id)).flatMap(({ row, there, agreed }) =>
          there === null ? [] : [{ row, there, agreed }],
        )
      : pairRows(here, read.rows, { columns: pairs, match: asked.rules.match }, readCell);
  const plan = planSync({
    here,
    there: read.rows,
    whole: read.whole,
    links,
    rules: { ...asked.rules, columns: pairs },
    read: readCell,
    mark: markOf,
    onVanished: 'ask',
  });
  const columnOf = new Map(pairs.map(({ key, column }) => [key, column]));
  const say = (key: string, cell: Cell | undefined) => sayCell(columnOf.get(key)!, cell, context);
  const cellsIn = (some: readonly { cells: Readonly<Record<string, Cell>> }[]) =>
    some.reduce((sum, { cells }) => sum + Object.keys(cells).length, 0);
  const differ = plan.conflicts.map(({ row, key, kept, lost }): Differs => {
    const [mine, theirs] = asked.rules.wins === 'here' ? [kept, lost] : [lost, kept];
    return { row, key, here: say(key, mine), there: say(key, theirs) };
  });
  return {
    here: here.length,
    there: read.rows.length,
    whole: read.whole,
    columns: [...read.columns],
    missing,
    paired: links.length,
    addHere: plan.addHere.length,
    addThere: plan.addThere.length,
    bring: cellsIn(plan.bring),
    send: cellsIn(plan.send),
    differ: differ.slice(0, MOST_SHOWN),
    differs: differ.length,
    startedBy: plan.bring.length > 0 ? await startedBy(pool, sheet) : [],
  };
}

/** The revision of how a sheet is kept in step: of the table and the rules. */
export const syncRevision = ({ outletId, rules }: { outletId: number; rules: SyncRules }): string =>
  revisionOf({ outletId, rules });

/**
 * Keeps a sheet in step with a table from now on.
 *
 * @param seen the revision of how it was kept in step before; null where it was not
 * @throws SheetTrouble, ChangedMeanwhile
 */
export async function keepInStep(
  services: Services,
  brandId: number,
  sheetId: number,
  { outletId, rules }: { outletId: number; rules: SyncRules },
  seen?: string | null,
): Promise<void> {
  // Looked at first: a table that cannot be reached is none to be in step with.
  const { name: there } = await reachTable(services, brandId, outletId);
  await inTransaction(services.pool, async (db) => {
    const now = services.clock();
    const sheet = await lockSheet(db, brandId, sheetId);
    if (!sheet) throw new SheetTrouble('gone', 'This sheet is gone.');
    const other = (await syncs.sheetsInStep(db, brandId)).get(outletId);
    if (other && other.sheetId !== sheetId)
      throw new SheetTrouble('used', `“${other.name}” is kept in step with ${there} already.`);
    const known = new Set(sheet.columns.map(({ key }) => key));
    const strange = [...rules.columns.map(({ key }) => key), ...(rules.match ? [rules.match] : [])].find(
      (key) => !known.has(key),
    );
    if (strange !== undefined) throw new SheetTrouble('stale', `This sheet has no column “${strange}” any more.`);
    const before = await syncs.syncOfSheet(db, brandId, sheetId, true);
    mustBeAt('how it is kept in step', before ? syncRevision(before) : null, seen);
    await syncs.keepSync(db, { brandId, sheetId, outletId, rules }, now);
    const was = before && (await outletBy(db, brandId, before.outletId))?.name;
    const deed = { brandId, did: 'kept in step', about: 'sheet', id: sheetId, name: sheet.name } as const;
    await addAudit(db, services.actor, { ...deed, was, became: there }, now);
    await noteChange(db, brandId, 'sheets', sheetId, now);
  });
}

/** What a person says about a sheet that is kept in step. */
export interface SaidOfSync {
  paused?: boolean | undefined;
  /** What is done about many rows that are missing on one side. */
  vanished?: 'delete' | 'again' | undefined;
  /** What was remarked up to this moment has been seen, milliseconds since 1970 UTC. */
  seen?: number | undefined;
}

/** Pauses, goes on, decides about missing rows, or takes what was remarked as seen. @throws SheetTrouble */
export async function sayOfSync(services: Services, brandId: number, sheetId: number, said: SaidOfSync): Promise<void> {
  await inTransaction(services.pool, async (db) => {
    const now = services.clock();
    const sheet = await lockSheet(db, brandId, sheetId);
    const sync = sheet && (await syncs.syncOfSheet(db, brandId, sheetId, true));
    if (!sheet || !sync) throw new SheetTrouble('gone', 'This sheet is not kept in step with anything.');
    const next = {
      ...sync,
      state: said.paused === undefined ? sync.state : said.paused ? ('paused' as const) : ('on' as const),
      onVanished: said.vanished ?? sync.onVanished,
      vanished: said.vanished ? null : sync.vanished,
      remarks: sync.remarks.filter(({ at, why }) => why === 'refused' || at > (said.seen ?? -Infinity)),
    };
    await syncs.reviseSync(db, next, now);
    const deed = { brandId, about: 'sheet', id: sheetId, name: sheet.name } as const;
    if (next.state !== sync.state)
      await addAudit(db, services.actor, { ...deed, did: next.state === 'paused' ? 'paused' : 'let go on' }, now);
    if (said.vanished)
      await addAudit(
        db,
        services.actor,
        {
          ...deed,
          did: 'kept in step',
          became: said.vanished === 'delete' ? 'missing rows deleted' : 'missing rows written again',
        },
        now,
      );
    await noteChange(db, brandId, 'sheets', sheetId, now);
  });
}

/** Keeps a sheet in step no longer; both sides stay as they are. @throws SheetTrouble */
export async function leaveStep(services: Services, brandId: number, sheetId: number): Promise<void> {
  await inTransaction(services.pool, async (db) => {
    const now = services.clock();
    const sheet = await lockSheet(db, brandId, sheetId);
    const sync = sheet && (await syncs.syncOfSheet(db, brandId, sheetId));
    if (!sheet || !sync) throw new SheetTrouble('gone', 'This sheet is not kept in step with anything.');
    await syncs.removeSync(db, brandId, sheetId);
    const was = (await outletBy(db, brandId, sync.outletId))?.name;
    const deed = { brandId, did: 'left apart', about: 'sheet', id: sheetId, name: sheet.name } as const;
    await addAudit(db, services.actor, { ...deed, was }, now);
    await noteChange(db, brandId, 'sheets', sheetId, now);
  });
}
