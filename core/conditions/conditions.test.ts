import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Condition, Group, Test } from './condition.ts';
import { groupSchema } from './condition.ts';
import { evaluate, sayCondition } from './evaluate.ts';
import { OPERATORS, operatorsFor, type Operator } from './operators.ts';

const NOW = Date.parse('2026-11-23T12:00:00Z');
const fields = {
  title: 'Sunrise Swim, première',
  length: 48,
  published: '2026-11-22T07:15:00Z',
  views: 30,
  description: '',
  live: true,
  tags: ['cold', 'dawn'],
};
const test = (field: string, op: Operator, value?: string | number): Test => ({ type: 'test', field, op, value });
const group = (match: 'all' | 'any', ...items: Condition[]): Group => ({ type: 'group', match, items });
const holds = (condition: Condition) => evaluate(condition, fields, NOW).holds;

describe('operators', () => {
  it.each<[Test, boolean]>([
    [test('title', 'contains', 'swim'), true],
    [test('title', 'contains', ''), false],
    [test('title', 'contains', 'PREMIE\u0300RE'), true],
    [test('title', 'lacks', 'rerun'), true],
    [test('title', 'starts', 'sunrise'), true],
    [test('title', 'ends', 'swim'), false],
    [test('title', 'is', 'sunrise swim, première'), true],
    [test('title', 'longerText', 22), false],
    [test('title', 'longerText', 21), true],
    [test('tags', 'contains', 'dawn'), true],
    [test('length', 'longer', 120), false],
    [test('length', 'shorter', 120), true],
    [test('views', 'above', 30), false],
    [test('views', 'equals', '30'), true],
    [test('views', 'above', ''), false],
    [test('nothing', 'above', -1), false],
    [test('nothing', 'below', 1), false],
    [test('nothing', 'shorter', 60), false],
    [test('published', 'after', '2026-11-22'), true],
    [test('published', 'before', '2026-11-22'), false],
    [test('published', 'within', 2), true],
    [test('published', 'within', 1), false],
    [test('description', 'empty'), true],
    [test('title', 'filled'), true],
    [test('live', 'yes'), true],
  ])('%j is %s', (condition, expected) => expect(holds(condition)).toBe(expected));

  it.each<[Operator, string | number | undefined, string, boolean, string]>([
    ['mentions', 'timetable', 'timetabel please!!', true, 'mentions “timetabel” is “timetable”, 1 letter off'],
    ['mentions', 'tools', 'fools', false, '“fools” is not “tools”: 1 letter off, or another first letter'],
    ['mentions', 'tools, prices', 'hello', false, 'mentions none of: tools, prices'],
    ['mentions', '', 'hello', false, 'mentions none of: '],
    ['mentionsNone', 'old', 'the old timetable', false, 'mentions “old”'],
    ['mentionsNone', 'old', 'a timetable', true, ''],
    ['onlyEmoji', undefined, '🙌🏽', true, 'it is only emoji'],
    ['onlyEmoji', undefined, 'ok 🙌', false, 'it is a few words'],
    ['fewWords', undefined, 'timetable please', true, 'it is a few words'],
    ['question', undefined, 'when do you open', true, 'Text asks something'],
    ['language', 'pt', 'A água estava fria mas adorei', true, 'it is in Portuguese'],
    ['language', 'pt', 'ok', false, 'its language cannot be told'],
    ['tone', 'cross', 'A terrible, disgusting visit.', true, 'it sounds cross'],
    ['tone', 'glad', '', false, 'Text is empty'],
  ])('%s %s asked of “%s”: %s, %s', (op, value, text, expected, why) => {
    expect(evaluate({ type: 'test', field: 'text', op, value }, { text }, NOW)).toEqual({ holds: expected, why });
  });

  it('each asks and answers without throwing, whatever the field holds', () => {
    const value = fc.oneof(
      fc.string(),
      fc.double(),
      fc.constant(null),
      fc.boolean(),
      fc.constant([]),
      fc.constant({ a: 1 }),
      fc.constant(undefined),
    );
    fc.assert(
      fc.property(
        value,
        fc.oneof(fc.string(), fc.integer()),
        fc.constantFrom(...(Object.keys(OPERATORS) as Operator[])),
        (field, compared, op) => {
          const verdict = evaluate(test('f', op, compared), field === undefined ? {} : { f: field as never }, NOW);
          expect(typeof verdict.holds).toBe('boolean');
        },
      ),
    );
  });
  it('are offered for the types they make sense for', () => {
    expect(operatorsFor('duration')).toEqual(['longer', 'shorter', 'filled', 'empty']);
    expect(operatorsFor('text')[0]).toBe('contains');
  });
});

describe('groups', () => {
  const yes = test('title', 'filled');
  const no = test('title', 'empty');
  it('follow all and any, nested', () => {
    expect(holds(group('all'))).toBe(true);
    expect(holds(group('all', yes, no))).toBe(false);
    expect(holds(group('any', no, yes))).toBe(true);
    expect(holds(group('all', yes, group('any', no, group('all', yes))))).toBe(true);
  });
  it('say the reason that decided', () => {
    expect(evaluate(group('all', test('length', 'longer', 120), yes), fields, NOW).why).toBe('0:48 is not over 2 min');
    expect(
      evaluate(group('all', test('length', 'shorter', 120), test('title', 'lacks', 'rerun')), fields, NOW).why,
    ).toBe('0:48');
    expect(evaluate(test('title', 'contains', 'lesson'), fields, NOW).why).toBe('Title does not contain “lesson”');
    expect(evaluate(test('gone', 'longer', 1), fields, NOW).why).toBe('Gone is empty');
    expect(evaluate(test('title', 'longer', 1), { title: 'short' }, NOW).why).toBe('Title is no length: short');
    const odd = { length: { toString: '', valueOf: '' } };
    expect(evaluate(test('length', 'longer', 1), odd, NOW)).toEqual({ holds: false, why: 'Length is no length' });
  });
  it('read as a sentence', () => {
    expect(
      sayCondition(
        group(
          'all',
          test('length', 'longer', 90),
          group('any', test('title', 'contains', 'a'), test('title', 'contains', 'b')),
        ),
      ),
    ).toBe('length is over 1 min 30 s and (title contains “a” or title contains “b”)');
  });
  it('agree with a plain reading of the tree', () => {
    const leaf = fc.constantFrom(yes, no);
    const { tree } = fc.letrec<{ tree: Condition }>((tie) => ({
      tree: fc.oneof(
        { maxDepth: 4 },
        leaf,
        fc.record({
          type: fc.constant('group' as const),
          match: fc.constantFrom('all' as const, 'any' as const),
          items: fc.array(tie('tree'), { maxLength: 4 }),
        }),
      ),
    }));
    const plain = (condition: Condition): boolean =>
      condition.type === 'test'
        ? condition === yes
        : condition.items.length === 0 ||
          (condition.match === 'all' ? condition.items.every(plain) : condition.items.some(plain));
    fc.assert(fc.property(tree, (condition) => void expect(holds(condition)).toBe(plain(condition))));
  });
  it('are refused when they are not conditions', () => {
    expect(
      groupSchema.safeParse({ type: 'group', match: 'all', items: [{ type: 'test', field: 'a', op: 'nonsense' }] })
        .success,
    ).toBe(false);
    expect(groupSchema.safeParse(group('any', test('a', 'is', 'b'))).success).toBe(true);
  });
});
