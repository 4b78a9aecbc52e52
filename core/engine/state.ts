import { z } from 'zod';
import { outcomeSchema, publishInputSchema } from './effects.ts';

/** One effect a run has asked for and waits for. */
export const slotSchema = z.object({
  key: z.string(),
  outlet: z.number(),
  action: z.literal('publish'),
  input: publishInputSchema,
  length: z.number(),
  limit: z.number().nullable(),
  /** How often a person has decided to try anew. Part of the key. */
  generation: z.number().int(),
  status: z.enum(['asked', 'done', 'held', 'skipped']),
  outcome: outcomeSchema.optional(),
  says: z.string().optional(),
  trouble: z.enum(['empty', 'too-long', 'no-outlet', 'failed', 'unknown']).optional(),
});
export type Slot = z.infer<typeof slotSchema>;

/** Where a run stands. Plain JSON, all there is to know besides the program and the item. */
export const runStateSchema = z.object({
  status: z.enum(['waiting', 'held', 'done', 'stopped']),
  /** Index of the step it stands at. */
  at: z.number().int(),
  /** Texts made so far, by name. */
  texts: z.record(z.string(), z.string()),
  /** Effects of the step it stands at. */
  slots: z.array(slotSchema),
});
export type RunState = z.infer<typeof runStateSchema>;

/** What can happen to a run. */
export type RunEvent =
  | { type: 'arrived' }
  | { type: 'done'; key: string; outcome: z.infer<typeof outcomeSchema> }
  /** Will not be tried again by itself: a refusal, too many failures, or (`unknown`) nobody knows whether it went out. */
  | { type: 'failed'; key: string; says: string; unknown: boolean }
  | { type: 'decided'; key: string; decision: Decision }
  /** Rehearsals only: whatever was asked counts as done, at this moment. */
  | { type: 'pretended'; at: number };

/** What a person says of something held. */
export type Decision =
  /** Try anew, perhaps with other words. */
  | { do: 'retry'; text?: string | undefined }
  /** Go on without it. */
  | { do: 'skip' }
  /** The person has seen that it did go out. */
  | { do: 'itWentOut'; url?: string | undefined };
