import type { Outcome } from '@playa/core/engine/effects.ts';
import { nextMove } from '@playa/core/engine/next-move.ts';
import { DEFAULT_RETRY, retryDelay, type RetryPolicy } from '@playa/core/engine/retry.ts';
import { noteRefused, sessionFor } from '../accounts/sessions.ts';
import { NetworkTrouble } from '../connectors/connector.ts';
import { inTransaction } from '../db/database.ts';
import type { Services } from '../services.ts';
import { accountBy, markOk } from '../store/accounts.ts';
import { noteChange } from '../store/changes.ts';
import * as effects from '../store/effects.ts';
import { addLogEntry } from '../store/logbook.ts';
import { outletBy } from '../store/outlets.ts';
import { lockRun } from '../store/runs.ts';
import { Batch } from './apply.ts';
import type { Probe } from './probe.ts';

/** A claim is lost after this long, in milliseconds; the network has a quarter of it to answer. */
export const leaseOf = (services: Services): number => services.config.answerWithin * 4;

export interface PerformOptions {
  probe?: Probe | undefined;
  retry?: RetryPolicy;
  most?: number;
}

/** Performs the effects that are due, and feeds what came of them back into their runs. Returns how many. */
export async function performEffects(services: Services, options: PerformOptions = {}): Promise<number> {
  const claimed = await inTransaction(services.pool, async (db) => {
    const found = await effects.claimDueEffects(db, services.clock(), leaseOf(services), options.most ?? 10);
    if (found.length > 0) options.probe?.('effect: claimed, not committed');
    return found;
  });
  if (claimed.length > 0) options.probe?.('effect: claimed');
  await Promise.all(claimed.map((effect) => perform(services, effect, options)));
  return claimed.length;
}

async function perform(services: Services, effect: effects.ClaimedEffect, options: PerformOptions): Promise<void> {
  try {
    const outcome = await send(services, effect);
    if (outcome === 'ask') return await hold(services, effect, true, NOBODY_KNOWS);
    options.probe?.('effect: sent');
    await record(services, effect, outcome, options.probe);
    options.probe?.('effect: committed');
  } catch (error) {
    if (error instanceof NetworkTrouble) return meet(services, effect, error, options.retry ?? DEFAULT_RETRY);
    // A fault of ours, or the database is away. The claim runs out and the effect is taken up again.
    services.log.error({ err: error, effect: effect.id }, 'an effect could not be settled');
  }
}

const NOBODY_KNOWS = 'It is not known whether this went out, and the network cannot tell. Please look there.';

async function send(services: Services, effect: effects.ClaimedEffect): Promise<Outcome | 'ask'> {
  const { pool, connectors } = services;
  const account = await accountBy(pool, effect.brandId, effect.accountId);
  const outlet = await outletBy(pool, effect.brandId, effect.outletId);
  if (!account || !outlet || outlet.gone) throw new NetworkTrouble('fix', 'The outlet is gone.');
  const publish = connectors[account.kind].publish;
  if (!publish) throw new NetworkTrouble('fix', 'Nothing can be published there.');
  const session = sessionFor(services, account);
  const move = nextMove(publish.repeats, effect.unsure);
  if (move === 'ask') return 'ask';
  if (move === 'look') {
    const found = await publish.find!(session, outlet.remoteId, effect.input, effect.firstSentAt ?? services.clock());
    if (found) return found;
  }
  return publish.send(session, outlet.remoteId, effect.input, effect.key);
}

/** Records what went out and takes the run further, in one transaction. */
async function record(
  services: Services,
  effect: effects.ClaimedEffect,
  outcome: Outcome,
  probe?: Probe,
): Promise<void> {
  await inTransaction(services.pool, async (db) => {
    const run = await lockRun(db, effect.runId);
    // Without the lease somebody else settles it; but a late answer still tells the run what became of its post.
    await effects.endEffect(db, effect, outcome);
    const now = services.clock();
    await addLogEntry(db, {
      key: effect.key,
      brandId: effect.brandId,
      workflowId: effect.workflowId,
      runId: effect.runId,
      outletId: effect.outletId,
      text: effect.input.text,
      card: effect.input.card,
      url: outcome.url,
      remoteId: outcome.remoteId,
      at: outcome.at,
    });
    await markOk(db, effect.accountId, now);
    if (run)
      await new Batch(db, now).takeOrHold(run, { type: 'done', key: effect.key, outcome }, logFault(services, run));
    probe?.('effect: recorded, not committed');
  });
}

/** Decides what a trouble means for an effect. */
async function meet(
  services: Services,
  effect: effects.ClaimedEffect,
  trouble: NetworkTrouble,
  policy: RetryPolicy,
): Promise<void> {
  // What was unsure before stays so until the network has said something definite about this very key.
  const unsure = trouble.kind === 'unknown' || (effect.unsure && !trouble.definite);
  if (trouble.kind === 'reconnect') {
    await noteRefused(services, { id: effect.accountId, brandId: effect.brandId }, trouble.message);
    await effects.setEffectAside(services.pool, effect, { until: 'account', unsure, trouble: trouble.message });
    return tell(services, effect);
  }
  if (trouble.kind === 'fix') return hold(services, effect, unsure, trouble.message);
  // Being asked to go slower is not a failure of this post.
  const failures = trouble.kind === 'wait' ? effect.failures : effect.failures + 1;
  const delay = retryDelay(policy, Math.max(1, failures), Math.random(), trouble.retryAfter);
  if (delay === null) return hold(services, effect, unsure, `${trouble.message} Tried ${failures} times.`);
  await effects.postponeEffect(services.pool, effect, {
    at: services.clock() + delay,
    unsure,
    failures,
    trouble: trouble.message,
  });
  return tell(services, effect);
}

async function tell(services: Services, effect: effects.ClaimedEffect): Promise<void> {
  await noteChange(services.pool, effect.brandId, 'runs', effect.workflowId, services.clock());
}

/** Gives an effect to a person: it will not be tried again by itself. */
async function hold(services: Services, effect: effects.ClaimedEffect, unsure: boolean, says: string): Promise<void> {
  await inTransaction(services.pool, async (db) => {
    const run = await lockRun(db, effect.runId);
    if (!(await effects.setEffectAside(db, effect, { until: 'held', unsure, trouble: says })) || !run) return;
    const failed = { type: 'failed' as const, key: effect.key, says, unknown: unsure };
    await new Batch(db, services.clock()).takeOrHold(run, failed, logFault(services, run));
  });
}

const logFault = (services: Services, run: { id: number }) => (error: unknown) => {
  services.log.error({ err: error, run: run.id }, 'a run could not go on');
};
