// Days, times of day and moments as fields of forms have them: plain text as in ISO 8601, by the clock of the brand.
import { CalendarDate, CalendarDateTime, parseDate, parseDateTime, parseTime, Time } from '@internationalized/date';
import { DateTime } from 'luxon';

/** What a field of a date chooses: a day, or a day with a time. */
export type Granularity = 'day' | 'minute';

/**
 * A text as the value of a date field; undefined when it is none.
 *
 * @example dateOf('2026-11-28', 'day'); dateOf('2026-11-28T18:30', 'minute')
 */
export function dateOf(text: string, granularity: Granularity): CalendarDate | CalendarDateTime | undefined {
  try {
    return granularity === 'day' ? parseDate(text.slice(0, 10)) : parseDateTime(text);
  } catch {
    return undefined;
  }
}

/** The value of a date field as a text, "2026-11-28" or "2026-11-28T18:30"; empty for none. */
export function textOfDate(value: { toString(): string } | null | undefined, granularity: Granularity): string {
  return value ? value.toString().slice(0, granularity === 'day' ? 10 : 16) : '';
}

/** A text such as "18:30" as a time of day; undefined when it is none. */
export function timeOf(text: string): Time | undefined {
  try {
    // A day's end is written so, and is the next day's first moment.
    return parseTime(text === '24:00' ? '00:00' : text);
  } catch {
    return undefined;
  }
}
export const textOfTime = (value: { toString(): string } | null | undefined): string =>
  value ? value.toString().slice(0, 5) : '';

/** Where a calendar opens that has no day yet: today in that time zone; its time is a morning's. */
export function today(zone: string, granularity: Granularity, now = Date.now()): CalendarDate | CalendarDateTime {
  const { year, month, day } = DateTime.fromMillis(now, { zone });
  return granularity === 'day' ? new CalendarDate(year, month, day) : new CalendarDateTime(year, month, day, 9);
}

/**
 * The language in which dates are written for a brand. English of no country is written with the day first, as everywhere
 * in Playa: by itself it would be taken for that of the United States.
 */
export const dateLocale = (locale: string | undefined): string => (!locale || locale === 'en' ? 'en-GB' : locale);

/** What is to be known of a moment where clocks are changed: it does not exist, or comes twice. Empty for all others. */
export function clockNote(text: string, zone: string): string {
  const at = DateTime.fromISO(text, { zone });
  if (!at.isValid) return '';
  const real = at.toFormat("yyyy-MM-dd'T'HH:mm");
  if (real !== text.slice(0, 16))
    return `Clocks go forward then: ${text.slice(11, 16)} is skipped, and ${real.slice(11)} is meant.`;
  return at.getPossibleOffsets().length > 1
    ? `Clocks go back then: ${real.slice(11)} comes twice, and the first is meant.`
    : '';
}
