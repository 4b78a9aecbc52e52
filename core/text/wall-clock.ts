// Wall-clock times where clocks are changed: the one rule for all of Playa.
import type { DateTime } from 'luxon';

/**
 * The moment that a wall-clock time means, in milliseconds since 1970 UTC: of an hour that comes twice the first (RFC
 * 5545 section 3.3.5); what is skipped is as long after the change as its clock says, as luxon reads it too.
 *
 * @param local a time made of a text or of parts without an offset
 */
export function wallClockMoment(local: DateTime): number {
  return Math.min(...local.getPossibleOffsets().map((each) => each.toMillis()));
}
