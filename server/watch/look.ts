import { z } from 'zod';
import { notice } from '@playa/core/items/noticing.ts';
import type { Item } from '@playa/core/items/item.ts';
import { inTransaction } from '../db/database.ts';
import type { Services } from '../services.ts';
import { noteChange } from '../store/changes.ts';
import { addItems, knownIdentities } from '../store/items.ts';
import { addRun } from '../store/runs.ts';
import * as watches from '../store/watches.ts';
import { liveSubscribers } from '../store/workflows.ts';
import { pastItems } from './past.ts';
import { webAddress } from '../connectors/answers.ts';
import { LookTrouble, fetchFeed, validatorsSchema } from './fetch-feed.ts';

const paramsSchema = z.object({ url: webAddress, channel: z.string().optional() });
const memorySchema = z.object({
  validators: validatorsSchema,
  window: z.object({ identities: z.array(z.string()), oldest: z.number().nullable() }),
});

/** A look may take this long before another worker may take it over. */
const LOOK_LEASE = 90_000;
/** A source that fails is looked at less and less often, but at least this often. */
const LONGEST_PAUSE = 30 * 60_000;

/** Looks at the watches that are due. Returns how many. */
export async function lookAtDue(services: Services, most = 8): Promise<number> {
  const now = services.clock();
  const claimed = await inTransaction(services.pool, (db) => watches.claimDueWatches(db, now, LOOK_LEASE, most));
  await Promise.all(claimed.map((watch) => look(services, watch)));
  return claimed.length;
}

/** Looks at one watch now. @throws LookTrouble when the source gives nothing to read */
export async function lookNow(services: Services, watchId: number): Promise<void> {
  const watch = await inTransaction(services.pool, (db) =>
    watches.claimWatch(db, watchId, services.clock(), LOOK_LEASE),
  );
  const trouble = await look(services, watch);
  if (trouble) throw trouble;
}

/**
 * One look: fetch outside any transaction, then store what is new and start its runs in one. The first look only sets
 * the baseline.
 */
async function look(services: Services, watch: watches.ClaimedWatch): Promise<LookTrouble | undefined> {
  const params = paramsSchema.parse(watch.params);
  const memory = memorySchema.safeParse(watch.memory).data;
  try {
    const fetched = await fetchFeed(services.guard, params.url, memory?.validators ?? {});
    const earlier = watch.firstLookAt === null ? await pastItems(services, watch.brandId, params.channel) : [];
    await store(services, watch, memory?.window ?? null, fetched, earlier);
    return undefined;
  } catch (error) {
    if (!(error instanceof LookTrouble)) throw error;
    await fail(services, watch, error);
    return error;
  }
}

async function store(
  services: Services,
  watch: watches.ClaimedWatch,
  before: z.infer<typeof memorySchema>['window'] | null,
  fetched: Awaited<ReturnType<typeof fetchFeed>>,
  earlier: readonly Item[],
): Promise<void> {
  await inTransaction(services.pool, async (db) => {
    const now = services.clock();
    if (!(await watches.holdsLease(db, watch.id, watch.lease))) return;
    const watched = await watches.isWatched(db, watch.id);
    const nextAt = watched ? now + watch.everySeconds * 1000 : null;
    if (!fetched) return watches.endLook(db, watch.id, { now, ok: true, trouble: null, nextAt });

    const { feed, validators } = fetched;
    const all = [...feed.items, ...earlier];
    const known = await knownIdentities(
      db,
      watch.id,
      all.map((item) => item.identity),
    );
    const noticed = notice(feed.items, before, known);
    const inWindow = new Set(feed.items.map((item) => item.identity));
    const older = earlier.filter((item) => !inWindow.has(item.identity) && !known.has(item.identity)).reverse();
    const owner = { brandId: watch.brandId, watchId: watch.id };
    await addItems(
      db,
      owner,
      [...older, ...noticed.past].map((item) => ({ ...item, past: true })),
      now,
    );
    const fresh = await addItems(
      db,
      owner,
      noticed.fresh.map((item) => ({ ...item, past: false })),
      now,
    );
    if (fresh.length > 0) {
      for (const { workflowId, version } of await liveSubscribers(db, watch.id)) {
        for (const itemId of fresh)
          await addRun(db, { brandId: watch.brandId, workflowId, version, itemId, dueAt: now, now });
      }
      await noteChange(db, watch.brandId, 'items', watch.id, now);
    }
    const notes = [
      ...feed.warnings,
      ...(noticed.gap ? ['More appeared at once than the feed shows; some items may have been missed.'] : []),
    ];
    await watches.endLook(db, watch.id, {
      now,
      ok: true,
      trouble: null,
      nextAt,
      memory: { validators, window: noticed.memory },
      note: notes.length ? notes.join(' ').slice(0, 500) : null,
    });
    if (watch.trouble) await noteChange(db, watch.brandId, 'watches', watch.id, now);
  });
}

async function fail(services: Services, watch: watches.ClaimedWatch, trouble: LookTrouble): Promise<void> {
  await inTransaction(services.pool, async (db) => {
    const now = services.clock();
    if (!(await watches.holdsLease(db, watch.id, watch.lease))) return;
    const pause = Math.max(
      trouble.retryAfter,
      Math.min(LONGEST_PAUSE, watch.everySeconds * 1000 * 2 ** Math.min(watch.failures, 8)),
    );
    const nextAt = (await watches.isWatched(db, watch.id)) ? now + pause : null;
    await watches.endLook(db, watch.id, { now, ok: false, trouble: trouble.message.slice(0, 500), nextAt });
    if (!watch.trouble) await noteChange(db, watch.brandId, 'watches', watch.id, now);
  });
}
