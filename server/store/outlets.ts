import type { OutletKind } from '@playa/core/outlets/kinds.ts';
import { change, select, toTime, type Queryable } from '../db/database.ts';
import { bumpEpoch } from './people.ts';

export interface Outlet {
  id: number;
  brandId: number;
  accountId: number;
  kind: OutletKind;
  remoteId: string;
  name: string;
  address: string | null;
  feed: string | null;
  gone: boolean;
}
interface Row {
  id: number;
  brand_id: number;
  account_id: number;
  kind: OutletKind;
  remote_id: string;
  name: string;
  address: string | null;
  feed: string | null;
  gone_at: Date | null;
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
});

export async function outletsOf(db: Queryable, brandId: number): Promise<Outlet[]> {
  return (await select<Row>(db, 'SELECT * FROM outlets WHERE brand_id = ? ORDER BY account_id, id', [brandId])).map(
    read,
  );
}

export async function outletBy(db: Queryable, brandId: number, id: number): Promise<Outlet | undefined> {
  return (await select<Row>(db, 'SELECT * FROM outlets WHERE brand_id = ? AND id = ?', [brandId, id])).map(read)[0];
}

/** Brings an account's outlets in line with what its network lists. Those that vanished are kept, marked as gone. */
export async function keepOutlets(
  db: Queryable,
  owner: { brandId: number; accountId: number },
  listed: readonly { kind: OutletKind; remoteId: string; name: string; address: string | null; feed: string | null }[],
  now: number,
): Promise<void> {
  await change(db, 'UPDATE outlets SET gone_at = ? WHERE account_id = ? AND gone_at IS NULL', [
    toTime(now),
    owner.accountId,
  ]);
  for (const outlet of listed) {
    await change(
      db,
      `INSERT INTO outlets (brand_id, account_id, kind, remote_id, name, address, feed) VALUES (?, ?, ?, ?, ?, ?, ?)
       ON DUPLICATE KEY UPDATE name = VALUES(name), address = VALUES(address), feed = VALUES(feed), gone_at = NULL`,
      [owner.brandId, owner.accountId, outlet.kind, outlet.remoteId, outlet.name, outlet.address, outlet.feed],
    );
  }
  await bumpEpoch(db, owner.brandId);
}
