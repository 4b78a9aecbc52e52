// Forgetting somebody: what they wrote and who they are goes, what was done stays, without their name.
import { randomBytes } from 'node:crypto';
import { withoutName, withoutWords } from '@playa/core/desk/without-name.ts';
import { change, select, type Queryable } from '../db/database.ts';
import { alsoKnownAs } from './merged-contacts.ts';

/** What of the brand's records is about somebody. */
export interface About {
  /** What they wrote, and answers to it that were written by hand. */
  items: number[];
  runs: number[];
}

export async function recordsAbout(db: Queryable, brandId: number, contactId: number): Promise<About> {
  const entries = await select<{ item_id: number }>(
    db,
    'SELECT item_id FROM desk_entries WHERE brand_id = ? AND contact_id = ?',
    [brandId, contactId],
  );
  if (entries.length === 0) return { items: [], runs: [] };
  // The entry knows its last answer by hand; those before it lie at the same source.
  const answers = await select<{ id: number }>(
    db,
    `SELECT i.id FROM desk_entries d JOIN items last ON last.id = d.answer_item
       JOIN items i ON i.watch_id = last.watch_id AND i.identity LIKE CONCAT('answer:', d.item_id, ':%')
     WHERE d.brand_id = ? AND d.contact_id = ?`,
    [brandId, contactId],
  );
  const items = [...entries.map(({ item_id }) => item_id), ...answers.map(({ id }) => id)];
  const runs = await select<{ id: number }>(
    db,
    'SELECT id FROM runs WHERE brand_id = ? AND item_id IN (?) ORDER BY id',
    [brandId, items],
  );
  return { items, runs: runs.map(({ id }) => id) };
}

/** Whom to forget. */
export interface Forgetting {
  brandId: number;
  contactId: number;
  /**
   * Whether they asked to be left alone: then they are still known again by their network's identifier, as a hash, so that
   * this is honoured.
   */
  keepsStop: boolean;
  /** A text without their words and their name. */
  bare: (text: string) => string;
}

/** How a text is put without somebody's name, and without anything they wrote. Asked before either is forgotten. */
export async function puttingWithout(db: Queryable, name: string, { items }: About): Promise<(text: string) => string> {
  const texts =
    items.length === 0
      ? []
      : await select<{ text: string | null }>(
          db,
          "SELECT JSON_VALUE(fields, '$.text') AS text FROM items WHERE id IN (?)",
          [items],
        );
  const said = texts.flatMap(({ text }) => text ?? []);
  return (text) => withoutName(withoutWords(text, said), name);
}

/** Whether something to them is being sent at this very moment. */
export async function isSending(db: Queryable, runs: readonly number[]): Promise<boolean> {
  if (runs.length === 0) return false;
  const rows = await select(db, "SELECT 1 FROM effects WHERE run_id IN (?) AND status = 'sending' LIMIT 1", [runs]);
  return rows.length > 0;
}

/**
 * Takes their words and their name out of everything. Their runs have ended before.
 */
export async function forget(
  db: Queryable,
  { brandId, contactId, keepsStop, bare }: Forgetting,
  { items, runs }: About,
): Promise<void> {
  if (items.length > 0) {
    await change(
      db,
      `UPDATE items SET erased = 1, fields = JSON_OBJECT('outlet', JSON_EXTRACT(fields, '$.outlet'), 'stars', JSON_EXTRACT(fields, '$.stars'), 'erased', TRUE)
       WHERE id IN (?)`,
      [items],
    );
    await change(db, 'DELETE FROM item_versions WHERE item_id IN (?)', [items]);
    await change(db, 'DELETE FROM desk_sends WHERE item_id IN (?)', [items]);
    await withoutIn(db, bare, 'desk_entries', 'item_id', items, ['answer']);
    await change(
      db,
      `UPDATE desk_entries SET draft = NULL, trouble = NULL, answers_to = '', state = IF(state IN ('open', 'old'), 'ignored', state)
       WHERE item_id IN (?)`,
      [items],
    );
    await change(
      db,
      "UPDATE audit SET was = NULL, became = NULL WHERE brand_id = ? AND about = 'desk' AND about_id IN (?)",
      [brandId, items],
    );
  }
  if (runs.length > 0) {
    const rows = await select<{ id: number }>(db, 'SELECT id FROM logbook WHERE run_id IN (?)', [runs]);
    const logged = rows.map(({ id }) => id);
    if (logged.length > 0) {
      await withoutIn(db, bare, 'logbook', 'id', logged, ['text']);
      await withoutIn(db, bare, 'logbook_edits', 'logbook_id', logged, ['text_before', 'text_after']);
    }
    await change(db, 'DELETE FROM effects WHERE run_id IN (?)', [runs]);
    await change(db, "UPDATE runs SET thinned = 1, state = NULL, trace = '{}', trouble = NULL WHERE id IN (?)", [runs]);
    await change(db, 'DELETE FROM notices WHERE brand_id = ? AND run_id IN (?)', [brandId, runs]);
    await change(
      db,
      "UPDATE audit SET was = NULL, became = NULL WHERE brand_id = ? AND about = 'run' AND about_id IN (?)",
      [brandId, runs],
    );
  }
  await change(
    db,
    "UPDATE audit SET was = NULL, became = NULL, about_name = NULL WHERE brand_id = ? AND about = 'contact' AND about_id = ?",
    [brandId, contactId],
  );
  await change(db, 'DELETE FROM contact_labels WHERE contact_id = ?', [contactId]);
  await change(
    db,
    `UPDATE contacts SET name = 'Somebody', remote_id = '', notes = NULL, last_text = NULL${keepsStop ? '' : ', remote_hash = ?'}
     WHERE brand_id = ? AND id = ?`,
    [...(keepsStop ? [] : [randomBytes(32)]), brandId, contactId],
  );
  // As whom they were known besides: still known again where they asked to be left alone.
  for (const { id } of await alsoKnownAs(db, brandId, contactId))
    await change(
      db,
      `UPDATE contacts SET name = 'Somebody', remote_id = '', notes = NULL, last_text = NULL${keepsStop ? '' : ', remote_hash = ?, merged_into = NULL'}
       WHERE id = ?`,
      [...(keepsStop ? [] : [randomBytes(32)]), id],
    );
}

/** Texts of some rows, without what is not to be known any more. */
async function withoutIn(
  db: Queryable,
  bare: (text: string) => string,
  table: 'desk_entries' | 'logbook' | 'logbook_edits',
  key: string,
  ids: readonly number[],
  columns: readonly string[],
): Promise<void> {
  const rows = await select<Record<string, string | number | null>>(
    db,
    `SELECT ${table === 'logbook_edits' ? 'id AS own, ' : ''}${key} AS row_id, ${columns.join(', ')} FROM ${table} WHERE ${key} IN (?)`,
    [ids],
  );
  for (const row of rows)
    for (const column of columns) {
      const text = row[column];
      if (typeof text !== 'string') continue;
      const without = bare(text);
      if (without === text) continue;
      const [where, id] = row.own === undefined ? [key, row.row_id] : ['id', row.own];
      await change(db, `UPDATE ${table} SET ${column} = ? WHERE ${where} = ?`, [without, id]);
    }
}
