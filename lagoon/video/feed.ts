import { createHash } from 'node:crypto';
import { escape } from '../base/html.ts';
import type { Channel, Video } from './store.ts';

/** The namespace that the Media RSS specification gives itself. */
const MEDIA_RSS = 'http://search.yahoo.com/mrss/';

/** A channel's newest fifteen videos as Atom (RFC 4287) with Media RSS. */
export function channelFeed(channel: Channel, videos: readonly Video[], base: string, name: string = channel.id) {
  const updated = Math.max(0, ...videos.map((video) => video.published_at));
  const entries = videos.map(
    (video) => `
  <entry>
    <id>lagoon:video:${video.id}</id>
    <title>${escape(video.title)}</title>
    <link rel="alternate" type="text/html" href="${base}/v/${video.id}"/>
    <author><name>${escape(channel.title)}</name><uri>${base}/channels/${channel.id}</uri></author>
    <published>${new Date(video.published_at).toISOString()}</published>
    <updated>${new Date(video.published_at).toISOString()}</updated>
    <media:group>
      <media:title>${escape(video.title)}</media:title>
      <media:content url="${base}/film/${video.id}.mp4" type="video/mp4" medium="video" duration="${video.seconds}" width="1280" height="720"/>
      <media:thumbnail url="${base}/pictures/${escape(video.picture)}.jpg" width="640" height="360"/>
      <media:description>${escape(video.description)}</media:description>
    </media:group>
  </entry>`,
  );
  const body = `<?xml version="1.0" encoding="UTF-8"?>
<feed xmlns="http://www.w3.org/2005/Atom" xmlns:media="${MEDIA_RSS}">
  <id>lagoon:channel:${name}</id>
  <title>${escape(channel.title)}</title>
  <link rel="self" href="${base}/feeds/${name}.atom"/>
  <link rel="hub" href="${base}/hub"/>
  <link rel="alternate" type="text/html" href="${base}/channels/${channel.id}"/>
  <author><name>${escape(channel.title)}</name><uri>${base}/channels/${channel.id}</uri></author>
  <updated>${new Date(updated).toISOString()}</updated>${entries.join('')}
</feed>
`;
  return { body, updated, etag: `"${createHash('sha256').update(body).digest('base64url').slice(0, 22)}"` };
}
