import { setTimeout as pause } from 'node:timers/promises';
import type { RetryPolicy } from '@playa/core/engine/retry.ts';
import type { Services } from '../services.ts';
import { forgetChanges } from '../store/changes.ts';
import { lookAtDue } from '../watch/look.ts';
import { performEffects } from './perform-effects.ts';
import type { Probe } from './probe.ts';
import { takeRuns } from './take-runs.ts';

/** How long an idle worker waits before it asks for work again. */
const IDLE = 400;

export interface WorkerOptions {
  probe?: Probe | undefined;
  retry?: RetryPolicy;
}

/**
 * Works until told to stop. Looking at sources goes on beside the rest, so that a slow source holds up nothing. Any
 * trouble with the database is waited out: all that matters is stored there.
 */
export async function work(services: Services, stop: AbortSignal, options: WorkerOptions = {}): Promise<void> {
  await Promise.all([
    repeat(services, stop, () => lookAtDue(services)),
    repeat(services, stop, () => takeRuns(services, options.probe)),
    repeat(services, stop, () => performEffects(services, options)),
    repeat(services, stop, async () => (await forgetChanges(services.pool, services.clock() - 3_600_000), 0), 60_000),
  ]);
}

async function repeat(services: Services, stop: AbortSignal, round: () => Promise<number>, idle = IDLE): Promise<void> {
  let failures = 0;
  while (!stop.aborted) {
    let wait = idle;
    try {
      if ((await round()) > 0) wait = 0;
      failures = 0;
    } catch (error) {
      failures++;
      services.log.error({ err: error }, 'a round of work failed; trying again');
      wait = Math.min(30_000, 500 * 2 ** failures);
    }
    if (wait > 0) await pause(wait, undefined, { signal: stop }).catch(() => undefined);
  }
}
