import { change, select, toTime, type Queryable } from '../db/database.ts';

/** A bell as it hangs: where a network calls when there is something new. */
export interface HungBell {
  watchId: number;
  brandId: number;
  sealedSecret: Buffer;
  remoteId: string;
  lastRungAt: number | null;
}
interface Row {
  watch_id: number;
  brand_id: number;
  sealed_secret: Buffer;
  remote_id: string;
  last_rung_at: Date | null;
}
const read = (row: Row): HungBell => ({
  watchId: row.watch_id,
  brandId: row.brand_id,
  sealedSecret: row.sealed_secret,
  remoteId: row.remote_id,
  lastRungAt: row.last_rung_at?.getTime() ?? null,
});

export async function bellOf(db: Queryable, watchId: number): Promise<HungBell | undefined> {
  return (await select<Row>(db, 'SELECT * FROM bells WHERE watch_id = ?', [watchId])).map(read)[0];
}

/** The bell behind the secret part of its address. */
export async function bellByToken(db: Queryable, tokenHash: Buffer): Promise<HungBell | undefined> {
  return (await select<Row>(db, 'SELECT * FROM bells WHERE token_hash = ?', [tokenHash])).map(read)[0];
}

export async function keepBell(
  db: Queryable,
  bell: { watchId: number; brandId: number; tokenHash: Buffer; sealedSecret: Buffer; remoteId: string },
  now: number,
): Promise<void> {
  await change(
    db,
    'REPLACE INTO bells (watch_id, brand_id, token_hash, sealed_secret, remote_id, since) VALUES (?, ?, ?, ?, ?, ?)',
    [bell.watchId, bell.brandId, bell.tokenHash, bell.sealedSecret, bell.remoteId, toTime(now)],
  );
}

export async function noteRung(db: Queryable, watchId: number, now: number): Promise<void> {
  await change(db, 'UPDATE bells SET last_rung_at = ? WHERE watch_id = ?', [toTime(now), watchId]);
}

export async function dropBell(db: Queryable, watchId: number): Promise<void> {
  await change(db, 'DELETE FROM bells WHERE watch_id = ?', [watchId]);
}
