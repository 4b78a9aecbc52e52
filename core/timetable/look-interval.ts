// How often a source is looked at: often when something usually appears there, seldom when not, and all within what
// the source and its account allow.

/** The bounds of one source's looks, in milliseconds. */
export interface LookBounds {
  shortest: number;
  longest: number;
}

/** The weeks of history that count, and the hours of a week. */
const MEMORY_WEEKS = 6;
const WEEK = 7 * 86_400_000;
const HOUR = 3_600_000;

/**
 * How many items are to be expected per hour at a moment, from when the last ones appeared. Hours of the week in which
 * the source has spoken count most, the hours around them half; a tenth of the average is always kept, since a source
 * may change its habits.
 *
 * @param moments when items appeared, milliseconds since 1970 UTC, in any order
 */
export function expectedPerHour(moments: readonly number[], now: number): number {
  const recent = moments.filter((moment) => moment <= now && moment > now - MEMORY_WEEKS * WEEK);
  if (recent.length === 0) return 0;
  const span = Math.max(WEEK, now - Math.min(...recent));
  const average = recent.length / (span / HOUR);
  const weeks = span / WEEK;
  let near = 0;
  for (const moment of recent) {
    const apart = Math.abs((((now - moment) % WEEK) + WEEK * 1.5) % WEEK) - WEEK / 2;
    const hours = Math.abs(apart) / HOUR;
    // A triangle two hours wide on each side, which sums to one over all hours.
    if (hours < 2) near += (2 - hours) / 4;
  }
  return Math.max(average / 10, near / weeks);
}

/**
 * When to look again. The interval is such that looks outnumber expected items about four to one, within the bounds.
 *
 * @returns milliseconds
 */
export function lookInterval(moments: readonly number[], now: number, bounds: LookBounds): number {
  const rate = expectedPerHour(moments, now);
  const wanted = rate > 0 ? HOUR / (rate * 4) : bounds.longest / 2;
  return Math.round(Math.min(bounds.longest, Math.max(bounds.shortest, wanted)));
}

/**
 * Keeps many sources together within a budget: intervals are stretched by the same factor when they would cost more
 * calls an hour than allowed.
 *
 * @param intervals milliseconds, of all sources that share the budget
 * @param perHour calls allowed in an hour
 * @returns the factor, at least 1
 */
export function budgetFactor(intervals: readonly number[], perHour: number): number {
  const wanted = intervals.reduce((sum, interval) => sum + HOUR / interval, 0);
  return Math.max(1, wanted / perHour);
}

/** How late items are usually seen: the median of what was measured, milliseconds; null with fewer than three. */
export function usualDelay(seen: readonly { publishedAt: number | null; seenAt: number }[]): number | null {
  const delays = seen
    .flatMap(({ publishedAt, seenAt }) => (publishedAt === null || seenAt < publishedAt ? [] : [seenAt - publishedAt]))
    .sort((a, b) => a - b);
  return delays.length < 3 ? null : delays[Math.floor(delays.length / 2)]!;
}
