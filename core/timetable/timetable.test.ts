import fc from 'fast-check';
import ICAL from 'ical.js';
import { DateTime } from 'luxon';
import { describe, expect, it } from 'vitest';
import { budgetFactor, expectedPerHour, lookInterval, usualDelay } from './look-interval.ts';
import { nextOpen, nextTimeOfDay, OFFICE_HOURS, sayHours, type WeeklyHours } from './opening-hours.ts';
import { pacedTime, paceScopes } from './pace.ts';
import { readRecurrence, RecurrenceError } from './recurrence.ts';
import { fullBucket, takeToken } from './token-bucket.ts';

const ZONES = ['Europe/Lisbon', 'America/New_York', 'Australia/Lord_Howe', 'Asia/Kathmandu'];
const at = (text: string, zone: string) => DateTime.fromISO(text, { zone }).toMillis();
const say = (moment: number | null, zone: string) =>
  moment === null ? null : DateTime.fromMillis(moment, { zone }).toFormat('yyyy-MM-dd HH:mm');

describe('opening hours', () => {
  const lisbon = 'Europe/Lisbon';
  it('say now when open, and the next beginning when not', () => {
    expect(nextOpen(OFFICE_HOURS, at('2026-11-23T10:00', lisbon), lisbon)).toBe(at('2026-11-23T10:00', lisbon));
    expect(say(nextOpen(OFFICE_HOURS, at('2026-11-23T07:00', lisbon), lisbon), lisbon)).toBe('2026-11-23 09:00');
    expect(say(nextOpen(OFFICE_HOURS, at('2026-11-27T17:00', lisbon), lisbon), lisbon)).toBe('2026-11-30 09:00');
    expect(
      nextOpen(
        OFFICE_HOURS.map(() => []),
        at('2026-11-27T17:00', lisbon),
        lisbon,
      ),
    ).toBeNull();
  });
  it('have several stretches a day, in whatever order, up to midnight', () => {
    const hours: WeeklyHours = [1, 2, 3, 4, 5, 6, 7].map(() => [
      { from: '20:00', to: '24:00' },
      { from: '08:00', to: '10:00' },
    ]);
    expect(say(nextOpen(hours, at('2026-11-23T10:00', lisbon), lisbon), lisbon)).toBe('2026-11-23 20:00');
    expect(say(nextOpen(hours, at('2026-11-23T23:59', lisbon), lisbon), lisbon)).toBe('2026-11-23 23:59');
    expect(say(nextOpen(hours, at('2026-11-24T00:00', lisbon), lisbon), lisbon)).toBe('2026-11-24 08:00');
  });
  it('are wall-clock time through both changes of clocks', () => {
    const night: WeeklyHours = [1, 2, 3, 4, 5, 6, 7].map(() => [{ from: '01:30', to: '03:30' }]);
    // In Lisbon 01:00 to 02:00 does not exist on 29 March 2026, and comes twice on 25 October.
    expect(say(nextOpen(night, at('2026-03-29T00:30', lisbon), lisbon), lisbon)).toBe('2026-03-29 02:30');
    const first = DateTime.fromISO('2026-10-25T01:30:00+01:00').toMillis();
    expect(nextOpen(night, at('2026-10-25T00:30', lisbon), lisbon)).toBe(first);
    expect(nextOpen(night, first + 3_600_000, lisbon)).toBe(first + 3_600_000);
  });
  it('are never skipped: what comes out is open, not before now, and nothing open lies between', () => {
    const stretch = fc
      .tuple(fc.integer({ min: 0, max: 1438 }), fc.integer({ min: 1, max: 1440 }))
      .filter(([from, length]) => from + length <= 1440)
      .map(([from, length]) => ({ from: clock(from), to: clock(from + length) }));
    const clock = (minutes: number) =>
      `${String(Math.floor(minutes / 60)).padStart(2, '0')}:${String(minutes % 60).padStart(2, '0')}`;
    fc.assert(
      fc.property(
        fc.array(fc.array(stretch, { maxLength: 2 }), { minLength: 7, maxLength: 7 }),
        fc.integer({ min: 0, max: 365 * 24 * 60 }),
        fc.constantFrom(...ZONES),
        (hours, minute, zone) => {
          const now = Date.UTC(2026, 0, 1) + minute * 60_000;
          const isOpen = (moment: number) => {
            const local = DateTime.fromMillis(moment, { zone });
            const time = local.toFormat('HH:mm');
            return hours[local.weekday - 1]!.some(({ from, to }) => time >= from && (to === '24:00' || time < to));
          };
          const next = nextOpen(hours, now, zone);
          if (hours.every((day) => day.length === 0)) return void expect(next).toBeNull();
          if (next === null) return; // A lone stretch inside the hour that is skipped.
          expect(next).toBeGreaterThanOrEqual(now);
          if (next - now > 60_000 * 60 * 3) return;
          // Within a day of no change, what lies between is closed. The hour of a change is checked above by hand.
          const offset = (moment: number) => DateTime.fromMillis(moment, { zone }).offset;
          if (offset(now - 7_200_000) !== offset(next + 7_200_000)) return;
          expect(isOpen(next)).toBe(true);
          for (let moment = now; moment < next; moment += 60_000) expect(isOpen(moment)).toBe(false);
        },
      ),
      { numRuns: 300 },
    );
  });
  it('read well', () => {
    expect(sayHours(OFFICE_HOURS)).toBe('Mon to Fri 09:00–17:00');
    expect(sayHours(OFFICE_HOURS.map(() => []))).toBe('never');
  });
  it('a time of day is today or tomorrow', () => {
    expect(say(nextTimeOfDay('18:00', at('2026-11-23T17:59', lisbon), lisbon), lisbon)).toBe('2026-11-23 18:00');
    expect(say(nextTimeOfDay('18:00', at('2026-11-23T18:00', lisbon), lisbon), lisbon)).toBe('2026-11-24 18:00');
  });
});

