import { z } from 'zod';

/** The part of a schema that every step has. */
export const stepBase = {
  id: z.string().regex(/^[\w-]{1,40}$/),
  off: z.boolean().optional(),
};
