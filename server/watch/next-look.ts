// When a source is looked at next, by what is known of it.
import { cutUnits } from '@playa/core/text/graphemes.ts';
import { budgetFactor, lookInterval, usualDelay } from '@playa/core/timetable/look-interval.ts';
import { inTransaction, type Queryable } from '../db/database.ts';
import type { Services } from '../base/services.ts';
import { networkParams } from '../accounts/push-subscriptions.ts';
import { accountBy } from '../store/accounts.ts';
import { noteChange } from '../store/changes.ts';
import { type ClaimedWatch, claimedWatch, endLook, holdsLease } from '../store/watch-claims.ts';
import { intervalsAtHost, isWatched, momentsOf } from '../store/watch-times.ts';
import type { Watch } from '../store/watches.ts';
import { websubOf } from '../store/websub.ts';
import { LookTrouble } from './fetch-feed.ts';

/** A source is looked at at least this often, also one that fails or seldom says anything. */
const LONGEST_PAUSE = 30 * 60_000;

/** How far the interval may grow from the one a source starts with. */
const STRETCH = 8;

/** Looks at one host in an hour, all brands together. */
export const LOOKS_PER_HOUR = 1200;

/** How much of a source's history its interval is made from. */
const HISTORY = 200;

/** How long until the next look, and how late items of the source are usually seen. */
export async function nextInterval(
  services: Services,
  db: Queryable,
  watch: Watch,
  now: number,
  told = false,
): Promise<{ ms: number; delay: number | null }> {
  const history = await momentsOf(db, watch.id, HISTORY);
  const shortest = watch.everySeconds * 1000;
  // In the demonstration somebody is sitting in front of it, waiting for what they have just uploaded.
  const longest = services.config.demo ? shortest : Math.max(shortest, Math.min(LONGEST_PAUSE, shortest * STRETCH));
  // A hub tells at once; looks are then only there to catch what it missed.
  const isTold = told || (await websubOf(db, watch.id))?.status === 'active';
  const moments = history.map(({ publishedAt, seenAt }) => publishedAt ?? seenAt);
  const wanted = isTold ? Math.max(longest, LONGEST_PAUSE) : lookInterval(moments, now, { shortest, longest });
  const perHour = watch.kind === 'network' ? await looksOf(services, db, watch) : LOOKS_PER_HOUR;
  const factor = budgetFactor([wanted, ...(await intervalsAtHost(db, watch.id))], perHour);
  return {
    ms: Math.round(wanted * factor),
    delay: usualDelay(history.filter(({ past }) => !past)),
  };
}

/** Looks that an account's allowance has room for in an hour: half of it, since posting needs the other. */
async function looksOf(services: Services, db: Queryable, watch: Watch): Promise<number> {
  const account = await accountBy(db, watch.brandId, networkParams.parse(watch.params).account);
  const allowance = account && services.connectors[account.kind].allowance;
  if (!allowance) return LOOKS_PER_HOUR;
  return Math.max(2, allowance.calls / (allowance.per === 'day' ? 48 : 2));
}

export async function fail(services: Services, claimed: ClaimedWatch, trouble: LookTrouble): Promise<void> {
  await inTransaction(services.pool, async (db) => {
    const now = services.clock();
    if (!(await holdsLease(db, claimed.id, claimed.lease))) return;
    const watch = (await claimedWatch(db, claimed.id))!;
    const pause = Math.max(
      trouble.retryAfter,
      Math.min(LONGEST_PAUSE, watch.everySeconds * 1000 * 2 ** Math.min(watch.failures, 8)),
    );
    const nextAt = (await isWatched(db, watch.id)) ? now + pause : null;
    await endLook(db, watch.id, { now, ok: false, trouble: cutUnits(trouble.message, 500), nextAt });
    if (!watch.trouble) await noteChange(db, watch.brandId, 'watches', watch.id, now);
  });
}
