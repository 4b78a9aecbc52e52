import { change, select, toTime, type Queryable } from '../db/database.ts';

/**
 * What sort of thing changed; open screens that show it fetch it anew. `ref` says of which: items and watches, the watch;
 * runs and workflows, the workflow; accounts, the account; sheets, the sheet; the desk, the item; null where it may be any.
 */
export type Topic = 'items' | 'runs' | 'workflows' | 'accounts' | 'watches' | 'sheets' | 'desk';
export interface Change {
  id: number;
  brandId: number;
  topic: Topic;
  ref: number | null;
  /** Of a draft that was saved: which revision it is now, so that whoever saved it knows it. */
  revision: number | null;
}

/** Notes a change, in the transaction that makes it, so that no screen hears of what did not happen. */
export async function noteChange(
  db: Queryable,
  brandId: number,
  topic: Topic,
  ref: number | null,
  now: number,
  revision: number | null = null,
): Promise<void> {
  await change(db, 'INSERT INTO changes (brand_id, topic, ref, revision, at) VALUES (?, ?, ?, ?, ?)', [
    brandId,
    topic,
    ref,
    revision,
    toTime(now),
  ]);
}

/** How many changes are read at once. */
export const CHANGES_PAGE = 1000;

export async function changesAfter(db: Queryable, id: number): Promise<Change[]> {
  return select<Change>(
    db,
    'SELECT id, brand_id AS brandId, topic, ref, revision FROM changes WHERE id > ? ORDER BY id LIMIT ?',
    [id, CHANGES_PAGE],
  );
}

export async function newestChange(db: Queryable): Promise<number> {
  const [row] = await select<{ id: number | null }>(db, 'SELECT MAX(id) AS id FROM changes');
  return Number(row?.id ?? 0);
}

export async function forgetChanges(db: Queryable, before: number): Promise<void> {
  await change(db, 'DELETE FROM changes WHERE at < ? LIMIT 5000', [toTime(before)]);
}