describe('pace', () => {
  it('keeps at least the gap and at most the jitter more', () => {
    fc.assert(
      fc.property(
        fc.nat(1000),
        fc.nat(1000),
        fc.nat(100_000),
        fc.nat(100_000),
        fc.double({ min: 0, max: 0.999, noNaN: true }),
        (gap, jitter, last, now, chance) => {
          const time = pacedTime({ gap, jitter }, last, now, chance);
          expect(time).toBeGreaterThanOrEqual(Math.max(now, last + gap * 1000));
          expect(time).toBeLessThanOrEqual(Math.max(now, last + (gap + jitter) * 1000));
        },
      ),
    );
    expect(pacedTime({ gap: 60, jitter: 0 }, null, 5, 0)).toBe(5);
  });
  it('has a scope for every rule that is set', () => {
    const rule = { gap: 1, jitter: 0 };
    expect(paceScopes({ workflow: rule, account: rule, outlet: null }, 3, 9).map(([scope]) => scope)).toEqual([
      'workflow',
      'account 9',
    ]);
    expect(paceScopes({ workflow: null, account: rule, outlet: rule }, null, null)).toEqual([]);
  });
});

describe('token buckets', () => {
  it('never let through more than the capacity and the rate allow, however the clock moves', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 20 }),
        fc.double({ min: 0.1, max: 50, noNaN: true }),
        fc.array(fc.integer({ min: -5000, max: 5000 }), { maxLength: 200 }),
        (capacity, perSecond, moves) => {
          const rule = { capacity, perSecond };
          let now = 1_000_000;
          let bucket = fullBucket(rule, now);
          let forward = 0;
          let taken = 0;
          for (const move of moves) {
            now += move;
            forward += Math.max(0, move);
            const result = takeToken(bucket, rule, now);
            bucket = result.bucket;
            if (result.at === null) taken++;
            else expect(result.at).toBeGreaterThan(now);
            expect(bucket.tokens).toBeGreaterThanOrEqual(0);
            expect(bucket.tokens).toBeLessThanOrEqual(capacity);
          }
          expect(taken).toBeLessThanOrEqual(capacity + (forward / 1000) * perSecond + 1);
        },
      ),
    );
  });
  it('say when there will be one, and it is there then', () => {
    const rule = { capacity: 1, perSecond: 0.5 };
    const first = takeToken(fullBucket(rule, 0), rule, 0);
    expect(first.at).toBeNull();
    const second = takeToken(first.bucket, rule, 0);
    expect(second.at).toBe(2000);
    expect(takeToken(second.bucket, rule, 2000).at).toBeNull();
  });
  it('let nothing through while the network asked for silence', () => {
    const rule = { capacity: 5, perSecond: 1 };
    const blocked = { ...fullBucket(rule, 0), blockedUntil: 9000 };
    expect(takeToken(blocked, rule, 8999).at).toBe(9000);
    expect(takeToken(blocked, rule, 9000).at).toBeNull();
  });
});

