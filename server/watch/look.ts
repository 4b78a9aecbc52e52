import { z } from 'zod';
import { notice } from '@playa/core/items/noticing.ts';
import type { Item } from '@playa/core/items/item.ts';
import { cutUnits } from '@playa/core/text/graphemes.ts';
import { concernsAll, inTransaction } from '../db/database.ts';
import type { Services } from '../base/services.ts';
import { noteChange } from '../store/changes.ts';
import { knownIdentities } from '../store/items.ts';
import {
  type ClaimedWatch,
  claimDueWatches,
  claimWatch,
  claimedWatch,
  endLook,
  endUnchangedLooks,
  holdsLease,
} from '../store/watch-claims.ts';
import { isWatched } from '../store/watch-times.ts';
import { noteGone, sayRefused, storeArrivals } from './arrivals.ts';
import { LookTrouble, fetchFeed, validatorsSchema } from './fetch-feed.ts';
import { LOOK_LEASE } from './look-lease.ts';
import { readNetwork } from './network.ts';
import { olderPages } from './older-pages.ts';
import { pastItems } from './past.ts';
import { dueOccurrences, RecurrenceError, scheduleParams } from './schedule.ts';
import { offerSubscription } from './websub.ts';
import { nextInterval, fail } from './next-look.ts';

// What the address is, was looked at when it was stored, and the guarded client looks again.
const paramsSchema = z.object({ url: z.string(), channel: z.string().optional() });

const memorySchema = z.object({
  validators: validatorsSchema,
  window: z.object({ identities: z.array(z.string()), oldest: z.number().nullable() }),
});

const windowSchema = memorySchema.pick({ window: true });

const scheduleMemory = z.object({ last: z.number() });

/** So many times the looks that go on at once are claimed together. Slow ones must be begun within their lease. */
const AHEAD = 3;

/** Looks at the watches that are due, and waits for all of them. Returns how many. */
export async function lookAtDue(services: Services, most = 8): Promise<number> {
  const looker = new Looker(services, most);
  const count = await looker.round();
  await looker.finish();
  return count;
}

/**
 * Keeps a number of looks going at once, so that a slow source holds up nothing. Those at which nothing had changed are
 * written down together.
 */
export class Looker {
  readonly #services: Services;
  readonly #most: number;
  readonly #open = new Set<Promise<void>>();
  /** Claimed, not begun: a claim is worth more when it takes many. */
  #queue: ClaimedWatch[] = [];
  #unchanged: { id: number; lease: string }[] = [];
  /** Called when a look is through. */
  #freed: (() => void) | null = null;

  constructor(services: Services, most = 64) {
    this.#services = services;
    this.#most = most;
  }

