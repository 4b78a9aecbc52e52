// The calendar in pure functions: days, cells, free times, where something dropped goes.
import { DateTime } from 'luxon';
import { wallClockMoment } from '@playa/core/text/wall-clock.ts';
import { conflictsAt, type Conflict } from '@playa/core/timetable/move.ts';
import { timesBetween } from '@playa/core/timetable/timetable.ts';
import type { CalendarOutlet, CalendarPost } from './types.ts';

/** One day in the brand's time zone. */
export interface CalendarDay {
  /** ISO 8601: "2026-11-26". */
  date: string;
  /** Its first and the next day's first moment, milliseconds since 1970 UTC. */
  from: number;
  to: number;
}

/** How much of the calendar is shown at once. */
export type CalendarView = 'day' | 'week' | 'month';

/** The days of a week or month as it is shown: whole weeks, from Monday. @param anchor any day in it */
export function daysShown(view: CalendarView, anchor: string, zone: string): CalendarDay[] {
  const day = DateTime.fromISO(anchor, { zone });
  const first = (view === 'month' ? day.startOf('month') : day).startOf(view === 'day' ? 'day' : 'week');
  const last = (view === 'month' ? day.endOf('month') : day).endOf(view === 'day' ? 'day' : 'week');
  const days: CalendarDay[] = [];
  for (let each = first; each <= last; each = each.plus({ days: 1 }))
    days.push({
      date: each.toISODate()!,
      from: each.toMillis(),
      to: each.plus({ days: 1 }).startOf('day').toMillis(),
    });
  return days;
}

/** The day before or after, by the span that is shown. */
export function turned(view: CalendarView, anchor: string, by: 1 | -1, zone: string): string {
  const day = DateTime.fromISO(anchor, { zone });
  const next = view === 'month' ? day.startOf('month').plus({ months: by }) : day.plus({ [`${view}s`]: by });
  return next.toISODate()!;
}

/** "Thursday 26 November", "16 – 22 November", "November 2026". */
export function sayShown(view: CalendarView, anchor: string, zone: string): string {
  const day = DateTime.fromISO(anchor, { zone, locale: 'en' });
  if (view === 'month') return day.toFormat('LLLL yyyy');
  if (view === 'day') return day.toFormat('cccc d LLLL');
  const [first, last] = [day.startOf('week'), day.endOf('week')];
  const year = last.year === DateTime.now().setZone(zone).year ? '' : last.toFormat(' yyyy');
  return first.hasSame(last, 'month')
    ? `${first.day} – ${last.day} ${last.toFormat('LLLL')}${year}`
    : `${first.toFormat('d LLL')} – ${last.toFormat('d LLL')}${year}`;
}

/** What stands in one cell: posts and free times, by time. */
export interface CalendarCell {
  posts: CalendarPost[];
  free: number[];
}

/** Posts and free times of an outlet on a day. @param now free times that are over are none */
export function cellOf(
  outlet: CalendarOutlet,
  day: CalendarDay,
  posts: readonly CalendarPost[],
  zone: string,
  now: number,
): CalendarCell {
  const mine = posts
    .filter((post) => post.outlet === outlet.id && post.at >= day.from && post.at < day.to)
    .sort((a, b) => a.at - b.at);
  const held = new Set(mine.map((post) => post.slot));
  const free = [...timesBetween(outlet.timetable, Math.max(day.from, now), day.to, zone)].filter((at) => !held.has(at));
  return { posts: mine, free };
}

/**
 * When a post that is dropped on a day goes: at the same time of day as before; where that does not exist on this day, an
 * hour later.
 */
export function sameTimeOn(at: number, day: CalendarDay, zone: string): number {
  const { hour, minute } = DateTime.fromMillis(at, { zone });
  return wallClockMoment(DateTime.fromISO(day.date, { zone }).set({ hour, minute }));
}

/** Whether a post can be given another time: one in the outbox, or one by hand that the outbox has not got yet. */
export const canMove = ({ effect, post, state }: CalendarPost): boolean =>
  effect !== null || (post !== null && OWN_TIME.has(state));
/** A post by hand has a time of its own before the outbox has it. */
const OWN_TIME: ReadonlySet<CalendarPost['state']> = new Set(['idea', 'draft', 'approval', 'planned']);

/**
 * Where somebody begins who writes a post for a day: at noon, or today at the next full hour.
 *
 * @returns as a field of a form has it; null for a day that is over
 */
export function beginOn(day: CalendarDay, zone: string, now: number): string | null {
  if (day.to <= now) return null;
  const noon = DateTime.fromISO(day.date, { zone }).set({ hour: 12 });
  const soon = DateTime.fromMillis(now, { zone }).plus({ hours: 1 }).startOf('hour');
  const at = noon > soon ? noon : soon;
  return (at.toMillis() < day.to ? at : DateTime.fromMillis(now, { zone }).plus({ minutes: 5 })).toFormat(
    "yyyy-MM-dd'T'HH:mm",
  );
}

/** What speaks against a post's going at a moment, beside what else is planned at its outlet. */
export function conflictsFor(
  post: CalendarPost,
  outlet: CalendarOutlet,
  at: number,
  posts: readonly CalendarPost[],
  zone: string,
  now: number,
): Conflict[] {
  const others = posts.filter((each) => each.outlet === outlet.id && each.key !== post.key && each.state !== 'deleted');
  return conflictsAt({ at, slot: null }, others, { timetable: outlet.timetable, zone, from: now });
}

/** What a conflict means, for people. */
export function sayConflict(conflict: Conflict, outlet: CalendarOutlet): string {
  switch (conflict) {
    case 'past':
      return 'That moment has passed.';
    case 'taken':
      return 'That time is taken.';
    case 'gap':
      return `Less than ${Math.round(outlet.timetable.gap / 60)} min from another post.`;
    case 'day':
      return `More than ${outlet.timetable.mostPerDay} on that day.`;
    case 'pause':
      return 'There is a pause on that day.';
  }
}

/** A moment as a field of a form has it, "2026-11-26T18:00", in the brand's time zone; and back. */
export const toField = (at: number, zone: string): string =>
  DateTime.fromMillis(at, { zone }).toFormat("yyyy-MM-dd'T'HH:mm");
export function fromField(text: string, zone: string): number | null {
  const at = DateTime.fromISO(text, { zone });
  return text !== '' && at.isValid ? wallClockMoment(at) : null;
}
