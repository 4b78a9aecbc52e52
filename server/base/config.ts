import { z } from 'zod';
import { NETWORK_KINDS } from '@playa/core/outlets/networks.ts';
import { networkSchema } from '../connectors/network-config.ts';

const schema = z.object({
  PLAYA_PORT: z.coerce.number().int().min(1).max(65535).default(4810),
  PLAYA_ORIGIN: z.url(),
  PLAYA_DATABASE_URL: z.url(),
  PLAYA_VAULT_KEY: z
    .string()
    .transform((text) => Buffer.from(text, 'base64'))
    .refine((key) => key.length === 32, 'PLAYA_VAULT_KEY has to be 32 bytes in base64.'),
  PLAYA_NETWORKS: z
    .string()
    .transform((text, context): unknown => {
      try {
        return JSON.parse(text);
      } catch {
        // The message of the parser repeats what it read, and secrets are in there.
        context.addIssue({ code: 'custom', message: 'This is not JSON.' });
        return z.NEVER;
      }
    })
    .pipe(z.partialRecord(z.enum(NETWORK_KINDS), networkSchema)),
  /** Keys that were in use before, in base64 with commas between: what they sealed still opens until it is sealed anew. */
  PLAYA_VAULT_OLD_KEYS: z
    .string()
    .default('')
    .transform((text) =>
      text
        .split(',')
        .filter(Boolean)
        .map((key) => Buffer.from(key, 'base64')),
    ),
  /** host:port pairs on private networks that may be fetched all the same, with commas between. */
  PLAYA_ALLOW_PRIVATE: z
    .string()
    .default('')
    .transform((text) =>
      text
        .split(',')
        .map((part) => part.trim())
        .filter(Boolean),
    ),
  /**
   * Whom to believe about where people come from: the number of proxies in front of Playa, or their addresses with
   * commas between (Express, "trust proxy"). Without it, everybody behind a proxy counts as one place.
   */
  PLAYA_TRUST_PROXY: z
    .string()
    .regex(/^(?:\d|[\w.:/, ]{3,500})?$/)
    .default('')
    .transform((text) => (/^\d$/.test(text) ? Number(text) : text)),
  /** Milliseconds by which Playa's clock is ahead of the machine's, for tests and demonstrations of another day. */
  PLAYA_CLOCK_AHEAD: z.coerce.number().int().default(0),
  /** Holds every answer against its description, for tests. */
  PLAYA_CHECK_ANSWERS: z.enum(['0', '1']).default('0'),
  PLAYA_DEMO: z.enum(['0', '1']).default('0'),
  PLAYA_WEB_DIR: z.string().optional(),
  /** How long a network may take to answer, in seconds. A claim on an effect lasts four times as long. */
  PLAYA_ANSWER_WITHIN: z.coerce.number().min(1).max(120).default(15),
  /** Runs that ended longer ago than this are thinned: what they said about each step is let go, in days. */
  PLAYA_KEEP_DAYS: z.coerce.number().int().min(1).max(3650).default(90),
  /** Whether the server works itself; otherwise worker processes are started beside it. */
  PLAYA_WORK: z.enum(['0', '1']).default('1'),
  PLAYA_LOG: z.enum(['debug', 'info', 'warn', 'error', 'silent']).default('info'),
});

/**
 * Reads the configuration from the environment.
 *
 * @throws an error that names every variable that is missing or wrong, without showing values
 */
export function readConfig(env: NodeJS.ProcessEnv) {
  const read = schema.safeParse(env);
  if (!read.success) {
    throw new Error(
      `The configuration is not complete: ${read.error.issues.map((issue) => `${issue.path.join('.')}: ${issue.message}`).join('; ')}`,
    );
  }
  const { data } = read;
  return {
    port: data.PLAYA_PORT,
    origin: data.PLAYA_ORIGIN.replace(/\/$/, ''),
    databaseUrl: data.PLAYA_DATABASE_URL,
    vaultKey: data.PLAYA_VAULT_KEY,
    oldVaultKeys: data.PLAYA_VAULT_OLD_KEYS,
    networks: data.PLAYA_NETWORKS,
    allowPrivate: data.PLAYA_ALLOW_PRIVATE,
    trustProxy: data.PLAYA_TRUST_PROXY,
    clockAhead: data.PLAYA_CLOCK_AHEAD,
    checkAnswers: data.PLAYA_CHECK_ANSWERS === '1',
    demo: data.PLAYA_DEMO === '1',
    webDir: data.PLAYA_WEB_DIR,
    answerWithin: data.PLAYA_ANSWER_WITHIN * 1000,
    keepDays: data.PLAYA_KEEP_DAYS,
    work: data.PLAYA_WORK === '1',
    log: data.PLAYA_LOG,
  };
}
export type Config = ReturnType<typeof readConfig>;
