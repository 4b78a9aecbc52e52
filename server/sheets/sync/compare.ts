// Sheets that are kept in step with tables elsewhere are compared: soon after something was changed here, and every half
// minute or so to see what was changed there.
import { MOST_ROWS } from '@playa/core/sheets/column.ts';
import type { Services } from '../../base/services.ts';
import { NetworkTrouble } from '../../connectors/connector.ts';
import { inTransaction } from '../../db/database.ts';
import { noteChange } from '../../store/changes.ts';
import * as syncs from '../../store/sheet-syncs.ts';
import * as syncedRows from '../../store/synced-rows.ts';
import * as sheetSyncClaims from '../../store/sheet-sync-claims.ts';
import { sheetBy } from '../../store/sheets.ts';
import { bringIn, type Outgoing } from './bring.ts';
import { reachTable, type ReachedTable } from './reach.ts';
import { addThere, ClaimLost, RowTroubles, sendOut } from './send.ts';

const LEASE = 120_000;
/** How often it is looked whether something was changed there, milliseconds. */
const EVERY = 30_000;
/** For each hundred rows that have to be read, so that a long table does not use up what its network allows. */
const EVERY_HUNDRED = 4000;
/** So many rows are written there before both sides are compared again. */
const AT_ONCE = 200;
const SOON = 2000;
const LONGEST_WAIT = 900_000;
/** So many sheets are compared at the same time by one worker. */
const BESIDE = 3;

/** Compares the sheets that are due. Returns how many there were. */
export async function syncDue(services: Services): Promise<number> {
  const claimed = await inTransaction(services.pool, (db) =>
    sheetSyncClaims.claimDueSyncs(db, services.clock(), LEASE, BESIDE),
  );
  await Promise.all(claimed.map((sync) => syncOne(services, sync)));
  return claimed.length;
}

async function syncOne(services: Services, claimed: syncs.SheetSync): Promise<void> {
  let reached: ReachedTable | undefined;
  try {
    reached = await reachTable(services, claimed.brandId, claimed.outletId);
    const { out, more, rows } = await compare(services, claimed, reached);
    await end(services, claimed, { out, more, rows });
  } catch (error) {
    if (error instanceof ClaimLost) return;
    if (!(error instanceof NetworkTrouble)) throw error;
    if (error.kind === 'reconnect') await reached?.refused(error.message);
    await end(services, claimed, { trouble: error });
  }
}

async function compare(
  services: Services,
  claimed: syncs.SheetSync,
  reached: ReachedTable,
): Promise<{ out: Outgoing; more: boolean; rows: number }> {
  const names = new Map(claimed.rules.columns.map(({ key, there }) => [key, there]));
  // First of all what was on its way when somebody stopped: only then is it known which rows there are ours.
  const links = new Map((await syncedRows.syncedRows(services.pool, claimed.id)).map((link) => [link.row, link]));
  const troubles = new RowTroubles();
  await addThere(services, claimed, reached, links, names, Infinity, troubles);
  const read = await reached.table.read(reached.session, reached.outlet, MOST_ROWS);
  const out = await bringIn(services, claimed, read);
  if (!out) throw new ClaimLost();
  const moreToSend = await sendOut(services, claimed, reached, out, AT_ONCE, troubles);
  const moreToAdd = await addThere(services, claimed, reached, out.links, names, AT_ONCE, troubles);
  troubles.settle();
  return { out, more: moreToSend || moreToAdd, rows: read.rows.length };
}

type Ended = { out: Outgoing; more: boolean; rows: number; trouble?: undefined } | { trouble: NetworkTrouble };

/** Writes down how a comparison ended, beside what people have said about it meanwhile. */
async function end(services: Services, claimed: syncs.SheetSync, ended: Ended): Promise<void> {
  await inTransaction(services.pool, async (db) => {
    const now = services.clock();
    const sheet = await sheetBy(db, claimed.brandId, claimed.sheetId);
    const sync = sheet && (await sheetSyncClaims.lockClaimed(db, claimed));
    if (!sheet || !sync) return;
    let next: syncs.SheetSync;
    let dueAt: number;
    if (ended.trouble) {
      const failures = sync.failures + 1;
      next = { ...sync, failures, trouble: ended.trouble.message };
      dueAt = now + Math.max(ended.trouble.retryAfter, Math.min(LONGEST_WAIT, EVERY * 2 ** (failures - 1)));
    } else {
      const { out, more, rows } = ended;
      const remarked = new Set(out.remarks.map(({ row, key }) => `${row}:${key}`));
      const remarks = sync.remarks.filter(
        ({ row, key, why }) =>
          why !== 'refused' || !(remarked.has(`${row}:${key}`) || out.settled.has(`${row}:${key}`)),
      );
      next = {
        ...sync,
        failures: 0,
        trouble: out.notes.join(' ') || null,
        vanished: out.vanished,
        // What a person has said about missing rows was meant for those.
        onVanished: !more && sync.onVanished === claimed.onVanished ? 'ask' : sync.onVanished,
        remarks: [...remarks, ...out.remarks],
        syncedAt: more ? sync.syncedAt : now,
      };
      const changedMeanwhile = sheet.changes !== out.changes || sync.onVanished !== claimed.onVanished;
      dueAt = more ? now : now + (changedMeanwhile ? SOON : Math.max(EVERY, Math.ceil(rows / 100) * EVERY_HUNDRED));
    }
    await sheetSyncClaims.endSync(db, next, dueAt);
    const shown = ({ trouble, vanished, remarks }: syncs.SheetSync) => JSON.stringify([trouble, vanished, remarks]);
    if (shown(next) !== shown(sync) || !claimed.joined) await noteChange(db, sync.brandId, 'sheets', sync.sheetId, now);
  });
}
