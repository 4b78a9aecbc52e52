import { change, fromTime, fromTimeOrNull, select, toTime, type Queryable } from '../db/database.ts';
import { addCounts } from './counts.ts';

/** Something that went out. */
export interface LogEntry {
  id: number;
  workflowId: number;
  workflow: string;
  runId: number;
  action: string;
  outletId: number | null;
  outlet: string;
  text: string;
  card: string | null;
  url: string | null;
  at: number;
  /** It was deleted at its network since. */
  deleted: boolean;
}

/** Something that went out, to be written down. */
export interface NewLogEntry {
  key: string;
  brandId: number;
  workflowId: number;
  runId: number;
  action: string;
  place: string;
  outletId: number | null;
  text: string;
  card: string | null;
  url: string | null;
  remoteId: string;
  at: number;
}

/** Writes down what went out, once per effect. */
export async function addLogEntries(db: Queryable, entries: readonly NewLogEntry[]): Promise<void> {
  if (entries.length === 0) return;
  // Whoever writes down what a run has sent has locked the run: nobody else adds the same meanwhile.
  const there = await select<{ key: string }>(db, "SELECT effect_key AS 'key' FROM logbook WHERE effect_key IN (?)", [
    entries.map((entry) => entry.key),
  ]);
  const known = new Set(there.map(({ key }) => key));
  // What two workers of one process heard of is written down once, and counted once.
  const added = [...new Map(entries.map((entry) => [entry.key, entry])).values()].filter(({ key }) => !known.has(key));
  if (added.length === 0) return;
  await change(
    db,
    'INSERT IGNORE INTO logbook (effect_key, brand_id, workflow_id, run_id, action, step, outlet_id, text, card, url, remote_id, at) VALUES ?',
    [
      added.map((entry) => [
        entry.key,
        entry.brandId,
        entry.workflowId,
        entry.runId,
        entry.action,
        entry.place,
        entry.outletId,
        entry.text,
        stored(entry.card),
        stored(entry.url),
        entry.remoteId,
        toTime(entry.at),
      ]),
    ],
  );
  await addCounts(
    db,
    added.map(({ brandId, workflowId, action, outletId, at }) => ({
      brandId,
      workflowId,
      what: 'act',
      state: action,
      outletId,
      at,
      n: 1,
    })),
  );
}

/** An address that is longer than any that is meant; half of one leads nowhere. */
const stored = (address: string | null) => (address !== null && address.length > 2000 ? null : address);

export async function logEntriesSince(
  db: Queryable,
  brandId: number,
  since: number,
  most: number,
): Promise<LogEntry[]> {
  const rows = await select<Omit<LogEntry, 'at' | 'deleted'> & { at: Date; deleted: number }>(
    db,
    `SELECT l.id, l.workflow_id AS workflowId, f.name AS workflow, l.run_id AS runId, l.action, l.outlet_id AS outletId, o.name AS outlet, l.text, l.card, l.url, l.at, l.deleted_at IS NOT NULL AS deleted
     FROM logbook l JOIN workflows f ON f.id = l.workflow_id JOIN outlets o ON o.id = l.outlet_id
     WHERE l.brand_id = ? AND l.at > ? ORDER BY l.at DESC, l.id DESC LIMIT ?`,
    [brandId, toTime(since), most],
  );
  return rows.map((row) => ({ ...row, at: fromTime(row.at), deleted: row.deleted === 1 }));
}

/** A post that went out, for the calendar. */
export interface PostOut {
  id: number;
  runId: number;
  workflowId: number;
  workflow: string;
  itemId: number;
  outletId: number;
  text: string;
  url: string | null;
  at: number;
  deleted: boolean;
}

/** Posts that went out within a span of time (its end not included), oldest first. */
export async function postsOut(
  db: Queryable,
  brandId: number,
  from: number,
  to: number,
  most: number,
): Promise<PostOut[]> {
  const rows = await select<Omit<PostOut, 'at' | 'deleted'> & { at: Date; deleted: number }>(
    db,
    `SELECT l.id, l.run_id AS runId, l.workflow_id AS workflowId, f.name AS workflow, r.item_id AS itemId,
       l.outlet_id AS outletId, l.text, l.url, l.at, l.deleted_at IS NOT NULL AS deleted
     FROM logbook l JOIN workflows f ON f.id = l.workflow_id JOIN runs r ON r.id = l.run_id
     WHERE l.brand_id = ? AND l.at >= ? AND l.at < ? AND l.action = 'publish' AND l.outlet_id IS NOT NULL
     ORDER BY l.at, l.id LIMIT ?`,
    [brandId, toTime(from), toTime(to), most],
  );
  return rows.map((row) => ({ ...row, at: fromTime(row.at), deleted: row.deleted === 1 }));
}

/** When workflows posted, and where, newest first: what is deleted since counts as well. */
export async function postedBetween(
  db: Queryable,
  brandId: number,
  from: number,
  to: number,
  most: number,
): Promise<{ workflow: number; outlet: number; at: number }[]> {
  const rows = await select<{ workflow: number; outlet: number; at: Date }>(
    db,
    `SELECT workflow_id AS workflow, outlet_id AS outlet, at FROM logbook
     WHERE brand_id = ? AND at >= ? AND at < ? AND action = 'publish' AND outlet_id IS NOT NULL
     ORDER BY at DESC, id DESC LIMIT ?`,
    [brandId, toTime(from), toTime(to), most],
  );
  return rows.map((row) => ({ ...row, at: fromTime(row.at) }));
}

