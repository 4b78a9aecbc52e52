import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Condition, Group, Test } from '../conditions/condition.ts';
import { evaluate } from '../conditions/evaluate.ts';
import type { Fields } from '../items/item.ts';
import { becoming, differsIn, undated, type Turned } from './tell.ts';
import { sayStarts, sayTrigger, triggerSchema, type Trigger } from './trigger.ts';
import { firstHolds, nextTurn } from './turning.ts';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
const NOON = Date.UTC(2026, 10, 26, 12);
const test = (field: string, op: Test['op'], value?: string | number): Test => ({ type: 'test', field, op, value });
const all = (...items: Condition[]): Group => ({ type: 'group', match: 'all', items });
const at = (moment: number) => new Date(moment).toISOString();

/** "Status is ready and time has come": the content plan's row. */
const ready = all(test('status', 'is', 'ready'), test('time', 'hasCome'));
const waiting: Extract<Trigger, { on: 'becomes' }> = { on: 'becomes', when: ready };

describe('the moment at which a condition turns', () => {
  it('is that of its time, and of nothing else', () => {
    expect(nextTurn(ready, { status: 'ready', time: at(NOON + HOUR) }, NOON)).toBe(NOON + HOUR);
    expect(nextTurn(ready, { status: 'draft', time: at(NOON + HOUR) }, NOON)).toBeNull();
    expect(nextTurn(ready, { status: 'ready', time: at(NOON - HOUR) }, NOON)).toBeNull();
    expect(nextTurn(ready, { status: 'ready', time: 'soon' }, NOON)).toBeNull();
    expect(nextTurn(all(test('title', 'contains', 'x')), { title: 'x' }, NOON)).toBeNull();
  });
  it('leaves out moments at which nothing turns', () => {
    const either: Group = { type: 'group', match: 'any', items: [test('a', 'hasCome'), test('b', 'hasCome')] };
    expect(nextTurn(either, { a: at(NOON - 1), b: at(NOON + HOUR) }, NOON)).toBeNull();
    expect(nextTurn(either, { a: at(NOON + 2 * HOUR), b: at(NOON + HOUR) }, NOON)).toBe(NOON + HOUR);
  });
  it('is read in the zone where a time without one was written', () => {
    const written = { zone: 'Europe/Lisbon', locale: 'en' };
    // Lisbon is at UTC in winter; a reader in Helsinki would be two hours off.
    expect(nextTurn(ready, { status: 'ready', time: '2026-11-26 18:30' }, NOON, written)).toBe(
      Date.UTC(2026, 10, 26, 18, 30),
    );
    expect(
      nextTurn(ready, { status: 'ready', time: '2026-11-26 18:30' }, NOON, { ...written, zone: 'Europe/Helsinki' }),
    ).toBe(Date.UTC(2026, 10, 26, 16, 30));
  });
  it('is when the last days are over', () => {
    const fresh = all(test('published', 'within', 3));
    expect(nextTurn(fresh, { published: at(NOON) }, NOON)).toBe(NOON + 3 * DAY);
    expect(firstHolds(fresh, { published: at(NOON - 4 * DAY) }, NOON)).toBeNull();
  });
  it('is the first at which anything differs, against trying every moment out', () => {
    const leaf = fc.oneof(
      fc.record({ field: fc.constantFrom('a', 'b', 'c'), op: fc.constantFrom('hasCome', 'toCome', 'filled' as const) }),
      fc.record({
        field: fc.constantFrom('a', 'b', 'c'),
        op: fc.constant('within' as const),
        value: fc.integer({ min: 0, max: 3 }),
      }),
    );
    const condition: fc.Arbitrary<Group> = fc.letrec<{ group: Group }>((tie) => ({
      group: fc.record({
        type: fc.constant('group' as const),
        match: fc.constantFrom('all' as const, 'any' as const),
        items: fc.array(
          fc.oneof(
            { weight: 4, arbitrary: leaf.map((each): Condition => ({ type: 'test', ...each })) },
            { weight: 1, arbitrary: tie('group') },
          ),
          { maxLength: 4 },
        ),
      }),
    })).group;
    const hours = fc.integer({ min: -60, max: 60 });
    fc.assert(
      fc.property(condition, hours, hours, hours, (group, a, b, c) => {
        const fields: Fields = { a: at(NOON + a * HOUR), b: at(NOON + b * HOUR), c: at(NOON + c * HOUR) };
        const holds = (moment: number) => evaluate(group, fields, moment).holds;
        let tried: number | null = null;
        for (let hour = 1; hour <= 200 && tried === null; hour++)
          if (holds(NOON + hour * HOUR) !== holds(NOON)) tried = NOON + hour * HOUR;
        expect(nextTurn(group, fields, NOON)).toBe(tried);
        expect(firstHolds(group, fields, NOON)).toBe(holds(NOON) ? NOON : tried);
      }),
    );
  });
});

