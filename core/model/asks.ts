// What the interpreter asks of its driver and gets answered at once, inside the same transaction (or, in a rehearsal,
// from virtual tables): things that other runs have a say in.
import { z } from 'zod';
import { fieldValueSchema } from '../items/item.ts';

/** When what is gathered over time is complete: whichever comes first. */
export const closingSchema = z.object({
  /** At this time of day in the brand's time zone. */
  at: z
    .string()
    .regex(/^([01]\d|2[0-3]):[0-5]\d$/)
    .nullable(),
  /** After so many. */
  count: z.number().int().min(1).max(500).nullable(),
  /** After so many seconds without another. */
  silence: z
    .number()
    .int()
    .min(1)
    .max(31 * 86_400)
    .nullable(),
});
export type Closing = z.infer<typeof closingSchema>;

export const askSchema = z.discriminatedUnion('of', [
  /** May this run go on, or has there been one for the same person (or whatever `by` says) within the period? */
  z.object({ of: z.literal('once'), by: z.string(), within: z.number().nullable() }),
  /** Which of several wordings is next? Not the one that was last; among the others `chance` decides. */
  z.object({ of: z.literal('rotation'), place: z.string(), choices: z.number().int(), chance: z.number() }),
  /** Put a value with those being gathered. */
  z.object({
    of: z.literal('join'),
    step: z.string(),
    group: z.string(),
    value: fieldValueSchema,
    closing: closingSchema,
    /** Whether whoever came last carries it on, not the first. */
    byLast: z.boolean().optional(),
  }),
  /** Is what this run carries complete? */
  z.object({ of: z.literal('close'), step: z.string(), group: z.string() }),
]);
export type Ask = z.infer<typeof askSchema>;

export type Answer =
  | { of: 'once'; fresh: boolean; since: number | null }
  | { of: 'rotation'; choice: number }
  /** One of a gathering carries it on; the others end here. `closesAt` is null when only a number closes it. */
  | { of: 'join'; carries: boolean; count: number; closesAt: number | null }
  /** `takenOver` when another carries it on by now: how many there are. */
  | { of: 'close'; entries: z.infer<typeof fieldValueSchema>[] | null; closesAt: number | null; takenOver?: number };
