import { withoutLate } from './late.ts';
import { DEFAULT_RETRY, type RetryPolicy } from '@playa/core/engine/retry.ts';
import { NetworkTrouble, type NetworkAct } from '../connectors/connector.ts';
import { inTransaction, type Queryable } from '../db/database.ts';
import type { Services } from '../base/services.ts';
import { accountKinds } from '../store/accounts.ts';
import { Buckets } from '../store/buckets.ts';
import * as effects from '../store/effects.ts';
import { ClaimQueue } from './claim-queue.ts';
import { Desk, isLocal, performOutside } from './perform-act.ts';
import { usableOutcome } from './outcome.ts';
import type { Probe } from './probe.ts';
import {
  NOBODY_KNOWS,
  giveBackOvertaken,
  hold,
  holdUnreadableEffect,
  meet,
  overtaken,
  putBack,
} from './act-troubles.ts';
import { Recorder } from './record-acts.ts';

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
    const stranded: effects.DueEffect[] = [];
    const { claimed, unreadable, met } = await inTransaction(services.pool, async (db) => {
      const now = services.clock();
      const busy = this.#busy();
      const all = await effects.lockDueEffects(db, now, most, busy);
      const given = await givenUp(services, db, all);
      // What was claimed and never sent, and whose run has moved on, is planned anew and not taken up as it was.
      stranded.push(...given.unsent.filter((row) => row.overtaken === 1));
      const due = this.#fair(all.filter((row) => !stranded.includes(row)));
      const allowed = await withinLimits(services, db, await withoutLate(services, db, due, now), now);
      const taken = await effects.claimEffects(db, allowed, now, leaseOf(services), given.inDoubt);
      if (taken.claimed.length > 0) this.#options.probe?.('effect: claimed, not committed');
      return { ...taken, met: all.length };
    });
    if (claimed.length > 0) this.#options.probe?.('effect: claimed');
    for (const effect of unreadable) await holdUnreadableEffect(services, effect);
    const desk = new Desk(services, this.#claims);
    for (const effect of claimed) this.#begin(effect, desk);
    for (const row of stranded) await this.#giveBack(row);
    return met;
  }

  /** Has what nobody sent planned anew, or taken back. Where that cannot be, it is tried again in a minute. */
  async #giveBack(row: effects.DueEffect): Promise<void> {
    const services = this.#services;
    const { id, lease, run_id: runId, brand_id: brandId, workflow_id: workflowId } = row;
    try {
      const effect = { id, lease: lease!, runId, brandId, workflowId };
      if (await giveBackOvertaken(services, effect, 'A worker has given it up.')) return;
    } catch (error) {
      services.log.error({ err: error, effect: id }, 'an act could not be given back');
    }
    await effects.putOffEffects(services.pool, [{ id, at: services.clock() + 60_000 }]);
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

/**
 * What workers have claimed and given up. Where repeats would be seen it was noted before anything was sent, and what is in
 * doubt is known; a network that refuses repeats may have been sent to without a note.
 *
 * @returns what was certainly not sent, and numbers of what may have been
 */
async function givenUp(
  services: Services,
  db: Queryable,
  due: readonly effects.DueEffect[],
): Promise<{ unsent: effects.DueEffect[]; inDoubt: Set<number> }> {
  const lost = due.filter((row) => row.status === 'sending' && row.unsure === 0);
  if (lost.length === 0) return { unsent: [], inDoubt: new Set() };
  const kinds = await accountKinds(db, [...new Set(lost.flatMap((row) => row.account_id ?? []))]);
  const noted = ({ account_id: account, action }: effects.DueEffect): boolean => {
    // What is Playa's own is done in the transaction that records it.
    if (account === null) return action !== 'call';
    const kind = kinds.get(account);
    return kind === undefined || services.connectors[kind].acts[action as NetworkAct]?.repeats !== 'keyed';
  };
  const unsent = lost.filter(noted);
  return { unsent, inDoubt: new Set(lost.filter((row) => !unsent.includes(row)).map(({ id }) => id)) };
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
    if (sent === 'missed') {
      // Looked for and not found: it never went out, and its run has moved on.
      if (!(await giveBackOvertaken(services, effect, 'It did not go out.'))) await putBack(services, effect);
      return;
    }
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
