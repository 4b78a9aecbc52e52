// When outlets publish, and what is taken of their times. What holds a time is the outbox itself.
import type { Taken } from '@playa/core/timetable/earliest.ts';
import { NO_TIMETABLE, timetableSchema, type Timetable } from '@playa/core/timetable/timetable.ts';
import { change, fromTime, fromTimeOrNull, select, toTime, type Queryable } from '../db/database.ts';
import { bumpEpoch } from './users.ts';

export interface KeptTimetable {
  outletId: number;
  timetable: Timetable;
  /** Grows with every change. */
  revision: number;
}

const read = (row: { outlet_id: number; timetable: string; revision: number }): KeptTimetable => ({
  outletId: row.outlet_id,
  timetable: timetableSchema.parse(JSON.parse(row.timetable)),
  revision: row.revision,
});

/** The timetables of a brand's outlets, by outlet. Those that nobody has made are left out. */
export async function timetablesOf(db: Queryable, brandId: number): Promise<Map<number, KeptTimetable>> {
  const rows = await select<{ outlet_id: number; timetable: string; revision: number }>(
    db,
    'SELECT outlet_id, timetable, revision FROM timetables WHERE brand_id = ?',
    [brandId],
  );
  // One that cannot be read stops no other outlet; whoever places something there finds it out.
  return new Map(
    rows.flatMap((row) => {
      try {
        return [[row.outlet_id, read(row)] as const];
      } catch {
        return [];
      }
    }),
  );
}

/**
 * An outlet's timetable, locked: until the transaction ends nobody else places anything there. Without one, nothing is
 * locked and everything is free.
 */
export async function lockTimetable(db: Queryable, brandId: number, outletId: number): Promise<KeptTimetable | null> {
  const [row] = await select<{ outlet_id: number; timetable: string; revision: number }>(
    db,
    'SELECT outlet_id, timetable, revision FROM timetables WHERE outlet_id = ? AND brand_id = ? FOR UPDATE',
    [outletId, brandId],
  );
  return row ? read(row) : null;
}

/**
 * Keeps an outlet's timetable.
 *
 * @param revision the one that was changed; 0 for the first
 * @returns the new revision; null when somebody has changed it meanwhile
 */
export async function keepTimetable(
  db: Queryable,
  brandId: number,
  outletId: number,
  timetable: Timetable,
  revision: number,
): Promise<number | null> {
  const text = JSON.stringify(timetable);
  const kept =
    revision === 0
      ? await change(db, 'INSERT IGNORE INTO timetables (outlet_id, brand_id, timetable) VALUES (?, ?, ?)', [
          outletId,
          brandId,
          text,
        ])
      : await change(
          db,
          'UPDATE timetables SET timetable = ?, revision = revision + 1 WHERE outlet_id = ? AND brand_id = ? AND revision = ?',
          [text, outletId, brandId, revision],
        );
  if (kept.rows === 0) return null;
  await bumpEpoch(db, brandId);
  return revision + 1;
}

/** So far back posts count: for the most of a day, and for the longest gap. */
const BACK = 8 * 86_400_000;

/** What went out at an outlet lately, and what is to go out there. @param without an act that is left out */
export async function takenAt(db: Queryable, outletId: number, now: number, without = 0): Promise<Taken[]> {
  const ahead = await select<{ at: Date; slot: Date | null }>(
    db,
    "SELECT COALESCE(planned_at, open_at) AS at, slot_at AS slot FROM effects WHERE outlet_id = ? AND open_at IS NOT NULL AND action = 'publish' AND id <> ?",
    [outletId, without],
  );
  const out = await select<{ at: Date }>(
    db,
    "SELECT at FROM logbook WHERE outlet_id = ? AND at >= ? AND action = 'publish'",
    [outletId, toTime(now - BACK)],
  );
  return [
    ...ahead.map(({ at, slot }) => ({ at: fromTime(at), slot: fromTimeOrNull(slot) })),
    ...out.map(({ at }) => ({ at: fromTime(at), slot: null })),
  ];
}