  /** Takes up what is due, as far as there is room. Returns how many. */
  async round(): Promise<number> {
    await this.#makeRoom();
    const { pool, clock } = this.#services;
    const room = this.#most * AHEAD - this.#queue.length - this.#open.size;
    const claimed = await inTransaction(pool, (db) => claimDueWatches(db, clock(), LOOK_LEASE, room));
    this.#queue.push(...claimed);
    while (this.#open.size < this.#most && this.#queue.length > 0) this.#begin(this.#queue.shift()!);
    // Under a flood many are written down together; otherwise at once.
    await this.#flush(claimed.length < room ? 1 : this.#most * AHEAD);
    return claimed.length;
  }

  #begin(watch: ClaimedWatch): void {
    const looking = this.#look(watch).finally(() => {
      this.#open.delete(looking);
      const next = this.#queue.shift();
      if (next) this.#begin(next);
      this.#freed?.();
    });
    this.#open.add(looking);
  }

  /**
   * Waits until half of the looks are through, so that claiming is worth a transaction; but not for slow sources, as
   * long as there is any room.
   */
  #makeRoom(): Promise<void> {
    const enough = this.#most / 2;
    const busy = () => this.#open.size + this.#queue.length;
    if (busy() <= enough) return Promise.resolve();
    return new Promise((resolve) => {
      let patient = true;
      const check = () => {
        if (busy() >= this.#most || (patient && busy() > enough)) return;
        clearTimeout(timer);
        this.#freed = null;
        resolve();
      };
      const timer = setTimeout(() => {
        patient = false;
        check();
      }, 50);
      this.#freed = check;
    });
  }

  /** Waits for what is under way. */
  async finish(): Promise<void> {
    while (this.#open.size > 0) await Promise.all(this.#open);
    await this.#flush(1);
  }

  async #look(watch: ClaimedWatch): Promise<void> {
    try {
      if ((await look(this.#services, watch)) === 'unchanged')
        this.#unchanged.push({ id: watch.id, lease: watch.lease });
    } catch (error) {
      this.#services.log.error({ err: error, watch: watch.id }, 'a look failed');
      // When the database is away, the claim runs out and the source is looked at again. A fault of ours is shown.
      if (!concernsAll(error)) await fail(this.#services, watch, new LookTrouble(STUMBLED)).catch(() => undefined);
    }
  }

  async #flush(least: number): Promise<void> {
    if (this.#unchanged.length < least) return;
    const looks = this.#unchanged;
    this.#unchanged = [];
    await endUnchangedLooks(this.#services.pool, looks, this.#services.clock());
  }
}

const STUMBLED = 'Playa itself stumbled over what this source says, and took nothing from it. It looks again later.';

/** Looks at one watch now. @throws LookTrouble when the source gives nothing to read */
export async function lookNow(services: Services, watchId: number): Promise<void> {
  const watch = await inTransaction(services.pool, (db) => claimWatch(db, watchId, services.clock(), LOOK_LEASE));
  const result = await look(services, watch);
  if (result === 'unchanged')
    await endUnchangedLooks(services.pool, [{ id: watch.id, lease: watch.lease }], services.clock());
  else if (result) throw result;
}

/**
 * One look: fetch outside any transaction, then store what is new and start its runs in one. The first look only sets
 * the baseline. Whoever gets `unchanged` ends the look.
 */
export async function look(services: Services, watch: ClaimedWatch): Promise<LookTrouble | 'unchanged' | undefined> {
  try {
    if (watch.kind === 'schedule') await lookAtSchedule(services, watch);
    else if (watch.kind === 'feed') return await lookAtFeed(services, watch);
    else if (watch.kind === 'network') await lookAtNetwork(services, watch);
    else await endHookLook(services, watch);
    return undefined;
  } catch (error) {
    if (!(error instanceof LookTrouble)) throw error;
    await fail(services, watch, error);
    return error;
  }
}

/** A web hook is not looked at: whoever calls it tells. */
async function endHookLook(services: Services, watch: ClaimedWatch): Promise<void> {
  const now = services.clock();
  await endLook(services.pool, watch.id, { now, ok: true, trouble: null, nextAt: null });
}

async function lookAtSchedule(services: Services, claimed: ClaimedWatch): Promise<void> {
  const params = scheduleParams.parse(claimed.params);
  const watch = await claimedWatch(services.pool, claimed.id);
  if (!watch) return;
  const last = scheduleMemory.safeParse(watch.memory).data?.last ?? null;
  await inTransaction(services.pool, async (db) => {
    if (!(await holdsLease(db, watch.id, claimed.lease))) return;
    const now = services.clock();
    const watched = await isWatched(db, watch.id);
    let due: ReturnType<typeof dueOccurrences>;
    try {
      // While nobody listened nothing was missed.
      due = dueOccurrences(params, !claimed.watched && last !== null ? now : last, now);
    } catch (error) {
      if (error instanceof RecurrenceError) throw new LookTrouble(error.message);
      throw error;
    }
    await storeArrivals(db, watch, { past: due.past, fresh: due.items, again: [] }, now);
    // A clock that was set back must not make anything happen a second time.
    const memory = { last: Math.max(now, last ?? 0) };
    await endLook(db, watch.id, {
      now,
      ok: true,
      trouble: null,
      nextAt: watched ? due.next : null,
      memory,
      note: due.next === null ? 'This schedule has come to its end.' : null,
    });
  });
}

async function lookAtFeed(services: Services, claimed: ClaimedWatch): Promise<'unchanged' | undefined> {
  const params = paramsSchema.parse(claimed.params);
  const fetched = await fetchFeed(services, params.url, claimed.validators);
  if (!fetched) return 'unchanged';
  const watch = await claimedWatch(services.pool, claimed.id);
  if (!watch) return undefined;
  const before = memorySchema.safeParse(watch.memory).data?.window ?? null;
  const { feed, validators } = fetched;
  const earlier = watch.firstLookAt === null ? await pastItems(services, watch.brandId, params.channel) : [];
  // A window that slid past what was last seen: older pages may still have it.
  const pages = before ? await olderPages(services, feed, before, LOOK_LEASE / 3) : { items: [], closed: false };
  await inTransaction(services.pool, async (db) => {
    const now = services.clock();
    if (!(await holdsLease(db, watch.id, claimed.lease))) return;
    const window = [...feed.items, ...pages.items];
    const known = await knownIdentities(
      db,
      watch.id,
      [...window, ...earlier].map((item) => item.identity),
    );
    const noticed = notice(window, before, known);
    const here = new Set(window.map((item) => item.identity));
    const older = earlier.filter((item) => !here.has(item.identity) && !known.has(item.identity)).reverse();
    const { refused } = await storeArrivals(
      db,
      watch,
      {
        past: [...older, ...noticed.past],
        fresh: noticed.fresh,
        again: before ? feed.items.filter((item) => known.has(item.identity)) : [],
      },
      now,
    );
    const interval = await nextInterval(services, db, watch, now);
    const gap = noticed.gap && !pages.closed;
    const notes = [
      ...sayRefused(refused),
      ...feed.warnings,
      ...(gap ? ['More appeared at once than the feed shows; some items may have been missed.'] : []),
    ];
    await endLook(db, watch.id, {
      now,
      ok: true,
      trouble: null,
      nextAt: (await isWatched(db, watch.id)) ? now + interval.ms : null,
      // Only the newest window is compared with; pages were read to close a gap.
      memory: { validators, window: pages.items.length ? windowOf(feed.items) : noticed.memory },
      note: notes.length ? cutUnits(notes.join(' '), 500) : null,
      intervalMs: interval.ms,
      usualDelay: interval.delay,
    });
    if (watch.trouble) await noteChange(db, watch.brandId, 'watches', watch.id, now);
  });
  await offerSubscription(services, watch, feed.links);
  return undefined;
}

async function lookAtNetwork(services: Services, claimed: ClaimedWatch): Promise<void> {
  const watch = await claimedWatch(services.pool, claimed.id);
  if (!watch) return;
  const before = windowSchema.safeParse(watch.memory).data?.window ?? null;
  const { items, told, whole } = await readNetwork(services, watch, new Set(before?.identities));
  await inTransaction(services.pool, async (db) => {
    const now = services.clock();
    if (!(await holdsLease(db, watch.id, claimed.lease))) return;
    const identities = items.map((item) => item.identity);
    const known = await knownIdentities(db, watch.id, identities);
    const noticed = notice(items, before, known);
    const again = before ? items.filter((item) => known.has(item.identity)) : [];
    const { refused } = await storeArrivals(db, watch, { past: noticed.past, fresh: noticed.fresh, again }, now);
    if (whole) await noteGone(db, watch, new Set(identities), now);
    const interval = await nextInterval(services, db, watch, now, told);
    await endLook(db, watch.id, {
      now,
      ok: true,
      trouble: null,
      nextAt: (await isWatched(db, watch.id)) ? now + interval.ms : null,
      // The newest are enough to find the way back to.
      memory: { window: { identities: noticed.memory.identities.slice(0, 100), oldest: noticed.memory.oldest } },
      note: cutUnits([...sayRefused(refused), ...(noticed.gap ? [MISSED] : [])].join(' '), 500) || null,
      intervalMs: interval.ms,
      usualDelay: interval.delay,
    });
    if (watch.trouble) await noteChange(db, watch.brandId, 'watches', watch.id, now);
  });
}

const MISSED = 'More appeared at once than could be read; some may have been missed.';

function windowOf(items: readonly Item[]): { identities: string[]; oldest: number | null } {
  const moments = items.flatMap((item) => item.publishedAt ?? []);
  return { identities: items.map((item) => item.identity), oldest: moments.length ? Math.min(...moments) : null };
}
