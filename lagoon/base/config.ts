import { z } from 'zod';

const clientSchema = z.object({
  id: z.string(),
  name: z.string(),
  secret: z.string().min(16),
  /** Compared character by character (RFC 9700 section 2.1). */
  redirectUris: z.array(z.url()),
});
export type Client = z.infer<typeof clientSchema>;

const schema = z.object({
  LAGOON_PORT: z.coerce.number().int().min(1).max(65535).default(4811),
  LAGOON_DATABASE_URL: z.url(),
  /** Applications that may ask people for access. JSON. */
  LAGOON_CLIENTS: z
    .string()
    .transform((text) => JSON.parse(text))
    .pipe(z.array(clientSchema)),
  /** How many writes a minute a service allows per access. */
  LAGOON_WRITES_PER_MINUTE: z.coerce.number().positive().default(120),
  /** Where Lagoon Mail takes letters; it does not when this is not set. */
  LAGOON_MAIL_PORT: z.coerce.number().int().min(1).max(65535).optional(),
  /** Milliseconds by which Lagoon's clock is ahead of the machine's. */
  LAGOON_CLOCK_AHEAD: z.coerce.number().int().default(0),
  LAGOON_EMPTY: z.enum(['0', '1']).default('0'),
});

export function readConfig(env: NodeJS.ProcessEnv) {
  const read = schema.parse(env);
  return {
    port: read.LAGOON_PORT,
    origin: `http://127.0.0.1:${read.LAGOON_PORT}`,
    databaseUrl: read.LAGOON_DATABASE_URL,
    clients: read.LAGOON_CLIENTS,
    mailPort: read.LAGOON_MAIL_PORT,
    writesPerMinute: read.LAGOON_WRITES_PER_MINUTE,
    clockAhead: read.LAGOON_CLOCK_AHEAD,
    empty: read.LAGOON_EMPTY === '1',
  };
}
export type Config = ReturnType<typeof readConfig>;
