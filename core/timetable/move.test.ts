import fc from 'fast-check';
import { DateTime } from 'luxon';
import { describe, expect, it } from 'vitest';
import type { Circumstances } from './earliest.ts';
import { conflictsAt, move, type Waiting } from './move.ts';
import { NO_TIMETABLE, timesBetween, type Timetable } from './timetable.ts';

const ZONE = 'Europe/Lisbon';
const at = (text: string) => DateTime.fromISO(text, { zone: ZONE }).toMillis();
const say = ({ id, at: moment }: Waiting) =>
  `${id} ${DateTime.fromMillis(moment, { zone: ZONE }).toFormat('ccc HH:mm')}`;
const daily = (...times: string[]): Timetable => ({ ...NO_TIMETABLE, times: Array.from({ length: 7 }, () => times) });
const NOON = at('2026-11-26T12:00');
const of = (timetable: Timetable, more: Partial<Circumstances> = {}): Circumstances => ({
  timetable,
  zone: ZONE,
  hours: null,
  taken: [],
  from: NOON,
  ...more,
});
const holding = (id: number, text: string): Waiting => ({ id, at: at(text), slot: at(text) });
const queue = [holding(1, '2026-11-26T17:00'), holding(2, '2026-11-27T09:00'), holding(3, '2026-11-27T17:00')];

describe('moving a post', () => {
  const timetable = daily('09:00', '17:00');
  it('to a free time takes it, and nobody else moves', () => {
    const moved = move({ id: 9 }, at('2026-11-28T09:00'), queue, 'move', of(timetable))!;
    expect(moved).toEqual({ places: [holding(9, '2026-11-28T09:00')], conflicts: [] });
  });
  it('to a moment of its own holds no time', () => {
    const moved = move({ id: 9 }, at('2026-11-27T10:15'), queue, 'move', of(timetable))!;
    expect(moved.places).toEqual([{ id: 9, at: at('2026-11-27T10:15'), slot: null }]);
  });
  it('to a time that is taken moves the others on, in their order, or goes beside', () => {
    const on = move({ id: 9 }, at('2026-11-27T09:00'), queue, 'move', of(timetable))!;
    expect(on.places.map(say)).toEqual(['9 Fri 09:00', '2 Fri 17:00', '3 Sat 09:00']);
    const beside = move({ id: 9 }, at('2026-11-27T09:00'), queue, 'stay', of(timetable))!;
    expect(beside).toEqual({ places: [{ id: 9, at: at('2026-11-27T09:00'), slot: null }], conflicts: ['taken'] });
  });
  it('says what speaks against it', () => {
    const strict = {
      ...timetable,
      gap: 7200,
      mostPerDay: 2,
      pauses: [{ from: '2026-11-29', to: '2026-11-29', name: '' }],
    };
    const conflicts = (text: string) =>
      conflictsAt({ at: at(text), slot: null }, queue, { timetable: strict, zone: ZONE, from: NOON });
    expect(conflicts('2026-11-26T11:00')).toEqual(['past']);
    expect(conflicts('2026-11-26T18:59')).toEqual(['gap']);
    expect(conflicts('2026-11-26T19:00')).toEqual([]);
    expect(conflicts('2026-11-27T12:00')).toEqual(['day']);
    expect(conflicts('2026-11-27T09:00')).toEqual(['taken', 'gap', 'day']);
    expect(conflicts('2026-11-29T12:00')).toEqual(['pause']);
  });
  it('is refused where the others find no other time', () => {
    const year = { ...NO_TIMETABLE, times: [['09:00'], [], [], [], [], [], []] };
    const monday = at('2026-11-30T09:00');
    const mondays = [...timesBetween(year, monday, monday + 366 * 86_400_000, ZONE)];
    const all = mondays.map((moment, id): Waiting => ({ id, at: moment, slot: moment }));
    expect(move({ id: 999 }, monday, all, 'move', of(year))).toBeNull();
  });
  it('leaves each time to one, and the others in their order, whatever is moved where', () => {
    const days = fc.uniqueArray(fc.integer({ min: 0, max: 19 }), { maxLength: 12 });
    const from = at('2026-11-27T00:00');
    const times = [...timesBetween(timetable, from, from + 10 * 86_400_000, ZONE)];
    fc.assert(
      fc.property(
        days,
        fc.integer({ min: 0, max: 19 }),
        fc.constantFrom('move' as const, 'stay' as const),
        (taken, to, others) => {
          const waiting = taken.map((index, id): Waiting => ({ id, at: times[index]!, slot: times[index]! }));
          const moved = move({ id: 99 }, times[to]!, waiting, others, of(timetable))!;
          const after = [...waiting.filter(({ id }) => !moved.places.some((each) => each.id === id)), ...moved.places];
          const slots = after.flatMap(({ slot }) => slot ?? []);
          expect(new Set(slots).size).toBe(slots.length);
          expect(after).toHaveLength(waiting.length + 1);
          const order = (all: readonly Waiting[]) =>
            [...all]
              .filter(({ id }) => id !== 99)
              .sort((a, b) => a.at - b.at)
              .map(({ id }) => id);
          expect(order(after)).toEqual(order(waiting));
          expect(moved.places[0]!.at).toBe(times[to]!);
        },
      ),
    );
  });
});
