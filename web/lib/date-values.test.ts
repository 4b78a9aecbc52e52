import { getWeeksInMonth, startOfWeek } from '@internationalized/date';
import { DateTime, Info } from 'luxon';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { clockNote, dateLocale, dateOf, textOfDate, textOfTime, timeOf, today } from './date-values.ts';

describe('a text of a date field', () => {
  it('is read and written back as it was, every minute of every year', () => {
    fc.assert(
      fc.property(
        fc.date({ min: new Date('1970-01-01Z'), max: new Date('2999-12-31Z'), noInvalidDate: true }),
        (date) => {
          const text = date.toISOString().slice(0, 16);
          expect(textOfDate(dateOf(text, 'minute'), 'minute')).toBe(text);
          expect(textOfDate(dateOf(text, 'day'), 'day')).toBe(text.slice(0, 10));
          expect(textOfTime(timeOf(text.slice(11)))).toBe(text.slice(11));
        },
      ),
    );
  });
  it('that is none gives none', () => {
    for (const text of ['', 'soon', '2026-02-30', '2026-13-01T10:00', '10:00'])
      expect([dateOf(text, 'day'), dateOf(text, 'minute')]).toEqual([undefined, undefined]);
    for (const text of ['', '25:00', 'noon']) expect(timeOf(text)).toBeUndefined();
    expect([textOfDate(null, 'day'), textOfTime(undefined)]).toEqual(['', '']);
    expect(textOfTime(timeOf('24:00'))).toBe('00:00');
  });
});

describe('a calendar', () => {
  it('opens at today in the brand’s time zone', () => {
    const now = Date.parse('2026-11-28T23:30Z');
    expect(today('Europe/Lisbon', 'day', now).toString()).toBe('2026-11-28');
    expect(today('Asia/Tokyo', 'minute', now).toString()).toBe('2026-11-29T09:00:00');
  });
  it('has the days of its language: English of no country as elsewhere in Playa', () => {
    expect([undefined, 'en', 'en-US', 'pt'].map(dateLocale)).toEqual(['en-GB', 'en-GB', 'en-US', 'pt']);
    // A reference library (luxon) on when weeks begin, by CLDR.
    for (const locale of ['en-GB', 'en-US', 'pt-PT', 'de']) {
      const first = Number(startOfWeek(dateOf('2026-11-28', 'day')!, locale).day);
      const monday = Info.getStartOfWeek({ locale }) === 1;
      expect(first).toBe(monday ? 23 : 22);
    }
    expect(getWeeksInMonth(dateOf('2026-11-01', 'day')!, 'en-GB')).toBe(6);
  });
});

describe('what is said where clocks are changed', () => {
  it.each([
    // IANA tz database: Lisbon and New York in 2026.
    ['2026-03-29T01:30', 'Europe/Lisbon', 'Clocks go forward then: 01:30 is skipped, and 02:30 is meant.'],
    ['2026-10-25T01:30', 'Europe/Lisbon', 'Clocks go back then: 01:30 comes twice, and the first is meant.'],
    ['2026-11-01T01:15', 'America/New_York', 'Clocks go back then: 01:15 comes twice, and the first is meant.'],
    ['2026-10-25T02:00', 'Europe/Lisbon', ''],
    ['2026-10-25T01:30', 'Asia/Tokyo', ''],
    ['', 'Europe/Lisbon', ''],
  ])('%s in %s', (text, zone, says) => expect(clockNote(text, zone)).toBe(says));
  it('is said of every time that a zone skips or repeats, and of no other', () => {
    const day = DateTime.fromISO('2026-10-25', { zone: 'Europe/Lisbon' });
    const said = Array.from({ length: 24 * 4 }, (_, n) => {
      const time = `2026-10-25T${String(Math.floor(n / 4)).padStart(2, '0')}:${String((n % 4) * 15).padStart(2, '0')}`;
      return clockNote(time, 'Europe/Lisbon') === '' ? [] : [time.slice(11)];
    }).flat();
    expect(day.plus({ days: 1 }).diff(day, 'hours').hours).toBe(25);
    expect(said).toEqual(['01:00', '01:15', '01:30', '01:45']);
  });
});
