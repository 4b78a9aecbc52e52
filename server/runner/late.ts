// What has passed its time while nobody was there to send it: Playa was down, its account had to be connected again, its
// workflow was paused. Each outlet says what is done then.
import { Places } from '@playa/core/timetable/earliest.ts';
import { hasTimes, lateRule } from '@playa/core/timetable/timetable.ts';
import type { Outdated } from '@playa/core/model/meanwhile.ts';
import { spokenLength } from '@playa/core/text/durations.ts';
import type { Services } from '../base/services.ts';
import type { Queryable } from '../db/database.ts';
import type { ClaimedEffect, DueEffect } from '../store/effects.ts';
import { brandById } from '../store/users.ts';
import { versionOfRun } from '../store/runs.ts';
import { lockTimetable, moveEffects, takenAt, timetableOr, timetablesOf } from '../store/timetables.ts';

/**
 * Leaves out what is too late and takes the next free time instead.
 *
 * @param due locked, and not claimed yet
 */
export async function withoutLate(
  services: Services,
  db: Queryable,
  due: readonly DueEffect[],
  now: number,
): Promise<DueEffect[]> {
  const left: DueEffect[] = [];
  for (const row of due) {
    try {
      if (await takesAnother(services, db, row, now)) continue;
    } catch (error) {
      // A timetable that cannot be read keeps nothing of others from going out.
      if ((error as { sqlState?: string }).sqlState) throw error;
      services.log.error({ err: error, effect: row.id }, 'what is late could not be placed anew');
    }
    left.push(row);
  }
  return left;
}

async function takesAnother(services: Services, db: Queryable, row: DueEffect, now: number): Promise<boolean> {
  const { id, brand_id: brandId, outlet_id: outletId, planned_at: planned } = row;
  // What may have gone out is not moved, and neither is what has been tried: that is the network's own time.
  if (
    planned === null ||
    outletId === null ||
    row.status !== 'planned' ||
    row.unsure === 1 ||
    row.first_sent_at !== null
  )
    return false;
  if (planned.getTime() > now - 60_000) return false;
  const kept = await lockTimetable(db, brandId, outletId);
  const timetable = timetableOr(kept);
  if (lateRule(timetable, planned.getTime(), now) !== 'free' || !hasTimes(timetable)) return false;
  const version = await versionOfRun(db, row.run_id);
  const owner = { brandId, workflowId: row.workflow_id, version };
  // A version that is gone keeps to no hours; whoever sends it finds that out.
  const program = await services.programs.get(db, owner, new Map()).catch(() => null);
  const zone = program?.zone ?? (await brandById(db, brandId))?.timeZone ?? 'UTC';
  const taken = await takenAt(db, outletId, now);
  const places = new Places({ timetable, zone, hours: program?.hours ?? null, taken, from: now });
  const found = places.find('free');
  if (!found || found.at <= now) return false;
  await moveEffects(db, [{ id, at: found.at, slot: found.slot }]);
  return true;
}

/** Whether something claimed is so late that a person has to say whether it goes out at all. */
export async function tooLate(services: Services, effect: ClaimedEffect): Promise<Outdated | null> {
  const { plannedAt, outletId, brandId } = effect;
  if (plannedAt === null || outletId === null || effect.unsure || effect.failures > 0) return null;
  const now = services.clock();
  if (plannedAt > now - 60_000) return null;
  const timetable = timetableOr((await timetablesOf(services.pool, brandId)).get(outletId));
  if (lateRule(timetable, plannedAt, now) !== 'hold') return null;
  const late = spokenLength(Math.round((now - plannedAt) / 60_000) * 60);
  return {
    what: 'late',
    says: `Its time passed ${late} ago, while it could not be sent.`,
    then: 'hold',
    found: { text: null, answers: [] },
  };
}
