import { z } from 'zod';
import { DESK_KINDS } from './kinds.ts';

/** What an answer is drafted to. What the brand says of its voice, and said to the person before, is added when it is. */
export const answeredSchema = z.object({
  kind: z.enum(DESK_KINDS),
  /** The network's own id of it. */
  id: z.string(),
  text: z.string(),
  stars: z.number().nullable(),
  /** The person, as the network knows them and calls them. */
  person: z.string(),
  network: z.string(),
  name: z.string(),
  /** Where they wrote. */
  outlet: z.number().nullable(),
  /** The title or caption of what they wrote under; empty where it stands by itself. */
  under: z.string(),
});
export type Answered = z.infer<typeof answeredSchema>;
