import { DateTime } from 'luxon';
import { localMoment } from './local-moment.ts';

/** How a date is said; the names and values of MessageFormat 2's draft functions `:date` and `:time` (LDML 48). */
export interface DateManner {
  /** Which parts, joined by hyphens: "day-weekday", "month-day", "year-month-day-weekday". */
  fields?: string | undefined;
  /** "long" with names of months, "medium" with short ones, "short" in digits. */
  length?: string | undefined;
}

const FIELDS = ['weekday', 'day-weekday', 'month-day', 'month-day-weekday', 'year-month-day', 'year-month-day-weekday'];

/**
 * The day of a moment in a time zone and language (CLDR). What is no date stays as it is.
 *
 * @param zone an IANA name
 */
export function sayDate(input: string, locale: string, zone: string, { fields, length }: DateManner = {}): string {
  const moment = localMoment(input, { zone, locale });
  if (moment === null) return input;
  const parts = fields !== undefined && FIELDS.includes(fields) ? fields : 'year-month-day';
  const month = length === 'long' ? 'long' : length === 'short' ? 'numeric' : 'short';
  return new Intl.DateTimeFormat(locale, {
    timeZone: zone,
    ...(parts.includes('year') ? { year: 'numeric' } : {}),
    ...(parts.includes('month') ? { month } : {}),
    ...(/(?:^|-)day/.test(parts) ? { day: 'numeric' } : {}),
    ...(parts.includes('weekday') ? { weekday: length === 'long' ? 'long' : 'short' } : {}),
  }).format(moment);
}

/** The time of day of a moment in a time zone and language, to the minute. What is no date stays as it is. */
export function sayTime(input: string, locale: string, zone: string): string {
  const moment = localMoment(input, { zone, locale });
  if (moment === null) return input;
  return new Intl.DateTimeFormat(locale, { timeZone: zone, hour: 'numeric', minute: 'numeric' }).format(moment);
}

/** "today", "tomorrow", "in 3 days", "2 weeks ago": by the calendar of the time zone, as the language says it. */
export function sayRelativeDate(input: string, locale: string, zone: string, now: number | undefined): string {
  const moment = localMoment(input, { zone, locale });
  if (moment === null) return input;
  if (now === undefined) return sayDate(input, locale, zone);
  const day = (at: number) => DateTime.fromMillis(at, { zone }).startOf('day');
  const days = Math.round(day(moment).diff(day(now), 'days').days);
  const say = new Intl.RelativeTimeFormat(locale, { numeric: 'auto' });
  if (Math.abs(days) < 14) return say.format(days, 'day');
  return Math.abs(days) < 60 ? say.format(Math.trunc(days / 7), 'week') : say.format(Math.trunc(days / 30), 'month');
}

/** "6 minutes and 10 seconds": a length in words of the language (CLDR units). What is no number stays as it is. */
export function sayLength(input: string, locale: string): string {
  const seconds = Math.round(Number(input));
  if (input.trim() === '' || !Number.isFinite(seconds) || seconds < 0) return input;
  const parts = (
    [
      [Math.floor(seconds / 3600), 'hour'],
      [Math.floor((seconds % 3600) / 60), 'minute'],
      [seconds % 60, 'second'],
    ] as const
  ).filter(([amount]) => amount > 0);
  const said = (parts.length > 0 ? parts : ([[0, 'second']] as const)).map(([amount, unit]) =>
    new Intl.NumberFormat(locale, { style: 'unit', unit, unitDisplay: 'long' }).format(amount),
  );
  return new Intl.ListFormat(locale, { type: 'unit' }).format(said);
}
