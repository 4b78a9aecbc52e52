import type { WorldOutlet } from '../model/world.ts';
import { rowShape } from '../shapes/of-columns.ts';
import { CONTACT, FILE, POST } from './made.ts';
import { NUMBER, object, YES_NO, type ShapeFields } from '../shapes/shape.ts';
import { z } from 'zod';
import { FINDABLE, type Findable } from '../model/acts.ts';
import type { Slot } from '../model/state.ts';
import type { FieldValue, Fields } from '../items/item.ts';
import { networkOf } from '../items/person.ts';
import { stepBase } from './base.ts';
import type { Plan, Prepared, StepBase, Verb } from './verb.ts';
import { NAME, outletPhrase, outletProblems, readWords, wordsProblems } from './words.ts';

export interface FindStep extends StepBase {
  verb: 'find';
  what: Findable;
  /** Where rows and files are looked for; people and earlier posts are Playa's own. */
  outlet: number | null;
  /** The property compared, and the wording it must equal. */
  by: string;
  value: string;
  /** What later steps call what was found. */
  as: string;
  whenNone: 'on' | 'stop' | 'hold';
  whenSeveral: 'first' | 'stop' | 'hold';
}

/** Stands for the link of a file that is found when the workflow runs. */
const FOUND_LATER = '(the file found when it runs)';

/** What each sort of thing can be looked up by. */
export const FIND_BY: Record<Findable, readonly string[]> = {
  person: ['id', 'name', 'label'],
  post: ['text', 'url', 'card'],
  row: [],
  file: ['name', 'pattern'],
};

/** Find: look something up. Finding none or several is an outcome, not an error. */
export const find = {
  verb: 'find',
  title: 'Find',
  sort: 'looking',
  schema: z.object({
    ...stepBase,
    verb: z.literal('find'),
    what: z.enum(FINDABLE),
    outlet: z.number().int().positive().nullable(),
    by: z.string().max(200),
    value: z.string().max(2000),
    as: z.string().regex(NAME),
    whenNone: z.enum(['on', 'stop', 'hold']),
    whenSeveral: z.enum(['first', 'stop', 'hold']),
  }),

  sentence(step, world) {
    const what = step.what === 'post' ? 'an earlier post' : `a ${step.what}`;
    const where = step.what === 'row' || step.what === 'file' ? [' in ', outletPhrase(step.outlet, world)] : [];
    return [`Find ${what}`, ...where, ` by ${step.by || '…'}`];
  },

  prepare(step, world): Prepared {
    const words = readWords(step.value, world.locale);
    const ask = (says: string, trouble: 'none' | 'several'): Plan => ({
      go: 'perform',
      effects: [{ action: 'hold', outlet: null, input: { text: null }, blocked: { trouble, says } }],
    });
    const on = (rows: readonly FieldValue[]): Plan => ({ go: 'on', cell: null, values: foundValues(step.as, rows) });
    return {
      plan: ({ fields }) => ({
        go: 'perform',
        effects: [
          {
            action: 'find',
            outlet: step.outlet,
            input: {
              what: step.what,
              by: step.by,
              value: words.format(fields),
              ...(step.what === 'person' && { network: networkOf(fields, 'person.id') || undefined }),
            },
          },
        ],
      }),
      settled: (_, [slot]) => {
        // The question to a person: with a yes it goes on with what there is.
        if (slot?.action === 'hold') {
          if (slot.status !== 'done') return { go: 'stop', cell: { kind: 'stops', why: 'a person said no' } };
          return on([]);
        }
        const rows = rowsOf(slot?.outcome?.result);
        if (rows.length === 0 && step.whenNone === 'stop')
          return { go: 'stop', cell: { kind: 'stops', why: `no ${step.what} was found` } };
        if (rows.length === 0 && step.whenNone === 'hold')
          return ask(`No ${step.what} was found. Go on without?`, 'none');
        if (rows.length > 1 && step.whenSeveral === 'stop')
          return { go: 'stop', cell: { kind: 'stops', why: `${rows.length} were found` } };
        if (rows.length > 1 && step.whenSeveral === 'hold')
          return ask(`${rows.length} were found. Go on without choosing one?`, 'several');
        return on(rows);
      },
      result: (outcome) => {
        const rows = rowsOf(outcome.result);
        return rows.length === 0 ? 'none found' : rows.length === 1 ? 'found' : `${rows.length} found`;
      },
      // Nothing is looked up; one that says nothing is taken as found, so that the rest can be seen.
      pretend: (_, slot) => ({ rows: [step.what === 'file' ? someFile(slot) : {}] }),
    };
  },

  problems(step, world) {
    const needsOutlet = step.what === 'row' || step.what === 'file';
    return [
      ...(needsOutlet ? outletProblems(step.id, step.outlet, 'find', world) : []),
      ...(step.by === '' ? [{ level: 'harm' as const, step: step.id, says: 'Choose what it is looked up by.' }] : []),
      ...wordsProblems(step.id, 'What is looked for', step.value),
    ];
  },

  makes: ({ as, what, outlet }, world) => ({
    [as]: object(foundShape(what, outlet === null ? undefined : world.outlets.get(outlet))),
    [`${as}.found`]: YES_NO,
    [`${as}.count`]: NUMBER,
  }),
} satisfies Verb<FindStep>;

/** What something that is found looks like. @param outlet where it is looked for */
function foundShape(what: FindStep['what'], outlet: WorldOutlet | undefined): ShapeFields {
  switch (what) {
    case 'row':
      return rowShape(outlet?.details);
    case 'file':
      return FILE;
    case 'person':
      return CONTACT;
    case 'post':
      return POST.fields;
  }
}

/** A file that nobody has looked for yet: it has the name it was looked for by, and a link of its own. */
function someFile(slot: Slot): FieldValue {
  const name = slot.action === 'find' && slot.input.by === 'name' ? slot.input.value : '';
  return { name, link: FOUND_LATER };
}

function rowsOf(result: Fields | undefined): FieldValue[] {
  return Array.isArray(result?.rows) ? result.rows : [];
}

function foundValues(as: string, rows: readonly FieldValue[]): Fields {
  const values: Fields = { [as]: rows[0] ?? {}, [`${as}.found`]: rows.length > 0, [`${as}.count`]: rows.length };
  // Posts can be revised: they are named the way Publish names its own.
  const posts = rows.slice(0, 1).filter((row) => row !== null && typeof row === 'object' && 'outlet' in row);
  if (posts.length) values[`${as}.posts`] = posts;
  return values;
}
