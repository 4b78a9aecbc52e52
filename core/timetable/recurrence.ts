// Schedules as a source: RFC 5545 recurrence rules in the brand's time zone. The rule library knows no time zones, so
// it works on wall-clock times written as if they were UTC; this file turns them into moments and back.
import { DateTime } from 'luxon';
import rrule, { type RRule } from 'rrule';
import { wallClockMoment } from '../text/wall-clock.ts';

// The package is CommonJS: what it exports hangs on its default.
const { rrulestr } = rrule;

/** Why a rule cannot be used, in a sentence. */
export class RecurrenceError extends Error {
  override name = 'RecurrenceError';
}

/** A schedule made ready: when it happens next, and what it did between two moments. */
export interface Recurrence {
  /** The first occurrence after a moment, or at it when `inclusive`; null when there is none. Milliseconds since 1970 UTC. */
  after(moment: number, inclusive?: boolean): number | null;
  /** Occurrences from `from` up to but not including `to`, oldest first, at most so many. */
  between(from: number, to: number, most: number): number[];
  /** "every week on Monday": for people, in English. */
  says: string;
}

/** No occurrence is looked for further ahead than this many wall-clock steps without result. */
const FAR = 400;

/**
 * Reads a recurrence rule (RFC 5545 section 3.3.10), with further RRULE, RDATE and EXDATE lines if wanted.
 *
 * Occurrences keep their wall-clock time through daylight saving. One that falls into the hour that is skipped happens
 * as the offset before the gap says, an hour later by the clock; one in the hour that comes twice happens at the first
 * (RFC 5545 section 3.3.5).
 *
 * @param rule "FREQ=WEEKLY;BYDAY=MO" or lines starting with RRULE:, EXDATE: and RDATE: in local time
 * @param start the first wall-clock time, "2026-03-02T09:00"
 * @param zone an IANA time zone
 * @throws RecurrenceError
 */
export function readRecurrence(rule: string, start: string, zone: string): Recurrence {
  const first = DateTime.fromISO(start, { zone: 'UTC' });
  if (!first.isValid) throw new RecurrenceError('The schedule has no time to begin at.');
  if (!DateTime.local({ zone }).isValid) throw new RecurrenceError(`There is no time zone called ${zone}.`);
  const lines = rule
    .trim()
    .split(/\r?\n/)
    .map((line) => (/^[A-Z]+[:;]/.test(line) ? line : `RRULE:${line}`));
  if (lines.some((line) => /^DTSTART/i.test(line))) throw new RecurrenceError('The beginning is set beside the rule.');
  if (lines.some((line) => /FREQ=SECONDLY/i.test(line)))
    throw new RecurrenceError('Once a minute is as often as a schedule can be.');
  let set: RRule;
  try {
    // The beginning as a line of its own: handed in as an option, sets with exceptions would begin today.
    const begin = `DTSTART:${first.toFormat("yyyyMMdd'T'HHmmss")}Z`;
    set = rrulestr([begin, ...lines.map((line) => asWallClock(line, zone))].join('\n')) as RRule;
  } catch {
    throw new RecurrenceError('This is not a recurrence rule.');
  }
  const wall = (moment: number) =>
    DateTime.fromMillis(moment, { zone }).setZone('UTC', { keepLocalTime: true }).toJSDate();
  const moment = (date: Date) => momentOfWallClock(date, zone);

  const after = (from: number, inclusive = false): number | null => {
    // Two wall-clock hours early, because around a change of clocks wall-clock order and real order differ.
    let cursor: Date | null = new Date(wall(from).getTime() - 2 * 3_600_000);
    let best: number | null = null;
    for (let steps = 0; cursor && steps < FAR; steps++) {
      cursor = set.after(cursor, steps === 0);
      if (!cursor) break;
      const at = moment(cursor);
      if (at < from || (at === from && !inclusive)) continue;
      if (best === null || at < best) best = at;
      // What is two hours past the best one cannot come before it.
      if (at > best + 2 * 3_600_000 || cursor.getTime() > wall(best).getTime() + 2 * 3_600_000) break;
    }
    return best;
  };
  return {
    after,
    between(from, to, most) {
      const found: number[] = [];
      let next = after(from, true);
      while (next !== null && next < to && found.length < most) {
        found.push(next);
        next = after(next);
      }
      return found;
    },
    says: sayRule(set),
  };
}

function sayRule(set: { toText?: () => string }): string {
  try {
    return set.toText?.() ?? '';
  } catch {
    return '';
  }
}

/** A line with its times as wall-clock times written as UTC: UNTIL is in UTC (RFC 5545 section 3.3.10), others are not. */
function asWallClock(line: string, zone: string): string {
  if (/^(EXDATE|RDATE)[:;]/i.test(line)) return line.replace(/(\d{8}T\d{6})(?!Z)/g, '$1Z');
  return line.replace(/UNTIL=(\d{8}T\d{6})Z/i, (_, text: string) => {
    const utc = DateTime.fromFormat(text, "yyyyMMdd'T'HHmmss", { zone: 'UTC' });
    return `UNTIL=${utc.setZone(zone).toFormat("yyyyMMdd'T'HHmmss")}Z`;
  });
}

/** The moment a wall-clock time, written as UTC, stands for in a zone. */
function momentOfWallClock(date: Date, zone: string): number {
  const local = DateTime.fromJSDate(date, { zone: 'UTC' }).setZone(zone, { keepLocalTime: true });
  return wallClockMoment(local);
}
