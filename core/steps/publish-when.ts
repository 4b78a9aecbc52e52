// When a Publish sends: at once, at a free time of the outlet's timetable, or at a moment.
import { z } from 'zod';
import { momentOf } from '../conditions/operators.ts';
import { fieldLabel } from '../items/field-label.ts';
import type { Fields } from '../items/item.ts';
import { fieldText, readField } from '../items/read-field.ts';
import type { Placing } from '../timetable/placing.ts';
import { writtenIn, type World } from '../model/world.ts';
import { localMoment } from '../text/local-moment.ts';
import { askWhen } from './ask-when.ts';
import type { Plan } from './verb.ts';

export type PublishWhen =
  /** The next time of the timetable that nobody holds. */
  | { type: 'free' }
  /** Before all that waits for a time; they move on. */
  | { type: 'front' }
  /** A moment of the brand's wall clock: "2026-12-24T18:00". */
  | {
      type: 'moment';
      at: string;
      /** Other moments for single outlets. */
      own?: { outlet: number; at: string }[] | undefined;
    }
  /** The moment that a field gives. */
  | { type: 'field'; field: string };

export const publishWhenSchema: z.ZodType<PublishWhen> = z.discriminatedUnion('type', [
  z.object({ type: z.literal('free') }),
  z.object({ type: z.literal('front') }),
  z.object({
    type: z.literal('moment'),
    at: z.string().max(40),
    own: z
      .array(z.object({ outlet: z.number().int().positive(), at: z.string().max(40) }))
      .max(50)
      .optional(),
  }),
  z.object({ type: z.literal('field'), field: z.string().max(300) }),
]);

/** The end of "Publish to the page …". */
export function sayWhen(when: PublishWhen | undefined): string {
  switch (when?.type) {
    case 'free':
      return 'at the next free time';
    case 'front':
      return 'at the next time, before all others';
    case 'moment':
      return `on ${when.at.replace('T', ' at ')}`;
    case 'field':
      return `at the moment ${fieldLabel(when.field || 'a field').toLowerCase()} says`;
    default:
      return 'at once';
  }
}

/** Where the outlets of a step are to be placed, by their turn; null when its moment cannot be read. */
type Placer = (fields: Fields, given: string | null) => ((turn: number, outlet: number) => Placing | undefined) | null;

/** @returns a function of the fields, and of what a person wrote in place of a moment that could not be read */
export function placer(step: { when?: PublishWhen | undefined; apart?: number | undefined }, world: World): Placer {
  const { when, apart } = step;
  const written = writtenIn(world);
  const fixed = (at: number) => (turn: number) => ({ when: at + turn * (apart ?? 0) * 1000 });
  switch (when?.type) {
    case undefined: {
      const placing: Placing | undefined = apart === undefined ? undefined : { when: 'now', apart };
      return () => () => placing;
    }
    case 'free':
    case 'front': {
      const placing: Placing = { when: when.type, ...(apart === undefined ? {} : { apart }) };
      return () => () => placing;
    }
    case 'moment': {
      const at = localMoment(when.at, written);
      if (at === null) return () => null;
      const all = fixed(at);
      const own = new Map(when.own?.map((each) => [each.outlet, localMoment(each.at, written) ?? at]));
      return () => (turn, outlet) => {
        const other = own.get(outlet);
        return other === undefined ? all(turn) : { when: other };
      };
    }
    case 'field':
      return (fields, given) => {
        const at = momentOf(given ?? fieldText(readField(fields, when.field)).trim(), written);
        return at === null ? null : fixed(at);
      };
  }
}

/** A moment that cannot be read is asked for; one that nobody has said stops the run. */
export function askForMoment(fields: Fields, when: PublishWhen | undefined, given: string | null): Plan {
  if (when?.type !== 'field') return { go: 'stop', cell: { kind: 'stops', why: 'nobody has said when' } };
  return askWhen(given ?? fieldText(readField(fields, when.field)).trim(), when.field);
}
