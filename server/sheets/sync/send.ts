// What was changed here is written there: cell by cell where some are refused, and a new row exactly once.
import { randomUUID } from 'node:crypto';
import type { Cell } from '@playa/core/sheets/cell.ts';
import type { AgreedCell } from '@playa/core/sheets/sync.ts';
import type { Services } from '../../base/services.ts';
import { NetworkTrouble, type RemoteRow } from '../../connectors/connector.ts';
import * as syncs from '../../store/sheet-syncs.ts';
import * as syncedRows from '../../store/synced-rows.ts';
import * as sheetSyncClaims from '../../store/sheet-sync-claims.ts';
import type { Outgoing } from './bring.ts';
import { markOf, sayThere, type ReachedTable } from './reach.ts';
import type { SyncedRow } from '../../store/synced-rows.ts';

/** Somebody else compares by now, or it was paused: nothing more is to be written. */
export class ClaimLost extends Error {
  override name = 'ClaimLost';
}

/** So long one write may take, milliseconds. */
const LEASE = 120_000;

async function holdOn(services: Services, sync: syncs.SheetSync): Promise<void> {
  if (!(await sheetSyncClaims.extendClaim(services.pool, sync, services.clock() + LEASE))) throw new ClaimLost();
}

/** So many rows may meet a trouble of the network's own before it is taken to be down. */
const MOST_TROUBLES = 3;

/** Troubles of single rows, which hold nobody else back; and of the network, which end a comparison. */
export class RowTroubles {
  readonly #met: NetworkTrouble[] = [];
  /** Notes a row's trouble. @throws it where it is no matter of one row, or there are too many */
  meet(error: unknown): void {
    const ofRow = error instanceof NetworkTrouble && (error.kind === 'retry' || error.kind === 'unknown');
    if (!ofRow || this.#met.length + 1 >= MOST_TROUBLES) throw error;
    this.#met.push(error);
  }
  /** @throws the first, once all else is done */
  settle(): void {
    if (this.#met[0]) throw this.#met[0];
  }
}

/** Whether a network has looked at what was sent and does not take it. */
const refuses = (error: unknown): error is NetworkTrouble =>
  error instanceof NetworkTrouble && error.kind === 'fix' && !error.missing;

/**
 * Adds rows there that are new here. Each carries a key that was stored before, so that an addition of which no answer came
 * is repeated and not doubled.
 *
 * @returns whether there are more
 */
export async function addThere(
  services: Services,
  sync: syncs.SheetSync,
  { table, session, outlet }: ReachedTable,
  links: Map<number, SyncedRow>,
  names: ReadonlyMap<string, string>,
  most: number,
  troubles: RowTroubles,
): Promise<boolean> {
  const adding = [...links.values()].filter((link) => link.there === null);
  for (const link of adding.slice(0, most)) {
    await holdOn(services, sync);
    try {
      let wanted = link.adding!;
      let { agreed } = link;
      let made: RemoteRow;
      try {
        made = await table.add(session, outlet, wanted.cells, wanted.key);
      } catch (error) {
        if (!refuses(error) || Object.keys(wanted.cells).length === 0) throw error;
        // Some cell of it is refused: the row is added empty, and then its cells one by one.
        wanted = { key: randomUUID(), cells: {} };
        agreed = {};
        await syncedRows.keepSyncedRows(services.pool, sync.id, [{ ...link, adding: wanted, agreed }]);
        made = await table.add(session, outlet, {}, wanted.key);
      }
      const kept: Record<string, AgreedCell> = {};
      for (const [key, { here }] of Object.entries(agreed)) {
        const name = names.get(key);
        if (name !== undefined) kept[key] = { here, there: markOf(made.cells[name] ?? null) };
      }
      const added: SyncedRow = { row: link.row, there: made.id, adding: null, agreed: kept };
      await syncedRows.keepSyncedRows(services.pool, sync.id, [added]);
      links.set(link.row, added);
    } catch (error) {
      troubles.meet(error);
    }
  }
  return adding.length > most;
}

/**
 * Writes there what was changed and deleted here. What comes of it is noted in `out`.
 *
 * @returns whether there is more
 */
export async function sendOut(
  services: Services,
  sync: syncs.SheetSync,
  reached: ReachedTable,
  out: Outgoing,
  most: number,
  troubles: RowTroubles,
): Promise<boolean> {
  const { table, session, outlet } = reached;
  for (const each of out.send.slice(0, most)) {
    await holdOn(services, sync);
    const write = async (cells: Record<string, Cell>): Promise<void> => {
      const there = await table.change(session, outlet, each.there, sayThere(out.pairs, cells, out.context));
      for (const key of Object.keys(cells)) agree(out, each.row, key, cells[key]!, there.cells);
    };
    try {
      await write(each.cells);
    } catch (error) {
      // It was deleted there meanwhile: the next comparison sees to it.
      if (error instanceof NetworkTrouble && error.missing) continue;
      if (!refuses(error)) {
        troubles.meet(error);
        continue;
      }
      for (const [key, cell] of Object.entries(each.cells))
        try {
          await holdOn(services, sync);
          await write({ [key]: cell });
        } catch (single) {
          if (!refuses(single)) {
            troubles.meet(single);
            continue;
          }
          out.remarks.push({ row: each.row, key, why: 'refused', says: single.message, at: services.clock() });
          // It is not sent again before it is changed here.
          agree(out, each.row, key, cell, out.there.get(each.there)?.cells ?? {});
          out.settled.delete(`${each.row}:${key}`);
        }
    }
    await syncedRows.keepSyncedRows(services.pool, sync.id, [out.links.get(each.row)!]);
  }
  for (const { row, there } of out.remove.slice(0, most)) {
    await holdOn(services, sync);
    try {
      await table.remove(session, outlet, there);
    } catch (error) {
      troubles.meet(error);
      continue;
    }
    await syncedRows.dropSyncedRows(services.pool, sync.id, [row]);
  }
  return out.send.length > most || out.remove.length > most;
}

/** Notes that a cell says this here and that there, and that both are one. */
function agree(out: Outgoing, row: number, key: string, here: Cell, there: RemoteRow['cells']): void {
  const link = out.links.get(row)!;
  const name = out.pairs.find((pair) => pair.key === key)!.there;
  const cell = there[name] === '' ? null : (there[name] ?? null);
  out.links.set(row, { ...link, agreed: { ...link.agreed, [key]: { here: markOf(here), there: markOf(cell) } } });
  out.settled.add(`${row}:${key}`);
}
