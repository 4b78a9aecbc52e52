// What a brand has published, as a feed of its own at an address that only those know who were given it.
import { writeAtomFeed, writeJsonFeed, type OwnFeed } from '@playa/core/feeds/write-feed.ts';
import type { OutletKind } from '@playa/core/outlets/kinds.ts';
import type { Services } from '../base/services.ts';
import { brandOfFeed } from '../store/brand-feeds.ts';
import { logbookPage } from '../store/logbook-shown.ts';
import { brandById } from '../store/users.ts';

const MOST = 50;

/** What is for everybody. Rooms are a crew's or a community's own, and letters, rows and calls are nobody else's business. */
const FOR_ALL = [
  'page',
  'channel',
  'microblog',
  'photos',
  'board',
  'professional',
  'broadcast',
] as const satisfies OutletKind[];

/**
 * The feed under an address.
 *
 * @returns undefined when there is none there
 */
export async function brandFeed(
  { pool, config }: Services,
  token: string,
  as: 'atom' | 'json',
): Promise<string | undefined> {
  const brandId = await brandOfFeed(pool, 'published', token);
  const brand = brandId === null ? undefined : await brandById(pool, brandId);
  if (brandId === null || !brand) return undefined;
  const entries = await logbookPage(pool, brandId, { actions: ['publish'], kinds: FOR_ALL }, undefined, MOST);
  const feed: OwnFeed = {
    id: `tag:playa,2026:${token}`,
    title: brand.name,
    self: `${config.origin}/published/${token}.${as}`,
    language: brand.locale,
    entries: entries.flatMap(({ key, url, text, at, media, outlet, deletedAt }) =>
      deletedAt !== null || url === null
        ? []
        : [
            {
              id: `tag:playa,2026:${token}/${encodeURIComponent(key)}`,
              url,
              text,
              at,
              picture: media?.type === 'picture' ? media.url : undefined,
              outlet: outlet ?? undefined,
            },
          ],
    ),
  };
  return as === 'json' ? writeJsonFeed(feed) : writeAtomFeed(feed);
}
