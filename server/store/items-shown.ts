// Items as screens show them: what appeared lately, the newest of a source, what has changed since.
import { select, toTime, type Queryable } from '../db/database.ts';
import { itemsById, read, type Row, type StoredItem } from './items.ts';

/** What appeared since a moment, not counting what was already there at a first look. Newest first. */
export async function appearedSince(
  db: Queryable,
  brandId: number,
  since: number,
  most: number,
): Promise<(StoredItem & { watchName: string; runs: { workflow: string; workflowId: number; status: string }[] })[]> {
  const rows = await select<Row & { watch_name: string }>(
    db,
    `SELECT i.*, w.name AS watch_name FROM items i JOIN watches w ON w.id = i.watch_id
     WHERE i.brand_id = ? AND i.seen_at > ? AND i.past = 0 AND w.kind <> 'written' ORDER BY i.seen_at DESC, i.id DESC LIMIT ?`,
    [brandId, toTime(since), most],
  );
  if (rows.length === 0) return [];
  const runs = await select<{ item_id: number; status: string; name: string; workflow_id: number }>(
    db,
    'SELECT r.item_id, r.status, r.workflow_id, f.name FROM runs r JOIN workflows f ON f.id = r.workflow_id WHERE r.brand_id = ? AND r.item_id IN (?)',
    [brandId, rows.map((row) => row.id)],
  );
  return rows.map((row) => ({
    ...read(row),
    watchName: row.watch_name,
    runs: runs
      .filter((run) => run.item_id === row.id)
      .map((run) => ({ workflow: run.name, workflowId: run.workflow_id, status: run.status })),
  }));
}

/** Where a list of items goes on: behind the item with this moment and number. */
export interface ItemCursor {
  /** When it was published, else seen; milliseconds since 1970 UTC. */
  moment: number;
  id: number;
}

/** Items of some watches, newest first. */
export async function itemsOf(
  db: Queryable,
  brandId: number,
  watchIds: readonly number[],
  most: number,
  after: ItemCursor | null = null,
): Promise<StoredItem[]> {
  if (watchIds.length === 0) return [];
  const behind = after ? ' AND moment <= ? AND (moment < ? OR id < ?)' : '';
  const where = after ? [toTime(after.moment), toTime(after.moment), after.id] : [];
  // Those of each watch come out of its index in order.
  const each = `(SELECT id, moment FROM items WHERE watch_id = ? AND brand_id = ?${behind} ORDER BY moment DESC, id DESC LIMIT ?)`;
  const newest = await select<{ id: number }>(
    db,
    `SELECT id FROM (${watchIds.map(() => each).join(' UNION ALL ')}) AS some ORDER BY moment DESC, id DESC LIMIT ?`,
    [...watchIds.flatMap((watch) => [watch, brandId, ...where, most]), most],
  );
  const items = await itemsById(
    db,
    newest.map(({ id }) => id),
  );
  return newest.flatMap(({ id }) => items.get(id) ?? []);
}

/**
 * Items of some watches that appeared or changed since.
 *
 * @param since what the last look gave as `until`
 * @returns null when there are more than `most`
 */
export async function itemsTouched(
  db: Queryable,
  brandId: number,
  watchIds: readonly number[],
  since: number,
  most: number,
): Promise<StoredItem[] | null> {
  if (watchIds.length === 0) return [];
  const rows = await select<Row>(
    db,
    'SELECT * FROM items WHERE watch_id IN (?) AND brand_id = ? AND touched_at >= FROM_UNIXTIME(?) LIMIT ?',
    [watchIds, brandId, since / 1000, most + 1],
  );
  return rows.length > most ? null : rows.map(read);
}

/** How far back it is looked again: a transaction may take so long to be seen, in milliseconds. */
const LATE = 120_000;

/** The moment up to which everything that is asked for now is seen, by the database's clock. */
export async function seenUntil(db: Queryable): Promise<number> {
  const [row] = await select<{ now: string }>(db, 'SELECT UNIX_TIMESTAMP(CURRENT_TIMESTAMP(3)) AS now');
  return Math.floor(Number(row!.now) * 1000) - LATE;
}
