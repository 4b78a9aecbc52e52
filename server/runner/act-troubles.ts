// What a trouble means for an act: again later, set aside, put before a person.
import type { Outdated } from '@playa/core/model/meanwhile.ts';
import type { Fault } from '@playa/core/model/cells.ts';
import { retryDelay, type RetryPolicy } from '@playa/core/engine/retry.ts';
import { noteRefused } from '../accounts/sessions.ts';
import { NetworkTrouble } from '../connectors/connector.ts';
import { inTransaction } from '../db/database.ts';
import type { Services } from '../base/services.ts';
import { blockBucket } from '../store/buckets.ts';
import { noteChange } from '../store/changes.ts';
import { noteGoneThere } from '../store/desk.ts';
import * as effects from '../store/effects.ts';
import * as effectEnds from '../store/effect-claims.ts';
import { markRunChanged, setRunWithdrawn } from '../store/run-changes.ts';
import { lockRuns } from '../store/runs.ts';
import { noteTry } from '../store/tries.ts';
import { isWithdrawn, noteAnswered } from './bring-up-to-date.ts';
import { Batch } from './apply.ts';
import { holdUnreadable } from './take-runs.ts';
import type { Claim } from '../store/effect-claims.ts';

export const NOBODY_KNOWS = 'It is not known whether this went out, and the network cannot tell. Please look there.';

/** An act that cannot be read is put before a person, as if it had failed. */
export async function holdUnreadableEffect(services: Services, effect: effects.UnreadableEffect): Promise<void> {
  services.log.error({ err: effect.error, effect: effect.id }, 'an act could not be read');
  try {
    await hold(
      services,
      effect,
      effect.unsure,
      'Playa cannot read what is to be done here. Another version of Playa may have written it.',
    );
  } catch (error) {
    services.log.error({ err: error, effect: effect.id }, 'an act could not be set aside');
  }
}

/**
 * Gives back an act that was certainly not sent, where its run has moved on since it was claimed: an open run plans it anew,
 * with its item as it is now; one that has ended takes it back. As it was it is never tried again.
 *
 * @returns whether that was so
 */
export async function giveBackOvertaken(
  services: Services,
  effect: Pick<effects.ClaimedEffect, 'id' | 'lease' | 'runId' | 'brandId' | 'workflowId'>,
  trouble: string,
): Promise<boolean> {
  return inTransaction(services.pool, async (db) => {
    const { runs } = await lockRuns(db, [effect.runId]);
    const run = runs.get(effect.runId);
    const now = services.clock();
    if (!run || !(await effectEnds.releaseOvertaken(db, effect, trouble, now))) return false;
    if (run.status === 'waiting' || run.status === 'held') await markRunChanged(db, run.id, now);
    else {
      const batch = new Batch(db, now, services.programs);
      await batch.takeOrHold(run, { type: 'cancelled' }, logFault(services, run));
      await batch.flush();
      await setRunWithdrawn(db, run.id, isWithdrawn(run, run.trace));
    }
    await noteChange(db, effect.brandId, 'runs', effect.workflowId, now);
    return true;
  });
}

const TOO_LATE = 'This worker came too late; another takes over.';

export async function putBack(services: Services, effect: effects.ClaimedEffect): Promise<void> {
  const { unsure, failures } = effect;
  if (!unsure && (await giveBackOvertaken(services, effect, TOO_LATE))) return;
  const later = { at: services.clock(), unsure, failures, trouble: TOO_LATE };
  await effectEnds.postponeEffect(services.pool, effect, later);
}

