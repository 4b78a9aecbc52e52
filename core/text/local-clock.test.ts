import fc from 'fast-check';
import { DateTime } from 'luxon';
import { expect, it } from 'vitest';
import { localClock } from './local-clock.ts';

// Zones with changes of clocks on both halves of the earth, by half an hour (Lord Howe), and with odd offsets.
const ZONES = ['Europe/Lisbon', 'America/New_York', 'Australia/Lord_Howe', 'Asia/Kathmandu', 'Pacific/Apia', 'UTC'];

it('says what luxon says, also around the changes of clocks', () => {
  const clocks = new Map(ZONES.map((zone) => [zone, localClock(zone)]));
  fc.assert(
    fc.property(
      fc.constantFrom(...ZONES),
      fc.integer({ min: Date.UTC(1975, 0), max: Date.UTC(2040, 0) }),
      fc.constantFrom(0, 1, 59_999, 900_000, 3_600_000),
      (zone, near, more) => {
        const at = near + more;
        const luxon = DateTime.fromMillis(at, { zone });
        const { day, weekday, minute } = clocks.get(zone)!(at);
        expect(new Date(day * 86_400_000).toISOString().slice(0, 10)).toBe(luxon.toISODate());
        expect([weekday, minute]).toEqual([luxon.weekday, luxon.hour * 60 + luxon.minute]);
      },
    ),
    { numRuns: 3000 },
  );
  // The hour that comes twice, and the one that does not come (Lisbon, 2026).
  for (let at = Date.UTC(2026, 9, 24, 22); at < Date.UTC(2026, 9, 25, 4); at += 7 * 60_000)
    expect(clocks.get('Europe/Lisbon')!(at).minute).toBe(
      DateTime.fromMillis(at, { zone: 'Europe/Lisbon' }).hour * 60 +
        DateTime.fromMillis(at, { zone: 'Europe/Lisbon' }).minute,
    );
});
