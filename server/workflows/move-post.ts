// Moving a planned post to another moment.
import { DateTime } from 'luxon';
import { move, type Conflict, type Waiting } from '@playa/core/timetable/move.ts';
import { inTransaction } from '../db/database.ts';
import type { Services } from '../base/services.ts';
import { addAudit } from '../store/audit.ts';
import { noteChange } from '../store/changes.ts';
import { noteMoved } from '../posts/keep-post.ts';
import { brandById } from '../store/users.ts';
import { lockPlanned, lockTimetable, moveEffects, queuedAt, takenAt, timetableOr } from '../store/timetables.ts';

export interface Moving {
  /** The act of the outbox. */
  effect: number;
  /** Milliseconds since 1970 UTC. */
  to: number;
  /** What becomes of whoever holds that time. */
  others: 'stay' | 'move';
  /** Only says what would come of it. */
  preview: boolean;
}

export interface MovedPosts {
  places: (Waiting & { before: number })[];
  conflicts: Conflict[];
}

/** Why something cannot be moved, in a sentence. */
export class CannotMove extends Error {
  override name = 'CannotMove';
}

/** Moves a post that has not been sent, and those it pushes on. @throws CannotMove with nothing changed */
export async function movePost(services: Services, brandId: number, moving: Moving): Promise<MovedPosts> {
  return inTransaction(services.pool, async (db) => {
    const now = services.clock();
    const seen = await lockPlanned(db, brandId, moving.effect, false);
    if (!seen) throw new CannotMove('It is no longer planned: it went out, or was ended.');
    const timetable = timetableOr(await lockTimetable(db, brandId, seen.outletId));
    const post = await lockPlanned(db, brandId, moving.effect, true);
    if (!post) throw new CannotMove('It is on its way already.');
    if (moving.to < now) throw new CannotMove('That moment has passed.');
    const zone = (await brandById(db, brandId))!.timeZone;
    const queue = (await queuedAt(db, post.outletId, now)).filter(({ id }) => id !== post.id);
    const slots = new Set(queue.map(({ slot }) => slot));
    // What the moved one holds itself is free, and the others are looked at one by one.
    const taken = (await takenAt(db, post.outletId, now, post.id)).filter(
      ({ slot }) => slot === null || !slots.has(slot),
    );
    const waiting = queue.map(({ id, slot }): Waiting => ({ id, at: slot, slot }));
    const circumstances = { timetable, zone, hours: null, taken, from: now };
    const moved = move(post, moving.to, waiting, moving.others, circumstances);
    if (!moved) throw new CannotMove('There are not enough free times for those that would have to move on.');
    const before = new Map([...queue.map(({ id, slot }) => [id, slot] as const), [post.id, post.at] as const]);
    const places = moved.places.map((place) => ({ ...place, before: before.get(place.id)! }));
    if (moving.preview) return { ...moved, places };
    await moveEffects(db, moved.places);
    await noteMoved(db, brandId, post.itemId, { outlet: post.outletId, at: moving.to }, now);
    const say = (at: number) => DateTime.fromMillis(at, { zone }).toFormat('yyyy-MM-dd HH:mm');
    const deed = {
      brandId,
      did: 'moved a post',
      about: 'run',
      id: post.runId,
      was: say(post.at),
      became: say(moving.to),
    } as const;
    await addAudit(db, services.actor, deed, now);
    const touched = new Set([
      post.workflowId,
      ...queue.filter(({ id }) => places.some((each) => each.id === id)).map(({ workflowId }) => workflowId),
    ]);
    for (const workflow of touched) await noteChange(db, brandId, 'runs', workflow, now);
    return { ...moved, places };
  });
}
