// When something may go: times of a timetable, free times, what keeps posts apart.
import { Temporal } from '@js-temporal/polyfill';
import fc from 'fast-check';
import { DateTime } from 'luxon';
import { describe, expect, it } from 'vitest';
import { earliest, Places, type Circumstances, type Taken } from './earliest.ts';
import { OFFICE_HOURS } from './opening-hours.ts';
import { reflow } from './reflow.ts';
import { NO_TIMETABLE, timesBetween, timetableSchema, type Timetable } from './timetable.ts';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
/** Both hemispheres, half an hour of daylight saving, changes at midnight, no daylight saving at all. */
const ZONES = [
  'Europe/Lisbon',
  'America/New_York',
  'Australia/Lord_Howe',
  'America/Santiago',
  'Asia/Beirut',
  'Asia/Kathmandu',
];
const at = (text: string, zone = 'Europe/Lisbon') => DateTime.fromISO(text, { zone }).toMillis();
const say = (moment: number | undefined, zone = 'Europe/Lisbon') =>
  moment === undefined ? null : DateTime.fromMillis(moment, { zone }).toFormat('ccc d LLL HH:mm');
const daily = (...times: string[]): Timetable => ({ ...NO_TIMETABLE, times: Array.from({ length: 7 }, () => times) });
const of = (timetable: Timetable, from: number, more: Partial<Circumstances> = {}): Circumstances => ({
  timetable,
  zone: 'Europe/Lisbon',
  hours: null,
  taken: [],
  from,
  ...more,
});
const posts = (...moments: number[]): Taken[] => moments.map((moment) => ({ at: moment, slot: null }));

const time = fc
  .tuple(fc.integer({ min: 0, max: 23 }), fc.integer({ min: 0, max: 59 }))
  .map(([hour, minute]) => `${String(hour).padStart(2, '0')}:${String(minute).padStart(2, '0')}`);
const weekly = fc.array(fc.array(time, { maxLength: 4 }), { minLength: 7, maxLength: 7 });
const zone = fc.constantFrom(...ZONES);
/** Moments around changes of clocks come up often. */
const moment = zone.chain((name) =>
  fc.record({
    name: fc.constant(name),
    from: fc.oneof(
      fc.integer({ min: Date.UTC(2026, 0), max: Date.UTC(2028, 0) }),
      ...changesOf(name).map((change) => fc.integer({ min: change - 3 * DAY, max: change + DAY })),
    ),
  }),
);

/** The moments in 2026 and 2027 at which a zone changes its clocks, as the reference library has them. */
function changesOf(name: string): number[] {
  const changes: number[] = [];
  let each: Temporal.ZonedDateTime | null = Temporal.ZonedDateTime.from(`2026-01-01T00:00[${name}]`);
  while ((each = each.getTimeZoneTransition('next')) && each.year < 2028) changes.push(each.epochMilliseconds);
  return changes;
}

describe('the times of a timetable', () => {
  // The reference is the Temporal polyfill. Its disambiguation "compatible" is the rule of RFC 5545 section 3.3.5: in a gap
  // the offset before it, in a doubled hour the first.
  it('are those of the reference library, through every change of clocks', () => {
    fc.assert(
      fc.property(weekly, moment, fc.integer({ min: 1, max: 9 }), (times, { name, from }, days) => {
        const to = from + days * DAY;
        const expected = new Set<number>();
        let day = Temporal.Instant.fromEpochMilliseconds(from)
          .toZonedDateTimeISO(name)
          .toPlainDate()
          .subtract({ days: 1 });
        for (let count = 0; count < days + 3; count++, day = day.add({ days: 1 }))
          for (const each of times[day.dayOfWeek - 1]!) {
            const when = day.toZonedDateTime({ timeZone: name, plainTime: each }).epochMilliseconds;
            if (when >= from && when < to) expected.add(when);
          }
        expect([...timesBetween({ times, pauses: [] }, from, to, name)]).toEqual([...expected].sort((a, b) => a - b));
      }),
      { numRuns: 400 },
    );
  });
  it('stay what they are when clocks change', () => {
    const nine = daily('09:00');
    for (const start of ['2026-03-28T00:00', '2026-10-24T00:00'])
      expect(
        [...timesBetween(nine, at(start), at(start) + 3 * DAY, 'Europe/Lisbon')].map((each) => say(each)!.slice(-5)),
      ).toEqual(['09:00', '09:00', '09:00']);
  });
  it('that do not exist come an hour later, those that come twice at the first', () => {
    // In Lisbon 01:00 to 02:00 is skipped on 29 March 2026, and comes twice on 25 October.
    const early = daily('01:30', '02:30');
    const times = (day: string) => [
      ...timesBetween(early, at(`${day}T00:00`), at(`${day}T00:00`) + 20 * HOUR, 'Europe/Lisbon'),
    ];
    expect(times('2026-03-29').map((each) => new Date(each).toISOString().slice(11, 16))).toEqual(['01:30']);
    expect(times('2026-10-25').map((each) => new Date(each).toISOString().slice(11, 16))).toEqual(['00:30', '02:30']);
  });
  it('are left out on the days of a pause', () => {
    const timetable = { ...daily('09:00'), pauses: [{ from: '2026-12-24', to: '2026-12-26', name: 'Christmas' }] };
    const times = [...timesBetween(timetable, at('2026-12-23T00:00'), at('2026-12-28T00:00'), 'Europe/Lisbon')];
    expect(times.map((each) => say(each))).toEqual(['Wed 23 Dec 09:00', 'Sun 27 Dec 09:00']);
  });
});

