// Who compares a sheet with its table, under a lease.
import { cutUnits } from '@playa/core/text/graphemes.ts';
import { randomUUID } from 'crypto';
import { select, toTime, change, type Queryable } from '../db/database.ts';
import { read, MOST_REMARKS, type SheetSync, type Row, type SyncRemark } from './sheet-syncs.ts';

/** Claims syncs that are due, so that one worker alone compares each. */
export async function claimDueSyncs(db: Queryable, now: number, leaseMs: number, most: number): Promise<SheetSync[]> {
  const rows = await select<Row>(
    db,
    `SELECT y.* FROM sheet_syncs y JOIN sheets s ON s.id = y.sheet_id AND s.deleted_at IS NULL
     WHERE y.state = 'on' AND y.due_at <= ? ORDER BY y.due_at LIMIT ? FOR UPDATE SKIP LOCKED`,
    [toTime(now), most],
  );
  if (rows.length === 0) return [];
  const lease = randomUUID();
  await change(db, 'UPDATE sheet_syncs SET lease = ?, due_at = ? WHERE id IN (?)', [
    lease,
    toTime(now + leaseMs),
    rows.map(({ id }) => id),
  ]);
  return rows.map((row) => ({ ...read(row), lease }));
}

/** Keeps remarks, the newest. */
export async function keepRemarks(db: Queryable, id: number, remarks: readonly SyncRemark[]): Promise<void> {
  await change(db, 'UPDATE sheet_syncs SET remarks = ? WHERE id = ?', [
    JSON.stringify(remarks.slice(-MOST_REMARKS)),
    id,
  ]);
}

/** Notes that the rows of both sides have been paired. */
export async function noteJoined(db: Queryable, id: number, now: number): Promise<void> {
  await change(db, 'UPDATE sheet_syncs SET joined_at = ? WHERE id = ?', [toTime(now), id]);
}

/** The sync as it is now, locked, where the claim still holds and nobody has paused or ended it. */
export async function lockClaimed(
  db: Queryable,
  { id, lease }: Pick<SheetSync, 'id' | 'lease'>,
): Promise<SheetSync | undefined> {
  return (
    await select<Row>(db, "SELECT * FROM sheet_syncs WHERE id = ? AND lease = ? AND state = 'on' FOR UPDATE", [
      id,
      lease,
    ])
  ).map(read)[0];
}

/** Holds a claim for longer. */
export async function extendClaim(
  db: Queryable,
  { id, lease }: Pick<SheetSync, 'id' | 'lease'>,
  until: number,
): Promise<boolean> {
  const done = await change(db, 'UPDATE sheet_syncs SET due_at = ? WHERE id = ? AND lease = ?', [
    toTime(until),
    id,
    lease,
  ]);
  return done.rows > 0;
}

/** Ends a comparison. */
export async function endSync(
  db: Queryable,
  sync: Pick<SheetSync, 'id' | 'lease' | 'failures' | 'trouble' | 'vanished' | 'remarks' | 'onVanished' | 'syncedAt'>,
  dueAt: number,
): Promise<void> {
  await change(
    db,
    `UPDATE sheet_syncs SET lease = NULL, due_at = ?, failures = ?, trouble = ?, vanished = ?, remarks = ?,
       on_vanished = ?, synced_at = ? WHERE id = ? AND lease = ?`,
    [
      toTime(dueAt),
      sync.failures,
      sync.trouble && cutUnits(sync.trouble, 500),
      sync.vanished && JSON.stringify(sync.vanished),
      JSON.stringify(sync.remarks.slice(-MOST_REMARKS)),
      sync.onVanished,
      sync.syncedAt === null ? null : toTime(sync.syncedAt),
      sync.id,
      sync.lease,
    ],
  );
}
