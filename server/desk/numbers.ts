// The numbers a manager asks of the desk, over some weeks.
import { DateTime } from 'luxon';
import { deskNumbers, type DeskNumbers } from '@playa/core/insight/desk-numbers.ts';
import type { Queryable } from '../db/database.ts';
import { deskCounted } from '../store/desk-counted.ts';
import { journeysSince, type Journeys } from '../store/journeys.ts';

/** After so long without a word, milliseconds, nobody is expected to write again. */
export const SILENT_AFTER = 14 * 86_400_000;

/** @param weeks how many, the present one among them */
export async function numbersOf(
  db: Queryable,
  brandId: number,
  { weeks, zone, now }: { weeks: number; zone: string; now: number },
): Promise<DeskNumbers & { from: number; journeys: Journeys[] }> {
  const from = DateTime.fromMillis(now, { zone })
    .startOf('week')
    .minus({ weeks: weeks - 1 })
    .toMillis();
  const [said, journeys] = await Promise.all([
    deskCounted(db, brandId, from),
    journeysSince(db, brandId, from, { now, silentAfter: SILENT_AFTER }),
  ]);
  return { ...deskNumbers(said, { from, now, zone }), from, journeys };
}