describe('recurrence', () => {
  /**
   * Examples of RFC 5545 section 3.8.5.3, from memory; there they begin at 9 in the morning in New York on 2 September
   * 1997, and what they give is written beside them.
   */
  const NEW_YORK = 'America/New_York';
  const examples: [rule: string, start: string, first: string[]][] = [
    [
      'FREQ=DAILY;COUNT=10',
      '1997-09-02T09:00',
      [
        '1997-09-02',
        '1997-09-03',
        '1997-09-04',
        '1997-09-05',
        '1997-09-06',
        '1997-09-07',
        '1997-09-08',
        '1997-09-09',
        '1997-09-10',
        '1997-09-11',
      ],
    ],
    [
      'FREQ=DAILY;INTERVAL=10;COUNT=5',
      '1997-09-02T09:00',
      ['1997-09-02', '1997-09-12', '1997-09-22', '1997-10-02', '1997-10-12'],
    ],
    [
      'FREQ=WEEKLY;COUNT=10',
      '1997-09-02T09:00',
      [
        '1997-09-02',
        '1997-09-09',
        '1997-09-16',
        '1997-09-23',
        '1997-09-30',
        '1997-10-07',
        '1997-10-14',
        '1997-10-21',
        '1997-10-28',
        '1997-11-04',
      ],
    ],
    [
      'FREQ=WEEKLY;COUNT=10;WKST=SU;BYDAY=TU,TH',
      '1997-09-02T09:00',
      [
        '1997-09-02',
        '1997-09-04',
        '1997-09-09',
        '1997-09-11',
        '1997-09-16',
        '1997-09-18',
        '1997-09-23',
        '1997-09-25',
        '1997-09-30',
        '1997-10-02',
      ],
    ],
    [
      'FREQ=WEEKLY;INTERVAL=2;COUNT=8;WKST=SU;BYDAY=TU,TH',
      '1997-09-02T09:00',
      ['1997-09-02', '1997-09-04', '1997-09-16', '1997-09-18', '1997-09-30', '1997-10-02', '1997-10-14', '1997-10-16'],
    ],
    [
      'FREQ=MONTHLY;COUNT=10;BYDAY=1FR',
      '1997-09-05T09:00',
      [
        '1997-09-05',
        '1997-10-03',
        '1997-11-07',
        '1997-12-05',
        '1998-01-02',
        '1998-02-06',
        '1998-03-06',
        '1998-04-03',
        '1998-05-01',
        '1998-06-05',
      ],
    ],
    [
      'FREQ=MONTHLY;COUNT=6;BYDAY=-2MO',
      '1997-09-22T09:00',
      ['1997-09-22', '1997-10-20', '1997-11-17', '1997-12-22', '1998-01-19', '1998-02-16'],
    ],
    [
      'FREQ=MONTHLY;BYMONTHDAY=-3;COUNT=6',
      '1997-09-28T09:00',
      ['1997-09-28', '1997-10-29', '1997-11-28', '1997-12-29', '1998-01-29', '1998-02-26'],
    ],
    [
      'FREQ=MONTHLY;COUNT=10;BYMONTHDAY=2,15',
      '1997-09-02T09:00',
      [
        '1997-09-02',
        '1997-09-15',
        '1997-10-02',
        '1997-10-15',
        '1997-11-02',
        '1997-11-15',
        '1997-12-02',
        '1997-12-15',
        '1998-01-02',
        '1998-01-15',
      ],
    ],
    [
      'FREQ=YEARLY;COUNT=10;BYMONTH=6,7',
      '1997-06-10T09:00',
      [
        '1997-06-10',
        '1997-07-10',
        '1998-06-10',
        '1998-07-10',
        '1999-06-10',
        '1999-07-10',
        '2000-06-10',
        '2000-07-10',
        '2001-06-10',
        '2001-07-10',
      ],
    ],
    [
      'FREQ=MONTHLY;BYDAY=FR;BYMONTHDAY=13;COUNT=5',
      '1997-09-02T09:00',
      ['1998-02-13', '1998-03-13', '1998-11-13', '1999-08-13', '2000-10-13'],
    ],
    ['FREQ=MONTHLY;COUNT=3;BYDAY=TU,WE,TH;BYSETPOS=3', '1997-09-04T09:00', ['1997-09-04', '1997-10-07', '1997-11-06']],
    [
      'FREQ=WEEKLY;INTERVAL=2;COUNT=4;BYDAY=TU,SU;WKST=MO',
      '1997-08-05T09:00',
      ['1997-08-05', '1997-08-10', '1997-08-19', '1997-08-24'],
    ],
    [
      'FREQ=WEEKLY;INTERVAL=2;COUNT=4;BYDAY=TU,SU;WKST=SU',
      '1997-08-05T09:00',
      ['1997-08-05', '1997-08-17', '1997-08-19', '1997-08-31'],
    ],
    [
      'FREQ=MONTHLY;BYMONTHDAY=15,30;COUNT=5',
      '2007-01-15T09:00',
      ['2007-01-15', '2007-01-30', '2007-02-15', '2007-03-15', '2007-03-30'],
    ],
  ];
  it.each(examples)('%s', (rule, start, days) => {
    const recurrence = readRecurrence(rule, start, NEW_YORK);
    const found = recurrence.between(0, Date.UTC(2030, 0, 1), days.length + 1);
    expect(found.map((moment) => say(moment, NEW_YORK))).toEqual(days.map((day) => `${day} 09:00`));
  });
  it('until a moment in UTC counts as the wall-clock time it is there', () => {
    // 25 December 09:00 in New York is 14:00 UTC.
    const recurrence = readRecurrence('FREQ=DAILY;UNTIL=19971225T140000Z', '1997-12-23T09:00', NEW_YORK);
    expect(recurrence.between(0, Date.UTC(2030, 0, 1), 10)).toHaveLength(3);
  });
  it('leaves out exceptions and adds dates', () => {
    const recurrence = readRecurrence(
      'RRULE:FREQ=DAILY;COUNT=3\nEXDATE:20260302T090000\nRDATE:20260310T090000',
      '2026-03-01T09:00',
      NEW_YORK,
    );
    expect(recurrence.between(0, Date.UTC(2030, 0, 1), 10).map((moment) => say(moment, NEW_YORK))).toEqual([
      '2026-03-01 09:00',
      '2026-03-03 09:00',
      '2026-03-10 09:00',
    ]);
  });

  /** Beside a reference library, ical.js, which walks wall-clock times by itself. */
  const rules = fc.oneof(
    fc
      .tuple(fc.constantFrom('DAILY', 'WEEKLY'), fc.integer({ min: 1, max: 4 }))
      .map(([freq, interval]) => `FREQ=${freq};INTERVAL=${interval}`),
    fc
      .subarray(['MO', 'TU', 'WE', 'TH', 'FR', 'SA', 'SU'], { minLength: 1 })
      .map((days) => `FREQ=WEEKLY;BYDAY=${days.join(',')}`),
    fc.integer({ min: 1, max: 28 }).map((day) => `FREQ=MONTHLY;BYMONTHDAY=${day}`),
    fc
      .tuple(fc.constantFrom(1, 2, 3, -1), fc.constantFrom('MO', 'WE', 'SU'))
      .map(([nth, day]) => `FREQ=MONTHLY;BYDAY=${nth}${day}`),
  );
  it('agrees with a reference library over whole years, through both changes of clocks', () => {
    fc.assert(
      fc.property(
        rules,
        fc.constantFrom(...ZONES),
        fc.integer({ min: 0, max: 23 }),
        fc.constantFrom(0, 15, 30),
        (rule, zone, hour, minute) => {
          const time = `${String(hour).padStart(2, '0')}:${String(minute).padStart(2, '0')}`;
          const ours = readRecurrence(rule, `2026-01-05T${time}`, zone).between(0, at('2027-01-01T00:00', zone), 400);
          const iterator = ICAL.Recur.fromString(rule).iterator(
            ICAL.Time.fromString(`2026-01-05T${time}:00`, null as never),
          );
          const theirs: string[] = [];
          for (let next = iterator.next(); next && next.year < 2027; next = iterator.next())
            theirs.push(
              `${String(next.year)}-${String(next.month).padStart(2, '0')}-${String(next.day).padStart(2, '0')}`,
            );
          expect(ours.map((moment) => DateTime.fromMillis(moment, { zone }).toISODate())).toEqual(theirs);
          // Every occurrence at its wall-clock time, but for those in the hour that is skipped.
          for (const moment of ours) {
            const local = DateTime.fromMillis(moment, { zone });
            const wanted = DateTime.fromObject(
              { year: local.year, month: local.month, day: local.day, hour, minute },
              { zone },
            );
            expect(local.toFormat('HH:mm')).toBe(wanted.toFormat('HH:mm'));
          }
          for (let n = 1; n < ours.length; n++) expect(ours[n]!).toBeGreaterThan(ours[n - 1]!);
        },
      ),
      { numRuns: 120 },
    );
  });
  it.each([
    ['Europe/Lisbon', '2026-03-29T01:30', '2026-03-29 02:30'],
    ['America/New_York', '2026-03-08T02:30', '2026-03-08 03:30'],
    ['Australia/Lord_Howe', '2026-10-04T02:15', '2026-10-04 02:45'],
  ])('in %s a time that is skipped happens after the gap', (zone, start, wanted) => {
    expect(say(readRecurrence('FREQ=DAILY;COUNT=1', start, zone).after(0), zone)).toBe(wanted);
  });
  it.each([
    ['Europe/Lisbon', '2026-10-25T01:30', '+01:00'],
    ['America/New_York', '2026-11-01T01:30', '-04:00'],
    ['Australia/Lord_Howe', '2026-04-05T01:45', '+11:00'],
  ])('in %s a time that comes twice happens at the first, once', (zone, start, offset) => {
    const recurrence = readRecurrence('FREQ=DAILY;COUNT=2', start, zone);
    const first = recurrence.after(0)!;
    expect(first).toBe(DateTime.fromISO(`${start}:00${offset}`).toMillis());
    expect(recurrence.after(first)! - first).toBeGreaterThan(20 * 3_600_000);
  });
  it('refuses what is no rule, in a sentence', () => {
    for (const [rule, start, zone] of [
      ['every monday', '2026-01-01T09:00', 'UTC'],
      ['FREQ=SECONDLY', '2026-01-01T09:00', 'UTC'],
      ['FREQ=DAILY', 'soon', 'UTC'],
      ['FREQ=DAILY', '2026-01-01T09:00', 'Atlantis/Lost'],
      ['DTSTART:20260101T090000\nRRULE:FREQ=DAILY', '2026-01-01T09:00', 'UTC'],
    ] as const)
      expect(() => readRecurrence(rule, start, zone), rule).toThrow(RecurrenceError);
  });
});

