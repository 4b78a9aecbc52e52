import { randomUUID } from 'node:crypto';
import { outcomeSchema, readAct, type Act, type Outcome } from '@playa/core/model/acts.ts';
import { cutUnits } from '@playa/core/text/graphemes.ts';
import { change, fromTimeOrNull, select, toTime, type Queryable } from '../db/database.ts';

/** An act in the outbox, claimed by this worker. */
export type ClaimedEffect = Act & {
  id: number;
  key: string;
  brandId: number;
  workflowId: number;
  runId: number;
  /** The step, with the numbers of the elements it is done for. */
  place: string;
  outletId: number | null;
  accountId: number | null;
  /** An earlier try may have gone out without our hearing of it. */
  unsure: boolean;
  failures: number;
  firstSentAt: number | null;
  lease: string;
  /** When the claim is lost, milliseconds since 1970 UTC. */
  leaseUntil: number;
};
/** An act whose input cannot be read, claimed all the same so that it can be put before a person. */
export interface UnreadableEffect {
  id: number;
  key: string;
  brandId: number;
  workflowId: number;
  runId: number;
  lease: string;
  unsure: boolean;
  error: unknown;
}
interface Row {
  id: number;
  effect_key: string;
  brand_id: number;
  workflow_id: number;
  run_id: number;
  step: string;
  outlet_id: number | null;
  account_id: number | null;
  action: string;
  input: string;
  status: string;
  unsure: number;
  failures: number;
  first_sent_at: Date | null;
}

/** An act to be done. */
export type NewEffect = Act & {
  key: string;
  brandId: number;
  workflowId: number;
  runId: number;
  place: string;
  outletId: number | null;
  accountId: number | null;
  dueAt: number;
};

/**
 * Puts acts into the outbox. Their keys are unique: storing one a second time does nothing. In a paused workflow they
 * are stored without a time, and get one when the workflow goes on.
 */
export async function addEffects(
  db: Queryable,
  effects: readonly NewEffect[],
  paused: ReadonlySet<number>,
  now: number,
): Promise<void> {
  if (effects.length === 0) return;
  await change(
    db,
    `INSERT IGNORE INTO effects (effect_key, brand_id, workflow_id, run_id, step, outlet_id, account_id, action, input, status, due_at, parked_due_at, created_at) VALUES ?`,
    [
      effects.map((effect) => {
        const waits = paused.has(effect.workflowId);
        return [
          effect.key,
          effect.brandId,
          effect.workflowId,
          effect.runId,
          effect.place,
          effect.outletId,
          effect.accountId,
          effect.action,
          JSON.stringify(effect.input),
          'due',
          waits ? null : toTime(effect.dueAt),
          waits ? toTime(effect.dueAt) : null,
          toTime(now),
        ];
      }),
    ],
  );
}

/** Accounts and workflows of which enough acts are on their way already. */
export interface Busy {
  accounts: readonly number[];
  /** For acts without an account: calls of services. */
  workflows: readonly number[];
}

/**
 * Locks acts that are due, or whose last claim was lost; others skip them. Acts of a run whose thing has changed meanwhile
 * are let be until the run has taken that up: they may say something else then. Run inside a transaction.
 */
export async function lockDueEffects(
  db: Queryable,
  now: number,
  most: number,
  busy: Busy = { accounts: [], workflows: [] },
): Promise<Row[]> {
  const without =
    (busy.accounts.length ? ' AND (account_id IS NULL OR account_id NOT IN (?))' : '') +
    (busy.workflows.length ? ' AND (account_id IS NOT NULL OR workflow_id NOT IN (?))' : '');
  return select(
    db,
    `SELECT * FROM effects WHERE due_at <= ?${without}
       AND (status <> 'due' OR unsure = 1 OR NOT EXISTS (SELECT 1 FROM runs r WHERE r.id = effects.run_id AND r.changed = 1))
     ORDER BY due_at, id LIMIT ? FOR UPDATE SKIP LOCKED`,
    [
      toTime(now),
      ...(busy.accounts.length ? [busy.accounts] : []),
      ...(busy.workflows.length ? [busy.workflows] : []),
      most,
    ],
  );
}

