import type { ReadFeed } from '@playa/core/feeds/parse-feed.ts';
import { notice, type WindowMemory } from '@playa/core/items/noticing.ts';
import type { Item } from '@playa/core/items/item.ts';
import type { Services } from '../base/services.ts';
import { fetchFeed, LookTrouble } from './fetch-feed.ts';

/** A feed of more pages than this is not followed further back. */
const MOST_PAGES = 20;

/**
 * Follows a paged or archived feed (RFC 5005 sections 3 and 4) back until it meets what was last seen.
 *
 * @param within milliseconds after which no further page is asked for
 * @returns the items of the older pages, none when the feed's first page already meets it; `closed` when they do
 */
export async function olderPages(
  services: Pick<Services, 'guard' | 'outside'>,
  feed: ReadFeed,
  before: WindowMemory,
  within: number,
): Promise<{ items: Item[]; closed: boolean }> {
  const items: Item[] = [];
  const seen = new Set(feed.items.map((item) => item.identity));
  if (!notice(feed.items, before, new Set()).gap) return { items, closed: true };
  let next = feed.links.older;
  const visited = new Set<string>();
  const until = performance.now() + within;
  try {
    for (let pages = 0; next && !visited.has(next) && pages < MOST_PAGES && performance.now() < until; pages++) {
      visited.add(next);
      const page = await fetchFeed(services, next, {});
      if (!page) break;
      const fresh = page.feed.items.filter((item) => !seen.has(item.identity));
      for (const item of fresh) seen.add(item.identity);
      items.push(...fresh);
      if (page.feed.items.some((item) => before.identities.includes(item.identity))) return { items, closed: true };
      next = page.feed.links.older;
    }
  } catch (error) {
    // The first page was read; that older ones cannot be is a gap, not a failure.
    if (!(error instanceof LookTrouble)) throw error;
  }
  return { items, closed: false };
}
