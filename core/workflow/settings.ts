import { z } from 'zod';
import type { Fields } from '../items/item.ts';
import { fieldText, readField } from '../items/read-field.ts';
import { stepSchema, type Step } from '../steps/index.ts';
import { paceSchema, type Pace } from '../timetable/pace.ts';
import { weeklyHoursSchema, type WeeklyHours } from '../timetable/opening-hours.ts';

/** What holds for a whole workflow, whatever its steps. */
export interface Settings {
  /** Let each value of a field (a person, mostly) through once: for ever, or within so many seconds. */
  once: { by: string; within: number | null } | null;
  /** Nothing reaches people outside these hours; it waits for the next. */
  hours: WeeklyHours | null;
  /** How far apart things are sent: by this workflow, by one account, at one outlet. */
  pace: { workflow: Pace | null; account: Pace | null; outlet: Pace | null };
  /** How many runs may be under way at once; null for any number. */
  atOnce: number | null;
  /** Runs with the same value of this field follow one another in the order their items came. */
  inOrder: string | null;
  /** What is done when something has failed for good. What may have gone out is always held. */
  onFailure: { do: 'hold' } | { do: 'skip' } | { do: 'end' } | { do: 'steps'; steps: Step[] };
  /** Pause the workflow after so many runs in a row have failed; null for never. */
  stopAfter: number | null;
  /** Run again when one of these fields of an item changes; null for never. */
  onChange: string[] | null;
  /**
   * What becomes of a run when the thing it is about changes before it is through: it goes through its steps again with
   * the thing as it is now, goes on as it was, or ends. `update` when left out.
   */
  whileOpen?: 'update' | 'keep' | 'end' | undefined;
  /**
   * What becomes of a run when whoever it has written to writes again: it ends, since a person answers now. It goes on
   * when left out.
   */
  whenTheyWrite?: 'end' | undefined;
  /**
   * What was published longer ago than so many seconds when it is first seen starts nothing; null for any age. `OLDEST`
   * when left out.
   */
  oldest?: number | null | undefined;
  /** Whether things that Playa itself has made start it too, when they appear at its source. They do not when left out. */
  own?: 'start' | undefined;
  /** The most posts at one outlet in an hour and in a day: with more it is paused. `BRAKE` when left out. */
  brake?: Brake | undefined;
}

/** A weekend's silence of a source is made up for; what is older is no news. Seconds. */
export const OLDEST = 3 * 86_400;

/** Whether something is too old to start a run, when it is first seen. */
export function isTooOld(settings: Settings | undefined, publishedAt: number | null, now: number): boolean {
  const oldest = settings?.oldest === undefined ? OLDEST : settings.oldest;
  return oldest !== null && publishedAt !== null && now - publishedAt > oldest * 1000;
}

/** The most that goes out at one outlet before a workflow is paused. */
export interface Brake {
  hour: number;
  day: number;
}
/** More than any audience takes kindly; whoever means more says so. */
export const BRAKE: Brake = { hour: 20, day: 60 };

export const NO_SETTINGS: Settings = {
  once: null,
  hours: null,
  pace: { workflow: null, account: null, outlet: null },
  atOnce: null,
  inOrder: null,
  onFailure: { do: 'hold' },
  stopAfter: null,
  onChange: null,
};

const field = z.string().min(1).max(300);

export const settingsSchema: z.ZodType<Settings> = z.object({
  once: z.object({ by: field, within: z.number().int().positive().nullable() }).nullable(),
  hours: weeklyHoursSchema.nullable(),
  pace: z.object({
    workflow: paceSchema.nullable(),
    account: paceSchema.nullable(),
    outlet: paceSchema.nullable(),
  }),
  atOnce: z.number().int().min(1).max(1000).nullable(),
  inOrder: field.nullable(),
  onFailure: z.discriminatedUnion('do', [
    z.object({ do: z.literal('hold') }),
    z.object({ do: z.literal('skip') }),
    z.object({ do: z.literal('end') }),
    z.object({ do: z.literal('steps'), steps: z.array(z.lazy(() => stepSchema)).max(20) }),
  ]),
  stopAfter: z.number().int().min(1).max(100).nullable(),
  onChange: z.array(field).min(1).max(20).nullable(),
  whileOpen: z.enum(['update', 'keep', 'end']).optional(),
  whenTheyWrite: z.literal('end').optional(),
  oldest: z
    .number()
    .int()
    .min(60)
    .max(366 * 86_400)
    .nullable()
    .optional(),
  own: z.literal('start').optional(),
  brake: z.object({ hour: z.number().int().min(1).max(10_000), day: z.number().int().min(1).max(100_000) }).optional(),
});

/** What a run of an item keeps its order by; null when it keeps none. */
export function orderOf(settings: Settings | undefined, fields: Fields): string | null {
  if (!settings || settings.inOrder === null) return null;
  return fieldText(readField(fields, settings.inOrder)).trim() || null;
}
