// How much waits at the desk.
import { select, toTime, type Queryable } from '../db/database.ts';

/** More are not counted: whoever has so much to answer wants no exact number. */
export const MOST_COUNTED = 1000;

/** How many entries wait, and how many are put off; each up to `MOST_COUNTED`. */
export async function countDesk(db: Queryable, brandId: number, now: number): Promise<{ open: number; later: number }> {
  // Each comes out of an index by itself.
  const [row] = await select<{ open: number; later: number }>(
    db,
    `SELECT (SELECT COUNT(*) FROM (SELECT item_id FROM desk_entries WHERE brand_id = ? AND state = 'open' LIMIT ?) a) AS open,
       (SELECT COUNT(*) FROM (SELECT item_id FROM desk_entries WHERE brand_id = ? AND snoozed_until > ? AND state = 'open' LIMIT ?) b) AS later`,
    [brandId, MOST_COUNTED, brandId, toTime(now), MOST_COUNTED],
  );
  const [open, later] = [Number(row?.open ?? 0), Number(row?.later ?? 0)];
  return { open: open === MOST_COUNTED ? open : open - later, later };
}
