import { needRoom, withinRoom } from './room.ts';
import { cutUnits } from '@playa/core/text/graphemes.ts';
import type { OutletKind } from '@playa/core/outlets/kinds.ts';
import { outletDetailsSchema, type OutletDetails } from '@playa/core/model/world.ts';
import { change, fromTimeOrNull, select, toTime, type Queryable } from '../db/database.ts';
import { bumpEpoch } from './users.ts';

export interface Outlet {
  id: number;
  brandId: number;
  /** Null for a sheet of Playa's own. */
  accountId: number | null;
  kind: OutletKind;
  remoteId: string;
  name: string;
  address: string | null;
  feed: string | null;
  gone: boolean;
  details: OutletDetails;
  /** Added by its address, since the network does not list it. */
  byHand: boolean;
  /** What the last look at the permissions found missing, and how to mend it. */
  trouble: string | null;
  remedy: string | null;
  checkedAt: number | null;
}
interface Row {
  id: number;
  brand_id: number;
  account_id: number | null;
  kind: OutletKind;
  remote_id: string;
  name: string;
  address: string | null;
  feed: string | null;
  gone_at: Date | null;
  details: string;
  by_hand: number;
  trouble: string | null;
  remedy: string | null;
  checked_at: Date | null;
}
const read = (row: Row): Outlet => ({
  id: row.id,
  brandId: row.brand_id,
  accountId: row.account_id,
  kind: row.kind,
  remoteId: row.remote_id,
  name: row.name,
  address: row.address,
  feed: row.feed,
  gone: row.gone_at !== null,
  details: row.details === '{}' ? {} : outletDetailsSchema.parse(JSON.parse(row.details)),
  byHand: row.by_hand === 1,
  trouble: row.trouble,
  remedy: row.remedy,
  checkedAt: fromTimeOrNull(row.checked_at),
});

export async function outletsOf(db: Queryable, brandId: number): Promise<Outlet[]> {
  return (await select<Row>(db, 'SELECT * FROM outlets WHERE brand_id = ? ORDER BY account_id, id', [brandId])).map(
    read,
  );
}

/** Behind which outlet a page begins. */
export interface OutletCursor {
  /** Its account; 0 where no account leads to it. */
  account: number;
  id: number;
}

/** The same in pages: the outlets of an account stand together. */
export async function outletsPage(
  db: Queryable,
  brandId: number,
  after: OutletCursor | null,
  most: number,
): Promise<Outlet[]> {
  const rows = await select<Row>(
    db,
    `SELECT * FROM outlets WHERE brand_id = ?${after ? ' AND (COALESCE(account_id, 0), id) > (?, ?)' : ''}
     ORDER BY COALESCE(account_id, 0), id LIMIT ?`,
    [brandId, ...(after ? [after.account, after.id] : []), most],
  );
  return rows.map(read);
}

export async function outletBy(db: Queryable, brandId: number, id: number): Promise<Outlet | undefined> {
  return (await select<Row>(db, 'SELECT * FROM outlets WHERE brand_id = ? AND id = ?', [brandId, id])).map(read)[0];
}

/** An account's outlet by the network's own id. */
export async function outletByRemote(db: Queryable, accountId: number, remoteId: string): Promise<Outlet | undefined> {
  return (
    await select<Row>(db, 'SELECT * FROM outlets WHERE account_id = ? AND remote_id = ?', [accountId, remoteId])
  ).map(read)[0];
}

export type Listed = Pick<Outlet, 'kind' | 'remoteId' | 'name' | 'address' | 'feed'> & {
  details?: OutletDetails | undefined;
};
interface Owner {
  brandId: number;
  accountId: number;
}

/** Brings an account's outlets in line with what its network lists. Those that vanished are kept, marked as gone. */
export async function keepOutlets(db: Queryable, owner: Owner, listed: readonly Listed[], now: number): Promise<void> {
  await withinRoom(db, owner.brandId, 'outlets', async () => {
    await change(db, 'UPDATE outlets SET gone_at = ? WHERE account_id = ? AND gone_at IS NULL', [
      toTime(now),
      owner.accountId,
    ]);
    for (const outlet of listed) await keepOutlet(db, owner, outlet, false);
  });
  await bumpEpoch(db, owner.brandId);
}

