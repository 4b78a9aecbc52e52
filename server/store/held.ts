// What waits for a person, for screens to read without reading the states of runs.
import { readAct, type Act } from '@playa/core/model/acts.ts';
import type { Fault, troubleSchema } from '@playa/core/model/cells.ts';
import type { Slot } from '@playa/core/model/state.ts';
import { cutUnits } from '@playa/core/text/graphemes.ts';
import type { z } from 'zod';
import { change, fromTime, select, toTime, type Queryable } from '../db/database.ts';

type Owner = { id: number; brandId: number; workflowId: number; itemId: number };

/** Of a run that Playa itself could not take further. */
export const STUCK = 'run';
const LONGEST = 2000;

/**
 * Keeps what runs hold, and forgets what they held before and no longer do. What was held already keeps the moment from
 * which on it is.
 */
export async function keepHeld(
  db: Queryable,
  runs: readonly (Owner & { slots: readonly Slot[] })[],
  now: number,
): Promise<void> {
  await forgetHeld(
    db,
    runs.map((run) => ({ id: run.id, keys: run.slots.map((slot) => slot.key) })),
  );
  const rows = runs.flatMap((run) =>
    run.slots.map((slot, place) => [
      run.id,
      slot.key,
      run.brandId,
      run.workflowId,
      run.itemId,
      slot.outlet,
      slot.action,
      JSON.stringify(slot.input),
      cutUnits(slot.says ?? '', LONGEST),
      slot.trouble ?? 'failed',
      slot.fault ?? null,
      place,
      toTime(now),
    ]),
  );
  if (rows.length > 0) await store(db, rows);
}

/** Keeps that a run itself is stuck, in place of what it held. */
export async function keepStuck(db: Queryable, run: Owner, says: string, now: number): Promise<void> {
  await forgetHeld(db, [{ id: run.id, keys: [''] }]);
  await store(db, [
    [run.id, '', run.brandId, run.workflowId, run.itemId, null, null, null, says, STUCK, null, 0, toTime(now)],
  ]);
}

const store = (db: Queryable, rows: readonly (readonly unknown[])[]) =>
  change(
    db,
    `INSERT INTO held (run_id, effect_key, brand_id, workflow_id, item_id, outlet_id, action, input, says, trouble, fault, place, since)
     VALUES ? ON DUPLICATE KEY UPDATE input = VALUES(input), says = VALUES(says), trouble = VALUES(trouble), fault = VALUES(fault), place = VALUES(place)`,
    [rows],
  );

async function forgetHeld(db: Queryable, runs: readonly { id: number; keys: readonly string[] }[]): Promise<void> {
  if (runs.length === 0) return;
  const kept = runs.flatMap(({ id, keys }) => keys.map((key) => [id, key]));
  await change(
    db,
    `DELETE FROM held WHERE run_id IN (?)${kept.length > 0 ? ' AND (run_id, effect_key) NOT IN (?)' : ''}`,
    [runs.map((run) => run.id), ...(kept.length > 0 ? [kept] : [])],
  );
}

/** Runs that are held and of which nothing is kept here: a worker of an older version has written them. */
export async function heldUnseen(db: Queryable, most: number): Promise<number[]> {
  const rows = await select<{ id: number }>(
    db,
    `SELECT r.id FROM runs r LEFT JOIN held h ON h.run_id = r.id WHERE r.status = 'held' AND h.run_id IS NULL LIMIT ?`,
    [most],
  );
  return rows.map((row) => row.id);
}

/** Forgets what runs held that hold nothing any more. */
export async function forgetEndedHeld(db: Queryable): Promise<void> {
  await change(db, "DELETE h FROM held h JOIN runs r ON r.id = h.run_id WHERE r.status <> 'held'");
}

/** Something that waits for a person. */
export interface HeldThing {
  runId: number;
  workflowId: number;
  workflow: string;
  /** Its workflow is paused: what is decided waits until it goes on. */
  paused: boolean;
  itemId: number;
  /** To decide by; null when the run itself is stuck. */
  key: string | null;
  outletId: number | null;
  /** Null when the run itself is stuck, or the act cannot be read. */
  act: Act | null;
  says: string;
  trouble: z.infer<typeof troubleSchema> | typeof STUCK;
  /** Which part of it is at fault, where that is known. */
  fault: Fault | null;
  since: number;
}

/** What waits for a person, what has waited longest first. */
export async function heldOf(db: Queryable, brandId: number, most: number): Promise<HeldThing[]> {
  const rows = await select<
    Omit<HeldThing, 'act' | 'since' | 'paused' | 'key'> & {
      key: string;
      action: string | null;
      input: string | null;
      since: Date;
      status: string;
    }
  >(
    db,
    `SELECT h.run_id AS runId, h.workflow_id AS workflowId, f.name AS workflow, f.status, h.item_id AS itemId,
       h.effect_key AS 'key', h.outlet_id AS outletId, h.action, h.input, h.says, h.trouble, h.fault, h.since
     FROM held h JOIN workflows f ON f.id = h.workflow_id
     WHERE h.brand_id = ?
     ORDER BY h.since, h.run_id, h.place LIMIT ?`,
    [brandId, most],
  );
  return rows.map(({ action, input, key, since, status, ...row }) => ({
    ...row,
    key: key === '' ? null : key,
    paused: status === 'paused',
    act: action === null || input === null ? null : readable(action, input),
    since: fromTime(since),
  }));
}

/** How much waits for a person. */
export async function countHeld(db: Queryable, brandId: number): Promise<number> {
  const [row] = await select<{ n: number }>(db, 'SELECT COUNT(*) AS n FROM held WHERE brand_id = ?', [brandId]);
  return Number(row!.n);
}

/** An act another version of Playa has written may not be readable: it is shown without what it would do. */
function readable(action: string, input: string): Act | null {
  try {
    return readAct(action, JSON.parse(input));
  } catch {
    return null;
  }
}
