import { z } from 'zod';
import { webAddress, type CallOptions } from '../answers.ts';

export const profileSchema = z.object({
  id: z.string().min(1),
  handle: z.string(),
  display_name: z.string(),
  page: webAddress,
});
export const noteSchema = z.object({
  id: z.string().min(1),
  sort: z.enum(['original', 'repost', 'quote', 'reply']),
  text: z.string(),
  author: z.object({ id: z.string(), handle: z.string(), display_name: z.string() }),
  /** What it answers, quotes or repeats. */
  of: z.object({ id: z.string(), text: z.string(), author: z.string(), page: webAddress }).nullable(),
  page: webAddress,
  created_at: z.iso.datetime().transform((text) => Date.parse(text)),
});
/** A note that mentions one, with when one first answered it. */
export const mentionSchema = noteSchema.extend({
  answered_at: z.iso.datetime().nullable(),
});
export type Mention = z.infer<typeof mentionSchema>;
export type Note = z.infer<typeof noteSchema>;
const errorSchema = z.object({ errors: z.array(z.object({ detail: z.string().max(500) })).min(1) });
export const manner: CallOptions = { message: (body) => errorSchema.safeParse(body).data?.errors[0]!.detail };
