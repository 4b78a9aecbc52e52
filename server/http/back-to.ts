import { z } from 'zod';

/** Places inside the interface only, whatever a browser makes of the rest: it leaves out tabs and turns backslashes. */
export const backToSchema = z
  .string()
  .max(300)
  .regex(/^\/(?!\/)[\w\-./~%?&=+:@]*$/, 'This leads out of Playa.');
