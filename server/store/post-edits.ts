// How posts are changed after they went out.
import { change, toTime, select, fromTime, type Queryable } from '../db/database.ts';

/** Notes that a post is about to be edited, or deleted where nothing comes after. Returns the number of the edit. */
export async function beginEdit(
  db: Queryable,
  edit: { brandId: number; logbookId: number; userId: number; before: string; after: string | null },
  now: number,
): Promise<number> {
  const { id } = await change(
    db,
    `INSERT INTO logbook_edits (brand_id, logbook_id, user_id, text_before, text_after, deletes, status, at)
     VALUES (?, ?, ?, ?, ?, ?, 'asked', ?)`,
    [edit.brandId, edit.logbookId, edit.userId, edit.before, edit.after ?? '', edit.after === null, toTime(now)],
  );
  return id;
}

/** The network has made the edit: the post says the new words now. */
export async function finishEdit(db: Queryable, brandId: number, id: number): Promise<void> {
  await change(
    db,
    `UPDATE logbook_edits e JOIN logbook l ON l.id = e.logbook_id SET e.status = 'made', l.text = e.text_after
     WHERE e.brand_id = ? AND e.id = ?`,
    [brandId, id],
  );
}

/** The network has deleted the post. */
export async function finishDeletion(db: Queryable, brandId: number, id: number, now: number): Promise<void> {
  await change(
    db,
    `UPDATE logbook_edits e JOIN logbook l ON l.id = e.logbook_id SET e.status = 'made', l.deleted_at = ?
     WHERE e.brand_id = ? AND e.id = ?`,
    [toTime(now), brandId, id],
  );
}

/** How a post was edited or deleted, newest first. */
export async function editsOf(
  db: Queryable,
  brandId: number,
  logbookId: number,
): Promise<{ before: string; after: string; deletes: boolean; by: string; made: boolean; at: number }[]> {
  const rows = await select<{ before: string; after: string; deletes: number; name: string; status: string; at: Date }>(
    db,
    `SELECT e.text_before AS 'before', e.text_after AS 'after', e.deletes, u.name, e.status, e.at
     FROM logbook_edits e JOIN users u ON u.id = e.user_id
     WHERE e.brand_id = ? AND e.logbook_id = ? ORDER BY e.id DESC`,
    [brandId, logbookId],
  );
  return rows.map(({ name, status, at, deletes, ...row }) => ({
    ...row,
    deletes: deletes === 1,
    by: name,
    made: status === 'made',
    at: fromTime(at),
  }));
}
