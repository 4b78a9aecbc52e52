import { change, select, type Queryable } from '../db/database.ts';

/** Lists that can be looked at in kept ways. */
export const VIEW_PLACES = ['desk', 'logbook', 'people'] as const;
export type ViewPlace = (typeof VIEW_PLACES)[number];

/** Whose views, and of which list. */
export interface ViewsOf {
  brandId: number;
  userId: number;
  place: ViewPlace;
}
/** A way of looking at a list: filters as the list's address has them. */
export interface KeptView {
  name: string;
  query: string;
}

/** How many somebody keeps of one list. */
export const MOST_VIEWS = 30;

/** Somebody's views of a list, by name. */
export function keptViews(db: Queryable, { brandId, userId, place }: ViewsOf): Promise<KeptView[]> {
  return select(
    db,
    'SELECT name, query FROM kept_views WHERE brand_id = ? AND user_id = ? AND place = ? ORDER BY name LIMIT ?',
    [brandId, userId, place, MOST_VIEWS],
  );
}

/** Keeps a view; one of the same name is replaced. */
export async function keepView(
  db: Queryable,
  { brandId, userId, place }: ViewsOf,
  { name, query }: KeptView,
): Promise<void> {
  await change(
    db,
    `INSERT INTO kept_views (user_id, brand_id, place, name, query) VALUES (?, ?, ?, ?, ?)
     ON DUPLICATE KEY UPDATE name = VALUES(name), query = VALUES(query)`,
    [userId, brandId, place, name, query],
  );
}

/** @returns whether there was one */
export async function dropView(db: Queryable, { brandId, userId, place }: ViewsOf, name: string): Promise<boolean> {
  const { rows } = await change(
    db,
    'DELETE FROM kept_views WHERE brand_id = ? AND user_id = ? AND place = ? AND name = ?',
    [brandId, userId, place, name],
  );
  return rows > 0;
}