/** Claims locked acts for one worker. Where repeats would be seen, `markSending` follows before anything is sent. */
export async function claimEffects(
  db: Queryable,
  rows: readonly Row[],
  now: number,
  leaseMs: number,
): Promise<{ claimed: ClaimedEffect[]; unreadable: UnreadableEffect[] }> {
  const claimed: ClaimedEffect[] = [];
  const unreadable: UnreadableEffect[] = [];
  if (rows.length === 0) return { claimed, unreadable };
  const lease = randomUUID();
  await change(
    db,
    `UPDATE effects SET status = 'sending', lease = ?, due_at = ?, first_sent_at = COALESCE(first_sent_at, ?) WHERE id IN (?)`,
    [lease, toTime(now + leaseMs), toTime(now), rows.map((row) => row.id)],
  );
  for (const row of rows) {
    const owner = { id: row.id, key: row.effect_key, brandId: row.brand_id, workflowId: row.workflow_id };
    const claim = { ...owner, runId: row.run_id, unsure: row.unsure === 1, lease };
    try {
      claimed.push({
        ...readAct(row.action, JSON.parse(row.input)),
        ...claim,
        place: row.step,
        outletId: row.outlet_id,
        accountId: row.account_id,
        failures: row.failures,
        firstSentAt: fromTimeOrNull(row.first_sent_at),
        leaseUntil: now + leaseMs,
      });
    } catch (error) {
      unreadable.push({ ...claim, error });
    }
  }
  return { claimed, unreadable };
}

/** Puts off acts that the network does not allow yet; they stay as they are. */
export async function putOffEffects(db: Queryable, effects: readonly { id: number; at: number }[]): Promise<void> {
  for (const { id, at } of effects)
    await change(db, "UPDATE effects SET due_at = ? WHERE id = ? AND status IN ('due', 'sending')", [toTime(at), id]);
}

/** An act that nobody has sent. */
export interface Unsent {
  id: number;
  key: string;
}

/**
 * What a run asked for and certainly nobody has sent, locked so that nobody claims it. What any worker has claimed is not
 * among it, even a dead one: where the network refuses repeats, nothing says whether it came to sending.
 */
export async function lockUnsent(db: Queryable, runId: number): Promise<Unsent[]> {
  return select(
    db,
    `SELECT id, effect_key AS 'key' FROM effects
     WHERE run_id = ? AND unsure = 0 AND status IN ('due', 'account', 'held') FOR UPDATE`,
    [runId],
  );
}

/** Takes acts back that nobody has sent. */
export async function takeBack(db: Queryable, acts: readonly Unsent[]): Promise<void> {
  if (acts.length === 0) return;
  await change(
    db,
    "UPDATE effects SET status = 'cancelled', due_at = NULL, parked_due_at = NULL, lease = NULL WHERE id IN (?)",
    [acts.map((act) => act.id)],
  );
}

/**
 * Takes back what a run that ends has asked for. What is on its way arrives; what a worker claimed and lost is taken back
 * too, unless it is in doubt.
 *
 * @returns the keys of what was taken back
 */
export async function cancelEffects(db: Queryable, runId: number, now: number): Promise<string[]> {
  const unsent = await lockUnsent(db, runId);
  const lost = await select<Unsent>(
    db,
    `SELECT id, effect_key AS 'key' FROM effects
     WHERE run_id = ? AND unsure = 0 AND status = 'sending' AND due_at <= ? FOR UPDATE`,
    [runId, toTime(now)],
  );
  await takeBack(db, [...unsent, ...lost]);
  return [...unsent, ...lost].map(({ key }) => key);
}

/**
 * Notes, right before an act is sent where the network does not refuse repeats, that from here on it may have been: the
 * worker may die at any moment. What a dead worker had only claimed is not in doubt, and nobody is asked about it.
 *
 * @returns false when the claim was lost meanwhile: then nothing may be sent
 */
export async function markSending(db: Queryable, effect: Claim): Promise<boolean> {
  const held = await change(db, 'UPDATE effects SET unsure = 1 WHERE id = ? AND lease = ?', [effect.id, effect.lease]);
  return held.rows > 0;
}

/** What shows that a worker has claimed an act. */
export type Claim = Pick<ClaimedEffect, 'id' | 'lease'>;

