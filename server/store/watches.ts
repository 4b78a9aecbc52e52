import { createHash } from 'node:crypto';
import { cutUnits } from '@playa/core/text/graphemes.ts';
import { z } from 'zod';
import type { FieldNames } from '@playa/core/items/rename.ts';
import { change, fromTimeOrNull, select, toTime, type Queryable } from '../db/database.ts';

export type WatchKind = 'feed' | 'hook' | 'schedule' | 'network' | 'sheet' | 'written';

export interface Watch {
  id: number;
  brandId: number;
  sourceKey: string;
  kind: WatchKind;
  params: unknown;
  name: string;
  things: string;
  memory: unknown;
  everySeconds: number;
  firstLookAt: number | null;
  lastLookAt: number | null;
  lastOkAt: number | null;
  failures: number;
  trouble: string | null;
  note: string | null;
  dueAt: number | null;
  /** Fields under names of people's own: from the path at the source. */
  names: FieldNames;
  /** How late items are usually seen, milliseconds. */
  usualDelay: number | null;
  /** How long until the next look, as the source's history suggests; milliseconds. */
  intervalMs: number | null;
}

export interface Row {
  id: number;
  brand_id: number;
  source_key: string;
  kind: WatchKind;
  params: string;
  name: string;
  things: string;
  memory: string | null;
  every_seconds: number;
  first_look_at: Date | null;
  last_look_at: Date | null;
  last_ok_at: Date | null;
  failures: number;
  trouble: string | null;
  note: string | null;
  due_at: Date | null;
  names: string;
  usual_delay: number | null;
  interval_ms: number | null;
}

export const read = (row: Row): Watch => ({
  id: row.id,
  brandId: row.brand_id,
  sourceKey: row.source_key,
  kind: row.kind,
  params: JSON.parse(row.params),
  name: row.name,
  things: row.things,
  memory: row.memory === null ? null : JSON.parse(row.memory),
  everySeconds: row.every_seconds,
  firstLookAt: fromTimeOrNull(row.first_look_at),
  lastLookAt: fromTimeOrNull(row.last_look_at),
  lastOkAt: fromTimeOrNull(row.last_ok_at),
  failures: row.failures,
  trouble: row.trouble,
  note: row.note,
  dueAt: fromTimeOrNull(row.due_at),
  names: row.names === '{}' ? NO_NAMES : namesSchema.parse(JSON.parse(row.names)),
  usualDelay: row.usual_delay,
  intervalMs: row.interval_ms,
});

const NO_NAMES: FieldNames = {};

const namesSchema = z.record(z.string(), z.string());

/** What makes two sources the same, as the column holds it: of a very long one its beginning and a hash of the whole. */
function storedKey(key: string): string {
  if (key.length <= 600) return key;
  return `${cutUnits(key, 530)}:${createHash('sha256').update(key).digest('hex')}`;
}

/** A watch to be made. */
export interface NewWatch {
  brandId: number;
  sourceKey: string;
  kind: WatchKind;
  params: unknown;
  name: string;
  things: string;
  everySeconds: number;
  /** The account that is asked. */
  accountId?: number;
}

/** The brand's watch of a source; made when there is none, so that every workflow shares it. */
export const keepWatch = async (db: Queryable, watch: NewWatch): Promise<number> => (await addWatch(db, watch)).id;

/** The same, saying whether it was made. */
export async function addWatch(db: Queryable, watch: NewWatch): Promise<{ id: number; made: boolean }> {
  const sourceKey = storedKey(watch.sourceKey);
  const added = await change(
    db,
    'INSERT IGNORE INTO watches (brand_id, source_key, kind, params, name, things, every_seconds, host, account_id) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)',
    [
      watch.brandId,
      sourceKey,
      watch.kind,
      JSON.stringify(watch.params),
      watch.name,
      watch.things,
      watch.everySeconds,
      watch.accountId === undefined ? hostOf(watch.params) : `account ${watch.accountId}`,
      watch.accountId ?? null,
    ],
  );
  const [row] = await select<{ id: number }>(db, 'SELECT id FROM watches WHERE brand_id = ? AND source_key = ?', [
    watch.brandId,
    sourceKey,
  ]);
  return { id: row!.id, made: added.rows > 0 };
}

