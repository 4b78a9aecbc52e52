// A feed: RSS, Atom, RDF or JSON Feed at an address, fetched only when it has changed.
import { z } from 'zod';
import { notice } from '@playa/core/items/noticing.ts';
import type { Item } from '@playa/core/items/item.ts';
import { claimedWatch } from '../../store/watch-claims.ts';
import { fetchFeed, validatorsSchema } from '../fetch-feed.ts';
import { LOOK_LEASE } from '../look-lease.ts';
import { olderPages } from '../older-pages.ts';
import { pastItems } from '../past.ts';
import { offerSubscription } from '../websub.ts';
import type { SourceKind } from './kind.ts';

// What the address is, was looked at when it was stored, and the guarded client looks again.
const feedParams = z.object({ url: z.string(), channel: z.string().optional() });

const memorySchema = z.object({
  validators: validatorsSchema,
  window: z.object({ identities: z.array(z.string()), oldest: z.number().nullable() }),
});

export const feedKind: SourceKind<z.infer<typeof feedParams>> = {
  kind: 'feed',
  params: feedParams,
  key: ({ url }) => `feed:${url.replace(/#.*$/, '')}`,
  async read(services, claimed) {
    const params = feedParams.parse(claimed.params);
    const fetched = await fetchFeed(services, params.url, claimed.validators);
    if (!fetched) return 'unchanged';
    const watch = await claimedWatch(services.pool, claimed.id);
    if (!watch) return 'gone';
    const before = memorySchema.safeParse(watch.memory).data?.window ?? null;
    const { feed, validators } = fetched;
    const earlier = watch.firstLookAt === null ? await pastItems(services, watch.brandId, params.channel) : [];
    // A window that slid past what was last seen: older pages may still have it.
    const pages = before ? await olderPages(services, feed, before, LOOK_LEASE / 3) : { items: [], closed: false };
    const window = [...feed.items, ...pages.items];
    return {
      watch,
      items: [...window, ...earlier],
      tell(known) {
        const noticed = notice(window, before, known);
        const here = new Set(window.map((item) => item.identity));
        const older = earlier.filter((item) => !here.has(item.identity) && !known.has(item.identity)).reverse();
        const gap = noticed.gap && !pages.closed;
        return {
          past: [...older, ...noticed.past],
          fresh: noticed.fresh,
          again: before ? feed.items.filter((item) => known.has(item.identity)) : [],
          // Only the newest window is compared with; pages were read to close a gap.
          memory: { validators, window: pages.items.length ? windowOf(feed.items) : noticed.memory },
          notes: [
            ...feed.warnings,
            ...(gap ? ['More appeared at once than the feed shows; some items may have been missed.'] : []),
          ],
        };
      },
      afterwards: () => offerSubscription(services, watch, feed.links),
    };
  },
};

function windowOf(items: readonly Item[]): { identities: string[]; oldest: number | null } {
  const moments = items.flatMap((item) => item.publishedAt ?? []);
  return { identities: items.map((item) => item.identity), oldest: moments.length ? Math.min(...moments) : null };
}
