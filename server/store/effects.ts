import { randomUUID } from 'node:crypto';
import { readAct, type Act } from '@playa/core/model/acts.ts';
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
  /** When it was meant to go, where that was not at once. */
  plannedAt: number | null;
  lease: string;
  /** When the claim is lost, milliseconds since 1970 UTC. */
  leaseUntil: number;
  /** Its run had moved on before it was claimed this time: it is looked for, and not sent anew. */
  overtaken: boolean;
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

/** An act of the outbox that is due, as it is stored. */
export interface DueEffect {
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
  planned_at: Date | null;
  overtaken: number;
  /** Of whoever had claimed it before. */
  lease: string | null;
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
  /** When it was meant to go, where that is not at once. */
  plannedAt?: number | null;
  /** The time of its outlet's timetable that it holds. */
  slot?: number | null;
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
    `INSERT IGNORE INTO effects (effect_key, brand_id, workflow_id, run_id, step, outlet_id, account_id, action, input, status, due_at, parked_due_at, planned_at, slot_at, created_at) VALUES ?`,
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
          'planned',
          waits ? null : toTime(effect.dueAt),
          waits ? toTime(effect.dueAt) : null,
          orNull(effect.plannedAt),
          orNull(effect.slot),
          toTime(now),
        ];
      }),
    ],
  );
  await checkStored(
    db,
    effects.filter((effect) => typeof effect.slot === 'number').map((effect) => effect.key),
  );
}

const orNull = (moment: number | null | undefined): Date | null => (typeof moment === 'number' ? toTime(moment) : null);

/** Whoever found its time taken would be left out in silence: that must never be. */
async function checkStored(db: Queryable, keys: readonly string[]): Promise<void> {
  if (keys.length === 0) return;
  const [row] = await select<{ n: number }>(db, 'SELECT COUNT(*) AS n FROM effects WHERE effect_key IN (?)', [keys]);
  if (Number(row!.n) < new Set(keys).size) throw new Error('A time that was taken has been given a second time.');
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
): Promise<DueEffect[]> {
  const without =
    (busy.accounts.length ? ' AND (account_id IS NULL OR account_id NOT IN (?))' : '') +
    (busy.workflows.length ? ' AND (account_id IS NOT NULL OR workflow_id NOT IN (?))' : '');
  return select(
    db,
    `SELECT * FROM effects WHERE due_at <= ?${without}
       AND (status <> 'planned' OR unsure = 1 OR NOT EXISTS (SELECT 1 FROM runs r WHERE r.id = effects.run_id AND r.changed = 1))
     ORDER BY due_at, id LIMIT ? FOR UPDATE SKIP LOCKED`,
    [
      toTime(now),
      ...(busy.accounts.length ? [busy.accounts] : []),
      ...(busy.workflows.length ? [busy.workflows] : []),
      most,
    ],
  );
}

/**
 * Claims locked acts for one worker. Where repeats would be seen, `markSending` follows before anything is sent.
 *
 * @param inDoubt numbers of those that an earlier worker may have sent
 */
export async function claimEffects(
  db: Queryable,
  rows: readonly DueEffect[],
  now: number,
  leaseMs: number,
  inDoubt: ReadonlySet<number> = new Set(),
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
  const doubtful = rows.filter(({ id }) => inDoubt.has(id)).map(({ id }) => id);
  if (doubtful.length > 0) await change(db, 'UPDATE effects SET unsure = 1 WHERE id IN (?)', [doubtful]);
  for (const row of rows) {
    const owner = { id: row.id, key: row.effect_key, brandId: row.brand_id, workflowId: row.workflow_id };
    const claim = { ...owner, runId: row.run_id, unsure: row.unsure === 1 || inDoubt.has(row.id), lease };
    try {
      claimed.push({
        ...readAct(row.action, JSON.parse(row.input)),
        ...claim,
        place: row.step,
        outletId: row.outlet_id,
        accountId: row.account_id,
        failures: row.failures,
        firstSentAt: fromTimeOrNull(row.first_sent_at),
        plannedAt: fromTimeOrNull(row.planned_at),
        leaseUntil: now + leaseMs,
        overtaken: row.overtaken === 1,
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
    await change(db, "UPDATE effects SET due_at = ? WHERE id = ? AND status IN ('planned', 'sending')", [
      toTime(at),
      id,
    ]);
}
