// What workflows will likely post in the coming days, going by what they did on the same weekdays before.
import { DateTime } from 'luxon';
import { localClock, type LocalTime } from '../text/local-clock.ts';

/** A post of the past, or one that is planned. */
export interface Posted {
  workflow: number;
  outlet: number;
  /** Milliseconds since 1970 UTC. */
  at: number;
}

/** What is likely on a day at an outlet, besides what is planned there. */
export interface Likely {
  workflow: number;
  outlet: number;
  /** ISO 8601: "2026-11-26". */
  date: string;
  /** How many posts, on average: 0.5 is one every other week. */
  posts: number;
  /** When in the day they usually go: the middle one of those before, milliseconds since 1970 UTC. */
  at: number;
}

/** So many weeks are looked back at. */
export const WEEKS_BACK = 8;
/** One week is no habit. */
const FEWEST_WEEKS = 2;
/** Rarer than this on a weekday is not told: it might as well be another day. */
const LEAST = 0.25;

/**
 * What is likely in a span of time. Each workflow is taken by itself at each outlet: how many posts went out on average on
 * this weekday of the brand's calendar, in as many whole weeks as it has been at work, eight at most. What is planned of the
 * same workflow on the day is taken off.
 *
 * @param past what went out in the last {@link WEEKS_BACK} weeks, in any order
 * @param planned what will go out anyway
 * @param span from a moment on and until another, which is not included; days that are over have nothing to come
 */
export function forecast(
  past: readonly Posted[],
  planned: readonly Posted[],
  { from, to, now, zone }: { from: number; to: number; now: number; zone: string },
): Likely[] {
  const clock = localClock(zone);
  const present = clock(now);
  const today = present.day;
  const habits = new Map<string, { workflow: number; outlet: number; times: LocalTime[] }>();
  for (const { workflow, outlet, at } of past) {
    const time = clock(at);
    // Today is not over: it tells nothing of how many there are on such a day.
    if (time.day < today - WEEKS_BACK * 7 || time.day >= today) continue;
    const key = `${workflow} ${outlet}`;
    const habit = habits.get(key);
    if (habit) habit.times.push(time);
    else habits.set(key, { workflow, outlet, times: [time] });
  }
  const taken = new Map<string, number>();
  for (const { workflow, outlet, at } of planned) {
    const key = `${workflow} ${outlet} ${clock(at).day}`;
    taken.set(key, (taken.get(key) ?? 0) + 1);
  }
  const days: (LocalTime & { begins: DateTime })[] = [];
  const first = DateTime.fromMillis(Math.max(from, now), { zone }).startOf('day');
  for (let begins = first; begins.toMillis() < to; begins = begins.plus({ days: 1 }))
    days.push({ ...clock(begins.toMillis()), begins });
  return [...habits.values()].flatMap(({ workflow, outlet, times }) => {
    const weeks = weeksAtWork(times, today);
    if (weeks < FEWEST_WEEKS) return [];
    const within = times.filter(({ day }) => day >= today - weeks * 7);
    return days.flatMap(({ day, weekday, begins }): Likely[] => {
      const same = within.filter((each) => each.weekday === weekday);
      // Many posts on one day are a burst, and no habit.
      if (new Set(same.map((each) => each.day)).size < FEWEST_WEEKS) return [];
      // Of what still comes today, what usually came by now is none.
      const left = day === today ? same.filter(({ minute }) => minute >= present.minute) : same;
      const posts = left.length / weeks - (taken.get(`${workflow} ${outlet} ${day}`) ?? 0);
      if (posts < LEAST) return [];
      const at = atMinute(begins, middle(left.map(({ minute }) => minute)));
      return [{ workflow, outlet, date: begins.toISODate()!, posts: round(posts), at }];
    });
  });
}

/** Whole weeks since its first post, of those that are looked back at. */
function weeksAtWork(times: readonly LocalTime[], today: number): number {
  const oldest = times.reduce((first, { day }) => Math.min(first, day), today);
  // A week and a post of today's weekday make two of that weekday, but only whole weeks are fair to the others.
  return Math.min(WEEKS_BACK, Math.ceil((today - oldest) / 7));
}

const middle = (minutes: readonly number[]): number =>
  [...minutes].sort((a, b) => a - b)[Math.floor((minutes.length - 1) / 2)] ?? 0;
/** By the clock, also on days that have an hour more or less. */
const atMinute = (day: DateTime, minute: number): number =>
  day.set({ hour: Math.floor(minute / 60), minute: minute % 60 }).toMillis();
const round = (posts: number): number => Math.round(posts * 100) / 100;
