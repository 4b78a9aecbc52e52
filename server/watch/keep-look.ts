import { cutUnits } from '@playa/core/text/graphemes.ts';
import { inTransaction } from '../db/database.ts';
import type { Services } from '../base/services.ts';
import { noteChange } from '../store/changes.ts';
import { knownIdentities } from '../store/items.ts';
import { type ClaimedWatch, endLook, holdsLease } from '../store/watch-claims.ts';
import { isWatched } from '../store/watch-times.ts';
import { noteGone, sayRefused, storeArrivals } from './arrivals.ts';
import type { Reading } from './kinds/kind.ts';
import { nextInterval } from './next-look.ts';

/**
 * Keeps what a look found, of whatever kind the source is: stores what is new and starts its runs, tells runs of what has
 * changed or is gone, and ends the look; all of it in one transaction, or nothing where the claim was lost meanwhile.
 */
export async function keepLook(services: Services, claimed: ClaimedWatch, reading: Reading): Promise<void> {
  const { watch, items, whole, told, said, byOutlets } = reading;
  await inTransaction(services.pool, async (db) => {
    const now = services.clock();
    if (!(await holdsLease(db, watch.id, claimed.lease))) return;
    const identities = items.map((item) => item.identity);
    const { past, fresh, again, memory, notes } = reading.tell(await knownIdentities(db, watch.id, identities));
    const { refused } = await storeArrivals(db, { ...watch, said, byOutlets }, { past, fresh, again }, now);
    if (whole) await noteGone(db, watch, new Set(identities), now);
    const watched = await isWatched(db, watch.id);
    // A source that says itself when it speaks next needs no guess.
    const interval = reading.nextAt === undefined ? await nextInterval(services, db, watch, now, told) : null;
    await endLook(db, watch.id, {
      now,
      ok: true,
      trouble: null,
      nextAt: !watched ? null : interval ? now + interval.ms : (reading.nextAt ?? null),
      memory,
      note: cutUnits([...sayRefused(refused), ...notes].join(' '), 500) || null,
      ...(interval && { intervalMs: interval.ms, usualDelay: interval.delay }),
    });
    if (watch.trouble) await noteChange(db, watch.brandId, 'watches', watch.id, now);
  });
  await reading.afterwards?.();
}