export async function watchesOf(db: Queryable, brandId: number): Promise<Watch[]> {
  return (await select<Row>(db, 'SELECT * FROM watches WHERE brand_id = ? ORDER BY id', [brandId])).map(read);
}

/**
 * Sources as they are listed. Posts by hand start the workflow that Playa keeps for them, and no other.
 *
 * @param after the number behind which they begin
 */
export async function watchesPage(db: Queryable, brandId: number, after: number, most: number): Promise<Watch[]> {
  const rows = await select<Row>(
    db,
    "SELECT * FROM watches WHERE brand_id = ? AND id > ? AND kind <> 'written' ORDER BY id LIMIT ?",
    [brandId, after, most],
  );
  return rows.map(read);
}

export async function watchBy(db: Queryable, brandId: number, id: number): Promise<Watch | undefined> {
  return (await select<Row>(db, 'SELECT * FROM watches WHERE brand_id = ? AND id = ?', [brandId, id])).map(read)[0];
}

function hostOf(params: unknown): string | null {
  const { url } = (params ?? {}) as { url?: unknown };
  return typeof url === 'string' && URL.canParse(url) ? cutUnits(new URL(url).host, 255) : null;
}

export async function setWatchNames(db: Queryable, brandId: number, id: number, names: FieldNames): Promise<void> {
  await change(db, 'UPDATE watches SET names = ? WHERE brand_id = ? AND id = ?', [JSON.stringify(names), brandId, id]);
}

/** Gives a source another name. */
export async function renameWatch(db: Queryable, brandId: number, id: number, name: string): Promise<void> {
  await change(db, 'UPDATE watches SET name = ? WHERE brand_id = ? AND id = ?', [cutUnits(name, 200), brandId, id]);
}

/** Notes that everything a told source has is known from now on. */
export async function noteFirstLook(db: Queryable, id: number, now: number): Promise<void> {
  await change(db, 'UPDATE watches SET first_look_at = ?, last_look_at = ?, last_ok_at = ? WHERE id = ?', [
    toTime(now),
    toTime(now),
    toTime(now),
    id,
  ]);
}

/** The outlet that a watch looks at with an account, or the sheet of Playa's own; null for feeds, hooks and schedules. */
export async function outletOfWatch(db: Queryable, id: number): Promise<number | null> {
  const [row] = await select<{ id: number }>(
    db,
    `SELECT o.id FROM watches w JOIN outlets o ON o.account_id = w.account_id AND o.remote_id = JSON_VALUE(w.params, '$.outlet')
     WHERE w.id = ?
     UNION ALL SELECT outlet_id FROM sheets WHERE watch_id = ?`,
    [id, id],
  );
  return row?.id ?? null;
}

/** The watches that an account is asked for. */
export async function watchesOfAccount(db: Queryable, accountId: number): Promise<Watch[]> {
  return (await select<Row>(db, 'SELECT * FROM watches WHERE account_id = ?', [accountId])).map(read);
}

/** Locks watches, so that nothing that appears there is stored meanwhile. In one order, whoever asks. */
export async function lockWatches(db: Queryable, brandId: number, ids: readonly number[]): Promise<void> {
  if (ids.length > 0)
    await select(db, 'SELECT id FROM watches WHERE brand_id = ? AND id IN (?) ORDER BY id FOR UPDATE', [brandId, ids]);
}

/** The sources that accounts can see, whether the desk listens there, and whether a live workflow does. */
export async function deskWatches(
  db: Queryable,
  brandId: number,
): Promise<{ id: number; key: string; desk: boolean; used: boolean }[]> {
  const rows = await select<{ id: number; source_key: string; desk: number; used: number }>(
    db,
    `SELECT w.id, w.source_key, w.desk, EXISTS (SELECT 1 FROM subscriptions s JOIN workflows f ON f.id = s.workflow_id
       WHERE s.watch_id = w.id AND f.status IN ('live', 'paused')) AS used
     FROM watches w WHERE w.brand_id = ? AND w.kind = 'network'`,
    [brandId],
  );
  return rows.map(({ source_key: key, ...row }) => ({ id: row.id, key, desk: row.desk === 1, used: row.used === 1 }));
}

/** Has the desk listen to a source, or no longer. */
export async function setDeskWatch(db: Queryable, brandId: number, id: number, desk: boolean): Promise<void> {
  await change(db, 'UPDATE watches SET desk = ? WHERE brand_id = ? AND id = ?', [desk, brandId, id]);
}
