// The hour that tests and demonstrations have is set, not found: what holds at nine has to hold right after midnight, and
// on the days on which clocks change.

/** Moments in Europe/Lisbon, where the lidos are, each as UTC: the hours of a day, and both changes of the clock. */
export const SET_HOURS = {
  '00:05': '2026-06-16T23:05:00Z',
  '09:00': '2026-06-17T08:00:00Z',
  '18:30': '2026-06-17T17:30:00Z',
  '23:55': '2026-06-17T22:55:00Z',
  // 01:00 becomes 02:00 (summer time begins on the last Sunday of March at 01:00 UTC; Directive 2000/84/EC).
  'clocks forward': '2026-03-29T08:00:00Z',
  // 02:00 becomes 01:00 (it ends on the last Sunday of October at 01:00 UTC).
  'clocks back': '2026-10-25T09:00:00Z',
};

/** The hours one after the other, a new one each day, so that all of them have their turn. */
export function hourInTurn(now = Date.now()) {
  const names = Object.keys(SET_HOURS);
  return names[Math.floor(now / 86_400_000) % names.length];
}

/**
 * By how much a clock has to be ahead of the machine's to stand at a set hour now, in milliseconds.
 *
 * @param {string} name one of SET_HOURS, or any moment as ISO 8601 has it
 */
export function aheadFor(name, now = Date.now()) {
  const moment = Date.parse(Object.hasOwn(SET_HOURS, name) ? SET_HOURS[name] : name);
  if (Number.isNaN(moment))
    throw new Error(`“${name}” is no hour: one of ${Object.keys(SET_HOURS).join(', ')}, or 2026-06-17T08:00Z.`);
  return moment - now;
}
