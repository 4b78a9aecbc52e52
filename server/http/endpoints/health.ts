import { z } from 'zod';
import type { Services } from '../../base/services.ts';
import { ask } from '../../store/facts.ts';
import { openEndpoint } from '../contract/endpoint.ts';
import { Problem } from '../problem.ts';

/** Whoever asks wants to know now. */
const PATIENCE = 2000;

/** @throws Problem 503 where the database does not answer, or not in time */
export async function askDatabase({ pool, log }: Pick<Services, 'pool' | 'log'>): Promise<void> {
  let timer: NodeJS.Timeout | undefined;
  const late = new Promise<never>((_, failed) => {
    timer = setTimeout(() => failed(new Error('The database does not answer in time.')), PATIENCE);
  });
  try {
    await Promise.race([ask(pool), late]);
  } catch (error) {
    log.warn({ err: error }, 'the database does not answer');
    throw new Problem(503, 'The database does not answer.');
  } finally {
    clearTimeout(timer);
  }
}

export const healthEndpoints = [
  openEndpoint({
    method: 'get',
    path: '/health',
    name: 'readHealth',
    says: 'Whether Playa can do anything: whether its database answers.',
    answer: z.object({ ok: z.literal(true) }),
    refuses: { 503: 'The database does not answer.' },
    async run({ services }) {
      await askDatabase(services);
      return { ok: true as const };
    },
  }),
];
