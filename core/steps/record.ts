import { z } from 'zod';
import { stepBase } from './base.ts';
import type { Prepared, StepBase, Verb } from './verb.ts';
import { NAME, outletPhrase, outletProblems, readWords, wordsProblems } from './words.ts';

export interface RecordStep extends StepBase {
  verb: 'record';
  /** The table: an outlet that holds rows. */
  outlet: number | null;
  /** Bring the row up to date whose column has this value; null to add one. Without such a row, one is added. */
  match: { column: string; value: string } | null;
  /** What is written, by column; each a wording. */
  values: { column: string; value: string }[];
  /** What later steps call the row. */
  as: string;
}

const cell = z.object({ column: z.string().max(200), value: z.string().max(5000) });

/** Record: add a row, or bring one up to date. */
export const record = {
  verb: 'record',
  title: 'Record',
  sort: 'keeping',
  schema: z.object({
    ...stepBase,
    verb: z.literal('record'),
    outlet: z.number().int().positive().nullable(),
    match: cell.nullable(),
    values: z.array(cell).max(100),
    as: z.string().regex(NAME),
  }),

  sentence: (step, world) => [
    step.match ? 'Record in a row of ' : 'Record a new row in ',
    outletPhrase(step.outlet, world),
  ],

  prepare(step, world): Prepared {
    const values = step.values.map(({ column, value }) => ({ column, words: readWords(value, world.locale) }));
    const match = step.match && { column: step.match.column, words: readWords(step.match.value, world.locale) };
    return {
      plan: ({ fields }) => ({
        go: 'perform',
        effects: [
          {
            action: 'record',
            outlet: step.outlet,
            input: {
              match: match && { column: match.column, value: match.words.format(fields) },
              values: Object.fromEntries(values.map(({ column, words }) => [column, words.format(fields)])),
            },
            blocked: step.outlet === null ? { trouble: 'no-outlet', says: 'No table is chosen.' } : undefined,
          },
        ],
      }),
      settled: (_, [slot]) => ({
        go: 'on',
        cell: null,
        values: { [`${step.as}.id`]: slot?.outcome?.remoteId ?? '', [`${step.as}.url`]: slot?.outcome?.url ?? '' },
      }),
    };
  },

  problems(step, world) {
    const harm = (says: string) => ({ level: 'harm' as const, step: step.id, says });
    const problems = outletProblems(step.id, step.outlet, 'record', world);
    if (step.values.length === 0) problems.push(harm('Say what is written into the row.'));
    if (step.values.some(({ column }) => column === '')) problems.push(harm('A column is not chosen.'));
    for (const { column, value } of [...step.values, ...(step.match ? [step.match] : [])])
      problems.push(...wordsProblems(step.id, `The value of ${column}`, value, false));
    return problems;
  },

  makes: (step) => [`${step.as}.id`, `${step.as}.url`],
} satisfies Verb<RecordStep>;
