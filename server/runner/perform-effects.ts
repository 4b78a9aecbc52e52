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
import { addLogEntries, type NewLogEntry } from '../store/logbook.ts';
import { lockRun, lockRuns } from '../store/runs.ts';
import { Batch } from './apply.ts';
import { Desk, isLocal, performLocally, performOutside } from './perform-act.ts';
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
  const recorder = new Recorder(services, options.probe);
  const desk = new Desk(services);
  await Promise.all(claimed.map((effect) => perform(services, effect, { ...options, recorder, desk })));
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

interface Performing extends PerformOptions {
  recorder: Recorder;
  desk: Desk;
}

async function perform(services: Services, effect: effects.ClaimedEffect, options: Performing): Promise<void> {
  const { recorder, desk, probe } = options;
  try {
    if (isLocal(effect)) return await recorder.record(effect, null);
    const outcome = await performOutside(services, effect, desk);
    // Nothing was sent, so nothing becomes unsure by it.
    if (outcome === 'late') return void (await putBack(services, effect));
    if (outcome === 'ask') return await hold(services, effect, true, NOBODY_KNOWS);
    probe?.('effect: sent');
    await recorder.record(effect, outcome);
    probe?.('effect: committed');
  } catch (error) {
    if (error instanceof NetworkTrouble) return meet(services, effect, error, options.retry ?? DEFAULT_RETRY);
    // A fault of ours, or the database is away. The claim runs out and the effect is taken up again.
    services.log.error({ err: error, effect: effect.id }, 'an effect could not be settled');
  }
}

const NOBODY_KNOWS = 'It is not known whether this went out, and the network cannot tell. Please look there.';

interface ToRecord {
  effect: effects.ClaimedEffect;
  /** Null for what is done in the same transaction. */
  sent: Outcome | null;
  settled: () => void;
  failed: (error: unknown) => void;
}

/**
 * Records what was done and takes the runs further. What is done while one transaction is on its way is recorded by the
 * next one together.
 */
class Recorder {
  readonly #services: Services;
  readonly #probe: Probe | undefined;
  #queue: ToRecord[] = [];
  #busy = false;

  constructor(services: Services, probe: Probe | undefined) {
    this.#services = services;
    this.#probe = probe;
  }

  record(effect: effects.ClaimedEffect, sent: Outcome | null): Promise<void> {
    return new Promise((settled, failed) => {
      this.#queue.push({ effect, sent, settled, failed });
      if (!this.#busy) void this.#work();
    });
  }

  async #work(): Promise<void> {
    this.#busy = true;
    // Others that were done in this very moment come along.
    await Promise.resolve();
    while (this.#queue.length > 0) {
      const together = this.#queue;
      this.#queue = [];
      await this.#together(together);
    }
    this.#busy = false;
  }

  async #together(entries: ToRecord[]): Promise<void> {
    try {
      await recordAll(this.#services, entries, this.#probe);
      for (const entry of entries) entry.settled();
    } catch (error) {
      if (entries.length === 1) return entries[0]!.failed(error);
      // One of them may be what the others fail for.
      for (const entry of entries) await this.#together([entry]);
    }
  }
}

async function recordAll(services: Services, entries: readonly ToRecord[], probe?: Probe): Promise<void> {
  await inTransaction(services.pool, async (db) => {
    const runs = await lockRuns(db, [...new Set(entries.map(({ effect }) => effect.runId))]);
    const now = services.clock();
    const done: { effect: effects.ClaimedEffect; outcome: Outcome }[] = [];
    for (const { effect, sent } of entries) {
      // Whoever has lost the claim does nothing of Playa's own a second time.
      if (!sent && !(await effects.holdsClaim(db, effect))) continue;
      done.push({ effect, outcome: sent ?? (await performLocally(db, effect, now)) });
    }
    // Without the lease somebody else settles it; but a late answer still tells the run what became of its post.
    await effects.endEffects(db, done);
    await addLogEntries(
      db,
      done.filter(({ effect }) => isLogged(effect.action)).map(({ effect, outcome }) => logEntry(effect, outcome)),
    );
    const accounts = new Set(done.flatMap(({ effect }) => effect.accountId ?? []));
    for (const account of accounts) await markOk(db, account, now);
    const batch = new Batch(db, now, services.programs);
    await batch.loadItems([...runs.values()]);
    for (const { effect, outcome } of done) {
      const run = runs.get(effect.runId);
      if (run) await batch.takeOrHold(run, { type: 'done', key: effect.key, outcome }, logFault(services, run));
    }
    await batch.flush();
    probe?.('effect: recorded, not committed');
  });
}

function logEntry(effect: effects.ClaimedEffect, outcome: Outcome): NewLogEntry {
  return {
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
  };
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
    const batch = new Batch(db, services.clock(), services.programs);
    await batch.takeOrHold(run, failed, logFault(services, run));
    await batch.flush();
  });
}

const logFault = (services: Services, run: { id: number }) => (error: unknown) => {
  services.log.error({ err: error, run: run.id }, 'a run could not go on');
};