/** Adds an outlet that a person gave by its address, or had made. Returns its number. Run inside a transaction. @throws NoRoom */
export async function addOutlet(db: Queryable, owner: Owner, outlet: Listed, byHand: boolean): Promise<number> {
  await withinRoom(db, owner.brandId, 'outlets', () => keepOutlet(db, owner, outlet, byHand));
  await bumpEpoch(db, owner.brandId);
  const [row] = await select<{ id: number }>(db, 'SELECT id FROM outlets WHERE account_id = ? AND remote_id = ?', [
    owner.accountId,
    outlet.remoteId,
  ]);
  return row!.id;
}

async function keepOutlet(db: Queryable, owner: Owner, outlet: Listed, byHand: boolean): Promise<void> {
  await change(
    db,
    `INSERT INTO outlets (brand_id, account_id, kind, remote_id, name, address, feed, details, by_hand)
     VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)
     ON DUPLICATE KEY UPDATE name = VALUES(name), address = VALUES(address), feed = VALUES(feed),
       details = VALUES(details), by_hand = by_hand OR VALUES(by_hand), gone_at = NULL`,
    [
      owner.brandId,
      owner.accountId,
      outlet.kind,
      outlet.remoteId,
      cutUnits(outlet.name, 200),
      outlet.address,
      outlet.feed,
      JSON.stringify(outlet.details ?? {}),
      byHand,
    ],
  );
}

/** Adds an outlet of Playa's own, to which no account leads. Returns its number. @throws NoRoom */
export async function addOwnOutlet(
  db: Queryable,
  brandId: number,
  outlet: Pick<Listed, 'kind' | 'name' | 'address' | 'details'>,
): Promise<number> {
  await needRoom(db, brandId, 'outlets');
  const { id } = await change(
    db,
    `INSERT INTO outlets (brand_id, account_id, kind, remote_id, name, address, details) VALUES (?, NULL, ?, '', ?, ?, ?)`,
    [brandId, outlet.kind, cutUnits(outlet.name, 200), outlet.address, JSON.stringify(outlet.details ?? {})],
  );
  await bumpEpoch(db, brandId);
  return id;
}

/** Keeps what an outlet of Playa's own is called, and what is known of it; marks one as gone. */
export async function reviseOwnOutlet(
  db: Queryable,
  brandId: number,
  id: number,
  outlet: Pick<Listed, 'name' | 'address' | 'details'> & { goneAt: number | null },
): Promise<void> {
  await change(
    db,
    'UPDATE outlets SET name = ?, address = ?, details = ?, gone_at = ? WHERE id = ? AND brand_id = ? AND account_id IS NULL',
    [
      cutUnits(outlet.name, 200),
      outlet.address,
      JSON.stringify(outlet.details ?? {}),
      outlet.goneAt === null ? null : toTime(outlet.goneAt),
      id,
      brandId,
    ],
  );
  await bumpEpoch(db, brandId);
}

/** The network's ids of an account's outlets that were added by address. */
export async function handOutlets(db: Queryable, accountId: number): Promise<string[]> {
  const rows = await select<{ remote_id: string }>(
    db,
    'SELECT remote_id FROM outlets WHERE account_id = ? AND by_hand = 1',
    [accountId],
  );
  return rows.map((row) => row.remote_id);
}

/** Notes what a look at the permissions found; null when nothing is missing. */
export async function noteChecked(
  db: Queryable,
  brandId: number,
  id: number,
  found: { trouble: string; remedy: string } | null,
  now: number,
): Promise<void> {
  await change(db, 'UPDATE outlets SET trouble = ?, remedy = ?, checked_at = ? WHERE brand_id = ? AND id = ?', [
    found?.trouble ?? null,
    found?.remedy ?? null,
    toTime(now),
    brandId,
    id,
  ]);
  await bumpEpoch(db, brandId);
}
