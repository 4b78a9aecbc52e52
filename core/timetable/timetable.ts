// When an outlet publishes: weekly times, pauses, how much a day.
import { DateTime } from 'luxon';
import QuickLRU from 'quick-lru';
import { z } from 'zod';
import { momentOn } from './opening-hours.ts';

/** What is done with something whose time has passed while nobody was there to send it. */
export const LATE = ['send', 'free', 'hold'] as const;

/** An outlet's timetable. Days and times are the brand's wall clock. */
export interface Timetable {
  /** Times of day by weekday, Monday first (ISO 8601): `[['09:00', '17:30'], …]`. */
  times: string[][];
  /** Days on which nothing goes out by itself, both included: holidays, the end of a campaign. */
  pauses: { from: string; to: string; name: string }[];
  /** The most posts of a day; null for any number. */
  mostPerDay: number | null;
  /** The least time between two posts, in seconds. */
  gap: number;
  /** What is done with what is later than so many seconds: it is sent all the same, takes the next free time, or is held. */
  late: { after: number; then: (typeof LATE)[number] };
  /**
   * Within how many seconds the same words of two workflows are not said twice by themselves: those of the second wait
   * for a person. 0 for no such rule.
   */
  sameWords: number;
}

/** How long words count as the same as said before where nobody has said anything: half a day. */
const SAME_WORDS = 12 * 3600;

const time = z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/, 'A time is written like 09:30.');
const day = z.iso.date('A day is written like 2026-12-24.');

export const timetableSchema = z.object({
  times: z.array(z.array(time).max(96)).length(7),
  pauses: z
    .array(
      z
        .object({ from: day, to: day, name: z.string().max(80) })
        .refine(({ from, to }) => from <= to, 'A pause ends after it begins.'),
    )
    .max(100),
  mostPerDay: z.number().int().min(1).max(1000).nullable(),
  gap: z
    .number()
    .int()
    .min(0)
    .max(7 * 86_400),
  late: z.object({
    after: z
      .number()
      .int()
      .min(60)
      .max(7 * 86_400),
    then: z.enum(LATE),
  }),
  // Timetables from before there was this setting have none.
  sameWords: z
    .number()
    .int()
    .min(0)
    .max(60 * 86_400)
    .default(SAME_WORDS),
});

/** What holds where nobody has said anything: no times, nothing kept apart. */
export const NO_TIMETABLE: Timetable = {
  times: [[], [], [], [], [], [], []],
  pauses: [],
  mostPerDay: null,
  gap: 0,
  late: { after: 3600, then: 'free' },
  sameWords: SAME_WORDS,
};

/** Whether there are any times to choose from. */
export const hasTimes = ({ times }: Timetable): boolean => times.some((each) => each.length > 0);

/** The pause that a day lies in. @param date an ISO 8601 day */
export function pauseOn({ pauses }: Pick<Timetable, 'pauses'>, date: string): Timetable['pauses'][number] | undefined {
  return pauses.find(({ from, to }) => from <= date && date <= to);
}

/**
 * The times of a timetable from one moment up to another (not included), oldest first. Those in a pause are left out.
 *
 * 09:00 stays 09:00 through daylight saving. A time in the hour that is skipped comes as the offset before the gap says,
 * an hour later by the clock; one in the hour that comes twice comes at the first (RFC 5545 section 3.3.5).
 *
 * @param from milliseconds since 1970 UTC
 * @param zone an IANA time zone
 */
export function* timesBetween(
  timetable: Pick<Timetable, 'times' | 'pauses'>,
  from: number,
  to: number,
  zone: string,
): Generator<number> {
  if (timetable.times.every((each) => each.length === 0)) return;
  const days = daysOf(timetable.times, zone);
  let last = -Infinity;
  for (let number = dayNumber(DateTime.fromMillis(from, { zone })); ; number++) {
    let day = days.get(number);
    if (!day) days.set(number, (day = dayOf(timetable.times, number, zone)));
    if (day.start >= to) return;
    if (timetable.pauses.length > 0 && pauseOn(timetable, dateOf(number))) continue;
    for (const moment of day.moments) {
      // Two times that come at the same moment, since one of them was skipped, are one.
      if (moment < from || moment >= to || moment === last) continue;
      last = moment;
      yield moment;
    }
  }
}

/** One day of a timetable in moments. */
interface Day {
  start: number;
  moments: number[];
}

// Telling wall-clock time from moments is most of the work, and the same year is gone through for every post.
const remembered = new QuickLRU<string, Map<number, Day>>({ maxSize: 200 });

function daysOf(times: Timetable['times'], zone: string): Map<number, Day> {
  const key = `${zone} ${JSON.stringify(times)}`;
  let days = remembered.get(key);
  if (!days) remembered.set(key, (days = new Map()));
  // Years of looking ahead and back are kept, and no more.
  if (days.size > 2000) days.clear();
  return days;
}

/** Days since 1970-01-01, whatever their length. */
const dayNumber = (local: DateTime): number => Date.UTC(local.year, local.month - 1, local.day) / 86_400_000;
const dateOf = (number: number): string => new Date(number * 86_400_000).toISOString().slice(0, 10);

function dayOf(times: Timetable['times'], number: number, zone: string): Day {
  const day = DateTime.fromISO(dateOf(number), { zone }).startOf('day');
  const moments = times[day.weekday - 1]!.map((at) => momentOn(day, at)).sort((a, b) => a - b);
  return { start: day.toMillis(), moments };
}

/** What is done with something whose time was `planned`; null as long as it is not late. */
export function lateRule(
  { late }: Pick<Timetable, 'late'>,
  planned: number,
  now: number,
): (typeof LATE)[number] | null {
  return now - planned > late.after * 1000 ? late.then : null;
}