/** A post that has not been sent. */
export interface PlannedEffect {
  id: number;
  outletId: number;
  runId: number;
  workflowId: number;
  itemId: number;
  at: number;
}

/** A post that nobody has sent or is sending; undefined for any other act. */
export async function lockPlanned(
  db: Queryable,
  brandId: number,
  id: number,
  lock: boolean,
): Promise<PlannedEffect | undefined> {
  const rows = await select<Omit<PlannedEffect, 'at'> & { at: Date }>(
    db,
    `SELECT id, outlet_id AS outletId, run_id AS runId, workflow_id AS workflowId,
       (SELECT r.item_id FROM runs r WHERE r.id = effects.run_id) AS itemId, COALESCE(planned_at, open_at) AS at
     FROM effects WHERE id = ? AND brand_id = ? AND action = 'publish' AND outlet_id IS NOT NULL AND unsure = 0
       AND status IN ('planned', 'account')${lock ? ' FOR UPDATE' : ''}`,
    [id, brandId],
  );
  return rows.map((row) => ({ ...row, at: fromTime(row.at) }))[0];
}

/**
 * Where a post of a run was to go that was taken back, since its thing has changed: it may have been moved there by hand.
 * Null where it had no place, or its time is over.
 */
export async function placeBefore(
  db: Queryable,
  post: { runId: number; step: string; outletId: number },
  now: number,
): Promise<Taken | null> {
  const [row] = await select<{ at: Date; slot: Date | null }>(
    db,
    `SELECT planned_at AS at, slot_at AS slot FROM effects
     WHERE run_id = ? AND step = ? AND outlet_id = ? AND status = 'cancelled' AND planned_at > ? ORDER BY id DESC LIMIT 1`,
    [post.runId, post.step, post.outletId, toTime(now)],
  );
  return row ? { at: fromTime(row.at), slot: fromTimeOrNull(row.slot) } : null;
}

/** Something in the outbox that holds a time of its outlet's. */
export interface Queued {
  id: number;
  runId: number;
  workflowId: number;
  slot: number;
}

/** What waits for its time at an outlet, from a moment on, in order. What is on its way is left out. */
export async function queuedAt(db: Queryable, outletId: number, from: number): Promise<Queued[]> {
  const rows = await select<Omit<Queued, 'slot'> & { slot: Date }>(
    db,
    `SELECT id, run_id AS runId, workflow_id AS workflowId, slot_at AS slot FROM effects
     WHERE outlet_id = ? AND open_at IS NOT NULL AND unsure = 0 AND status IN ('planned', 'account') AND slot_at >= ?
     ORDER BY slot_at FOR UPDATE`,
    [outletId, toTime(from)],
  );
  return rows.map((row) => ({ ...row, slot: fromTime(row.slot) }));
}

/** Where something in the outbox goes from now on. */
export interface Place {
  id: number;
  at: number;
  /** The time of the timetable that it takes; null for a moment of its own. */
  slot: number | null;
}

/** Moves things in the outbox that have not been sent. Two may change places. */
export async function moveEffects(db: Queryable, places: readonly Place[]): Promise<void> {
  if (places.length === 0) return;
  // First all give up what they hold, so that none meets another.
  await change(db, "UPDATE effects SET slot_at = NULL WHERE id IN (?) AND status IN ('planned', 'account')", [
    places.map(({ id }) => id),
  ]);
  for (const { id, at, slot } of places)
    await change(
      db,
      `UPDATE effects e JOIN workflows f ON f.id = e.workflow_id SET e.slot_at = ?, e.planned_at = ?,
         e.due_at = IF(e.status = 'account' OR f.status = 'paused', NULL, ?),
         e.parked_due_at = IF(f.status = 'paused', ?, NULL)
       WHERE e.id = ? AND e.status IN ('planned', 'account')`,
      [slot === null ? null : toTime(slot), toTime(at), toTime(at), toTime(at), id],
    );
}

/** An outlet's timetable as it holds, also where nobody has made one. */
export const timetableOr = (kept: KeptTimetable | null | undefined): Timetable => kept?.timetable ?? NO_TIMETABLE;
