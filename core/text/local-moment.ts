// Dates as people write them into a row: "25.11.2026 23:30", "Nov 25, 2026 11:30 pm", "25 de novembro de 2026". What two
// people could read differently is not read.
import { DateTime } from 'luxon';
import { remembering } from './memo.ts';
import { wallClockMoment } from './wall-clock.ts';

/** Where and in which language a date was written. */
export interface Written {
  /** IANA name of the time zone of whoever wrote it. */
  zone: string;
  /** BCP 47 tag of their language. */
  locale: string;
}

const UTC: Written = { zone: 'utc', locale: 'en' };

/**
 * The moment that a text means, in milliseconds since 1970 UTC. A time without a zone is one of the zone it was written
 * in; a day without a time is its beginning there.
 *
 * @returns null when it cannot be read, or can be read in two ways
 * @example localMoment('25.11.2026 23:30', { zone: 'Europe/Lisbon', locale: 'pt' }) // 2026-11-25T23:30Z
 */
export function localMoment(input: string, written: Written = UTC): number | null {
  const text = input.trim().replace(/\s+/g, ' ');
  if (text === '' || text.length > 80) return null;
  if (/^-?\d{11,}$/.test(text)) return within(Number(text));
  // Most are stored by programs, with their zone.
  if (STORED.test(text)) return within(Date.parse(text));
  return readerOf(written)(text);
}

/** RFC 3339 section 5.6, with a zone. */
const STORED = /^\d{4}-\d\d-\d\d[T ]\d\d:\d\d(:\d\d(\.\d+)?)?(Z|[+-]\d\d:\d\d)$/;

/** Whether a text says how far its clock is from UTC, by a number or a zone's name. */
const OFFSET = /[T ]\d\d[\d:.,]*(?:Z|[+-]\d\d(?::?\d\d)?)$|[A-Z]{1,4}$/i;

const readers = new Map<string, (text: string) => number | null>();
function readerOf(written: Written): (text: string) => number | null {
  const key = `${written.zone}\n${written.locale}`;
  let reader = readers.get(key);
  if (!reader) readers.set(key, (reader = remembering(2000, (text) => read(text, written))));
  return reader;
}

function within(moment: number): number | null {
  // Beyond this there are no dates (ECMA-262, 21.4.1.1).
  return Number.isNaN(moment) || Math.abs(moment) > 8.64e15 ? null : moment;
}

function read(text: string, { zone, locale }: Written): number | null {
  for (const found of [
    /^\d{4}-\d\d/.test(text) ? DateTime.fromISO(text.replace(/^(\S+) (?=\d)/, '$1T'), { zone }) : null,
    DateTime.fromRFC2822(text, { zone }),
    DateTime.fromHTTP(text, { zone }),
  ])
    if (found?.isValid) return OFFSET.test(text) ? found.toMillis() : wallClockMoment(found);
  const { rest, hour, minute, second } = takeTime(text);
  if (hour === null) return null;
  const day = numericDay(rest, locale) ?? namedDay(rest, locale);
  if (!day) return null;
  const moment = DateTime.fromObject({ ...day, hour, minute, second }, { zone });
  return moment.isValid ? wallClockMoment(moment) : null;
}

interface Time {
  /** The text without the time. */
  rest: string;
  /** Null when there is a time that no clock shows. */
  hour: number | null;
  minute: number;
  second: number;
}

/** "23:30", "23h30", "11:30 pm", "11 p.m.", "23.30 Uhr"; midnight when there is none. */
const CLOCK =
  /(?:^|[\s,T])(?:(?:at|um|às|à|a las|ore|kl\.?)\s+)?(\d{1,2})(?:\s?[:h]\s?(\d{2})(?::(\d{2}))?\s?(?:([ap])\.?\s?m\.?|uhr|h)?|\s?()()([ap])\.?\s?m\.?|(?:\.(\d{2}))?\s?(?:uhr|h))(?=$|[\s,])/i;

function takeTime(text: string): Time {
  const found = CLOCK.exec(text);
  if (!found) return { rest: text, hour: 0, minute: 0, second: 0 };
  const half = (found[4] ?? found[7] ?? '').toLowerCase();
  const said = Number(found[1]);
  const minute = Number(found[2] ?? found[8] ?? 0);
  const second = Number(found[3] ?? 0);
  const onClock = half === '' ? said <= 23 : said >= 1 && said <= 12;
  const hour = half === '' ? said : (said % 12) + (half === 'p' ? 12 : 0);
  const rest = `${text.slice(0, found.index)} ${text.slice(found.index + found[0].length)}`.replace(
    /^[\s,]+|[\s,]+$/g,
    '',
  );
  return { rest, hour: onClock && minute < 60 && second < 60 ? hour : null, minute, second };
}

