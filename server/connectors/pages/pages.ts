import { z } from 'zod';
import { call, webAddress } from '../answers.ts';
import type { Connector } from '../connector.ts';

const postSchema = z.object({
  id: z.string().min(1),
  message: z.string(),
  link: z.string().nullable(),
  url: webAddress,
  created_at: z.iso.datetime().transform((text) => Date.parse(text)),
});
const errorSchema = z.object({ error: z.object({ message: z.string().max(500) }) });
const said = (body: unknown) => errorSchema.safeParse(body).data?.error.message;

/** Networks of business pages: posts with a text and a link. */
export const pages: Connector = {
  kind: 'pages',
  purpose: 'posting',
  signIn: {
    authorize: '/oauth/authorize',
    token: '/oauth/token',
    revoke: '/oauth/revoke',
    scopes: 'pages.list pages.post',
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

  acts: {
    publish: {
      repeats: 'keyed',
      async send(session, outlet, input, key) {
        const post = await call(session, `/api/pages/${encodeURIComponent(outlet)}/posts`, postSchema, {
          method: 'POST',
          writes: true,
          headers: { 'content-type': 'application/json', 'idempotency-key': key },
          body: JSON.stringify({ message: input.text, link: input.card }),
          message: said,
        });
        return { remoteId: post.id, url: post.url, at: post.created_at };
      },
    },
  },
};
