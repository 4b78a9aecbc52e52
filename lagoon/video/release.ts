import type { Lagoon } from '../base/lagoon.ts';
import { channelFeed } from './feed.ts';
import { publishFeed } from './hub.ts';
import { addVideo, channelBy, videosOf } from './store.ts';

/** How many films a channel's feed shows. */
export const FEED_SIZE = 15;

/** Puts a film on its channel, and has the hub tell whoever subscribed to the feed. */
export async function releaseVideo(lagoon: Lagoon, film: Parameters<typeof addVideo>[1]): Promise<string> {
  const id = await addVideo(lagoon.db, film);
  const now = lagoon.clock.now();
  const channel = await channelBy(lagoon.db, 'id', film.channel_id);
  if (channel && film.published_at <= now) {
    const base = `${lagoon.config.origin}/video`;
    const feed = channelFeed(channel, await videosOf(lagoon.db, channel.id, now, FEED_SIZE), base);
    void publishFeed(lagoon, `${base}/feeds/${channel.id}.atom`, feed.body).catch((error: unknown) =>
      console.error('The hub failed:', error),
    );
  }
  return id;
}
