// A schedule: moments that come by a rule, in the brand's time zone.
import { z } from 'zod';
import type { Item } from '@playa/core/items/item.ts';
import { occurrence } from '@playa/core/timetable/occurrence.ts';
import { readRecurrence, RecurrenceError } from '@playa/core/timetable/recurrence.ts';
import { claimedWatch } from '../../store/watch-claims.ts';
import { LookTrouble } from '../fetch-feed.ts';
import type { SourceKind } from './kind.ts';

/** A schedule as a source: an RFC 5545 rule, its first wall-clock time, in the brand's time zone. */
export const scheduleParams = z.object({
  rule: z.string().min(1).max(2000),
  start: z.string().regex(/^\d{4}-\d\d-\d\dT\d\d:\d\d$/),
  zone: z.string().max(64),
});
export type ScheduleParams = z.infer<typeof scheduleParams>;

/** After a long sleep at most this many occurrences are made up for. */
const MOST_AT_ONCE = 50;

/**
 * The occurrences since the last look, oldest first, and when the next one is.
 *
 * @param after milliseconds since 1970 UTC; null at the first look, which only sets the baseline
 * @throws RecurrenceError
 */
export function dueOccurrences(
  params: ScheduleParams,
  after: number | null,
  now: number,
): { items: Item[]; past: Item[]; next: number | null } {
  const schedule = readRecurrence(params.rule, params.start, params.zone);
  const item = (at: number) => occurrence(at, params.zone, null);
  if (after === null) {
    // Some of the past, so that the sheet has columns at once.
    const monthsBack = schedule.between(now - 92 * 86_400_000, now + 1, 500).slice(-12);
    return { items: [], past: monthsBack.map(item), next: schedule.after(now) };
  }
  const missed = schedule.between(after + 1, now + 1, 2000);
  return { items: missed.slice(-MOST_AT_ONCE).map(item), past: [], next: schedule.after(Math.max(now, after)) };
}

const memorySchema = z.object({ last: z.number() });

export const scheduleKind: SourceKind<ScheduleParams> = {
  kind: 'schedule',
  params: scheduleParams,
  key: ({ rule, start, zone }) => `schedule:${start}:${rule}:${zone}`,
  async read(services, claimed) {
    const watch = await claimedWatch(services.pool, claimed.id);
    if (!watch) return 'gone';
    const last = memorySchema.safeParse(watch.memory).data?.last ?? null;
    const now = services.clock();
    // While nobody listened nothing was missed.
    const due = occurrencesDue(
      scheduleParams.parse(claimed.params),
      !claimed.watched && last !== null ? now : last,
      now,
    );
    return {
      watch,
      items: [...due.past, ...due.items],
      nextAt: due.next,
      tell: () => ({
        past: due.past,
        fresh: due.items,
        again: [],
        // A clock that was set back must not make anything happen a second time.
        memory: { last: Math.max(now, last ?? 0) },
        notes: due.next === null ? ['This schedule has come to its end.'] : [],
      }),
    };
  },
};

/** @throws LookTrouble when the rule cannot be followed */
function occurrencesDue(...of: Parameters<typeof dueOccurrences>): ReturnType<typeof dueOccurrences> {
  try {
    return dueOccurrences(...of);
  } catch (error) {
    if (error instanceof RecurrenceError) throw new LookTrouble(error.message);
    throw error;
  }
}
