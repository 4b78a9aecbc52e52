import { DateTime } from 'luxon';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { localMoment } from './local-moment.ts';

const lisbon = { zone: 'Europe/Lisbon', locale: 'pt' };
const said = (text: string, written = lisbon) => {
  const moment = localMoment(text, written);
  return moment === null
    ? null
    : DateTime.fromMillis(moment, { zone: written.zone }).toISO({ suppressMilliseconds: true });
};

describe('a date in a row', () => {
  it.each([
    ['25.11.2026 23:30', '2026-11-25T23:30:00Z'],
    ['25/11/2026 23h30', '2026-11-25T23:30:00Z'],
    ['25-11-2026', '2026-11-25T00:00:00Z'],
    ['25 de novembro de 2026 às 9:05', '2026-11-25T09:05:00Z'],
    ['quarta-feira, 25 de novembro de 2026', '2026-11-25T00:00:00Z'],
    ['25 nov 2026, 11:30 pm', '2026-11-25T23:30:00Z'],
    ['November 25th, 2026 12 am', '2026-11-25T00:00:00Z'],
    ['2026-11-25 23:30', '2026-11-25T23:30:00Z'],
    ['2026-11-25T23:30:10', '2026-11-25T23:30:10Z'],
    ['2026/11/25', '2026-11-25T00:00:00Z'],
    // RFC 3339 section 5.8.
    ['1996-12-19T16:39:57-08:00', '1996-12-20T00:39:57Z'],
    // RFC 2822 appendix A.1.1.
    ['Fri, 21 Nov 1997 09:55:06 -0600', '1997-11-21T15:55:06Z'],
  ])('%s', (text, iso) => {
    expect(localMoment(text, lisbon)).toBe(Date.parse(iso));
  });

  it('without a zone is one of the brand’s, in summer too', () => {
    expect(said('1.7.2026 9:00')).toBe('2026-07-01T09:00:00+01:00');
    expect(said('1.7.2026 9:00', { zone: 'America/New_York', locale: 'en-US' })).toBe('2026-07-01T09:00:00-04:00');
  });

  it('of an hour that comes twice is the first, and one that is skipped is as far behind the change (RFC 5545 section 3.3.5)', () => {
    // In Lisbon clocks go back at 02:00 on 25 October 2026 (01:00Z), and forward at 01:00 on 29 March (IANA tz database).
    for (const [zone, back, moment] of [
      ['Europe/Lisbon', '2026-10-25T01:30', '2026-10-25T00:30Z'],
      ['America/New_York', '2026-11-01 01:30', '2026-11-01T05:30Z'],
      ['Australia/Lord_Howe', '5 Apr 2026 01:45', '2026-04-04T14:45Z'],
    ] as const)
      expect(localMoment(back, { zone, locale: 'en-GB' })).toBe(Date.parse(moment));
    expect(localMoment('2026-03-29T01:30', { zone: 'Europe/Lisbon', locale: 'en' })).toBe(
      Date.parse('2026-03-29T01:30Z'),
    );
    // Who says the offset means it.
    expect(localMoment('2026-10-25T01:30+00:00', { zone: 'Europe/Lisbon', locale: 'en' })).toBe(
      Date.parse('2026-10-25T01:30Z'),
    );
    expect(localMoment('2026-10-25T01:30+00', { zone: 'Europe/Lisbon', locale: 'en' })).toBe(
      Date.parse('2026-10-25T01:30Z'),
    );
  });
  it('of digits with strokes is read as the language writes it, and not where that is not known', () => {
    expect(said('03/04/2026', { zone: 'Europe/London', locale: 'en-GB' })).toMatch(/^2026-04-03/);
    expect(said('03/04/2026', { zone: 'America/New_York', locale: 'en-US' })).toMatch(/^2026-03-04/);
    expect(said('03/04/2026', { zone: 'Europe/Lisbon', locale: 'en' })).toBe(null);
    expect(said('25/04/2026', { zone: 'Europe/Lisbon', locale: 'en' })).toMatch(/^2026-04-25/);
  });

  it.each([
    '',
    'soon',
    'tomorrow',
    '25.11.',
    '31.2.2026',
    '25.11.2026 25:00',
    '25.11.2026 13:00 pm',
    'ready',
    '12',
    '10:30',
    '1.2.3',
    'next Tuesday 5 pm',
    '25 Smarch 2026',
    '99.99.2026',
  ])('“%s” is none', (text) => {
    expect(localMoment(text, lisbon)).toBe(null);
  });

  it('is read back as each language writes it (CLDR, by Intl)', () => {
    const locales = ['en-GB', 'en-US', 'pt', 'de', 'fr', 'es', 'it', 'nl', 'sv', 'da', 'pl'];
    const moments = fc.integer({ min: Date.UTC(2000, 0, 1), max: Date.UTC(2099, 11, 31) });
    fc.assert(
      fc.property(
        moments,
        fc.constantFrom(...locales),
        fc.constantFrom('long' as const, 'short' as const),
        (at, locale, month) => {
          const zone = 'Europe/Lisbon';
          const day = DateTime.fromMillis(at, { zone }).startOf('day');
          const options = { timeZone: zone, day: 'numeric', year: 'numeric' } as const;
          const named = new Intl.DateTimeFormat(locale, { ...options, month }).format(at);
          expect([locale, named, localMoment(named, { zone, locale })]).toEqual([locale, named, day.toMillis()]);
          const digits = new Intl.DateTimeFormat(locale, { ...options, month: 'numeric' }).format(at);
          expect([locale, digits, localMoment(digits, { zone, locale })]).toEqual([locale, digits, day.toMillis()]);
        },
      ),
      { numRuns: 500 },
    );
  });
});
