import { z } from 'zod';
import { groupSchema } from '../conditions/condition.ts';
import { evaluate, sayCondition } from '../conditions/evaluate.ts';
import { conditionProblems } from '../conditions/problems.ts';
import { writtenIn } from '../model/world.ts';
import { stepBase } from './base.ts';
import { stepSchema } from './registry.ts';
import type { SplitCase, SplitStep } from './step.ts';
import type { Prepared, Verb } from './verb.ts';

export const OTHERWISE = 'otherwise';

/** Split: take one of several ways. */
export const split = {
  verb: 'split',
  title: 'Split',
  sort: 'thinking',
  schema: z.object({
    ...stepBase,
    verb: z.literal('split'),
    by: z.enum(['asks', 'chance']),
    cases: z
      .array(
        z.object({
          id: z.string().regex(/^[\w-]{1,40}$/),
          name: z.string().max(60),
          when: groupSchema,
          share: z.number().min(0).max(1000),
          steps: z.array(stepSchema).max(50),
        }),
      )
      .min(1)
      .max(20)
      .refine(
        (cases) =>
          new Set(cases.map((each) => each.id)).size === cases.length && !cases.some((c) => c.id === OTHERWISE),
        'Two cases have the same id.',
      ),
    otherwise: z.array(stepSchema).max(50),
  }),

  sentence(step) {
    const count = step.cases.length + (step.by === 'asks' && step.otherwise.length > 0 ? 1 : 0);
    return [
      step.by === 'asks' ? `Split into ${count} ${count === 1 ? 'case' : 'cases'}` : `Split by chance, ${count} ways`,
    ];
  },

  prepare(step, world): Prepared {
    if (step.by === 'chance') {
      const total = step.cases.reduce((sum, each) => sum + each.share, 0);
      return {
        plan: (env) => {
          let rest = env.chance('split') * total;
          const taken = step.cases.find((each) => (rest -= each.share) < 0) ?? null;
          if (!taken)
            return { go: 'into', branch: null, cell: { kind: 'takes', branch: null, label: 'no case', why: '' } };
          const why = `${Math.round((taken.share / total) * 100)} in 100`;
          return {
            go: 'into',
            branch: taken.id,
            cell: { kind: 'takes', branch: taken.id, label: caseLabel(step, taken), why },
          };
        },
      };
    }
    const labels = step.cases.map((each) => caseLabel(step, each));
    return {
      plan: ({ fields, now }) => {
        for (const [index, each] of step.cases.entries()) {
          const { holds, why } = evaluate(each.when, fields, now, writtenIn(world));
          if (holds)
            return {
              go: 'into',
              branch: each.id,
              cell: { kind: 'takes', branch: each.id, label: labels[index]!, why },
            };
        }
        return {
          go: 'into',
          branch: OTHERWISE,
          cell: { kind: 'takes', branch: OTHERWISE, label: 'otherwise', why: step.otherwise.length ? '' : 'goes on' },
        };
      },
    };
  },

  problems(step) {
    if (step.by === 'chance') {
      const shares = step.cases.reduce((sum, each) => sum + each.share, 0);
      return shares > 0 ? [] : [{ level: 'harm', step: step.id, says: 'No case of this split has a share.' }];
    }
    return step.cases.flatMap((each) =>
      conditionProblems(step.id, each.when, `The case “${caseLabel(step, each)}”`).map((problem) => ({
        ...problem,
        says: problem.says.replace('so everything passes', 'so it is always taken'),
      })),
    );
  },

  branches(step) {
    const cases = step.cases.map((each) => ({ id: each.id, label: caseLabel(step, each), steps: each.steps }));
    return step.by === 'asks' ? [...cases, { id: OTHERWISE, label: 'Otherwise', steps: step.otherwise }] : cases;
  },
} satisfies Verb<SplitStep>;

/** What a case is called on the sheet. */
export function caseLabel(step: SplitStep, each: SplitCase): string {
  if (each.name.trim()) return each.name.trim();
  if (step.by === 'chance') return `Way ${step.cases.indexOf(each) + 1}`;
  const said = sayCondition(each.when);
  return said ? `If ${said}` : `Case ${step.cases.indexOf(each) + 1}`;
}
