import { actText, type ActName, type Outcome } from '@playa/core/model/acts.ts';
import { sayAct } from '@playa/core/engine/slots.ts';
import type { Outdated } from '@playa/core/model/meanwhile.ts';
import { DEFAULT_RETRY, retryDelay, type RetryPolicy } from '@playa/core/engine/retry.ts';
import { cutUnits } from '@playa/core/text/graphemes.ts';
import { wellFormed } from '@playa/core/text/well-formed.ts';
import { noteRefused } from '../accounts/sessions.ts';
import { NetworkTrouble } from '../connectors/connector.ts';
import { concernsAll, inTransaction, type Queryable } from '../db/database.ts';
import type { Services } from '../base/services.ts';
import { accountKinds, markOk } from '../store/accounts.ts';
import { blockBucket, Buckets } from '../store/buckets.ts';
import { noteChange } from '../store/changes.ts';
import * as effects from '../store/effects.ts';
import { addLogEntries, type NewLogEntry } from '../store/logbook.ts';
import { addOwnThings, type OwnThing } from '../store/own-things.ts';
import { lockRuns } from '../store/runs.ts';
import { noteAnswered } from './bring-up-to-date.ts';
import { Batch, setRunAside } from './apply.ts';
import { ClaimQueue } from './claim-queue.ts';
import { Desk, isLocal, performLocally, performOutside } from './perform-act.ts';
import { usableOutcome } from './outcome.ts';
import type { Probe } from './probe.ts';
import { holdUnreadable } from './take-runs.ts';

/** A claim is lost after this long, in milliseconds; the network has a quarter of it to answer. */
export const leaseOf = (services: Services): number => services.config.answerWithin * 4;

export interface PerformOptions {
  probe?: Probe | undefined;
  retry?: RetryPolicy;
  most?: number;
}

/** Acts that go on at once in one worker. */
const AT_ONCE = 128;
/** Of one account, or of one workflow's calls: a network that hangs must leave room for the others. */
const AT_ONCE_THERE = 32;
/** Claimed in one transaction. */
const TOGETHER = 20;

/** Performs the effects that are due, and waits for all of them. Returns how many were met. */
export async function performEffects(services: Services, options: PerformOptions = {}): Promise<number> {
  const performer = new Performer(services, options);
  const met = await performer.round();
  await performer.finish();
  return met;
}

/**
 * Keeps a number of acts going at once. Each stands alone: none waits for another, and a network that does not answer
 * takes up no more than its own places.
 */
export class Performer {
  readonly #services: Services;
  readonly #options: PerformOptions;
  readonly #recorder: Recorder;
  readonly #claims: ClaimQueue;
  readonly #open = new Map<Promise<void>, effects.ClaimedEffect>();
  #freed: (() => void) | null = null;

  constructor(services: Services, options: PerformOptions = {}) {
    this.#services = services;
    this.#options = options;
    this.#recorder = new Recorder(services, options.probe);
    this.#claims = new ClaimQueue(services);
  }

