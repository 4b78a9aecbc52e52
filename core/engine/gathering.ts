import { nextTimeOfDay } from '../timetable/opening-hours.ts';
import type { Closing } from '../model/asks.ts';

/**
 * When a gathering is complete, given when it began, when the last one joined and how many there are.
 *
 * @returns milliseconds since 1970 UTC, in the past or present when it is complete; null when only more can close it
 */
export function closesAt(
  closing: Closing,
  gathering: { openedAt: number; lastAt: number; count: number },
  zone: string,
): number | null {
  const moments = [];
  if (closing.count !== null && gathering.count >= closing.count) moments.push(gathering.lastAt);
  if (closing.at !== null) moments.push(nextTimeOfDay(closing.at, gathering.openedAt, zone));
  if (closing.silence !== null) moments.push(gathering.lastAt + closing.silence * 1000);
  return moments.length ? Math.min(...moments) : null;
}
