import { z } from 'zod';

/** How to reach a network of a kind: where it is and who we are there. */
export const networkSchema = z.object({
  /** What it calls itself. */
  name: z.string(),
  base: z.url().transform((url) => url.replace(/\/$/, '')),
  /** Who Playa is there, for networks that ask people on a consent page. */
  clientId: z.string().default(''),
  clientSecret: z.string().default(''),
});
export type NetworkConfig = z.infer<typeof networkSchema>;
