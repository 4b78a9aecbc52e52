import { z } from 'zod';
import { groupSchema, type Group } from '../conditions/condition.ts';
import { evaluate, sayCondition } from '../conditions/evaluate.ts';
import { conditionProblems } from '../conditions/problems.ts';
import { writtenIn } from '../model/world.ts';
import { stepBase } from './base.ts';
import type { StepBase, Verb } from './verb.ts';

export interface CheckStep extends StepBase {
  verb: 'check';
  condition: Group;
}

/** Check: go on only if a condition holds. Inside a For each it stops only that element. */
export const check = {
  verb: 'check',
  title: 'Check',
  sort: 'thinking',
  schema: z.object({ ...stepBase, verb: z.literal('check'), condition: groupSchema }),

  sentence(step) {
    return ['Check ', sayCondition(step.condition) || 'nothing yet'];
  },

  prepare(step, world) {
    const written = writtenIn(world);
    return {
      plan: ({ fields, now }) => {
        const { holds, why } = evaluate(step.condition, fields, now, written);
        return holds ? { go: 'on', cell: { kind: 'passes', why } } : { go: 'stop', cell: { kind: 'stops', why } };
      },
    };
  },

  problems: (step) => conditionProblems(step.id, step.condition, 'This check'),
} satisfies Verb<CheckStep>;
