// What a run has come to know of its steps before it goes through them again, as it is kept with the run.
import { z } from 'zod';
import { outcomeSchema } from './acts.ts';

const knownActSchema = z.object({
  action: z.string(),
  key: z.string(),
  /** planned: in the outbox or on its way, and not to be taken back. held: nobody knows whether it went out. */
  status: z.enum(['planned', 'done', 'held', 'skipped', 'failed']),
  generation: z.number().int(),
  outcome: outcomeSchema.optional(),
  says: z.string().optional(),
  trouble: z.string().optional(),
  /** With what it was asked for, as far as that is still known. */
  input: z.record(z.string(), z.unknown()).optional(),
  text: z.string().optional(),
  length: z.number().optional(),
  /** What was asked, of acts that only ask. */
  asked: z.number().optional(),
});
/** An act that was asked for before. */
export type KnownAct = z.infer<typeof knownActSchema>;

export const memorySchema = z.object({
  /** By place and target as in their keys, until the run has come there again. */
  acts: z.record(z.string(), knownActSchema),
  /** Until when waits last that count from when the run first came there. */
  waits: z.record(z.string(), z.number()),
  /** Which of several wordings was taken of those that rotate, from 0. */
  rotations: z.record(z.string(), z.number()),
});
/** What is known of steps that a run has yet to come to again. Plain JSON. */
export type Memory = z.infer<typeof memorySchema>;