describe('the earliest moment at which something may go', () => {
  const noon = at('2026-11-26T12:00');
  it('is now, where nothing keeps it', () => {
    expect(earliest('now', of(NO_TIMETABLE, noon))).toEqual({ at: noon, slot: null, why: null });
    expect(earliest('now', of(daily('09:00'), noon))).toEqual({ at: noon, slot: null, why: null });
    expect(earliest('free', of(NO_TIMETABLE, noon))).toEqual({ at: noon, slot: null, why: null });
  });
  it('is the next time that nobody holds', () => {
    const timetable = daily('09:00', '17:00');
    const first = earliest('free', of(timetable, noon))!;
    expect(say(first.at)).toBe('Thu 26 Nov 17:00');
    expect(first.slot).toBe(first.at);
    const second = earliest('free', of(timetable, noon, { taken: [first] }))!;
    expect(say(second.at)).toBe('Fri 27 Nov 09:00');
    expect(second.why).toBe('free');
    // One that is sent at some other moment holds no time.
    expect(earliest('free', of(timetable, noon, { taken: posts(first.at) }))!.at).toBe(first.at);
  });
  it('keeps its distance from what goes before and after', () => {
    const timetable = { ...daily('09:00', '17:00'), gap: 3600 };
    expect(say(earliest('free', of(timetable, noon, { taken: posts(at('2026-11-26T17:30')) }))!.at)).toBe(
      'Fri 27 Nov 09:00',
    );
    const now = earliest('now', of(timetable, noon, { taken: posts(noon - HOUR / 2, noon + HOUR) }))!;
    expect(say(now.at)).toBe('Thu 26 Nov 14:00');
    expect(now.why).toBe('gap');
    // Exactly the gap is far enough.
    expect(earliest('now', of(timetable, noon, { taken: posts(noon - HOUR, noon + HOUR) }))!.at).toBe(noon);
  });
  it('is another day when one is full, or paused', () => {
    const full = { ...daily('09:00', '17:00'), mostPerDay: 2 };
    const taken = posts(at('2026-11-26T08:00'), at('2026-11-26T09:00'));
    expect(say(earliest('free', of(full, noon, { taken }))!.at)).toBe('Fri 27 Nov 09:00');
    // What was to go at once goes at a good time rather than at midnight.
    expect(earliest('now', of(full, noon, { taken }))).toMatchObject({ at: at('2026-11-27T09:00'), why: 'day' });
    expect(say(earliest('now', of({ ...full, times: NO_TIMETABLE.times }, noon, { taken }))!.at)).toBe(
      'Fri 27 Nov 00:00',
    );
    const paused = { ...daily('09:00'), pauses: [{ from: '2026-11-20', to: '2026-11-29', name: 'Storm' }] };
    expect(earliest('now', of(paused, noon))).toMatchObject({ at: at('2026-11-30T09:00'), why: 'pause' });
  });
  it('lies within the opening hours', () => {
    const timetable = daily('08:00', '20:00', '10:00');
    expect(say(earliest('free', of(timetable, noon, { hours: OFFICE_HOURS }))!.at)).toBe('Fri 27 Nov 10:00');
    expect(say(earliest('now', of(NO_TIMETABLE, at('2026-11-28T12:00'), { hours: OFFICE_HOURS }))!.at)).toBe(
      'Mon 30 Nov 09:00',
    );
    const never = OFFICE_HOURS.map(() => []);
    expect(earliest('now', of(NO_TIMETABLE, noon, { hours: never }))).toBeNull();
    expect(earliest('free', of(timetable, noon, { hours: never }))).toBeNull();
  });

  const timetables = fc.record({
    times: weekly,
    pauses: fc.array(
      fc.tuple(fc.integer({ min: 0, max: 20 }), fc.integer({ min: 0, max: 3 })).map(([start, days]) => ({
        from: DateTime.utc(2026, 3, 25).plus({ days: start }).toISODate()!,
        to: DateTime.utc(2026, 3, 25)
          .plus({ days: start + days })
          .toISODate()!,
        name: '',
      })),
      { maxLength: 2 },
    ),
    mostPerDay: fc.option(fc.integer({ min: 1, max: 3 })),
    gap: fc.constantFrom(0, 1800, 7200),
    late: fc.constant(NO_TIMETABLE.late),
    sameWords: fc.constant(NO_TIMETABLE.sameWords),
  });
  /** Whether a moment is one at which something may go, said in another way than the code does. */
  function may(timetable: Timetable, name: string, taken: readonly Taken[], moment: number): boolean {
    const local = Temporal.Instant.fromEpochMilliseconds(moment).toZonedDateTimeISO(name).toPlainDate().toString();
    const sameDay = taken.filter(
      (each) =>
        Temporal.Instant.fromEpochMilliseconds(each.at).toZonedDateTimeISO(name).toPlainDate().toString() === local,
    );
    return (
      !timetable.pauses.some((pause) => local >= pause.from && local <= pause.to) &&
      (timetable.mostPerDay === null || sameDay.length < timetable.mostPerDay) &&
      taken.every((each) => Math.abs(each.at - moment) >= timetable.gap * 1000)
    );
  }
  it('is one at which it may go, and no time before it is, whatever is taken', () => {
    fc.assert(
      fc.property(
        timetables,
        zone,
        fc.array(fc.integer({ min: 0, max: 200 }), { maxLength: 12 }),
        (timetable, name, hours) => {
          const from = Date.UTC(2026, 2, 26);
          const taken = posts(...hours.map((hour) => from + hour * HOUR));
          const found = earliest('free', of(timetable, from, { zone: name, taken }));
          const all = [...timesBetween(timetable, from, from + 30 * DAY, name)];
          const expected = all.find((each) => may(timetable, name, taken, each));
          if (timetable.times.every((each) => each.length === 0)) {
            expect(found !== null && may(timetable, name, taken, found.at)).toBe(true);
          } else if (expected !== undefined) expect(found).toMatchObject({ at: expected, slot: expected });
        },
      ),
      { numRuns: 300 },
    );
  });
  it('is the same whether places are kept or looked for anew, from whatever moments', () => {
    fc.assert(
      fc.property(
        timetables,
        zone,
        fc.array(fc.tuple(fc.constantFrom('now' as const, 'free' as const), fc.integer({ min: 0, max: 300 })), {
          maxLength: 15,
        }),
        (timetable, name, asks) => {
          const start = Date.UTC(2026, 2, 26);
          const kept = new Places(of(timetable, start, { zone: name }));
          const taken: Taken[] = [];
          for (const [when, hour] of asks) {
            const from = start + hour * HOUR;
            const found = kept.find(when, from);
            const anew = earliest(when, of(timetable, from, { zone: name, taken }));
            expect(found && [found.at, found.slot]).toEqual(anew && [anew.at, anew.slot]);
            if (!found) continue;
            kept.take(found);
            taken.push(found);
          }
        },
      ),
      { numRuns: 200 },
    );
  });
  it('never puts two at one time, keeps their order and their distance, one after the other', () => {
    fc.assert(
      fc.property(timetables, zone, fc.integer({ min: 1, max: 25 }), (timetable, name, count) => {
        fc.pre(timetable.times.some((each) => each.length > 0));
        const from = Date.UTC(2026, 2, 26);
        const placed = reflow(
          Array.from({ length: count }, (_, index) => index),
          of(timetable, from, { zone: name }),
        );
        const moments = placed.flatMap((each) => each?.at ?? []);
        expect(moments).toEqual([...new Set(moments)].sort((a, b) => a - b));
        const gaps = moments.slice(1).map((each, index) => each - moments[index]!);
        expect(gaps.every((gap) => gap >= timetable.gap * 1000)).toBe(true);
        for (const [index, each] of moments.entries())
          expect(may(timetable, name, posts(...moments.slice(0, index)), each)).toBe(true);
      }),
      { numRuns: 200 },
    );
  });
});

describe('a timetable that cannot be one', () => {
  it.each([
    [{ times: [[]] }],
    [{ times: [['9:00'], [], [], [], [], [], []] }],
    [{ times: [['24:00'], [], [], [], [], [], []] }],
    [{ pauses: [{ from: '2026-12-26', to: '2026-12-24', name: '' }] }],
    [{ pauses: [{ from: '2026-02-30', to: '2026-03-01', name: '' }] }],
    [{ mostPerDay: 0 }],
    [{ gap: -1 }],
  ])('%j is refused', (wrong) => {
    expect(timetableSchema.safeParse({ ...NO_TIMETABLE, ...wrong }).success).toBe(false);
  });
  it('unlike one that can, also from before there was a time for the same words', () => {
    expect(timetableSchema.parse(NO_TIMETABLE)).toEqual(NO_TIMETABLE);
    const { sameWords: _, ...before } = NO_TIMETABLE;
    expect(timetableSchema.parse(before)).toEqual(NO_TIMETABLE);
  });
});