/** What a run has sent, by step: for saying what running it again would send a second time. */
export async function sentByRun(
  db: Queryable,
  brandId: number,
  runId: number,
): Promise<{ place: string; action: string; outlet: string | null; at: number; url: string | null }[]> {
  const rows = await select<{ step: string; action: string; outlet: string | null; at: Date; url: string | null }>(
    db,
    `SELECT l.step, l.action, o.name AS outlet, l.at, l.url FROM logbook l LEFT JOIN outlets o ON o.id = l.outlet_id
     WHERE l.brand_id = ? AND l.run_id = ? ORDER BY l.id`,
    [brandId, runId],
  );
  return rows.map(({ step, at, ...row }) => ({ ...row, place: step, at: fromTime(at) }));
}

/** Posts of the brand that are like this, newest first, at most ten. */
export async function findPosts(
  db: Queryable,
  brandId: number,
  by: string,
  value: string,
): Promise<{ id: string; outlet: number; text: string; url: string | null; card: string | null; at: number }[]> {
  const column = ['text', 'url', 'card'].find((each) => each === by);
  if (!column) return [];
  const rows = await select<{
    remote_id: string;
    outlet_id: number;
    text: string;
    url: string | null;
    card: string | null;
    at: Date;
  }>(
    db,
    `SELECT remote_id, outlet_id, text, url, card, at FROM logbook WHERE brand_id = ? AND action = 'publish' AND outlet_id IS NOT NULL AND deleted_at IS NULL AND ${column} = ? ORDER BY at DESC, id DESC LIMIT 10`,
    [brandId, value],
  );
  return rows.map((row) => ({
    id: row.remote_id,
    outlet: row.outlet_id,
    text: row.text,
    url: row.url,
    card: row.card,
    at: fromTime(row.at),
  }));
}

/** A post as it is out now. */
export interface LoggedPost {
  id: number;
  workflowId: number;
  runId: number;
  outletId: number | null;
  text: string;
  remoteId: string;
  /** Whether a picture or file went with it. */
  hasMedia: boolean;
  /** When it was deleted at its network, milliseconds since 1970 UTC. */
  deletedAt: number | null;
}

/** The post that an act sent, by the act's key. */
export async function loggedPost(db: Queryable, brandId: number, key: string): Promise<LoggedPost | undefined> {
  const [row] = await select<
    Omit<LoggedPost, 'hasMedia' | 'deletedAt'> & { media: number | null; deleted: Date | null }
  >(
    db,
    `SELECT l.id, l.workflow_id AS workflowId, l.run_id AS runId, l.outlet_id AS outletId, l.text, l.remote_id AS remoteId, l.deleted_at AS deleted,
       JSON_LENGTH(e.input, '$.media') AS media
     FROM logbook l LEFT JOIN effects e ON e.effect_key = l.effect_key
     WHERE l.brand_id = ? AND l.effect_key = ? AND l.action = 'publish'`,
    [brandId, key],
  );
  if (!row) return undefined;
  const { media, deleted, ...post } = row;
  return { ...post, hasMedia: (media ?? 0) > 0, deletedAt: fromTimeOrNull(deleted) };
}

/** What posts of these runs say now, where they were edited or deleted since they went out. */
export async function changedPosts(
  db: Queryable,
  brandId: number,
  runIds: readonly number[],
): Promise<{ runId: number; key: string; text: string; edited: boolean; deleted: boolean }[]> {
  if (runIds.length === 0) return [];
  const rows = await select<{ runId: number; key: string; text: string; edited: string; deleted: number }>(
    db,
    `SELECT l.run_id AS runId, l.effect_key AS 'key', l.text, SUM(e.deletes = 0) AS edited, l.deleted_at IS NOT NULL AS deleted
     FROM logbook_edits e JOIN logbook l ON l.id = e.logbook_id
     WHERE e.brand_id = ? AND e.status = 'made' AND l.run_id IN (?) GROUP BY l.id`,
    [brandId, runIds],
  );
  return rows.map((row) => ({ ...row, edited: Number(row.edited) > 0, deleted: row.deleted === 1 }));
}

/** What was said at outlets lately by anything but one workflow: newest first, so many at each. */
export async function saidLately(
  db: Queryable,
  brandId: number,
  outlets: readonly number[],
  except: number,
  since: number,
  most: number,
): Promise<{ outlet: number; text: string }[]> {
  if (outlets.length === 0) return [];
  // The latest of each outlet come out of its index in order.
  const each = `(SELECT outlet_id AS outlet, text FROM logbook WHERE outlet_id = ? AND brand_id = ? AND action = 'publish'
    AND deleted_at IS NULL AND workflow_id <> ? AND at > ? ORDER BY at DESC LIMIT ?)`;
  return select<{ outlet: number; text: string }>(
    db,
    outlets.map(() => each).join(' UNION ALL '),
    outlets.flatMap((outlet) => [outlet, brandId, except, toTime(since), most]),
  );
}
