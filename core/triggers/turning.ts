// When a condition turns as time goes by.
import type { Condition } from '../conditions/condition.ts';
import { testsIn } from '../conditions/condition.ts';
import { evaluate } from '../conditions/evaluate.ts';
import { OPERATORS } from '../conditions/operators.ts';
import type { Fields } from '../items/item.ts';
import { readField } from '../items/read-field.ts';
import type { Written } from '../text/local-moment.ts';

/**
 * The next moment at which a condition holds that does not now, or no longer holds that does, while the fields stay as
 * they are. Computed, not tried out: only questions about time turn by themselves, each at one moment.
 *
 * @param now milliseconds since 1970 UTC
 * @param written where dates without a zone were written
 * @returns null when it stays as it is for ever
 * @example nextTurn({ type: 'test', field: 'time', op: 'hasCome' }, { time: '2026-11-26T18:00:00Z' }, now) // 18:00
 */
export function nextTurn(condition: Condition, fields: Fields, now: number, written?: Written): number | null {
  const moments = testsIn(condition)
    .flatMap((test) => OPERATORS[test.op].turns?.(readField(fields, test.field), test.value ?? '', written) ?? [])
    .filter((moment) => moment > now)
    .sort((a, b) => a - b);
  const { holds } = evaluate(condition, fields, now, written);
  return moments.find((moment) => evaluate(condition, fields, moment, written).holds !== holds) ?? null;
}

/** The first moment from `now` on at which a condition holds; null when it never will. */
export function firstHolds(condition: Condition, fields: Fields, now: number, written?: Written): number | null {
  return evaluate(condition, fields, now, written).holds ? now : nextTurn(condition, fields, now, written);
}
