import { LINK, LONG_TEXT, MOMENT, NUMBER, object, PERSON, TEXT, YES_NO } from '@playa/core/shapes/shape.ts';
import { z } from 'zod';
import { identityOf } from '@playa/core/items/identity.ts';
import { call, jsonBody, orGone, pagesBack, webAddress } from '../answers.ts';
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

const commentSchema = z.object({
  comment_id: z.string().min(1),
  text: z.string(),
  answer_to: z.string().nullable(),
  person: z.object({ id: z.number(), display: z.string() }),
  film: z.object({ film_id: z.string(), title: z.string(), page: webAddress }),
  written_ms: z.number(),
  /** When the channel first answered it. */
  answered_ms: z.number().nullable(),
});
const errorSchema = z.object({ detail: z.string().max(500) });
const said = (body: unknown) => errorSchema.safeParse(body).data?.detail;

/** Video networks: channels whose films appear in a feed. */
export const video: Connector = {
  kind: 'video',
  purpose: 'watching',
  signIn: {
    by: 'consent',
    authorize: '/oauth/authorize',
    token: '/oauth/token',
    revoke: '/oauth/revoke',
    scopes: { 'channels.read': 'see your channels and comments', 'comments.write': 'answer comments' },
  },

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

  watches: {
    comments: {
      things: 'comments',
      said: 'comment',
      outlet: 'channel',
      shape: {
        text: LONG_TEXT,
        level: NUMBER,
        person: PERSON,
        film: object({ title: TEXT, link: LINK }),
        published: MOMENT,
        link: LINK,
        answered: YES_NO,
        answeredAt: MOMENT,
        id: TEXT,
      },
      read: (session, channel, seen) =>
        pagesBack<number>(seen, async (cursor) => {
          const schema = z.object({ comments: z.array(commentSchema), before: z.number().nullable() });
          const query = cursor ? `?before=${cursor}` : '';
          const path = `/api/channels/${encodeURIComponent(channel)}/comments${query}`;
          const page = await call(session, path, schema, { message: said });
          return {
            cursor: page.before,
            items: page.comments.map((comment) => ({
              identity: `comment:${comment.comment_id}`,
              publishedAt: comment.written_ms,
              fields: {
                text: comment.text,
                level: comment.answer_to === null ? 1 : 2,
                person: { name: comment.person.display, id: String(comment.person.id) },
                film: { title: comment.film.title, link: comment.film.page },
                published: new Date(comment.written_ms).toISOString(),
                link: comment.film.page,
                answered: comment.answered_ms !== null,
                answeredAt: comment.answered_ms === null ? null : new Date(comment.answered_ms).toISOString(),
                id: comment.comment_id,
              },
            })),
          };
        }),
    },
  },
  allowance: { calls: 2000, per: 'hour' },

  acts: {
    // The network knows an answer again by its answer_ref.
    reply: {
      repeats: 'keyed',
      async standing(session, _channel, input) {
        const schema = z.object({ text: z.string(), answers: z.array(z.object({ text: z.string() })) });
        const at = `/api/comments/${encodeURIComponent(input.to)}`;
        const found = await orGone(call(session, at, schema, { message: said }));
        return found && { text: found.text, answers: found.answers.map((answer) => answer.text) };
      },
      async send(session, _channel, input, key) {
        const path = `/api/comments/${encodeURIComponent(input.to)}/answers`;
        const schema = z.object({ comment_id: z.string(), page: webAddress, written_ms: z.number() });
        const body = jsonBody({ text: input.text, answer_ref: key });
        const made = await call(session, path, schema, { ...body, method: 'POST', writes: true, message: said });
        return { remoteId: made.comment_id, url: made.page, at: made.written_ms };
      },
    },
  },

  addresses(network, pasted) {
    const text = pasted.trim();
    const bare = text.replace(/^@/, '');
    if (/^ch_[\w-]{8,}$/.test(text))
      return [`${network.base}/channels/${text}`, `${network.base}/on/${encodeURIComponent(text)}`];
    if (/^@?[\p{L}\p{N}][\p{L}\p{N}._-]{1,59}$/u.test(text) && (text.startsWith('@') || !text.includes('.'))) {
      return [`${network.base}/on/${encodeURIComponent(bare)}`];
    }
    // A name as it stands over the channel: its handle is often the same without the spaces.
    if (/^[\p{L}\p{N}][\p{L}\p{N} ’'&-]{2,59}$/u.test(text) && text.includes(' ')) {
      const words = text
        .toLowerCase()
        .replace(/[^\p{L}\p{N} ]+/gu, '')
        .split(' ')
        .filter(Boolean);
      return [`${network.base}/on/${encodeURIComponent(words.join(''))}`];
    }
    return [];
  },
};
