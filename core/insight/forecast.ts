// What workflows will likely post in the coming days, going by what they did on the same weekdays before.
import { DateTime } from 'luxon';

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
  const today = DateTime.fromMillis(now, { zone }).startOf('day');
  const begin = today.minus({ weeks: WEEKS_BACK });
  const habits = new Map<string, { workflow: number; outlet: number; days: DateTime[] }>();
  for (const { workflow, outlet, at } of past) {
    const moment = DateTime.fromMillis(at, { zone });
    // Today is not over: it tells nothing of how many there are on such a day.
    if (moment < begin || moment >= today) continue;
    const key = `${workflow} ${outlet}`;
    const habit = habits.get(key);
    if (habit) habit.days.push(moment);
    else habits.set(key, { workflow, outlet, days: [moment] });
  }
  const taken = new Map<string, number>();
  for (const { workflow, outlet, at } of planned) {
    const key = `${workflow} ${outlet} ${DateTime.fromMillis(at, { zone }).toISODate()}`;
    taken.set(key, (taken.get(key) ?? 0) + 1);
  }
  const days: DateTime[] = [];
  const first = DateTime.fromMillis(Math.max(from, now), { zone }).startOf('day');
  for (let day = first; day.toMillis() < to; day = day.plus({ days: 1 })) days.push(day);
  return [...habits.values()].flatMap((habit) => {
    const weeks = weeksAtWork(habit.days, today);
    if (weeks < FEWEST_WEEKS) return [];
    const since = today.minus({ weeks });
    const within = habit.days.filter((day) => day >= since);
    return days.flatMap((day): Likely[] => {
      const { workflow, outlet } = habit;
      const same = within.filter((each) => each.weekday === day.weekday);
      // Many posts on one day are a burst, and no habit.
      if (new Set(same.map((each) => each.toISODate())).size < FEWEST_WEEKS) return [];
      // Of what still comes today, what usually came by now is none.
      const left = day.equals(today) ? same.filter((each) => minuteOf(each) >= minuteOf(nowIn(now, zone))) : same;
      const date = day.toISODate()!;
      const posts = left.length / weeks - (taken.get(`${workflow} ${outlet} ${date}`) ?? 0);
      if (posts < LEAST) return [];
      return [{ workflow, outlet, date, posts: round(posts), at: atMinute(day, middle(left.map(minuteOf))) }];
    });
  });
}

const nowIn = (now: number, zone: string) => DateTime.fromMillis(now, { zone });

/** Whole weeks since its first post, of those that are looked back at. */
function weeksAtWork(days: readonly DateTime[], today: DateTime): number {
  const oldest = days.reduce((first, day) => (day < first ? day : first));
  // A week and a post of today's weekday make two of that weekday, but only whole weeks are fair to the others.
  return Math.min(WEEKS_BACK, Math.ceil(today.diff(oldest.startOf('day'), 'weeks').weeks));
}

const minuteOf = (moment: DateTime): number => moment.hour * 60 + moment.minute;
const middle = (minutes: readonly number[]): number =>
  [...minutes].sort((a, b) => a - b)[Math.floor((minutes.length - 1) / 2)] ?? 0;
/** By the clock, also on days that have an hour more or less. */
const atMinute = (day: DateTime, minute: number): number =>
  day.set({ hour: Math.floor(minute / 60), minute: minute % 60 }).toMillis();
const round = (posts: number): number => Math.round(posts * 100) / 100;