describe('a trigger that waits for a condition', () => {
  const row = (status: string, time: number): Fields => ({ status, time: at(time) });
  it('turns once each time it becomes so', () => {
    const first = becoming(waiting, null, row('ready', NOON + HOUR), NOON);
    expect(first).toEqual({ holds: false, turned: false, turnsAt: NOON + HOUR });
    const come = becoming(waiting, first, row('ready', NOON + HOUR), NOON + HOUR);
    expect(come).toEqual({ holds: true, turned: true, turnsAt: null });
    expect(becoming(waiting, come, row('ready', NOON + HOUR), NOON + 2 * HOUR).turned).toBe(false);
    const reopened = becoming(waiting, come, row('draft', NOON + HOUR), NOON + 2 * HOUR);
    expect(reopened).toMatchObject({ holds: false, turned: false });
    expect(becoming(waiting, reopened, row('ready', NOON + HOUR), NOON + 3 * HOUR).turned).toBe(true);
  });
  it('turns exactly as often as the condition does, whatever happens to the row', () => {
    const change = fc.record({
      wait: fc.integer({ min: 0, max: 5 }),
      status: fc.constantFrom('ready', 'draft'),
      time: fc.integer({ min: -5, max: 20 }),
    });
    fc.assert(
      fc.property(fc.array(change, { minLength: 1, maxLength: 12 }), (changes) => {
        let now = NOON;
        let known: Turned | null = null;
        let fields: Fields = {};
        let turned = 0;
        let truths = 0;
        let before = false;
        const look = () => {
          known = becoming(waiting, known, fields, now);
          if (known.turned) turned++;
          const is = evaluate(ready, fields, now).holds;
          if (is && !before) truths++;
          before = is;
        };
        for (const { wait, status, time } of changes) {
          // Whoever follows `turnsAt` misses nothing between two changes.
          for (;;) {
            const due: number | null = (known as Turned | null)?.turnsAt ?? null;
            if (due === null || due > now + wait * HOUR) break;
            now = due;
            look();
          }
          now = Math.max(now, NOON) + wait * HOUR;
          fields = row(status, NOON + time * HOUR);
          look();
        }
        expect(turned).toBe(truths);
      }),
    );
  });
});

describe('a date that cannot be read', () => {
  it('is told where it alone keeps the condition from holding', () => {
    expect(undated(waiting, { status: 'ready', time: 'after the storm' }, NOON)).toEqual([
      { field: 'time', says: 'after the storm' },
    ]);
    expect(undated(waiting, { status: 'draft', time: 'after the storm' }, NOON)).toEqual([]);
    expect(undated(waiting, { status: 'ready', time: '' }, NOON)).toEqual([]);
    expect(undated(waiting, { status: 'ready', time: at(NOON) }, NOON)).toEqual([]);
    const nested: typeof waiting = { on: 'becomes', when: all(test('plan.at', 'toCome')) };
    expect(undated(nested, { plan: { at: 'soon', by: 'Mo' } }, NOON)).toEqual([{ field: 'plan.at', says: 'soon' }]);
  });
});

describe('triggers', () => {
  it('are told apart by the fields that changed', () => {
    expect(differsIn(['a.b'], { a: { b: 1, c: 1 } }, { a: { b: 1, c: 2 } })).toBe(false);
    expect(differsIn(['a.b', 'a.c'], { a: { b: 1, c: 1 } }, { a: { b: 1, c: 2 } })).toBe(true);
    expect(differsIn(['gone'], { gone: 'x' }, {})).toBe(true);
  });
  it('say themselves', () => {
    expect(sayTrigger(undefined)).toBe('');
    expect(sayTrigger({ on: 'changes', fields: ['status', 'publishAt'] })).toBe(' when status or publish at changes');
    expect(sayStarts(undefined, 'rows')).toBe('new rows');
    expect(sayStarts({ on: 'changes', fields: ['status'] }, 'rows')).toBe('rows when status changes');
    expect(sayTrigger(waiting)).toBe(' when status is “ready” and time has come');
  });
  it('are refused when they wait for nothing that can be read', () => {
    expect(triggerSchema.safeParse({ on: 'changes', fields: [] }).success).toBe(false);
    expect(triggerSchema.safeParse({ on: 'becomes' }).success).toBe(false);
    expect(triggerSchema.safeParse(waiting).success).toBe(true);
  });
});
