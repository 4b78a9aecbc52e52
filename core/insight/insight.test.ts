import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { deskNumbers, type Counted } from './desk-numbers.ts';
import { kaplanMeier, timeUntil } from './kaplan-meier.ts';

// The remission times of the 6-MP group, in weeks, of E. J. Freireich et al., Blood 21 (1963), on which textbooks show the
// estimate (Klein and Moeschberger, "Survival Analysis", table 4.1B). A plus is one that was still in remission. Times
// and estimates are from memory.
const REMISSION = '6 6 6 6+ 7 9+ 10 10+ 11+ 13 16 17+ 19+ 20+ 22 23 25+ 32+ 32+ 34+ 35+'.split(' ').map((each) => ({
  time: parseInt(each, 10),
  over: !each.endsWith('+'),
}));
const PUBLISHED: [time: number, waiting: number][] = [
  [6, 0.857],
  [7, 0.807],
  [10, 0.753],
  [13, 0.69],
  [16, 0.627],
  [22, 0.538],
  [23, 0.448],
];

describe('the Kaplan–Meier estimate', () => {
  it('is that of the textbooks’ example', () => {
    const steps = kaplanMeier(REMISSION);
    expect(steps.map(({ time }) => time)).toEqual(PUBLISHED.map(([time]) => time));
    steps.forEach(({ waiting }, index) => expect(waiting).toBeCloseTo(PUBLISHED[index]![1], 3));
    expect(timeUntil(steps, 0.5)).toBe(23);
    expect(timeUntil(steps, 0.25)).toBe(13);
    // Too many were still in remission for anybody to know.
    expect(timeUntil(steps, 0.9)).toBeNull();
  });

  const times = fc.array(fc.record({ time: fc.nat(1000), over: fc.boolean() }), { minLength: 1, maxLength: 60 });

  it('is the plain quantile where nothing waits any more', () => {
    fc.assert(
      fc.property(
        fc.array(fc.nat(1000), { minLength: 1, maxLength: 60 }),
        fc.constantFrom(0.5, 0.9, 0.25),
        (all, share) => {
          const until = timeUntil(kaplanMeier(all.map((time) => ({ time, over: true }))), share)!;
          // The inverse of the empirical distribution: the first at which so large a share is over.
          expect(all).toContain(until);
          expect(all.filter((time) => time <= until).length / all.length).toBeGreaterThanOrEqual(share - 1e-9);
          expect(all.filter((time) => time < until).length / all.length).toBeLessThan(share);
        },
      ),
    );
  });

  it('falls from one to nought and never rises; whatever still waits makes nothing quicker', () => {
    fc.assert(
      fc.property(times, fc.nat(1000), (waited, longer) => {
        const steps = kaplanMeier(waited);
        let last = 1;
        for (const { waiting } of steps) {
          expect(waiting).toBeLessThanOrEqual(last);
          expect(waiting).toBeGreaterThanOrEqual(0);
          last = waiting;
        }
        const more = kaplanMeier([...waited, { time: 1000 + longer, over: false }]);
        const before = timeUntil(steps, 0.5);
        const after = timeUntil(more, 0.5);
        if (after !== null) expect(after).toBeGreaterThanOrEqual(before!);
      }),
    );
  });
});

const ZONE = 'Europe/Lisbon';
const at = (moment: string) => Date.parse(moment);
const NOW = at('2026-11-27T12:00:00Z');
const HOUR = 3_600_000;
const said = (saidAt: number, more: Partial<Counted> = {}): Counted => ({
  ...{ kind: 'review', outletId: 1, stars: null, saidAt, answeredAt: null, by: null, state: 'open' },
  ...more,
});
const answered = (saidAt: number, hours: number, more: Partial<Counted> = {}) =>
  said(saidAt, { answeredAt: saidAt + hours * HOUR, by: 'workflow', state: 'answered', ...more });
const around = { from: at('2026-11-16T00:00:00Z'), now: NOW, zone: ZONE };

describe('the numbers of the desk', () => {
  it('count those who still wait with the time they have waited', () => {
    const monday = at('2026-11-23T09:00:00Z');
    const quick = [answered(monday, 1), answered(monday, 2), answered(monday, 3)];
    expect(deskNumbers(quick, around).all).toMatchObject({ share: 1, median: 2 * HOUR, ninety: 3 * HOUR });
    const slow = deskNumbers([...quick, said(monday), said(monday), said(monday)], around).all;
    expect(slow).toMatchObject({ asked: 6, answered: 3, waiting: 3, share: 0.5, median: 3 * HOUR, ninety: null });
  });

  it('leave out what needed no answer, and count what was answered before it was taken back', () => {
    const monday = at('2026-11-23T09:00:00Z');
    const { all, weeks } = deskNumbers(
      [said(monday, { state: 'left' }), said(monday, { state: 'gone' }), answered(monday, 1, { state: 'gone' })],
      around,
    );
    expect(all).toMatchObject({ asked: 1, answered: 1, share: 1 });
    expect(weeks.at(-1)).toMatchObject({ left: 1, alone: 1 });
  });

  it('begin weeks on Mondays of the brand’s clock, also across the change of clocks', () => {
    const from = at('2026-10-12T00:00:00Z');
    // A quarter past midnight on Monday in Lisbon is Sunday evening in UTC as long as it is summer there.
    const { weeks } = deskNumbers([said(at('2026-10-18T23:15:00Z')), said(at('2026-10-25T23:15:00Z'))], {
      ...around,
      from,
    });
    expect(weeks.filter(({ asked }) => asked > 0).map(({ week }) => week)).toEqual(['2026-10-19']);
    expect(weeks.map(({ week }) => week).slice(0, 3)).toEqual(['2026-10-12', '2026-10-19', '2026-10-26']);
    expect(weeks.at(-1)!.week).toBe('2026-11-23');
  });

  it('tell places and stars apart', () => {
    const monday = at('2026-11-23T09:00:00Z');
    const { places, byStars, weeks } = deskNumbers(
      [
        answered(monday, 1, { stars: 5 }),
        answered(monday, 1, { stars: 4, by: 'user' }),
        said(monday, { stars: 1, outletId: 2 }),
      ],
      around,
    );
    expect(places.map(({ outletId, asked, stars }) => [outletId, asked, stars])).toEqual([
      [1, 2, 4.5],
      [2, 1, 1],
    ]);
    expect(byStars).toEqual([1, 0, 0, 1, 1]);
    expect(weeks.at(-1)).toMatchObject({ alone: 1, people: 1, reviews: 3 });
  });

  it('every one that is counted is in one week and at one place', () => {
    const one = fc.record({
      saidAt: fc.integer({ min: around.from, max: NOW }),
      outletId: fc.constantFrom(null, 1, 2),
      by: fc.constantFrom(null, 'workflow' as const, 'user' as const, 'there' as const),
      stars: fc.constantFrom(null, 1, 3, 5),
    });
    fc.assert(
      fc.property(fc.array(one), (list) => {
        const all = list.map(({ saidAt, by, ...rest }) =>
          said(saidAt, { ...rest, by, state: by === null ? 'open' : 'answered', answeredAt: by && NOW }),
        );
        const numbers = deskNumbers(all, around);
        const sum = (of: readonly { asked: number }[]) => of.reduce((total, { asked }) => total + asked, 0);
        expect(sum(numbers.weeks)).toBe(all.length);
        expect(sum(numbers.places)).toBe(all.length);
        expect(numbers.all.answered + numbers.all.waiting).toBe(all.length);
      }),
    );
  });
});
