// Somebody who is known more than once, at several networks mostly, as one.
import { change, select, type Queryable } from '../db/database.ts';

/** As whom somebody is known besides. */
export interface AlsoKnown {
  id: number;
  name: string;
  network: string;
}

/** Those who have been made one with somebody. */
export function alsoKnownAs(db: Queryable, brandId: number, id: number): Promise<AlsoKnown[]> {
  return select(
    db,
    'SELECT id, name, network FROM contacts WHERE brand_id = ? AND merged_into = ? ORDER BY first_at, id LIMIT 100',
    [brandId, id],
  );
}

/** As whom each of some people is known; those who are not the brand's are left out. Locked. */
export async function wholeOf(db: Queryable, brandId: number, ids: readonly number[]): Promise<Map<number, number>> {
  const rows = await select<{ id: number; whole: number }>(
    db,
    'SELECT id, COALESCE(merged_into, id) AS whole FROM contacts WHERE brand_id = ? AND id IN (?) ORDER BY id FOR UPDATE',
    [brandId, ids],
  );
  return new Map(rows.map(({ id, whole }) => [id, whole]));
}

/**
 * Makes somebody one with another: what they wrote, their labels and what workflows did with them are the other's from now
 * on. Who of them asked to be left alone is left alone as both.
 *
 * @param into as whom both are known from now on
 */
export async function mergeInto(db: Queryable, brandId: number, id: number, into: number): Promise<void> {
  await change(db, 'UPDATE desk_entries SET contact_id = ? WHERE brand_id = ? AND contact_id = ?', [into, brandId, id]);
  await change(db, 'UPDATE journeys SET contact_id = ? WHERE brand_id = ? AND contact_id = ?', [into, brandId, id]);
  await change(
    db,
    `INSERT IGNORE INTO contact_labels (contact_id, label, brand_id, at)
     SELECT ?, label, brand_id, at FROM contact_labels WHERE contact_id = ?`,
    [into, id],
  );
  await change(db, 'DELETE FROM contact_labels WHERE contact_id = ?', [id]);
  await change(
    db,
    `UPDATE contacts w JOIN contacts p ON p.id = ? SET
       w.first_at = LEAST(w.first_at, p.first_at),
       w.last_text = IF(p.last_at > w.last_at, p.last_text, w.last_text),
       w.last_at = GREATEST(w.last_at, p.last_at),
       w.notes = NULLIF(TRIM('\\n' FROM CONCAT_WS('\\n', w.notes, p.notes)), ''),
       w.left_alone_because = IF(w.left_alone_at IS NULL, p.left_alone_because, w.left_alone_because),
       w.left_alone_at = COALESCE(w.left_alone_at, p.left_alone_at)
     WHERE w.id = ?`,
    [id, into],
  );
  await change(
    db,
    'UPDATE contacts SET merged_into = ?, notes = NULL WHERE brand_id = ? AND (id = ? OR merged_into = ?)',
    [into, brandId, id, id],
  );
}

/** Takes two apart who are not one after all: what each of them wrote is theirs again; labels, notes and wishes are both's. */
export async function separate(db: Queryable, brandId: number, id: number, from: number): Promise<void> {
  await change(
    db,
    `UPDATE desk_entries d JOIN items i ON i.id = d.item_id JOIN contacts p ON p.id = ? SET d.contact_id = p.id
     WHERE d.brand_id = ? AND d.contact_id = ? AND JSON_VALUE(i.fields, '$.person.network') = p.network
       AND UNHEX(SHA2(JSON_VALUE(i.fields, '$.person.id'), 256)) = p.remote_hash`,
    [id, brandId, from],
  );
  await change(
    db,
    `UPDATE journeys j JOIN runs r ON r.id = j.run_id JOIN desk_entries d ON d.item_id = r.item_id SET j.contact_id = d.contact_id
     WHERE j.brand_id = ? AND j.contact_id = ? AND d.contact_id = ?`,
    [brandId, from, id],
  );
  await change(
    db,
    `INSERT IGNORE INTO contact_labels (contact_id, label, brand_id, at)
     SELECT ?, label, brand_id, at FROM contact_labels WHERE contact_id = ?`,
    [id, from],
  );
  await change(
    db,
    `UPDATE contacts p JOIN contacts w ON w.id = ? SET p.merged_into = NULL, p.notes = w.notes,
       p.left_alone_at = w.left_alone_at, p.left_alone_because = w.left_alone_because
     WHERE p.id = ? AND p.brand_id = ?`,
    [from, id, brandId],
  );
}
