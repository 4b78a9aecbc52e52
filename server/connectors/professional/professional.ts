import { z } from 'zod';
import { call, cannot, jsonBody, webAddress, type CallOptions } from '../answers.ts';
import type { Connector } from '../connector.ts';

const meSchema = z.object({
  person: z.string(),
  name: z.string(),
  authors: z.array(z.object({ urn: z.string().min(1), name: z.string(), page: webAddress })),
});
const shareSchema = z.object({
  urn: z.string().min(1),
  commentary: z.string(),
  content: z.object({ link: z.string().nullable() }),
  page: webAddress,
  /** Seconds since 1970. */
  created: z.number(),
});
const errorSchema = z.object({ fault: z.object({ what: z.string().max(500) }) });
const manner: CallOptions = { message: (body) => errorSchema.safeParse(body).data?.fault.what };
const outcomeOf = (share: z.infer<typeof shareSchema>) => ({
  remoteId: share.urn,
  url: share.page,
  at: share.created * 1000,
});

/** Professional networks: people and organisations share texts with links. */
export const professional: Connector = {
  kind: 'professional',
  purpose: 'sharing',
  signIn: {
    by: 'consent',
    authorize: '/oauth/authorize',
    token: '/oauth/token',
    revoke: '/oauth/revoke',
    scopes: { profile: 'see your profile and organisations', share: 'share' },
  },
  allowance: { calls: 500, per: 'day' },

  async whoAmI(session) {
    const me = await call(session, '/rest/me', meSchema, manner);
    return { remoteId: me.person, name: me.name };
  },

  async outlets(session) {
    const me = await call(session, '/rest/me', meSchema, manner);
    return me.authors.map(({ urn, name, page }) => ({
      kind: 'professional',
      remoteId: urn,
      name: urn.startsWith('profile:') ? `${name} (own profile)` : name,
      address: page,
      feed: null,
    }));
  },

  acts: {
    publish: {
      repeats: 'findable',
      async send(session, outlet, input) {
        const body = { author: outlet, commentary: input.text, content: { link: input.card } };
        const options = { ...manner, ...jsonBody(body), method: 'POST' as const, writes: true };
        return outcomeOf(await call(session, '/rest/shares', shareSchema, options));
      },
      async find(session, outlet, input, since) {
        const schema = z.object({ elements: z.array(shareSchema) });
        const path = `/rest/shares?author=${encodeURIComponent(outlet)}&count=50`;
        const { elements } = await call(session, path, schema, manner);
        const found = elements.find(
          (share) =>
            share.commentary === input.text &&
            share.content.link === input.card &&
            // Their times are whole seconds.
            share.created * 1000 >= since - 60_000,
        );
        return found && outcomeOf(found);
      },
    },
    revise: {
      offers: ['delete'],
      repeats: 'keyed',
      async send(session, _outlet, input) {
        if (input.change !== 'delete') throw cannot(session, input.change);
        const path = `/rest/shares/${encodeURIComponent(input.post)}`;
        await call(session, path, z.unknown(), { ...manner, method: 'DELETE', writes: true, gone: true });
        return { remoteId: input.post, url: null, at: session.now() };
      },
    },
  },
};
