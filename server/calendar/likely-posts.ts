// What live workflows will likely post, beside what is planned.
import { forecast, WEEKS_BACK, type Likely } from '@playa/core/insight/forecast.ts';
import { pauseOn } from '@playa/core/timetable/timetable.ts';
import type { Services } from '../base/services.ts';
import { postedBetween } from '../store/logbook.ts';
import { brandById } from '../store/users.ts';
import { plannedPosts, postedToByLive } from '../store/planned.ts';
import { timetablesOf } from '../store/timetables.ts';

/** More than this of the past tells nothing more. */
const MOST = 5000;
const DAY = 86_400_000;

/**
 * By outlet and day, what live workflows will likely post besides what is planned: not where they no longer post, nor in
 * the pauses of an outlet.
 *
 * @param span from a moment on and until another, which is not included; milliseconds since 1970 UTC
 */
export async function likelyPosts(
  { pool, clock }: Pick<Services, 'pool' | 'clock'>,
  brandId: number,
  { from, to }: { from: number; to: number },
): Promise<(Likely & { name: string })[]> {
  const now = clock();
  if (to <= now) return [];
  const [brand, live, timetables] = await Promise.all([
    brandById(pool, brandId),
    postedToByLive(pool, brandId),
    timetablesOf(pool, brandId),
  ]);
  const past = await postedBetween(pool, brandId, now - (WEEKS_BACK * 7 + 1) * DAY, now, MOST);
  const ahead = await plannedPosts(pool, brandId, { from: now, to, paused: true }, MOST);
  const zone = brand!.timeZone;
  const names = new Map(live.map(({ workflow, outlet, name }) => [`${workflow} ${outlet}`, name]));
  const planned = ahead.map(({ workflowId, outletId, at }) => ({ workflow: workflowId, outlet: outletId, at }));
  return forecast(past, planned, { from, to, now, zone }).flatMap((each) => {
    const name = names.get(`${each.workflow} ${each.outlet}`);
    const kept = timetables.get(each.outlet);
    if (name === undefined || (kept && pauseOn(kept.timetable, each.date))) return [];
    return [{ ...each, name }];
  });
}