/** Locks a claimed act; false when the claim was lost meanwhile. */
export async function holdsClaim(db: Queryable, effect: Claim): Promise<boolean> {
  return (
    (await select(db, 'SELECT id FROM effects WHERE id = ? AND lease = ? FOR UPDATE', [effect.id, effect.lease]))
      .length > 0
  );
}

// Every change below names the lease: a worker that has lost its claim changes nothing (0 rows).

/** Ends acts that were done. Those whose claim was lost meanwhile stay as they are. Returns how many were ended. */
export async function endEffects(
  db: Queryable,
  done: readonly { effect: ClaimedEffect; outcome: Outcome }[],
): Promise<number> {
  if (done.length === 0) return 0;
  const ended = await change(
    db,
    `UPDATE effects SET outcome = CASE id ${done.map(() => 'WHEN ? THEN ?').join(' ')} END, status = 'done', lease = NULL, due_at = NULL, trouble = NULL
     WHERE (id, lease) IN (?)`,
    [
      ...done.flatMap(({ effect, outcome }) => [effect.id, JSON.stringify(outcome)]),
      done.map(({ effect }) => [effect.id, effect.lease]),
    ],
  );
  return ended.rows;
}

/** Puts an effect back for a later try. `unsure` says whether this one may have gone out. */
export async function postponeEffect(
  db: Queryable,
  effect: Claim,
  later: { at: number; unsure: boolean; failures: number; trouble: string },
): Promise<boolean> {
  const done = await change(
    db,
    `UPDATE effects e JOIN workflows f ON f.id = e.workflow_id SET e.status = 'due', e.unsure = ?, e.failures = ?, e.trouble = ?, e.lease = NULL,
       e.due_at = IF(f.status = 'paused', NULL, ?), e.parked_due_at = IF(f.status = 'paused', ?, NULL) WHERE e.id = ? AND e.lease = ?`,
    [
      later.unsure,
      later.failures,
      cutUnits(later.trouble, 1000),
      toTime(later.at),
      toTime(later.at),
      effect.id,
      effect.lease,
    ],
  );
  return done.rows > 0;
}

/**
 * Sets an effect aside: until its account is connected again, or held for a person. `unsure` says whether it may have
 * gone out.
 */
export async function setEffectAside(
  db: Queryable,
  effect: Claim,
  aside: { until: 'account' | 'held'; unsure: boolean; trouble: string },
): Promise<boolean> {
  const done = await change(
    db,
    'UPDATE effects SET status = ?, unsure = ?, trouble = ?, lease = NULL, due_at = NULL WHERE id = ? AND lease = ?',
    [aside.until, aside.unsure, cutUnits(aside.trouble, 1000), effect.id, effect.lease],
  );
  return done.rows > 0;
}

/** After an account was connected again: what waited for it goes on. Returns how many. */
export async function resumeAccount(db: Queryable, brandId: number, accountId: number, now: number): Promise<number> {
  const done = await change(
    db,
    `UPDATE effects e JOIN workflows f ON f.id = e.workflow_id SET e.status = 'due',
       e.due_at = IF(f.status = 'paused', NULL, ?), e.parked_due_at = IF(f.status = 'paused', ?, NULL)
     WHERE e.brand_id = ? AND e.account_id = ? AND e.status = 'account'`,
    [toTime(now), toTime(now), brandId, accountId],
  );
  return done.rows;
}

export async function waitingForAccounts(db: Queryable, brandId: number): Promise<Map<number, number>> {
  const rows = await select<{ account_id: number; waiting: number }>(
    db,
    "SELECT account_id, COUNT(*) AS waiting FROM effects WHERE brand_id = ? AND status = 'account' GROUP BY account_id",
    [brandId],
  );
  return new Map(rows.map((row) => [row.account_id, Number(row.waiting)]));
}

