import type { Counted } from '@playa/core/insight/desk-numbers.ts';
import { fromTime, fromTimeOrNull, select, toTime, type Queryable } from '../db/database.ts';
import type { DeskState } from './desk.ts';

/** So many of a stretch are counted, the newest. */
export const MOST_COUNTED = 100_000;

/** What people wrote since a moment, as far as it is counted. What was there before Playa looked is left out. */
export async function deskCounted(db: Queryable, brandId: number, since: number): Promise<Counted[]> {
  const rows = await select<{
    kind: Counted['kind'];
    outlet_id: number | null;
    stars: number | null;
    said_at: Date;
    answered_at: Date | null;
    answered_by: Counted['by'];
    state: DeskState;
  }>(
    db,
    `SELECT kind, outlet_id, stars, said_at, answered_at, answered_by, state FROM desk_entries
     WHERE brand_id = ? AND said_at >= ? AND state <> 'old' ORDER BY said_at DESC LIMIT ?`,
    [brandId, toTime(since), MOST_COUNTED],
  );
  return rows.map((row) => ({
    kind: row.kind,
    outletId: row.outlet_id,
    stars: row.stars,
    saidAt: fromTime(row.said_at),
    answeredAt: fromTimeOrNull(row.answered_at),
    by: row.answered_by,
    state: row.state === 'ignored' || row.state === 'old' ? 'left' : row.state,
  }));
}
