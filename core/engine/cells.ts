import { z } from 'zod';

// What a run sheet's cell shows: the trace of one step for one item. The same in a rehearsal, in a test and in what
// happened. Stored with every run, so fields are added here, never renamed.

/** One post of a Publish cell. */
export const postCellSchema = z.object({
  outlet: z.number(),
  /** planned: would be sent. sending: on its way. held: waits for a person, with `says`. */
  status: z.enum(['planned', 'sending', 'posted', 'held', 'skipped']),
  text: z.string(),
  /** The page shown as a card below the text. */
  card: z.string().nullable(),
  /** In the unit of the outlet's kind. */
  length: z.number(),
  limit: z.number().nullable(),
  /** When it goes or went out, milliseconds since 1970 UTC. */
  at: z.number(),
  /** Where it can be seen. */
  url: z.string().optional(),
  /** Why it is held. */
  says: z.string().optional(),
  /** The sort of trouble, for remedies and for counting. */
  trouble: z.enum(['empty', 'too-long', 'no-outlet', 'failed', 'unknown']).optional(),
  /** The key of the effect, once there is one. */
  key: z.string().optional(),
});
export type PostCell = z.infer<typeof postCellSchema>;

const off = { off: z.boolean().optional() };
export const cellSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('passes'), why: z.string(), ...off }),
  z.object({ kind: z.literal('stops'), why: z.string(), ...off }),
  z.object({
    kind: z.literal('text'),
    name: z.string(),
    text: z.string(),
    /** Grapheme clusters. */
    length: z.number(),
    /** Fields it uses that say nothing in this item. */
    empty: z.array(z.string()),
    /** Why there is no text. */
    wrong: z.string().optional(),
    ...off,
  }),
  z.object({ kind: z.literal('posts'), posts: z.array(postCellSchema), ...off }),
]);
export type Cell = z.infer<typeof cellSchema>;

/** The cells of a run by step id. A step that is missing was not reached. */
export const traceSchema = z.record(z.string(), cellSchema);
export type Trace = z.infer<typeof traceSchema>;
