// A post that somebody writes by hand: the same two steps that a workflow words and sends with, kept with the post.
import { z } from 'zod';
import { compose, type ComposeStep } from './compose.ts';
import { publish, type PublishStep } from './publish.ts';

/** What a post says, and where and when it says it. */
export interface WrittenPost {
  compose: ComposeStep;
  publish: PublishStep;
  /** An address that the words can use as a field, and that shows as a card; empty for none. */
  link: string;
}

export const writtenPostSchema: z.ZodType<WrittenPost> = z.object({
  // A post is worded once: nothing takes turns.
  compose: compose.schema.omit({ others: true }),
  publish: publish.schema,
  link: z
    .string()
    .max(2000)
    .refine((link) => link === '' || /^https?:\/\/\S+$/i.test(link), 'A link begins with https:// or http://.'),
});