  /** Takes up what is due, as far as there is room. Returns how many were met, also those that have to wait. */
  async round(): Promise<number> {
    await this.#room();
    const services = this.#services;
    const most = Math.min(this.#options.most ?? TOGETHER, AT_ONCE - this.#open.size);
    const { claimed, unreadable, met } = await inTransaction(services.pool, async (db) => {
      const now = services.clock();
      const busy = this.#busy();
      const due = this.#fair(await effects.lockDueEffects(db, now, most, busy));
      const allowed = await withinLimits(services, db, due, now);
      const taken = await effects.claimEffects(db, allowed, now, leaseOf(services));
      if (taken.claimed.length > 0) this.#options.probe?.('effect: claimed, not committed');
      return { ...taken, met: due.length };
    });
    if (claimed.length > 0) this.#options.probe?.('effect: claimed');
    for (const effect of unreadable) await holdUnreadableEffect(services, effect);
    const desk = new Desk(services, this.#claims);
    for (const effect of claimed) this.#begin(effect, desk);
    return met;
  }

  /** Waits for what is under way. */
  async finish(): Promise<void> {
    while (this.#open.size > 0) await Promise.all(this.#open.keys());
  }

  #begin(effect: effects.ClaimedEffect, desk: Desk): void {
    const work = perform(this.#services, effect, { ...this.#options, recorder: this.#recorder, desk });
    const settled = work.catch((error: unknown) => {
      // The database is away while a trouble is written down: the claim runs out and the effect is taken up again.
      this.#services.log.error({ err: error, effect: effect.id }, 'an effect could not be settled');
    });
    const performing = inTime(settled, leaseOf(this.#services)).finally(() => {
      this.#open.delete(performing);
      this.#freed?.();
      // What it did may be something to do for others, or there was no place for more.
      this.#services.nudges.nudge();
    });
    this.#open.set(performing, effect);
  }

  /** Waits until there is a place. */
  #room(): Promise<void> {
    if (this.#open.size < AT_ONCE) return Promise.resolve();
    return new Promise((resolve) => {
      this.#freed = () => {
        this.#freed = null;
        resolve();
      };
    });
  }

  /** Where enough is on its way already. */
  #busy(): effects.Busy {
    const accounts = new Map<number, number>();
    const workflows = new Map<number, number>();
    for (const { accountId, workflowId } of this.#open.values()) {
      if (accountId === null) workflows.set(workflowId, (workflows.get(workflowId) ?? 0) + 1);
      else accounts.set(accountId, (accounts.get(accountId) ?? 0) + 1);
    }
    const full = (counts: Map<number, number>) =>
      [...counts].filter(([, count]) => count >= AT_ONCE_THERE).map(([id]) => id);
    return { accounts: full(accounts), workflows: full(workflows) };
  }

  /** Leaves where they are those beyond the places of their account or workflow. */
  #fair<R extends { account_id: number | null; workflow_id: number }>(due: readonly R[]): R[] {
    const counts = new Map<string, number>();
    const count = (place: string) => {
      const now = (counts.get(place) ?? 0) + 1;
      counts.set(place, now);
      return now;
    };
    const placeOf = (account: number | null, workflow: number) =>
      account === null ? `workflow ${workflow}` : `account ${account}`;
    for (const { accountId, workflowId } of this.#open.values()) count(placeOf(accountId, workflowId));
    return due.filter((row) => count(placeOf(row.account_id, row.workflow_id)) <= AT_ONCE_THERE);
  }
}

/**
 * The same, but never longer than a claim lasts: an act that has not come to an end by then counts as lost, and frees its
 * place. Whatever still comes of it finds its claim gone.
 *
 * @param work never fails
 */
function inTime(work: Promise<void>, milliseconds: number): Promise<void> {
  return new Promise((resolve) => {
    const timer = setTimeout(resolve, milliseconds);
    void work.then(() => {
      clearTimeout(timer);
      resolve();
    });
  });
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
    const sent = await performOutside(services, effect, desk);
    // Nothing was sent, so nothing becomes unsure by it.
    if (sent === 'late') return void (await putBack(services, effect));
    if (sent === 'ask') return await hold(services, effect, true, NOBODY_KNOWS);
    if ('outdated' in sent) return await overtaken(services, effect, sent.outdated);
    const outcome = usableOutcome(sent, services.clock());
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

/**
 * Ends an act of which only that it was done can be stored. Its run waits for a person, and is told nothing of the
 * answer.
 */
async function recordBare(services: Services, { effect, sent }: ToRecord, error: unknown): Promise<void> {
  services.log.error({ err: error, effect: effect.id }, 'what came of an act could not be stored');
  await inTransaction(services.pool, async (db) => {
    const now = services.clock();
    if (sent) {
      const outcome = { remoteId: cutUnits(wellFormed(sent.remoteId), 200), url: null, at: now };
      await effects.endEffects(db, [{ effect, outcome }]);
    } else await effects.setEffectAside(db, effect, { until: 'held', unsure: false, trouble: NOT_STORED });
    await setRunAside(
      db,
      { id: effect.runId, workflowId: effect.workflowId },
      sent ? DONE_NOT_STORED : NOT_STORED,
      now,
    );
    await noteChange(db, effect.brandId, 'runs', effect.workflowId, now);
  });
}
const DONE_NOT_STORED = 'This was done, but what came back could not be stored. It is not done again by itself.';
const NOT_STORED = 'Playa could not store what came of this step. It is kept, and can be tried again.';

/** An act that cannot be read is put before a person, as if it had failed. */
async function holdUnreadableEffect(services: Services, effect: effects.UnreadableEffect): Promise<void> {
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
      const [alone] = entries;
      if (entries.length === 1 && alone) {
        if (concernsAll(error)) return alone.failed(error);
        // It was done, and must not be done again because what came of it cannot be stored.
        try {
          await recordBare(this.#services, alone, error);
          return alone.settled();
        } catch (second) {
          return alone.failed(second);
        }
      }
      // One of them may be what the others fail for.
      for (const entry of entries) await this.#together([entry]);
    }
  }
}

async function recordAll(services: Services, entries: readonly ToRecord[], probe?: Probe): Promise<void> {
  await inTransaction(services.pool, async (db) => {
    const { runs, unreadable } = await lockRuns(db, [...new Set(entries.map(({ effect }) => effect.runId))]);
    const now = services.clock();
    for (const run of unreadable) await holdUnreadable(services, db, run, now);
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
    await addOwnThings(
      db,
      done.flatMap(({ effect, outcome }) => ownThing(effect, outcome)),
      now,
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
    const answered = new Set(done.flatMap(({ effect }) => (effect.action === 'reply' ? [effect.runId] : [])));
    await noteAnswered(
      db,
      [...runs.values()].filter((run) => answered.has(run.id)),
      now,
    );
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

/** What an act has left at its outlet, for knowing it again when it appears at a source. */
function ownThing(effect: effects.ClaimedEffect, { remoteId, url }: Outcome): OwnThing[] {
  const { brandId, workflowId, outletId } = effect;
  const made = { brandId, workflowId, outletId, remoteId };
  if (effect.action === 'record') return [{ ...made, url: null, wrote: effect.input.values }];
  if (effect.action === 'publish') return [{ ...made, url, wrote: null }];
  return effect.action === 'reply' ? [{ ...made, url: null, wrote: null }] : [];
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

async function tell(services: Services, effect: Pick<effects.ClaimedEffect, 'brandId' | 'workflowId'>): Promise<void> {
  await noteChange(services.pool, effect.brandId, 'runs', effect.workflowId, services.clock());
}

/** Gives an answer that is no longer right to a person, or leaves it, as its step says. */
async function overtaken(services: Services, effect: effects.ClaimedEffect, outdated: Outdated): Promise<void> {
  await inTransaction(services.pool, async (db) => {
    const { runs, unreadable } = await lockRuns(db, [effect.runId]);
    const aside = { until: 'held', unsure: effect.unsure, trouble: outdated.says } as const;
    if (!(await effects.setEffectAside(db, effect, aside))) return;
    const now = services.clock();
    for (const run of unreadable) await holdUnreadable(services, db, run, now);
    const run = runs.get(effect.runId);
    if (!run) return;
    const batch = new Batch(db, now, services.programs);
    await batch.takeOrHold(run, { type: 'outdated', key: effect.key, outdated }, logFault(services, run));
    await batch.flush();
    if (outdated.what === 'answered') await noteAnswered(db, [run], now);
  });
}

type Held = effects.Claim & Pick<effects.ClaimedEffect, 'key' | 'runId'>;

/** Gives an effect to a person: it will not be tried again by itself. */
async function hold(services: Services, effect: Held, unsure: boolean, says: string): Promise<void> {
  await inTransaction(services.pool, async (db) => {
    const { runs, unreadable } = await lockRuns(db, [effect.runId]);
    if (!(await effects.setEffectAside(db, effect, { until: 'held', unsure, trouble: says }))) return;
    for (const run of unreadable) await holdUnreadable(services, db, run, services.clock());
    const run = runs.get(effect.runId);
    if (!run) return;
    const failed = { type: 'failed' as const, key: effect.key, says, unknown: unsure };
    const batch = new Batch(db, services.clock(), services.programs);
    await batch.takeOrHold(run, failed, logFault(services, run));
    await batch.flush();
  });
}

const logFault = (services: Services, run: { id: number }) => (error: unknown) => {
  services.log.error({ err: error, run: run.id }, 'a run could not go on');
};
