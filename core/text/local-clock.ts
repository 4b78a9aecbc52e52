// What the clocks of a zone say, of very many moments: luxon asks the zone anew for each, which costs a hundred times as
// much as to keep what it said.
import { IANAZone } from 'luxon';

/** A moment by the clocks of a zone. */
export interface LocalTime {
  /** The date, as the number of days from 1 January 1970 to it. */
  day: number;
  /** 1 for Monday to 7 for Sunday (ISO 8601). */
  weekday: number;
  /** Of the day, by the clock: 0 to 1439. */
  minute: number;
}

const MINUTE = 60_000;
const DAY = 86_400_000;
/** Zones change their clocks at whole quarters of an hour. */
const SPAN = 15 * MINUTE;

/**
 * Reads moments by the clocks of a zone.
 *
 * @param zone an IANA name
 * @example localClock('Europe/Lisbon')(Date.UTC(2026, 6, 1, 23, 30)) // { day: 20636, weekday: 4, minute: 30 }
 */
export function localClock(zone: string): (at: number) => LocalTime {
  const rules = IANAZone.create(zone);
  const offsets = new Map<number, number>();
  return (at) => {
    const span = Math.floor(at / SPAN);
    let offset = offsets.get(span);
    if (offset === undefined) offsets.set(span, (offset = rules.offset(span * SPAN)));
    const local = at + offset * MINUTE;
    const day = Math.floor(local / DAY);
    return { day, weekday: ((((day + 3) % 7) + 7) % 7) + 1, minute: Math.floor((local - day * DAY) / MINUTE) };
  };
}