interface Day {
  year: number;
  month: number;
  day: number;
}

/** "25.11.2026", "25/11/26", "11/25/2026", "2026/11/25". */
function numericDay(text: string, locale: string): Day | null {
  const found = /^(?:\p{L}{2,}\.?,?\s+)?(\d{1,4})(\s?[./-]\s?)(\d{1,2})\2(\d{2,4})$/u.exec(text.trim());
  if (!found) return null;
  const [, first = '', between = '', second = '', third = ''] = found;
  if (first.length === 4) return { year: Number(first), month: Number(second), day: Number(third) };
  if (third.length === 3) return null;
  const year = third.length === 2 ? 2000 + Number(third) : Number(third);
  const [one, two] = [Number(first), Number(second)];
  // With dots between them the day comes first, wherever that is written.
  const order = between.includes('.') ? 'day' : orderIn(locale);
  if (one > 12) return { year, month: two, day: one };
  if (two > 12) return { year, month: one, day: two };
  if (order === 'day' || one === two) return { year, month: two, day: one };
  return order === 'month' ? { year, month: one, day: two } : null;
}

/** Whether the day or the month comes first in dates of digits; null where it depends on the country, which is not said. */
function orderIn(locale: string): 'day' | 'month' | null {
  if (/^en(-Latn)?$/i.test(locale)) return null;
  const parts = new Intl.DateTimeFormat(locale).formatToParts(0).map((part) => part.type);
  return parts.indexOf('day') < parts.indexOf('month') ? 'day' : 'month';
}

/** "25 Nov 2026", "Wednesday, November 25, 2026", "25. November 2026", "25 de novembro de 2026". */
function namedDay(text: string, locale: string): Day | null {
  const words = text
    .toLowerCase()
    .replace(/(\d)(st|nd|rd|th|º|ª|er)\b/g, '$1')
    .split(/[\s,.]+|\b(?:de|of|del)\b/)
    .filter(Boolean);
  let month: number | null = null;
  const numbers: string[] = [];
  for (const word of words) {
    if (/^\d+$/.test(word)) numbers.push(word);
    else if (month === null) month = monthOf(word, locale);
    else if (!isWeekday(word, locale)) return null;
    if (!/^\d+$/.test(word) && month === null && !isWeekday(word, locale)) return null;
  }
  const years = numbers.filter((number) => number.length === 4);
  const days = numbers.filter((number) => number.length <= 2);
  if (month === null || years.length !== 1 || days.length !== 1 || numbers.length !== 2) return null;
  return { year: Number(years[0]), month, day: Number(days[0]) };
}

const names = new Map<string, { months: string[][]; weekdays: string[] }>();
/** Names of months and weekdays in a language and in English, long and short, without dots. */
function namesIn(locale: string): { months: string[][]; weekdays: string[] } {
  let known = names.get(locale);
  if (!known) {
    const forms = (options: Intl.DateTimeFormatOptions, moment: number) =>
      [locale, 'en'].flatMap((each) =>
        new Intl.DateTimeFormat(each, { timeZone: 'UTC', ...options })
          .formatToParts(moment)
          .flatMap(({ type, value }) =>
            type === 'month' || type === 'weekday' ? [value.toLowerCase().replace(/\./g, '')] : [],
          ),
      );
    const all = (what: 'month' | 'weekday', moment: number) =>
      (['long', 'short'] as const).flatMap((length) => [
        ...forms({ [what]: length }, moment),
        // In a whole date some languages bend the name.
        ...forms({ [what]: length, day: 'numeric' }, moment),
      ]);
    known = {
      months: Array.from({ length: 12 }, (_, index) => all('month', Date.UTC(2026, index, 15))),
      weekdays: Array.from({ length: 7 }, (_, index) => all('weekday', Date.UTC(2026, 0, 4 + index))).flat(),
    };
    names.set(locale, known);
  }
  return known;
}

function monthOf(word: string, locale: string): number | null {
  const index = namesIn(locale).months.findIndex((forms) => forms.includes(word));
  return index < 0 ? null : index + 1;
}
const isWeekday = (word: string, locale: string) => namesIn(locale).weekdays.includes(word);
