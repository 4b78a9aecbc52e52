import { change, select, toTime, type Queryable } from '../db/database.ts';
import { bumpEpoch } from './users.ts';

/** Words of a brand's own, by name. */
export interface Snippet {
  name: string;
  text: string;
}

/** @param lock so that nobody changes one meanwhile */
export async function snippetsOf(db: Queryable, brandId: number, lock = false): Promise<Snippet[]> {
  return select<Snippet>(
    db,
    `SELECT name, text FROM snippets WHERE brand_id = ? ORDER BY name${lock ? ' FOR UPDATE' : ''}`,
    [brandId],
  );
}

/** @param after the name behind which they begin */
export async function snippetsPage(db: Queryable, brandId: number, after: string, most: number): Promise<Snippet[]> {
  return select<Snippet>(db, 'SELECT name, text FROM snippets WHERE brand_id = ? AND name > ? ORDER BY name LIMIT ?', [
    brandId,
    after,
    most,
  ]);
}

/** Keeps a snippet; an older one of that name is replaced, and every workflow says the new words from now on. */
export async function keepSnippet(db: Queryable, brandId: number, snippet: Snippet, now: number): Promise<void> {
  await change(
    db,
    `INSERT INTO snippets (brand_id, name, text, changed_at) VALUES (?, ?, ?, ?)
     ON DUPLICATE KEY UPDATE text = VALUES(text), changed_at = VALUES(changed_at)`,
    [brandId, snippet.name, snippet.text, toTime(now)],
  );
  await bumpEpoch(db, brandId);
}

export async function deleteSnippet(db: Queryable, brandId: number, name: string): Promise<boolean> {
  const { rows } = await change(db, 'DELETE FROM snippets WHERE brand_id = ? AND name = ?', [brandId, name]);
  await bumpEpoch(db, brandId);
  return rows > 0;
}
