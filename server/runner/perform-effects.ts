import { actText, type ActName, type Outcome } from '@playa/core/engine/acts.ts';
import { sayAct } from '@playa/core/engine/slots.ts';
import { DEFAULT_RETRY, retryDelay, type RetryPolicy } from '@playa/core/engine/retry.ts';
import { noteRefused } from '../accounts/sessions.ts';
import { NetworkTrouble } from '../connectors/connector.ts';
import { inTransaction, type Queryable } from '../db/database.ts';
import type { Services } from '../services.ts';
import { accountKinds, markOk } from '../store/accounts.ts';
import { blockBucket, Buckets } from '../store/buckets.ts';
import { noteChange } from '../store/changes.ts';
import * as effects from '../store/effects.ts';
import { addLogEntry } from '../store/logbook.ts';
import { lockRun } from '../store/runs.ts';
import { Batch } from './apply.ts';
import { isLocal, performLocally, performOutside } from './perform-act.ts';
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
  const most = options.most ?? 20;
  const { claimed, met } = await inTransaction(services.pool, async (db) => {
    const now = services.clock();
    const due = await effects.lockDueEffects(db, now, most);
    const allowed = await withinLimits(services, db, due, now);
    const taken = await effects.claimEffects(db, allowed, now, leaseOf(services));
    if (taken.length > 0) options.probe?.('effect: claimed, not committed');
    return { claimed: taken, met: due.length };
  });
  if (claimed.length > 0) options.probe?.('effect: claimed');
  await Promise.all(claimed.map((effect) => perform(services, effect, options)));
  return met;
}

/** Leaves out what the networks do not allow yet, and puts it off. */
async function withinLimits<R extends { id: number; account_id: number | null; outlet_id: number | null }>(
  services: Services,
  db: Queryable,
  due: readonly R[],
  now: number,
): Promise<R[]> {
  const accounts = [...new Set(due.flatMap((row) => row.account_id ?? []))];
  if (accounts.length === 0) return [...due];
  const kinds = await accountKinds(db, accounts);
  const rulesOf = (row: R) => {
    const kind = row.account_id === null ? undefined : kinds.get(row.account_id);
    const limits = kind === undefined ? undefined : services.connectors[kind].limits;
    return [
      [`account ${row.account_id}`, limits?.account ?? null] as const,
      ...(limits?.outlet ? [[`outlet ${row.outlet_id}`, limits.outlet] as const] : []),
    ];
  };
  const scopes = due.flatMap((row) => (row.account_id === null ? [] : rulesOf(row).map(([scope]) => scope)));
  const buckets = await Buckets.lock(db, scopes);
  const allowed: R[] = [];
  const later: { id: number; at: number }[] = [];
  for (const row of due) {
    const at = row.account_id === null ? null : buckets.take(rulesOf(row), now);
    if (at === null) allowed.push(row);
    else later.push({ id: row.id, at });
  }
  await buckets.save(db);
  await effects.putOffEffects(db, later);
  return allowed;
}

async function perform(services: Services, effect: effects.ClaimedEffect, options: PerformOptions): Promise<void> {
  try {
    if (isLocal(effect)) return await record(services, effect, null, options.probe);
    const outcome = await performOutside(services, effect);
    // Nothing was sent, so nothing becomes unsure by it.
    if (outcome === 'late') return void (await putBack(services, effect));
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

/**
 * Records what was done and takes the run further, in one transaction.
 *
 * @param sent null for what is done in the same transaction
 */
async function record(
  services: Services,
  effect: effects.ClaimedEffect,
  sent: Outcome | null,
  probe?: Probe,
): Promise<void> {
  await inTransaction(services.pool, async (db) => {
    const run = await lockRun(db, effect.runId);
    const now = services.clock();
    // Whoever has lost the claim does nothing of Playa's own a second time.
    if (!sent && !(await effects.holdsClaim(db, effect))) return;
    const outcome = sent ?? (await performLocally(db, effect, now));
    // Without the lease somebody else settles it; but a late answer still tells the run what became of its post.
    await effects.endEffect(db, effect, outcome);
    if (isLogged(effect.action)) {
      await addLogEntry(db, {
        key: effect.key,
        brandId: effect.brandId,
        workflowId: effect.workflowId,
        runId: effect.runId,
        action: effect.action,
        place: effect.place,
        outletId: effect.outletId,
        text: actText(effect) ?? sayAct(effect),
        card: effect.action === 'publish' ? effect.input.card : null,
        url: outcome.url,
        remoteId: outcome.remoteId,
        at: outcome.at,
      });
    }
    if (effect.accountId !== null) await markOk(db, effect.accountId, now);
    if (run)
      await new Batch(db, now).takeOrHold(run, { type: 'done', key: effect.key, outcome }, logFault(services, run));
    probe?.('effect: recorded, not committed');
  });
}

/** Looking something up leaves nothing behind that the logbook should keep. */
const isLogged = (action: ActName) => action !== 'find' && action !== 'draft';

async function putBack(services: Services, effect: effects.ClaimedEffect): Promise<void> {
  const { unsure, failures } = effect;
  const later = { at: services.clock(), unsure, failures, trouble: 'This worker came too late; another takes over.' };
  await effects.postponeEffect(services.pool, effect, later);
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
  if (trouble.kind === 'reconnect' && effect.accountId !== null) {
    await noteRefused(services, { id: effect.accountId, brandId: effect.brandId }, trouble.message);
    await effects.setEffectAside(services.pool, effect, { until: 'account', unsure, trouble: trouble.message });
    return tell(services, effect);
  }
  if (trouble.kind === 'fix') return hold(services, effect, unsure, trouble.message);
  // Being asked to go slower is not a failure of this post, but holds for whatever else the account would send.
  if (trouble.limited && effect.accountId !== null && trouble.retryAfter > 0) {
    const now = services.clock();
    await blockBucket(services.pool, `account ${effect.accountId}`, now + trouble.retryAfter, now);
  }
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
