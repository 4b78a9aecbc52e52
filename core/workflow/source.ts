import { z } from 'zod';
import { groupSchema } from '../conditions/condition.ts';

/** Where items come from: a watch of the brand's, by its number. Null until one has been chosen. */
export const sourceSchema = z.object({
  id: z.string().regex(/^[\w-]{1,40}$/),
  watch: z.number().int().positive().nullable(),
  /** What must hold for this source's items, before any step. */
  condition: groupSchema.optional(),
});
export type Source = z.infer<typeof sourceSchema>;
