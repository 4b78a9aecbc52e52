import { describe, expect, it } from 'vitest';
import { NO_TIMETABLE } from '@playa/core/timetable/timetable.ts';
import {
  cellOf,
  conflictsFor,
  daysShown,
  fromField,
  sameTimeOn,
  sayConflict,
  sayShown,
  toField,
  turned,
} from './calendar.ts';
import type { CalendarOutlet, CalendarPost } from './types.ts';

const ZONE = 'Europe/Lisbon';
const outlet: CalendarOutlet = {
  id: 1,
  name: 'Page',
  kind: 'page',
  used: true,
  revision: 1,
  timetable: { ...NO_TIMETABLE, times: Array.from({ length: 7 }, () => ['09:00', '17:00']), gap: 3600 },
};
const post = (key: string, at: number, more: Partial<CalendarPost> = {}): CalendarPost => ({
  key,
  state: 'planned',
  outlet: 1,
  at,
  title: key,
  text: key,
  url: null,
  workflowId: 1,
  workflow: 'W',
  runId: 1,
  itemId: 1,
  post: null,
  sure: true,
  effect: 1,
  slot: null,
  ...more,
});

describe('the days of a calendar', () => {
  it('are whole weeks from Monday, and whole days also when clocks change', () => {
    const week = daysShown('week', '2026-10-25', ZONE);
    expect(week.map((day) => day.date)).toEqual([19, 20, 21, 22, 23, 24, 25].map((day) => `2026-10-${day}`));
    // The clocks go back on the 25th: that day has 25 hours.
    expect((week[6]!.to - week[6]!.from) / 3_600_000).toBe(25);
    expect(week[5]!.to).toBe(week[6]!.from);
    const month = daysShown('month', '2026-11-15', ZONE);
    expect([month[0]!.date, month.at(-1)!.date, month.length]).toEqual(['2026-10-26', '2026-12-06', 42]);
  });
  it('are called and turned by what is shown', () => {
    expect(sayShown('week', '2031-11-19', ZONE)).toBe('17 – 23 November 2031');
    expect(sayShown('week', '2031-12-31', ZONE)).toBe('29 Dec – 4 Jan 2032');
    expect(sayShown('month', '2026-11-19', ZONE)).toBe('November 2026');
    expect(turned('week', '2026-12-30', 1, ZONE)).toBe('2027-01-06');
    expect(turned('month', '2026-01-31', 1, ZONE)).toBe('2026-02-01');
  });
});

describe('a cell', () => {
  const [day] = daysShown('week', '2026-11-23', ZONE);
  const nine = sameTimeOn(Date.UTC(2026, 10, 20, 9), day!, ZONE);
  it('has the posts of its outlet and day by time, and the times nobody holds', () => {
    const posts = [
      post('b', nine + 60_000),
      post('a', nine, { slot: nine }),
      post('x', nine, { outlet: 2 }),
      post('y', nine + 86_400_000),
    ];
    const cell = cellOf(outlet, day!, posts, ZONE, 0);
    expect(cell.posts.map(({ key }) => key)).toEqual(['a', 'b']);
    expect(cell.free.map((at) => toField(at, ZONE))).toEqual(['2026-11-23T17:00']);
    // What is over is free no more.
    expect(cellOf(outlet, day!, [], ZONE, nine + 1).free).toHaveLength(1);
  });
  it('knows what speaks against a post there, which is not itself', () => {
    const mine = post('a', nine);
    const other = post('b', nine + 7_200_000);
    expect(conflictsFor(mine, outlet, nine, [mine, other], ZONE, 0)).toEqual([]);
    expect(conflictsFor(mine, outlet, nine + 3_700_000, [mine, other], ZONE, 0)).toEqual(['gap']);
    expect(conflictsFor(mine, outlet, nine + 3_700_000, [mine, { ...other, state: 'deleted' }], ZONE, 0)).toEqual([]);
    expect(sayConflict('gap', outlet)).toBe('Less than 60 min from another post.');
  });
  it('keeps the time of day of what is dropped on it', () => {
    const [sunday] = daysShown('week', '2026-10-25', ZONE).slice(6);
    expect(toField(sameTimeOn(nine, sunday!, ZONE), ZONE)).toBe('2026-10-25T09:00');
  });
});

it('a moment goes through a field and back', () => {
  const at = Date.UTC(2026, 6, 1, 8, 30);
  expect(toField(at, ZONE)).toBe('2026-07-01T09:30');
  expect(fromField('2026-07-01T09:30', ZONE)).toBe(at);
  expect(fromField('', ZONE)).toBeNull();
  expect(fromField('soon', ZONE)).toBeNull();
});
