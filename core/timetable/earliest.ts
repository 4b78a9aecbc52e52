// The one answer to "when may this go?": asked by the engine, by rehearsals, by the calendar and by Today.
import { DateTime } from 'luxon';
import { nextOpen, type WeeklyHours } from './opening-hours.ts';
import { hasTimes, pauseOn, timesBetween, type Timetable } from './timetable.ts';

/** Something that goes out, or went out, at an outlet. */
export interface Taken {
  /** Milliseconds since 1970 UTC. */
  at: number;
  /** The time of the timetable that it holds; null for what goes at a moment of its own. */
  slot: number | null;
}

/** What there is to go by at one outlet. */
export interface Circumstances {
  timetable: Timetable;
  /** The brand's time zone, an IANA name. */
  zone: string;
  /** Outside these nothing goes out; null for any time. */
  hours: WeeklyHours | null;
  /** What goes out there or went out lately, in any order; at least what lies within a day of the answer. */
  taken: readonly Taken[];
  /** Not before this moment, whatever else there is: now, or later where something else has to come first. */
  from: number;
}

/** Why something goes no earlier: the last thing that kept it. */
export type Reason = 'free' | 'gap' | 'day' | 'pause' | 'hours';

export interface Found {
  /** Milliseconds since 1970 UTC. */
  at: number;
  /** The time of the timetable that it takes; null where it takes none. */
  slot: number | null;
  why: Reason | null;
}

/** Nothing is placed further ahead. */
export const FARTHEST = 366 * 86_400_000;

/**
 * The earliest moment at which something may go out at an outlet.
 *
 * @param when `now` as soon as it may (what a pause or a full day keeps takes the next free time), `free` at the next time
 *   of the timetable that nobody holds. Without any times every moment is free.
 * @returns null when there is none within a year
 */
export function earliest(when: 'now' | 'free', circumstances: Circumstances): Found | null {
  return new Places(circumstances).find(when);
}

/** What keeps something from going at a moment, and until when. */
interface Kept {
  why: Reason;
  until: number;
}

/** The places at one outlet, for several things one after the other: what has been taken stays taken. */
export class Places {
  readonly #of: Omit<Circumstances, 'taken'>;
  /** Sorted. */
  readonly #taken: number[];
  readonly #slots: Set<number>;
  readonly #hasTimes: boolean;
  /** From a moment on, no time before another is free: what is taken only grows. */
  #scanned: { from: number; to: number };

  constructor({ taken, ...of }: Circumstances) {
    this.#of = of;
    this.#taken = taken.map(({ at }) => at).sort((a, b) => a - b);
    this.#slots = new Set(taken.flatMap(({ slot }) => slot ?? []));
    this.#hasTimes = hasTimes(of.timetable);
    this.#scanned = { from: of.from, to: of.from };
  }

  /** The earliest place from a moment on; it is nobody's yet. */
  find(when: 'now' | 'free', from = this.#of.from): Found | null {
    return when === 'free' && this.#hasTimes ? this.#nextFree(from) : this.#next(from);
  }

  /** Whether somebody holds a time of the timetable. */
  holds(slot: number): boolean {
    return this.#slots.has(slot);
  }

  /** From now on somebody goes there. */
  take({ at, slot }: Taken): void {
    this.#taken.splice(this.#before(at), 0, at);
    if (slot !== null) this.#slots.add(slot);
  }

  #next(from: number): Found | null {
    let at = from;
    let why: Reason | null = null;
    while (at <= from + FARTHEST) {
      const kept = this.#keptAt(at);
      if (!kept) return { at, slot: null, why };
      ({ why } = kept);
      // Midnight, when a pause or a full day ends, is no time to post where there are better ones.
      if ((why === 'pause' || why === 'day') && this.#hasTimes) {
        const free = this.#nextFree(from);
        return free && { ...free, why };
      }
      at = kept.until;
    }
    return null;
  }

  #nextFree(from: number): Found | null {
    const { timetable, zone } = this.#of;
    if (from < this.#scanned.from || from > this.#scanned.to) this.#scanned = { from, to: from };
    let next = Math.max(from, this.#scanned.to);
    let why: Reason | null = next > from ? 'free' : null;
    for (const slot of timesBetween(timetable, next, from + FARTHEST, zone)) {
      if (slot < next) continue;
      if (this.#slots.has(slot)) {
        why = 'free';
        continue;
      }
      const kept = this.#keptAt(slot);
      if (!kept) {
        this.#scanned.to = slot;
        return { at: slot, slot, why };
      }
      ({ why } = kept);
      next = kept.until;
      if (next > from + FARTHEST) break;
    }
    return null;
  }

  /** The first thing that keeps something from going at a moment. */
  #keptAt(at: number): Kept | null {
    const { timetable, hours, zone } = this.#of;
    const { mostPerDay, gap, pauses } = timetable;
    if (pauses.length > 0) {
      const pause = pauseOn(timetable, DateTime.fromMillis(at, { zone }).toISODate()!);
      if (pause)
        return {
          why: 'pause',
          until: DateTime.fromISO(pause.to, { zone }).plus({ days: 1 }).startOf('day').toMillis(),
        };
    }
    if (hours) {
      const opens = nextOpen(hours, at, zone);
      if (opens === null) return { why: 'hours', until: Infinity };
      if (opens > at) return { why: 'hours', until: opens };
    }
    if (mostPerDay !== null) {
      const day = DateTime.fromMillis(at, { zone }).startOf('day');
      const until = day.plus({ days: 1 }).startOf('day').toMillis();
      if (this.#before(until) - this.#before(day.toMillis()) >= mostPerDay) return { why: 'day', until };
    }
    if (gap === 0) return null;
    const last = this.#taken[this.#before(at + gap * 1000) - 1];
    return last !== undefined && last > at - gap * 1000 ? { why: 'gap', until: last + gap * 1000 } : null;
  }

  /** How many of what is taken lie before a moment. */
  #before(moment: number): number {
    let low = 0;
    let high = this.#taken.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (this.#taken[middle]! < moment) low = middle + 1;
      else high = middle;
    }
    return low;
  }
}