describe('how often a source is looked at', () => {
  const HOUR = 3_600_000;
  const now = Date.UTC(2026, 10, 23, 18);
  const weekly = Array.from({ length: 6 }, (_, n) => now - n * 7 * 24 * HOUR - 10 * 60_000);
  it('more often in the hours in which it usually speaks', () => {
    const bounds = { shortest: 60_000, longest: 4 * HOUR };
    expect(lookInterval(weekly, now, bounds)).toBeLessThan(lookInterval(weekly, now + 12 * HOUR, bounds) / 3);
    expect(lookInterval([], now, bounds)).toBe(2 * HOUR);
  });
  it('always within the bounds', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 0, max: 6 * 7 * 24 * HOUR })),
        fc.integer({ min: 1, max: HOUR }),
        (ago, shortest) => {
          const bounds = { shortest, longest: shortest * 8 };
          const interval = lookInterval(
            ago.map((each) => now - each),
            now,
            bounds,
          );
          expect(interval).toBeGreaterThanOrEqual(bounds.shortest);
          expect(interval).toBeLessThanOrEqual(bounds.longest);
        },
      ),
    );
  });
  it('keeps a tenth of the average at hours in which the source has never spoken', () => {
    // Once a week, at this very hour, for six weeks.
    const weekly = Array.from({ length: 6 }, (_, n) => now - (n + 1) * 7 * 24 * HOUR);
    const average = weekly.length / (6 * 7 * 24);
    expect(expectedPerHour(weekly, now + 84 * HOUR) / average).toBeCloseTo(0.1, 1);
    expect(expectedPerHour(weekly, now) / average).toBeGreaterThan(20);
  });
  it('expects about as much as there was', () => {
    const many = Array.from({ length: 6 * 7 * 24 }, (_, n) => now - n * HOUR);
    expect(expectedPerHour(many, now)).toBeCloseTo(1, 0);
  });
  it('within a budget that sources share', () => {
    expect(budgetFactor([60_000, 60_000], 1200)).toBe(1);
    expect(
      budgetFactor(
        Array.from({ length: 40 }, () => 60_000),
        1200,
      ),
    ).toBe(2);
  });
  it('says how late items are usually seen, once there are enough', () => {
    const seen = [4, 6, 90].map((minutes) => ({ publishedAt: 0, seenAt: minutes * 60_000 }));
    expect(usualDelay(seen)).toBe(6 * 60_000);
    expect(usualDelay(seen.slice(0, 2))).toBeNull();
    expect(usualDelay([...seen.slice(0, 2), { publishedAt: null, seenAt: 1 }])).toBeNull();
  });
});
