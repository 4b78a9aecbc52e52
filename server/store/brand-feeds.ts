// Addresses at which whoever was given one reads something of a brand, without signing in.
import { change, select, type Queryable } from '../db/database.ts';

/** published: what is out. calendar: what is planned and written as well. */
export type BrandFeed = 'published' | 'calendar';

/** The address under which a feed of a brand is read; null when it has none. */
export async function feedTokenOf(db: Queryable, brandId: number, feed: BrandFeed): Promise<string | null> {
  const [row] = await select<{ token: string }>(db, 'SELECT token FROM brand_feeds WHERE brand_id = ? AND feed = ?', [
    brandId,
    feed,
  ]);
  return row?.token ?? null;
}

/** Gives a feed an address, in place of the one it had; null takes it back. */
export async function setFeedToken(
  db: Queryable,
  brandId: number,
  feed: BrandFeed,
  token: string | null,
): Promise<void> {
  if (token === null) await change(db, 'DELETE FROM brand_feeds WHERE brand_id = ? AND feed = ?', [brandId, feed]);
  else
    await change(
      db,
      'INSERT INTO brand_feeds (brand_id, feed, token) VALUES (?, ?, ?) ON DUPLICATE KEY UPDATE token = VALUES(token)',
      [brandId, feed, token],
    );
}

/** The brand whose feed is read under an address. */
export async function brandOfFeed(db: Queryable, feed: BrandFeed, token: string): Promise<number | null> {
  const [row] = await select<{ brand_id: number }>(
    db,
    'SELECT brand_id FROM brand_feeds WHERE token = ? AND feed = ?',
    [token, feed],
  );
  return row?.brand_id ?? null;
}
