import { createHash } from 'node:crypto';
import { fieldsSchema, type Fields, type Item } from '@playa/core/items/item.ts';
import { withNames } from '@playa/core/items/rename.ts';
import { change, fromTime, fromTimeOrNull, select, toTime, type Queryable } from '../db/database.ts';

export interface StoredItem extends Item {
  id: number;
  watchId: number;
  seenAt: number;
  past: boolean;
  /** How often the source has changed it. */
  revision: number;
  /** The source no longer has it. */
  gone: boolean;
  /** Playa itself has published it. */
  own: boolean;
  /** Whoever wrote it asked to be forgotten. */
  erased: boolean;
}
export interface Row {
  id: number;
  watch_id: number;
  identity: string;
  published_at: Date | null;
  seen_at: Date;
  past: number;
  revision: number;
  gone: number;
  own: number;
  erased: number;
  fields: string;
}
export const read = (row: Row): StoredItem => ({
  id: row.id,
  watchId: row.watch_id,
  identity: row.identity,
  publishedAt: fromTimeOrNull(row.published_at),
  seenAt: fromTime(row.seen_at),
  past: row.past === 1,
  revision: row.revision,
  gone: row.gone === 1,
  own: row.own === 1,
  erased: row.erased === 1,
  fields: fieldsSchema.parse(JSON.parse(row.fields)),
});

const hashOf = (identity: string): Buffer => createHash('sha256').update(identity).digest();

/** Which of the given identities a watch has seen before. */
export async function knownIdentities(
  db: Queryable,
  watchId: number,
  identities: readonly string[],
): Promise<Set<string>> {
  if (identities.length === 0) return new Set();
  const rows = await select<{ identity: string }>(
    db,
    'SELECT identity FROM items WHERE watch_id = ? AND identity_hash IN (?)',
    [watchId, identities.map(hashOf)],
  );
  return new Set(rows.map((row) => row.identity));
}

/** Stores items in the given order; one that is there already stays as it is. Returns the ids of the new ones. */
export async function addItems(
  db: Queryable,
  owner: { brandId: number; watchId: number },
  items: readonly (Item & { past: boolean; own?: boolean })[],
  now: number,
): Promise<number[]> {
  const ids: number[] = [];
  for (const item of items) {
    const added = await change(
      db,
      'INSERT IGNORE INTO items (brand_id, watch_id, identity_hash, identity, published_at, seen_at, past, own, fields) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)',
      [
        owner.brandId,
        owner.watchId,
        hashOf(item.identity),
        item.identity,
        item.publishedAt === null ? null : toTime(item.publishedAt),
        toTime(now),
        item.past,
        item.own ?? false,
        JSON.stringify(item.fields),
      ],
    );
    if (added.rows > 0) ids.push(added.id);
  }
  return ids;
}

export async function itemsById(db: Queryable, ids: readonly number[]): Promise<Map<number, StoredItem>> {
  if (ids.length === 0) return new Map();
  const rows = await select<Row>(db, 'SELECT * FROM items WHERE id IN (?)', [ids]);
  return new Map(rows.map((row) => [row.id, read(row)]));
}

/** Locks an item; undefined when it is gone for good, or another worker has it. */
export async function lockItem(db: Queryable, id: number): Promise<StoredItem | undefined> {
  return (await select<Row>(db, 'SELECT * FROM items WHERE id = ? FOR UPDATE SKIP LOCKED', [id])).map(read)[0];
}

/** Items as they were at a revision, by "id.revision". */
export async function itemsAt(
  db: Queryable,
  wanted: readonly { itemId: number; itemRevision: number }[],
): Promise<Map<string, StoredItem>> {
  const items = await itemsById(db, [...new Set(wanted.map(({ itemId }) => itemId))]);
  const found = new Map<string, StoredItem>();
  const older: { itemId: number; itemRevision: number }[] = [];
  for (const want of wanted) {
    const item = items.get(want.itemId);
    if (item?.revision === want.itemRevision) found.set(`${want.itemId}.${want.itemRevision}`, item);
    else if (item) older.push(want);
  }
  if (older.length === 0) return found;
  const rows = await select<{ itemId: number; revision: number; fields: string }>(
    db,
    'SELECT item_id AS itemId, revision, fields FROM item_versions WHERE (item_id, revision) IN (?)',
    [older.map(({ itemId, itemRevision }) => [itemId, itemRevision])],
  );
  for (const { itemId, revision, fields } of rows)
    found.set(`${itemId}.${revision}`, {
      ...items.get(itemId)!,
      revision,
      fields: fieldsSchema.parse(JSON.parse(fields)),
    });
  return found;
}

/**
 * Stores what a source says of an item now; what it said before is kept for the runs that it was said to. Returns the new
 * revision.
 */
