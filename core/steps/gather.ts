import { list, LONG_TEXT, NUMBER } from '../shapes/shape.ts';
import { z } from 'zod';
import { closingSchema, type Closing } from '../model/asks.ts';
import type { Piece } from '../captions/pieces.ts';
import { HandedBeside, handedOn, wordsFor, type Worded, type Wordings } from '../captions/worded.ts';
import type { FieldValue, Fields, Item } from '../items/item.ts';
import { fieldText, readField } from '../items/read-field.ts';
import { spokenLength } from '../text/durations.ts';
import { countGraphemes } from '../text/graphemes.ts';
import { stepBase } from './base.ts';
import type { Plan, Prepared, StepBase, Verb } from './verb.ts';
import { NAME, textNamed } from './words.ts';

export interface GatherStep extends StepBase {
  verb: 'gather';
  from:
    | { type: 'each'; step: string }
    /** Over runs: one list for every value of `group`, or one for all. */
    | {
        type: 'runs';
        group: string | null;
        closing: Closing;
        /** Which run goes on with the whole: the first when left out. What one person writes is answered at the last. */
        goesOn?: 'first' | 'last' | undefined;
      };
  /** The text or field that is taken of each. */
  take: string;
  /** What the whole is called: its text. `name.count` and `name.list` go with it. */
  as: string;
  /** What stands between two of them. */
  between: string;
  order: { by: string; direction: 'up' | 'down' } | null;
  most: number | null;
  /** What happens when there is nothing to gather. */
  whenEmpty: 'stop' | 'on';
}

/** Gather: make one of many. */
export const gather = {
  verb: 'gather',
  title: 'Gather',
  sort: 'thinking',
  schema: z.object({
    ...stepBase,
    verb: z.literal('gather'),
    from: z.discriminatedUnion('type', [
      z.object({ type: z.literal('each'), step: z.string().max(40) }),
      z.object({
        type: z.literal('runs'),
        group: z.string().max(300).nullable(),
        closing: closingSchema,
        goesOn: z.enum(['first', 'last']).optional(),
      }),
    ]),
    take: z.string().max(300),
    as: z.string().regex(NAME),
    between: z.string().max(40),
    order: z.object({ by: z.string().max(300), direction: z.enum(['up', 'down']) }).nullable(),
    most: z.number().int().min(1).max(500).nullable(),
    whenEmpty: z.enum(['stop', 'on']),
  }),

  sentence(step) {
    if (step.from.type === 'each') return [`Gather every ${step.take || '…'} into ${step.as}`];
    const last = step.from.goesOn === 'last' ? ', going on with the last' : '';
    return [`Gather ${step.take || '…'} of many items into ${step.as}, ${sayClosing(step.from.closing)}${last}`];
  },

  prepare(step): Prepared {
    const { from } = step;
    if (from.type === 'each') {
      return {
        plan: (env) => {
          const made = env.gathered(from.step).filter((each) => each !== null);
          return whole(
            step,
            made.map((each) => entryOf(step, { ...env.fields, ...each }, env.item)),
          );
        },
      };
    }
    const group = (fields: Fields) => (from.group === null ? '' : fieldText(readField(fields, from.group)));
    const close = (fields: Fields) => ({ of: 'close' as const, step: step.id, group: group(fields) });
    return {
      plan: ({ fields, item }) => ({
        go: 'ask',
        ask: {
          of: 'join',
          step: step.id,
          group: group(fields),
          value: entryOf(step, fields, item),
          closing: from.closing,
          ...(from.goesOn === 'last' ? { byLast: true } : {}),
        },
        cell: null,
      }),
      answered: ({ fields }, answer) => {
        if (answer.of === 'join') {
          const { carries, count, closesAt } = answer;
          if (!carries) return { go: 'stop', cell: { kind: 'joined', count, closesAt } };
          const why = `gathers with others, ${count} so far`;
          return {
            go: 'others',
            ask: close(fields),
            until: closesAt,
            cell: { kind: 'waits', until: closesAt, why, over: false },
          };
        }
        if (answer.of !== 'close') return { go: 'on', cell: null };
        if (answer.takenOver !== undefined)
          return { go: 'stop', cell: { kind: 'joined', count: answer.takenOver, closesAt: answer.closesAt } };
        if (answer.entries) return whole(step, answer.entries as unknown as Entry[]);
        const why = 'gathers with others';
        return {
          go: 'others',
          ask: close(fields),
          until: answer.closesAt,
          cell: { kind: 'waits', until: answer.closesAt, why, over: false },
        };
      },
    };
  },

  problems(step, _world, before) {
    const harm = (says: string) => [{ level: 'harm' as const, step: step.id, says }];
    if (step.from.type === 'each' && before.steps.get(step.from.step)?.verb !== 'foreach')
      return harm('Choose the For each above whose results are gathered.');
    if (step.from.type === 'runs') {
      const { at, count, silence } = step.from.closing;
      if (at === null && count === null && silence === null)
        return harm('Say when it is complete: at a time, after so many, or after silence.');
    }
    return step.take === '' ? harm('Choose what is taken of each.') : [];
  },

  makes: ({ as }) => ({ [as]: LONG_TEXT, [`${as}.count`]: NUMBER, [`${as}.list`]: list(LONG_TEXT) }),
} satisfies Verb<GatherStep>;

