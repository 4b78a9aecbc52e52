import { z } from 'zod';
import { identityOf } from '@playa/core/items/identity.ts';
import { call, webAddress } from '../answers.ts';
import type { Connector } from '../connector.ts';

const channelSchema = z.object({
  channel_id: z.string().min(1),
  handle: z.string(),
  title: z.string(),
  page: webAddress,
  feed: webAddress,
});
const filmSchema = z.object({
  /** The identifier the film has in the feed. */
  feed_id: z.string(),
  title: z.string(),
  description: z.string(),
  seconds: z.number(),
  thumbnail: z.object({ src: webAddress, width: z.number(), height: z.number() }),
  page: webAddress,
  published_ms: z.number(),
});

/** Video networks: channels whose films appear in a feed. */
export const video: Connector = {
  acts: {},
  kind: 'video',
  purpose: 'watching',
  signIn: { authorize: '/oauth/authorize', token: '/oauth/token', revoke: '/oauth/revoke', scopes: 'channels.read' },

  async whoAmI(session) {
    const { person } = await call(
      session,
      '/api/me',
      z.object({ person: z.object({ id: z.number(), display: z.string() }) }),
    );
    return { remoteId: String(person.id), name: person.display };
  },

  async outlets(session) {
    const { channels } = await call(session, '/api/me/channels', z.object({ channels: z.array(channelSchema) }));
    return channels.map((channel) => ({
      kind: 'channel',
      remoteId: channel.channel_id,
      name: channel.title,
      address: channel.page,
      feed: channel.feed,
    }));
  },

  async past(session, channel, most) {
    const films: z.infer<typeof filmSchema>[] = [];
    const answer = z.object({ films: z.array(filmSchema), before: z.number().nullable() });
    let before = '';
    while (films.length < most) {
      const page = await call(session, `/api/channels/${encodeURIComponent(channel)}/films?size=50${before}`, answer);
      films.push(...page.films);
      if (page.before === null) break;
      before = `&before=${page.before}`;
    }
    if (films.length === 0) return [];
    // The same item as in the feed, under the identifier the feed gives it.
    const { base } = session.network;
    return films.slice(0, most).map((film) => ({
      identity: identityOf({ id: film.feed_id }),
      publishedAt: film.published_ms,
      fields: {
        title: film.title.replace(/\s+/g, ' ').trim(),
        link: film.page,
        description: film.description.trim(),
        published: new Date(film.published_ms).toISOString(),
        updated: new Date(film.published_ms).toISOString(),
        id: film.feed_id,
        author: { link: `${base}/channels/${channel}` },
        thumbnail: { url: film.thumbnail.src, width: film.thumbnail.width, height: film.thumbnail.height },
        length: film.seconds,
      },
    }));
  },

  addresses(network, pasted) {
    const text = pasted.trim();
    const bare = text.replace(/^@/, '');
    if (/^ch_[\w-]{8,}$/.test(text))
      return [`${network.base}/channels/${text}`, `${network.base}/on/${encodeURIComponent(text)}`];
    if (/^@?[\p{L}\p{N}][\p{L}\p{N}._-]{1,59}$/u.test(text) && (text.startsWith('@') || !text.includes('.'))) {
      return [`${network.base}/on/${encodeURIComponent(bare)}`];
    }
    return [];
  },
};
