import { z } from 'zod';
import { groupSchema, testsIn, type Group } from '../conditions/condition.ts';
import { evaluate, sayCondition } from '../conditions/evaluate.ts';
import { OPERATORS } from '../conditions/operators.ts';
import { stepBase } from './base.ts';
import type { StepBase, Verb } from './verb.ts';

export interface CheckStep extends StepBase {
  verb: 'check';
  condition: Group;
}

/** Check: go on only if a condition holds. */
export const check = {
  verb: 'check',
  sort: 'thinking',
  schema: z.object({ ...stepBase, verb: z.literal('check'), condition: groupSchema }),

  sentence(step) {
    const said = sayCondition(step.condition);
    return ['Check ', said || 'nothing yet'];
  },

  prepare(step) {
    return ({ item, now }) => {
      const { holds, why } = evaluate(step.condition, item.fields, now);
      return holds ? { go: 'on', cell: { kind: 'passes', why } } : { go: 'stop', cell: { kind: 'stops', why } };
    };
  },

  problems(step) {
    const tests = testsIn(step.condition);
    if (tests.length === 0)
      return [{ level: 'advice', step: step.id, says: 'This check asks nothing, so everything passes.' }];
    const unfinished = tests.some(
      (test) =>
        test.field === '' || (OPERATORS[test.op].asks !== 'nothing' && (test.value === undefined || test.value === '')),
    );
    return unfinished ? [{ level: 'harm', step: step.id, says: 'A question of this check is not finished.' }] : [];
  },
} satisfies Verb<CheckStep>;
