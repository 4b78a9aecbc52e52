import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { evaluate } from '../conditions/evaluate.ts';
import type { Group } from '../conditions/condition.ts';
import { takesFirstLevel, withFirstLevel } from './first-level.ts';

const words: Group['items'][number] = { type: 'test', field: 'text', op: 'contains', value: 'pool' };
const holds = (group: Group | undefined, level: number, text: string) =>
  group === undefined || evaluate(group, { level, text }, 0).holds;

describe('comments on a post alone', () => {
  it('are one more thing to check, and no more once that is taken back', () => {
    const group: Group = { type: 'group', match: 'all', items: [words] };
    const only = withFirstLevel(group, true);
    expect(takesFirstLevel(only)).toBe(true);
    expect([holds(only, 1, 'pool'), holds(only, 2, 'pool'), holds(only, 1, 'sea')]).toEqual([true, false, false]);
    expect(withFirstLevel(only, false)).toEqual(group);
    expect(withFirstLevel(withFirstLevel(undefined, true), false)).toBeUndefined();
  });
  it('leave the rest of a check as it was, whatever it was', () => {
    const groups = fc.record({
      type: fc.constant('group' as const),
      match: fc.constantFrom('all' as const, 'any' as const),
      items: fc.array(fc.constant(words), { minLength: 1, maxLength: 3 }),
    });
    fc.assert(
      fc.property(groups, fc.nat(3), fc.constantFrom('pool', 'sea'), (group, level, text) => {
        const only = withFirstLevel(group, true);
        expect(holds(only, level, text)).toBe(level < 2 && holds(group, level, text));
        expect(holds(withFirstLevel(only, false), level, text)).toBe(holds(group, level, text));
        expect(withFirstLevel(only, true)).toEqual(only);
      }),
    );
  });
});

describe('a list', () => {
  const test = (op: 'has' | 'hasNot', value: string, labels: string[] | undefined) =>
    evaluate({ type: 'test', field: 'labels', op, value }, labels ? { labels } : {}, 0).holds;
  it('has a label or has not, the whole of it, whatever its capitals', () => {
    expect(test('has', 'Greeted', ['regular', 'greeted'])).toBe(true);
    expect(test('has', 'greet', ['greeted'])).toBe(false);
    expect(test('has', 'greeted', undefined)).toBe(false);
    expect(test('hasNot', 'greeted', undefined)).toBe(true);
    expect(test('hasNot', 'greeted', ['greeted'])).toBe(false);
    expect(test('has', '', ['', 'x'])).toBe(false);
  });
});
