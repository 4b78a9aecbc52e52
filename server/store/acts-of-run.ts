// What a run has asked for: taken back, settled, done, to be tried again.
import { outcomeSchema, readAct, type Act, type Outcome } from '@playa/core/model/acts.ts';
import type { Fault } from '@playa/core/model/cells.ts';
import { change, fromTimeOrNull, select, toTime, type Queryable } from '../db/database.ts';

/** An act that nobody has sent. */
export interface Unsent {
  id: number;
  key: string;
  /** 1 where its run has moved on while it was on its way. */
  overtaken: number;
}

/**
 * What a run asked for and certainly nobody has sent, locked so that nobody claims it. What any worker has claimed is not
 * among it, even a dead one: where the network refuses repeats, nothing says whether it came to sending.
 */
export async function lockUnsent(db: Queryable, runId: number): Promise<Unsent[]> {
  return select(
    db,
    `SELECT id, effect_key AS 'key', overtaken FROM effects
     WHERE run_id = ? AND unsure = 0 AND status IN ('planned', 'account', 'held') FOR UPDATE`,
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

/** Notes that a run has moved on while acts of it were on their way: those that turn out not to have been sent come back. */
export async function noteOvertaken(db: Queryable, runId: number): Promise<void> {
  await change(
    db,
    "UPDATE effects SET overtaken = 1 WHERE run_id = ? AND (status = 'sending' OR (status IN ('planned', 'account') AND unsure = 1))",
    [runId],
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
    `SELECT id, effect_key AS 'key', overtaken FROM effects
     WHERE run_id = ? AND unsure = 0 AND status = 'sending' AND due_at <= ? FOR UPDATE`,
    [runId, toTime(now)],
  );
  await takeBack(db, [...unsent, ...lost]);
  await noteOvertaken(db, runId);
  return [...unsent, ...lost].map(({ key }) => key);
}

/** What came of a run's effects that are settled, by key. */
export async function settledEffects(
  db: Queryable,
  runId: number,
): Promise<Map<string, { outcome: Outcome } | { says: string; unsure: boolean; fault: Fault | undefined }>> {
  const rows = await select<{
    effect_key: string;
    status: string;
    outcome: string | null;
    trouble: string | null;
    fault: Fault | null;
    unsure: number;
  }>(
    db,
    "SELECT effect_key, status, outcome, trouble, fault, unsure FROM effects WHERE run_id = ? AND status IN ('done', 'held')",
    [runId],
  );
  return new Map(
    rows.map((row) => [
      row.effect_key,
      row.outcome === null
        ? { says: row.trouble ?? '', unsure: row.unsure === 1, fault: row.fault ?? undefined }
        : { outcome: outcomeSchema.parse(JSON.parse(row.outcome)) },
    ]),
  );
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

/** When posts of some runs are planned to go out now, by key: somebody may have moved them since they were asked for. */
export async function plannedTimes(
  db: Queryable,
  brandId: number,
  runIds: readonly number[],
): Promise<Map<string, number>> {
  if (runIds.length === 0) return new Map();
  const rows = await select<{ key: string; at: Date }>(
    db,
    `SELECT effect_key AS 'key', planned_at AS at FROM effects
     WHERE brand_id = ? AND run_id IN (?) AND planned_at IS NOT NULL AND open_at IS NOT NULL`,
    [brandId, runIds],
  );
  return new Map(rows.map((row) => [row.key, row.at.getTime()]));
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
    "SELECT run_id, effect_key, due_at, trouble FROM effects WHERE brand_id = ? AND run_id IN (?) AND status IN ('planned', 'account') AND trouble IS NOT NULL",
    [brandId, runIds],
  );
  return rows.map((row) => ({
    runId: row.run_id,
    key: row.effect_key,
    dueAt: fromTimeOrNull(row.due_at),
    trouble: row.trouble,
  }));
}
