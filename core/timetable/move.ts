// Moving a post in an outlet's plan: what it meets there, and where the others go.
import { DateTime } from 'luxon';
import { Places, type Circumstances, type Taken } from './earliest.ts';
import { pauseOn, timesBetween } from './timetable.ts';

/** Something that waits for its time. */
export interface Waiting {
  id: number;
  at: number;
  /** The time of the timetable that it holds; null for a moment of its own. */
  slot: number | null;
}

/** What speaks against a moment. `taken`: somebody holds that time of the timetable. */
export type Conflict = 'past' | 'taken' | 'gap' | 'day' | 'pause';

export interface Moved {
  /** Where things go that go elsewhere now; what was moved among them, first. */
  places: Waiting[];
  /** What still speaks against it, once all of them are there. */
  conflicts: Conflict[];
}

/**
 * Moves something to a moment.
 *
 * A moment that is a time of the timetable is taken as such. Where somebody holds it, `others` says what becomes of them:
 * they `move` on, each to the next time that is free then, in their order; or they `stay`, and what is moved goes out
 * beside them.
 *
 * @param circumstances `taken` with neither the moved one nor what waits; `from` is now
 * @param waiting what waits at the outlet for a time of its timetable, without the moved one
 * @returns null when the others cannot all be given another time
 */
export function move(
  moved: Pick<Waiting, 'id'>,
  at: number,
  waiting: readonly Waiting[],
  others: 'stay' | 'move',
  circumstances: Circumstances,
): Moved | null {
  const { timetable, zone, from } = circumstances;
  const isTime = [...timesBetween(timetable, at, at + 1, zone)].length > 0;
  const holder = waiting.find((each) => each.slot === at);
  const goesOn = holder !== undefined && others === 'move';
  const place: Waiting = { id: moved.id, at, slot: isTime && (!holder || goesOn) ? at : null };
  const places = [place];
  let beside: readonly Waiting[] = waiting;
  if (goesOn) {
    // Whoever comes before it stays; the others follow one another as before.
    const queue = waiting.filter((each) => each.slot !== null && each.slot >= at).sort((a, b) => a.slot! - b.slot!);
    const staying = waiting.filter((each) => !queue.includes(each));
    const free = new Places({ ...circumstances, taken: [...circumstances.taken, ...staying, place], from: at });
    for (const each of queue) {
      const found = free.find('free');
      if (!found || found.slot === null) return null;
      free.take(found);
      if (found.slot !== each.slot) places.push({ id: each.id, at: found.at, slot: found.slot });
    }
    beside = [...staying, ...queue.map((each) => places.find(({ id }) => id === each.id) ?? each)];
  }
  return { places, conflicts: conflictsAt(place, [...circumstances.taken, ...beside], { timetable, zone, from }) };
}

/** What speaks against a place, beside what else goes out there. */
export function conflictsAt(
  place: Taken,
  taken: readonly Taken[],
  { timetable, zone, from }: Pick<Circumstances, 'timetable' | 'zone' | 'from'>,
): Conflict[] {
  const day = DateTime.fromMillis(place.at, { zone }).startOf('day');
  const end = day.plus({ days: 1 }).startOf('day').toMillis();
  const conflicts: Conflict[] = [];
  if (place.at < from) conflicts.push('past');
  if (taken.some((each) => each.slot === place.at)) conflicts.push('taken');
  if (timetable.gap > 0 && taken.some((each) => Math.abs(each.at - place.at) < timetable.gap * 1000))
    conflicts.push('gap');
  const ofDay = taken.filter((each) => each.at >= day.toMillis() && each.at < end).length;
  if (timetable.mostPerDay !== null && ofDay >= timetable.mostPerDay) conflicts.push('day');
  if (pauseOn(timetable, day.toISODate()!)) conflicts.push('pause');
  return conflicts;
}