/** One thing gathered, with what it is ordered by. */
interface Entry {
  [name: string]: FieldValue;
  value: FieldValue;
  order: FieldValue;
  /** When the thing appeared, milliseconds since 1970 UTC: the order of what is not ordered otherwise. */
  at: FieldValue;
  /** The parts of a composed text, with their formatting, and what single outlets say instead; null for anything else. */
  words: FieldValue;
}

function entryOf(step: GatherStep, fields: Fields, item: Item): Entry {
  const text = textNamed(fields, step.take);
  const own = new HandedBeside([step.take]).outletsWithOwn(fields);
  const { pieces } = wordsFor(fields, step.take, text, 0);
  const words: Wordings = {
    ...(pieces ? { pieces } : {}),
    ...(own.length > 0
      ? { own: Object.fromEntries(own.map((outlet) => [outlet, wordsFor(fields, step.take, text, Number(outlet))])) }
      : {}),
  };
  return {
    value: text || (readField(fields, step.take) ?? null),
    order: step.order ? (readField(fields, step.order.by) ?? null) : null,
    at: item.publishedAt,
    words: pieces || own.length > 0 ? (words as unknown as FieldValue) : null,
  };
}

/** What the gathered amounts to: ordered, cut to the most, joined. */
function whole(step: GatherStep, entries: Entry[]): Plan {
  const { order } = step;
  // In the order in which things appeared, however their runs overtook one another.
  const inTurn = [...entries].sort((a, b) => momentOf(a) - momentOf(b));
  const sorted = order ? inTurn.sort((a, b) => compare(a.order, b.order, order.direction === 'down')) : inTurn;
  const kept = step.most === null ? sorted : sorted.slice(0, step.most);
  const filled = kept.filter(({ value }) => fieldText(value).trim() !== '');
  const values = filled.map(({ value }) => value);
  if (values.length === 0 && step.whenEmpty === 'stop')
    return { go: 'stop', cell: { kind: 'stops', why: 'nothing to gather' } };
  const { text, pieces } = joined(step, filled, null);
  const outlets = [...new Set(filled.flatMap((entry) => Object.keys(wordsOf(entry).own ?? {})))];
  const own = outlets.map((outlet) => [outlet, joined(step, filled, outlet)] as const);
  const words: Wordings = {
    ...(pieces ? { pieces } : {}),
    ...(own.length > 0 ? { own: Object.fromEntries(own) } : {}),
  };
  return {
    go: 'on',
    values: {
      [step.as]: text,
      [`${step.as}.count`]: values.length,
      [`${step.as}.list`]: values,
      ...(pieces || own.length > 0 ? handedOn(step.as, words) : {}),
    },
    cell: {
      kind: 'text',
      name: step.as,
      text,
      length: countGraphemes(text),
      empty: [],
      ...(own.length > 0 ? { own: own.map(([outlet, words]) => ({ outlet: Number(outlet), text: words.text })) } : {}),
    },
  };
}

/** What appeared without saying when comes as it was gathered, behind the others. */
const momentOf = ({ at }: Entry): number => (typeof at === 'number' ? at : Number.MAX_SAFE_INTEGER);

const wordsOf = ({ words }: Entry): Wordings => (words ?? {}) as unknown as Wordings;

/**
 * The whole as all outlets say it, or as one of them does: its own words of each, where it has some. The parts go with it
 * where one of what was gathered has formatting: their links and looks stay what they were.
 */
function joined(step: GatherStep, entries: readonly Entry[], outlet: string | null): Worded {
  const each = entries
    .map((entry): Worded => {
      const { pieces, own } = wordsOf(entry);
      return (outlet === null ? undefined : own?.[outlet]) ?? { text: fieldText(entry.value), pieces };
    })
    // What has no words there leaves no separator either.
    .filter(({ text }) => text.trim() !== '');
  const text = each.map((words) => words.text).join(step.between);
  if (!each.some(({ pieces }) => pieces)) return { text };
  const between: Piece[] = step.between === '' ? [] : [{ text: step.between }];
  const pieces = each.flatMap((words, index) => [
    ...(index > 0 ? between : []),
    ...(words.pieces ?? [{ text: words.text }]),
  ]);
  return { text, pieces };
}

/** Numbers by size, everything else as text; what is missing comes last, whichever way. */
function compare(a: FieldValue, b: FieldValue, down: boolean): number {
  const x = fieldText(a);
  const y = fieldText(b);
  if (x === '' || y === '') return (x === '' ? 1 : 0) - (y === '' ? 1 : 0);
  const up = typeof a === 'number' && typeof b === 'number' ? a - b : x < y ? -1 : x > y ? 1 : 0;
  return down ? -up : up;
}

function sayClosing({ at, count, silence }: Closing): string {
  const said = [
    ...(at === null ? [] : [`at ${at}`]),
    ...(count === null ? [] : [`after ${count}`]),
    ...(silence === null ? [] : [`after ${spokenLength(silence)} of silence`]),
  ];
  return said.length ? `complete ${said.join(' or ')}` : 'never complete yet';
}
