import { z } from 'zod';
import { stepSchema } from '../steps/index.ts';

/** Where items come from: a watch of the brand's, by its number. Null until one has been chosen. */
export const sourceSchema = z.object({
  id: z.string().regex(/^[\w-]{1,40}$/),
  watch: z.number().int().positive().nullable(),
});
export type Source = z.infer<typeof sourceSchema>;

/** What a workflow does: its sources, and the steps in the order they happen. This is what a version keeps. */
export const definitionSchema = z
  .object({
    schema: z.literal(1),
    sources: z.array(sourceSchema).min(1).max(20),
    steps: z.array(stepSchema).max(100),
  })
  .superRefine((definition, context) => {
    const ids = [...definition.sources, ...definition.steps].map((part) => part.id);
    if (new Set(ids).size < ids.length) context.addIssue({ code: 'custom', message: 'Two steps have the same id.' });
  });
export type Definition = z.infer<typeof definitionSchema>;