/** What came of a run's effects that are settled, by key. */
export async function settledEffects(
  db: Queryable,
  runId: number,
): Promise<Map<string, { outcome: Outcome } | { says: string; unsure: boolean }>> {
  const rows = await select<{
    effect_key: string;
    status: string;
    outcome: string | null;
    trouble: string | null;
    unsure: number;
  }>(
    db,
    "SELECT effect_key, status, outcome, trouble, unsure FROM effects WHERE run_id = ? AND status IN ('done', 'held')",
    [runId],
  );
  return new Map(
    rows.map((row) => [
      row.effect_key,
      row.outcome === null
        ? { says: row.trouble ?? '', unsure: row.unsure === 1 }
        : { outcome: outcomeSchema.parse(JSON.parse(row.outcome)) },
    ]),
  );
}

/**
 * How many acts of a workflow at an outlet were asked for in the last hour and day and not taken back, since a person last
 * let it go on. The part of the past that it began with does not count.
 */
export async function countSent(
  db: Queryable,
  workflowId: number,
  outletId: number,
  now: number,
): Promise<{ hour: number; day: number }> {
  const [row] = await select<{ hour: string | null; day: number }>(
    db,
    `SELECT SUM(e.created_at > ?) AS hour, COUNT(*) AS day FROM effects e JOIN runs r ON r.id = e.run_id
       JOIN workflows f ON f.id = e.workflow_id
     WHERE e.workflow_id = ? AND e.outlet_id = ? AND e.created_at > GREATEST(?, COALESCE(f.brake_from, ?))
       AND e.action IN ('publish', 'reply', 'message', 'react') AND e.status <> 'cancelled' AND r.backfill = 0`,
    [toTime(now - 3_600_000), workflowId, outletId, toTime(now - 86_400_000), toTime(0)],
  );
  return { hour: Number(row!.hour ?? 0), day: Number(row!.day) };
}

/** An act of a run that was done. */
export interface DoneEffect {
  key: string;
  /** Null when it cannot be read. */
  act: Act | null;
  outcome: Outcome | null;
}

/** What a run has done so far, as far as it is still kept. */
export async function doneEffects(db: Queryable, runId: number): Promise<DoneEffect[]> {
  const rows = await select<{ effect_key: string; action: string; input: string; outcome: string | null }>(
    db,
    "SELECT effect_key, action, input, outcome FROM effects WHERE run_id = ? AND status = 'done'",
    [runId],
  );
  const orNull = <T>(read: () => T): T | null => {
    try {
      return read();
    } catch {
      return null;
    }
  };
  return rows.map((row) => ({
    key: row.effect_key,
    act: orNull(() => readAct(row.action, JSON.parse(row.input))),
    outcome: orNull(() => (row.outcome === null ? null : outcomeSchema.parse(JSON.parse(row.outcome)))),
  }));
}

/** Effects that will be tried again, by run, for saying when. */
export async function retriesOf(
  db: Queryable,
  brandId: number,
  runIds: readonly number[],
): Promise<{ runId: number; key: string; dueAt: number | null; trouble: string }[]> {
  if (runIds.length === 0) return [];
  const rows = await select<{ run_id: number; effect_key: string; due_at: Date | null; trouble: string }>(
    db,
    "SELECT run_id, effect_key, due_at, trouble FROM effects WHERE brand_id = ? AND run_id IN (?) AND status IN ('due', 'account') AND trouble IS NOT NULL",
    [brandId, runIds],
  );
  return rows.map((row) => ({
    runId: row.run_id,
    key: row.effect_key,
    dueAt: fromTimeOrNull(row.due_at),
    trouble: row.trouble,
  }));
}

/** A paused workflow sends nothing; the times of what it would send are kept, also of what a worker claimed and lost. */
export async function parkEffects(db: Queryable, brandId: number, workflowId: number, now: number): Promise<void> {
  await change(
    db,
    `UPDATE effects SET parked_due_at = due_at, due_at = NULL WHERE brand_id = ? AND workflow_id = ?
       AND due_at IS NOT NULL AND (status = 'due' OR (status = 'sending' AND due_at <= ?))`,
    [brandId, workflowId, toTime(now)],
  );
}

export async function unparkEffects(db: Queryable, brandId: number, workflowId: number): Promise<void> {
  await change(
    db,
    'UPDATE effects SET due_at = parked_due_at, parked_due_at = NULL WHERE brand_id = ? AND workflow_id = ? AND parked_due_at IS NOT NULL',
    [brandId, workflowId],
  );
}
