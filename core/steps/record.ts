import { LINK, TEXT } from '../shapes/shape.ts';
import { z } from 'zod';
import type { Slot } from '../model/state.ts';
import { fieldText, readField } from '../items/read-field.ts';
import type { Problem } from '../model/problems.ts';
import type { World } from '../model/world.ts';
import { stepBase } from './base.ts';
import type { Plan, Prepared, StepBase, Verb } from './verb.ts';
import { NAME, outletPhrase, outletProblems, readWords, wordsProblems } from './words.ts';

export interface RecordStep extends StepBase {
  verb: 'record';
  /** The table: an outlet that holds rows. */
  outlet: number | null;
  /** Instead: the row that the item is, where it is. */
  where?: 'item' | undefined;
  /** Bring the row up to date whose column has this value; null to add one. Without such a row, one is added. */
  match: { column: string; value: string } | null;
  /** What is written, by column; each a wording. One without words leaves its column as it is. */
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
    where: z.literal('item').optional(),
    match: cell.nullable(),
    values: z.array(cell).max(100),
    as: z.string().regex(NAME),
  }),

  sentence: (step, world) => [
    step.where === 'item' ? 'Record in ' : step.match ? 'Record in a row of ' : 'Record a new row in ',
    step.where === 'item' ? 'the row it came from' : outletPhrase(step.outlet, world),
  ],

  prepare(step, world): Prepared {
    // Only what is named is written: a column without words stays what it is.
    const values = step.values
      .filter(({ column, value }) => column !== '' && value.trim() !== '')
      .map(({ column, value }) => ({ column, words: readWords(value, world.locale, world.timeZone) }));
    if (step.where === 'item') return prepareOwnRow(values);
    const match = step.match && {
      column: step.match.column,
      words: readWords(step.match.value, world.locale, world.timeZone),
    };
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
      settled: (_, slots) => made(slots),
    };

    /** The row that the item is. */
    function prepareOwnRow(written: typeof values): Prepared {
      return {
        plan: ({ fields }) => {
          const outlet = readField(fields, 'outlet.id');
          const row = fieldText(fields.id);
          const known = typeof outlet === 'number' && row !== '';
          const before = written.map(({ column }) => [column, fieldText(fields[column])] as const);
          return {
            go: 'perform',
            effects: [
              {
                action: 'record',
                outlet: known ? outlet : null,
                input: {
                  match: null,
                  row,
                  values: Object.fromEntries(written.map(({ column, words }) => [column, words.format(fields)])),
                  before: Object.fromEntries(before),
                },
                blocked: known ? undefined : { trouble: 'no-outlet', says: 'This item is no row of a table.' },
              },
            ],
          };
        },
        settled: (_, slots) => made(slots),
      };
    }

    function made([slot]: readonly Slot[]): Plan {
      const { remoteId = '', url = '' } = slot?.outcome ?? {};
      return { go: 'on', cell: null, values: { [`${step.as}.id`]: remoteId, [`${step.as}.url`]: url ?? '' } };
    }
  },

  problems(step, world) {
    const harm = (says: string) => ({ level: 'harm' as const, step: step.id, says });
    const problems =
      step.where === 'item' ? ownRowProblems(step, world) : outletProblems(step.id, step.outlet, 'record', world);
    if (!step.values.some(({ value }) => value.trim() !== '')) problems.push(harm('Say what is written into the row.'));
    if (step.values.some(({ column }) => column === '')) problems.push(harm('A column is not chosen.'));
    for (const { column, value } of [...step.values, ...(step.match ? [step.match] : [])])
      problems.push(...wordsProblems(step.id, `The value of ${column}`, value, false));
    return problems;
  },

  makes: ({ as }) => ({ [`${as}.id`]: TEXT, [`${as}.url`]: LINK }),
} satisfies Verb<RecordStep>;

/** There has to be a table that is watched, and it has to have the columns. */
function ownRowProblems(step: RecordStep, world: World): Problem[] {
  const tables = [...world.watches.values()].flatMap(({ outlet }) => {
    const table = outlet === undefined ? undefined : world.outlets.get(outlet);
    return table?.acts?.includes('record') ? [table] : [];
  });
  if (tables.length === 0)
    return [{ level: 'harm', step: step.id, says: 'What is watched is no table, so there is no row to write into.' }];
  const known = tables.flatMap((table) => table.details?.columns?.map(({ name }) => name) ?? []);
  if (known.length === 0) return [];
  return step.values
    .filter(({ column }) => column !== '' && !known.includes(column))
    .map(({ column }) => ({ level: 'harm', step: step.id, says: `The table has no column called “${column}”.` }));
}
