import type { RetryPolicy } from '@playa/core/engine/retry.ts';
import type { Services } from './base/services.ts';
import { dropCalls } from './store/account-calls.ts';
import { foldCounts } from './store/counts.ts';
import { forgetClaims } from './store/claims.ts';
import { forgetChanges } from './store/changes.ts';
import { forgetDeliveries } from './store/hook-deliveries.ts';
import { thinTries } from './store/sign-in-tries.ts';
import { forgetAside } from './store/set-aside.ts';
import { sendDue } from './desk/send.ts';
import { thinRuns } from './store/run-changes.ts';
import { inTransaction } from './db/database.ts';
import { syncDue } from './sheets/sync/compare.ts';
import { readDeliveries } from './watch/hooks.ts';
import { Looker } from './watch/look.ts';
import { startTurning } from './watch/turning.ts';
import { renewSubscriptions } from './watch/websub.ts';
import { Performer } from './runner/perform-effects.ts';
import type { Probe } from './runner/probe.ts';
import { recordUnseen } from './runner/rebuild-records.ts';
import { takeRuns } from './runner/take-runs.ts';

/** How long an idle worker waits before it asks for work again, unless it is nudged. */
const IDLE = 400;
/** So much of what was counted is added up at once. */
const COUNTED = 5000;
const DAY = 86_400_000;

export interface WorkerOptions {
  probe?: Probe | undefined;
  retry?: RetryPolicy;
}

/**
 * Works until told to stop. Looking at sources goes on beside the rest, so that a slow source holds up nothing. Any
 * trouble with the database is waited out: all that matters is stored there.
 */
export async function work(services: Services, stop: AbortSignal, options: WorkerOptions = {}): Promise<void> {
  const looker = new Looker(services);
  const performer = new Performer(services, options);
  await Promise.all([
    repeat(services, stop, () => looker.round()),
    repeat(services, stop, () => readDeliveries(services)),
    repeat(services, stop, () => startTurning(services)),
    repeat(services, stop, () => sendDue(services)),
    repeat(services, stop, () => takeRuns(services, options.probe)),
    repeat(services, stop, () => performer.round()),
    repeat(services, stop, () => syncDue(services)),
    repeat(services, stop, () => renewSubscriptions(services), 20_000),
    repeat(services, stop, () => keepHouse(services), 60_000),
  ]);
  await Promise.all([looker.finish(), performer.finish()]);
}

/** Lets go of what is no longer needed. Returns how much there may still be. */
export async function keepHouse(services: Services): Promise<number> {
  const { pool, clock, config } = services;
  await services.calls.flush(pool);
  await dropCalls(pool, clock() - 40 * DAY);
  await forgetChanges(pool, clock() - 3_600_000);
  await thinTries(pool, clock() - DAY);
  await forgetClaims(pool, clock() - 400 * DAY);
  await forgetAside(pool, clock() - 30 * DAY);
  await forgetDeliveries(pool, clock() - config.keepDays * DAY, 2000);
  await recordUnseen(services);
  const folded = await inTransaction(pool, (db) => foldCounts(db, COUNTED));
  const thinned = await inTransaction(pool, (db) => thinRuns(db, clock() - config.keepDays * DAY, 500));
  return thinned === 500 || folded === COUNTED ? 1 : 0;
}

/**
 * One kind of work, again and again. Nothing of one round stays with the next: an idle worker takes no more memory after
 * a year than after a minute.
 */
export async function repeat(
  services: Pick<Services, 'nudges' | 'log'>,
  stop: AbortSignal,
  round: () => Promise<number>,
  idle = IDLE,
): Promise<void> {
  const { nudges } = services;
  let failures = 0;
  while (!stop.aborted) {
    let wait = idle;
    // Asked for before the round: a nudge during it is not missed.
    const since = nudges.count;
    try {
      if ((await round()) > 0) {
        wait = 0;
        // What this round did may be something to do for the others.
        nudges.nudge();
      }
      failures = 0;
    } catch (error) {
      failures++;
      services.log.error({ err: error }, 'a round of work failed; trying again');
      wait = Math.min(30_000, 500 * 2 ** failures);
    }
    // After a failure nothing but time helps.
    if (wait > 0) await nudges.wait(wait, failures > 0 || idle > IDLE ? null : since, stop);
  }
}
