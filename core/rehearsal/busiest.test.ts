import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Trace } from '../model/cells.ts';
import { brakeFor, busiestAt } from './busiest.ts';

const MINUTE = 60_000;
const made = (moments: [outlet: number, minute: number][]) =>
  moments.map(([outlet, minute], item) => ({
    item,
    outcome: 'done' as const,
    endedAt: null,
    trace: {
      post: {
        kind: 'posts',
        posts: [{ outlet, status: 'would', text: 'x', card: null, length: 1, limit: null, at: minute * MINUTE }],
      },
    } satisfies Trace as Trace,
  }));

describe('the busiest hour and day at one outlet', () => {
  it('are counted by moments that slide, each outlet for itself', () => {
    expect(
      busiestAt(
        made([
          [1, 0],
          [1, 59],
          [1, 61],
          [2, 30],
          [2, 31],
        ]),
      ),
    ).toEqual({ hour: 2, day: 3 });
    expect(busiestAt([])).toBe(null);
  });
  it('agree with counting every stretch by hand', () => {
    const moments = fc.array(fc.tuple(fc.integer({ min: 1, max: 2 }), fc.integer({ min: 0, max: 4000 })), {
      minLength: 1,
    });
    fc.assert(
      fc.property(moments, (all) => {
        const within = (period: number) =>
          Math.max(
            ...all.map(
              ([outlet, end]) => all.filter(([other, at]) => other === outlet && at <= end && at > end - period).length,
            ),
          );
        expect(busiestAt(made(all))).toEqual({ hour: within(60), day: within(24 * 60) });
      }),
    );
  });
  it('give a brake with room to grow, never less than the usual one', () => {
    expect(brakeFor(null, { hour: 20, day: 60 })).toEqual({ hour: 20, day: 60 });
    expect(brakeFor({ hour: 3, day: 40 }, { hour: 20, day: 60 })).toEqual({ hour: 20, day: 120 });
  });
});