export async function reviseItem(db: Queryable, item: StoredItem, fields: Item['fields']): Promise<number> {
  await change(
    db,
    `INSERT IGNORE INTO item_versions (item_id, revision, fields)
       SELECT ?, ?, ? FROM DUAL WHERE EXISTS (SELECT 1 FROM runs WHERE item_id = ? AND item_revision = ?)`,
    [item.id, item.revision, JSON.stringify(item.fields), item.id, item.revision],
  );
  await change(db, 'UPDATE items SET revision = ?, fields = ? WHERE id = ? AND revision = ?', [
    item.revision + 1,
    JSON.stringify(fields),
    item.id,
    item.revision,
  ]);
  return item.revision + 1;
}

/** Items of a watch that runs are under way about, that are being gathered, or whose moment has yet to come. */
export async function itemsAwaited(db: Queryable, watchId: number): Promise<{ id: number; identity: string }[]> {
  return select(
    db,
    `SELECT i.id, i.identity FROM items i JOIN runs r ON r.item_id = i.id
     WHERE i.watch_id = ? AND i.gone = 0 AND r.status IN ('new', 'waiting', 'held')
     UNION
     SELECT i.id, i.identity FROM watches w JOIN gatherings g ON g.brand_id = w.brand_id
       JOIN gathered e ON e.gathering_id = g.id JOIN runs r ON r.id = e.run_id JOIN items i ON i.id = r.item_id
     WHERE w.id = ? AND i.watch_id = w.id AND i.gone = 0
     UNION
     SELECT i.id, i.identity FROM readiness t JOIN items i ON i.id = t.item_id
     WHERE t.watch_id = ? AND t.turns_at IS NOT NULL AND i.gone = 0`,
    [watchId, watchId, watchId],
  );
}

/** What appeared at some watches since a moment and a workflow has had no run of, oldest first. */
export async function itemsNotTaken(
  db: Queryable,
  brandId: number,
  workflowId: number,
  watchIds: readonly number[],
  since: number,
): Promise<StoredItem[]> {
  if (watchIds.length === 0) return [];
  const rows = await select<Row>(
    db,
    `SELECT i.* FROM items i WHERE i.brand_id = ? AND i.watch_id IN (?) AND i.seen_at >= ? AND i.past = 0 AND i.gone = 0
       AND NOT EXISTS (SELECT 1 FROM runs r WHERE r.workflow_id = ? AND r.item_id = i.id)
     ORDER BY i.seen_at, i.id LIMIT 2000`,
    [brandId, watchIds, toTime(since), workflowId],
  );
  return rows.map(read);
}

/** Notes that Playa itself has made an item. */
export async function setOwn(db: Queryable, id: number): Promise<void> {
  await change(db, 'UPDATE items SET own = 1 WHERE id = ?', [id]);
}

/** Notes whether the source still has an item. Returns whether that is new. */
export async function setGone(db: Queryable, id: number, gone: boolean): Promise<boolean> {
  return (await change(db, 'UPDATE items SET gone = ? WHERE id = ? AND gone <> ?', [gone, id, gone])).rows > 0;
}

/** A watch's items with these identities. */
export async function itemsByIdentity(
  db: Queryable,
  watchId: number,
  identities: readonly string[],
): Promise<Map<string, StoredItem>> {
  if (identities.length === 0) return new Map();
  const rows = await select<Row>(db, 'SELECT * FROM items WHERE watch_id = ? AND identity_hash IN (?)', [
    watchId,
    identities.map(hashOf),
  ]);
  return new Map(rows.map((row) => [row.identity, read(row)]));
}

/** Gives a field of all stored items of a watch another name. Returns how many had it; null when one has the new name. */
export async function rewriteItemFields(
  db: Queryable,
  watchId: number,
  from: string,
  to: string,
): Promise<number | null> {
  const rows = await select<{ id: number; fields: string }>(
    db,
    'SELECT id, fields FROM items WHERE watch_id = ? FOR UPDATE',
    [watchId],
  );
  const older = await select<{ item_id: number; revision: number; fields: string }>(
    db,
    'SELECT v.item_id, v.revision, v.fields FROM item_versions v JOIN items i ON i.id = v.item_id WHERE i.watch_id = ? FOR UPDATE',
    [watchId],
  );
  let changed = 0;
  const rename = (text: string): Fields | undefined | null => {
    const fields = fieldsSchema.parse(JSON.parse(text));
    if (Object.hasOwn(fields, to)) return null;
    const next = withNames(fields, { [from]: to });
    return Object.hasOwn(next, to) ? next : undefined;
  };
  for (const row of rows) {
    const next = rename(row.fields);
    if (next === null) return null;
    if (!next) continue;
    await change(db, 'UPDATE items SET fields = ? WHERE id = ?', [JSON.stringify(next), row.id]);
    changed++;
  }
  for (const row of older) {
    const next = rename(row.fields);
    if (!next) continue;
    await change(db, 'UPDATE item_versions SET fields = ? WHERE item_id = ? AND revision = ?', [
      JSON.stringify(next),
      row.item_id,
      row.revision,
    ]);
  }
  return changed;
}
