import { LINK, LONG_TEXT, MOMENT, PERSON, TEXT, YES_NO } from '@playa/core/shapes/shape.ts';
import { z } from 'zod';
import { call, cannot, jsonBody, orGone, pagesBack, webAddress } from '../answers.ts';
import type { Connector } from '../connector.ts';

const postSchema = z.object({
  id: z.string().min(1),
  message: z.string(),
  link: z.string().nullable(),
  url: webAddress,
  created_at: z.iso.datetime().transform((text) => Date.parse(text)),
});
const commentSchema = z.object({
  id: z.string().min(1),
  message: z.string(),
  post: z.string(),
  from: z.object({ id: z.string(), name: z.string() }),
  url: webAddress,
  created_at: z.iso.datetime().transform((text) => Date.parse(text)),
});
/** A comment of a list, with when its page first answered it. */
const listedSchema = commentSchema.extend({ answered_at: z.iso.datetime().nullable() });
const errorSchema = z.object({ error: z.object({ message: z.string().max(500) }) });
const said = (body: unknown) => errorSchema.safeParse(body).data?.error.message;

/** Networks of business pages: posts with a text and a link. */
export const pages: Connector = {
  kind: 'pages',
  purpose: 'posting',
  signIn: {
    by: 'consent',
    authorize: '/oauth/authorize',
    token: '/oauth/token',
    revoke: '/oauth/revoke',
    scopes: { 'pages.list': 'list your pages', 'pages.post': 'post on them' },
  },

  async whoAmI(session) {
    const me = await call(session, '/api/me', z.object({ id: z.string(), name: z.string() }));
    return { remoteId: me.id, name: me.name };
  },

  async outlets(session) {
    const schema = z.object({ data: z.array(z.object({ id: z.string(), name: z.string(), address: webAddress })) });
    const { data } = await call(session, '/api/me/pages', schema);
    return data.map((page) => ({
      kind: 'page',
      remoteId: page.id,
      name: page.name,
      address: page.address,
      feed: null,
    }));
  },

  watches: {
    comments: {
      things: 'comments',
      said: 'comment',
      outlet: 'page',
      shape: {
        text: LONG_TEXT,
        person: PERSON,
        post: TEXT,
        published: MOMENT,
        link: LINK,
        answered: YES_NO,
        answeredAt: MOMENT,
        id: TEXT,
      },
      read: (session, page, seen) =>
        pagesBack<string>(seen, async (cursor) => {
          const schema = z.object({ data: z.array(listedSchema), before: z.string().nullable() });
          const query = cursor ? `?before=${encodeURIComponent(cursor)}` : '';
          const path = `/api/pages/${encodeURIComponent(page)}/comments${query}`;
          const answer = await call(session, path, schema, { message: said });
          return {
            cursor: answer.before,
            items: answer.data.map((comment) => ({
              identity: `comment:${comment.id}`,
              publishedAt: comment.created_at,
              fields: {
                text: comment.message,
                person: { name: comment.from.name, id: comment.from.id },
                post: comment.post,
                published: new Date(comment.created_at).toISOString(),
                link: comment.url,
                answered: comment.answered_at !== null,
                answeredAt: comment.answered_at,
                id: comment.id,
              },
            })),
          };
        }),
    },
  },
  allowance: { calls: 5000, per: 'hour' },

  acts: {
    publish: {
      repeats: 'keyed',
      async send(session, outlet, input, key) {
        const post = await call(session, `/api/pages/${encodeURIComponent(outlet)}/posts`, postSchema, {
          method: 'POST',
          writes: true,
          headers: { 'content-type': 'application/json', 'idempotency-key': key },
          body: JSON.stringify({
            message: input.text,
            link: input.card,
            ...(input.media?.length ? { media: input.media } : {}),
          }),
          message: said,
        });
        return { remoteId: post.id, url: post.url, at: post.created_at };
      },
    },
    // The same words again, or what is gone already: nothing changes twice.
    revise: {
      offers: ['edit', 'delete'],
      repeats: 'keyed',
      async send(session, _outlet, input) {
        const at = `/api/posts/${encodeURIComponent(input.post)}`;
        if (input.change === 'edit') {
          const post = await call(session, at, postSchema, {
            ...jsonBody({ message: input.text }),
            method: 'PATCH',
            writes: true,
            message: said,
          });
          return { remoteId: post.id, url: post.url, at: session.now() };
        }
        if (input.change !== 'delete') throw cannot(session, input.change);
        await call(session, at, z.unknown(), { method: 'DELETE', writes: true, message: said, gone: true });
        return { remoteId: input.post, url: null, at: session.now() };
      },
    },
    reply: {
      repeats: 'keyed',
      async standing(session, _outlet, input) {
        const schema = commentSchema.extend({ answers: z.array(commentSchema) });
        const at = `/api/comments/${encodeURIComponent(input.to)}`;
        const found = await orGone(call(session, at, schema, { message: said }));
        return found && { text: found.message, answers: found.answers.map((answer) => answer.message) };
      },
      async send(session, _outlet, input, key) {
        const comment = await call(session, `/api/comments/${encodeURIComponent(input.to)}/answers`, commentSchema, {
          ...jsonBody({ message: input.text }),
          headers: { 'content-type': 'application/json', 'idempotency-key': key },
          method: 'POST',
          writes: true,
          message: said,
        });
        return { remoteId: comment.id, url: comment.url, at: comment.created_at };
      },
    },
  },
};
