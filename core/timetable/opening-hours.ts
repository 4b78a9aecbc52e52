import { DateTime } from 'luxon';
import { z } from 'zod';

/** One stretch of a day, in the brand's wall-clock time. `to` is after `from`; "24:00" ends the day. */
const stretchSchema = z
  .object({
    from: z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/),
    to: z.string().regex(/^(([01]\d|2[0-3]):[0-5]\d|24:00)$/),
  })
  .refine(({ from, to }) => from < to, 'A stretch ends after it begins.');
export type Stretch = z.infer<typeof stretchSchema>;

/** Opening hours by weekday, Monday first (ISO 8601); each day has any number of stretches, none when closed. */
export const weeklyHoursSchema = z.array(z.array(stretchSchema).max(8)).length(7);
export type WeeklyHours = z.infer<typeof weeklyHoursSchema>;

/** Nine to five on working days: where a new set of opening hours begins. */
export const OFFICE_HOURS: WeeklyHours = [1, 2, 3, 4, 5, 6, 7].map((day) =>
  day <= 5 ? [{ from: '09:00', to: '17:00' }] : [],
);

/**
 * The first moment from `now` on that lies within the opening hours: `now` itself when they are open.
 *
 * Hours are wall-clock time: on the day clocks go forward, a start within the missing hour moves on by an hour; on the
 * day they go back, the first of the two hours counts as the start and both as open.
 *
 * @param now milliseconds since 1970 UTC
 * @param zone an IANA time zone
 * @returns null when no day has any hours
 */
export function nextOpen(hours: WeeklyHours, now: number, zone: string): number | null {
  const today = DateTime.fromMillis(now, { zone }).startOf('day');
  // A week on, because today's own stretches may all be over.
  for (let ahead = 0; ahead <= 7; ahead++) {
    const day = today.plus({ days: ahead });
    const stretches = [...hours[day.weekday - 1]!].sort((a, b) => (a.from < b.from ? -1 : 1));
    for (const { from, to } of stretches) {
      if (now >= momentOn(day, to)) continue;
      return Math.max(now, momentOn(day, from));
    }
  }
  return null;
}

/** A wall-clock time on a given day, in milliseconds since 1970 UTC. */
export function momentOn(day: DateTime, time: string): number {
  if (time === '24:00') return day.plus({ days: 1 }).startOf('day').toMillis();
  const [hour, minute] = time.split(':').map(Number);
  return day.set({ hour: hour!, minute: minute!, second: 0, millisecond: 0 }).toMillis();
}

/** The next time of day from `now` on, today or tomorrow. */
export function nextTimeOfDay(time: string, now: number, zone: string): number {
  const today = DateTime.fromMillis(now, { zone }).startOf('day');
  const moment = momentOn(today, time);
  return moment > now ? moment : momentOn(today.plus({ days: 1 }), time);
}

const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];

/** "Mon to Fri 09:00–17:00, Sat 10:00–12:00". */
export function sayHours(hours: WeeklyHours): string {
  const said: { from: number; to: number; text: string }[] = [];
  hours.forEach((stretches, day) => {
    const text = stretches.map(({ from, to }) => `${from}–${to}`).join(' and ');
    const last = said.at(-1);
    if (last && last.text === text && last.to === day - 1) last.to = day;
    else said.push({ from: day, to: day, text });
  });
  return (
    said
      .filter(({ text }) => text)
      .map(({ from, to, text }) => `${from === to ? DAYS[from] : `${DAYS[from]} to ${DAYS[to]}`} ${text}`)
      .join(', ') || 'never'
  );
}
