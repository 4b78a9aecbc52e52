import fc from 'fast-check';
import { DateTime } from 'luxon';
import rrule from 'rrule';
import { describe, expect, it } from 'vitest';
import { forecast, WEEKS_BACK, type Posted } from './forecast.ts';

const ZONE = 'Europe/Lisbon';
/** A Wednesday. */
const NOW = DateTime.fromISO('2026-11-25T10:00', { zone: ZONE });
const span = (days: number) => ({
  from: NOW.startOf('day').toMillis(),
  to: NOW.startOf('day').plus({ days }).toMillis(),
  now: NOW.toMillis(),
  zone: ZONE,
});
const at = (iso: string): number => DateTime.fromISO(iso, { zone: ZONE }).toMillis();
const post = (iso: string, workflow = 1, outlet = 1): Posted => ({ workflow, outlet, at: at(iso) });

describe('what is likely', () => {
  // A habit that a rule of RFC 5545 (section 3.3.10) describes goes on as the rule does: the reference is the rrule library.
  it('goes on as a weekly rule does', () => {
    const day = fc.constantFrom(...(['MO', 'TU', 'WE', 'TH', 'FR', 'SA', 'SU'] as const));
    fc.assert(
      fc.property(fc.uniqueArray(day, { minLength: 1 }), fc.integer({ min: 0, max: 23 }), (days, hour) => {
        const rule = new rrule.RRule({
          freq: rrule.RRule.WEEKLY,
          byweekday: days.map((each) => rrule.RRule[each]),
          byhour: [hour],
          byminute: [30],
          bysecond: [0],
          dtstart: new Date(Date.UTC(2026, 8, 1)),
        });
        // The rule's clock is the brand's.
        const wall = (moment: Date) => moment.toISOString().slice(0, 16);
        const past = rule.between(new Date(Date.UTC(2026, 8, 23)), new Date(Date.UTC(2026, 10, 25))).map(wall);
        const likely = forecast(
          past.map((iso) => post(iso)),
          [],
          { ...span(14), now: NOW.startOf('day').toMillis() },
        );
        const next = rule.between(new Date(Date.UTC(2026, 10, 25)), new Date(Date.UTC(2026, 11, 9)), true).map(wall);
        expect(likely.map((each) => DateTime.fromMillis(each.at, { zone: ZONE }).toISO()!.slice(0, 16))).toEqual(next);
        expect(new Set(likely.map(({ posts }) => posts))).toEqual(new Set([1]));
      }),
    );
  });

  it('adds up to what went out in as many weeks, where all of it is told', () => {
    const moments = fc.array(fc.integer({ min: 0, max: WEEKS_BACK * 7 * 24 - 1 }), { minLength: 150, maxLength: 400 });
    fc.assert(
      fc.property(moments, (hours) => {
        const begin = NOW.startOf('day').minus({ weeks: WEEKS_BACK });
        // The first hour is among them, so that all weeks count.
        const past = [0, ...hours].map((hour) => ({
          workflow: 1,
          outlet: 1,
          at: begin.plus({ hours: hour }).toMillis(),
        }));
        const likely = forecast(past, [], { ...span(7), now: NOW.startOf('day').toMillis() });
        const told = new Set(likely.map(({ date }) => DateTime.fromISO(date).weekday));
        const of = past.filter((each) => told.has(DateTime.fromMillis(each.at, { zone: ZONE }).weekday));
        const sum = likely.reduce((all, { posts }) => all + posts, 0) * WEEKS_BACK;
        expect(Math.abs(sum - of.length)).toBeLessThan(0.5);
      }),
    );
  });

  const mondays = ['2026-11-09T09:10', '2026-11-16T09:30', '2026-11-23T11:00'];
  it('takes off what is planned of the same workflow', () => {
    const past = mondays.map((iso) => post(iso));
    expect(forecast(past, [], span(7))).toEqual([
      { workflow: 1, outlet: 1, date: '2026-11-30', posts: 1, at: at('2026-11-30T09:30') },
    ]);
    expect(forecast(past, [post('2026-11-30T18:00')], span(7))).toEqual([]);
    expect(forecast(past, [post('2026-11-30T18:00', 2)], span(7))).toHaveLength(1);
    expect(forecast(past, [post('2026-11-30T18:00', 1, 2)], span(7))).toHaveLength(1);
  });
  it('tells workflows and outlets apart', () => {
    const past = mondays.flatMap((iso) => [post(iso), post(iso, 2), post(iso, 2, 5)]);
    expect(forecast(past, [], span(7)).map(({ workflow, outlet }) => [workflow, outlet])).toEqual([
      [1, 1],
      [2, 1],
      [2, 5],
    ]);
  });
  it('says nothing of what was once, or is rare', () => {
    expect(forecast([post('2026-11-23T09:00')], [], span(7))).toEqual([]);
    const burst = [...Array.from({ length: 30 }, () => '2026-11-16T09:00'), '2026-11-24T09:00'];
    expect(
      forecast(
        burst.map((iso) => post(iso)),
        [],
        span(7),
      ),
    ).toEqual([]);
    const rare = ['2026-10-01T09:00', '2026-11-23T09:00'].map((iso) => post(iso));
    expect(forecast(rare, [], span(7))).toEqual([]);
  });
  it('says nothing of days that are over, and of today what still comes', () => {
    const wednesdays = ['2026-11-11T09:00', '2026-11-18T09:00', '2026-11-11T17:00', '2026-11-18T17:00'];
    const likely = forecast(
      wednesdays.map((iso) => post(iso)),
      [],
      { ...span(1), from: at('2026-11-20T00:00') },
    );
    expect(likely).toEqual([{ workflow: 1, outlet: 1, date: '2026-11-25', posts: 1, at: at('2026-11-25T17:00') }]);
  });
  it('keeps to the clock when it is put back', () => {
    const sundays = ['2026-10-11T09:00', '2026-10-18T09:00'].map((iso) => post(iso));
    const now = at('2026-10-21T10:00');
    const [likely] = forecast(sundays, [], { from: now, to: at('2026-10-26T00:00'), now, zone: ZONE });
    expect(likely!.at).toBe(at('2026-10-25T09:00'));
  });
});