/** Decides what a trouble means for an effect. */
export async function meet(
  services: Services,
  effect: effects.ClaimedEffect,
  trouble: NetworkTrouble,
  policy: RetryPolicy,
): Promise<void> {
  await noteTry(services.pool, effect, { at: services.clock(), kind: trouble.kind, says: trouble.message });
  // What was unsure before stays so until the network has said something definite about this very key.
  const unsure = trouble.kind === 'unknown' || (effect.unsure && !trouble.definite);
  if (trouble.kind === 'reconnect' && effect.accountId !== null)
    await noteRefused(services, { id: effect.accountId, brandId: effect.brandId }, trouble.message);
  if (!unsure && (await giveBackOvertaken(services, effect, trouble.message))) return;
  if (trouble.kind === 'reconnect' && effect.accountId !== null) {
    await effectEnds.setEffectAside(services.pool, effect, { until: 'account', unsure, trouble: trouble.message });
    return tell(services, effect);
  }
  if (trouble.kind === 'fix') return hold(services, effect, unsure, trouble.message, trouble.fault);
  // Being asked to go slower is not a failure of this post, but holds for whatever else the account would send.
  if (trouble.limited && effect.accountId !== null && trouble.retryAfter > 0) {
    const now = services.clock();
    await blockBucket(services.pool, `account ${effect.accountId}`, now + trouble.retryAfter, now);
  }
  const failures = trouble.kind === 'wait' ? effect.failures : effect.failures + 1;
  const delay = retryDelay(policy, Math.max(1, failures), Math.random(), trouble.retryAfter);
  if (delay === null) return hold(services, effect, unsure, `${trouble.message} Tried ${failures} times.`);
  await effectEnds.postponeEffect(services.pool, effect, {
    at: services.clock() + delay,
    unsure,
    failures,
    trouble: trouble.message,
  });
  return tell(services, effect);
}

async function tell(services: Services, effect: Pick<effects.ClaimedEffect, 'brandId' | 'workflowId'>): Promise<void> {
  await noteChange(services.pool, effect.brandId, 'runs', effect.workflowId, services.clock());
}

/** Gives an answer that is no longer right to a person, or leaves it, as its step says. */
export async function overtaken(services: Services, effect: effects.ClaimedEffect, outdated: Outdated): Promise<void> {
  await inTransaction(services.pool, async (db) => {
    const { runs, unreadable } = await lockRuns(db, [effect.runId]);
    const aside = { until: 'held', unsure: effect.unsure, trouble: outdated.says } as const;
    if (!(await effectEnds.setEffectAside(db, effect, aside))) return;
    const now = services.clock();
    for (const run of unreadable) await holdUnreadable(services, db, run, now);
    const run = runs.get(effect.runId);
    if (!run) return;
    const batch = new Batch(db, now, services.programs);
    await batch.takeOrHold(run, { type: 'outdated', key: effect.key, outdated }, logFault(services, run));
    await batch.flush();
    if (outdated.what === 'answered') await noteAnswered(db, [run], now);
    if (outdated.what === 'gone' && effect.action === 'reply') {
      await noteGoneThere(db, { ...effect, to: effect.input.to });
      await noteChange(db, effect.brandId, 'desk', null, now);
    }
  });
}

type Held = Claim & Pick<effects.ClaimedEffect, 'key' | 'runId'>;

/** Gives an effect to a person: it will not be tried again by itself. */
export async function hold(
  services: Services,
  effect: Held,
  unsure: boolean,
  says: string,
  fault?: Fault,
): Promise<void> {
  await inTransaction(services.pool, async (db) => {
    const { runs, unreadable } = await lockRuns(db, [effect.runId]);
    if (!(await effectEnds.setEffectAside(db, effect, { until: 'held', unsure, trouble: says, fault }))) return;
    for (const run of unreadable) await holdUnreadable(services, db, run, services.clock());
    const run = runs.get(effect.runId);
    if (!run) return;
    const failed = { type: 'failed' as const, key: effect.key, says, unknown: unsure, fault };
    const batch = new Batch(db, services.clock(), services.programs);
    await batch.takeOrHold(run, failed, logFault(services, run));
    await batch.flush();
  });
}

export const logFault = (services: Services, run: { id: number }) => (error: unknown) => {
  services.log.error({ err: error, run: run.id }, 'a run could not go on');
};
