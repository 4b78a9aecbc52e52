import { LINK, LONG_TEXT, MOMENT, NUMBER, PERSON, TEXT, YES_NO } from '@playa/core/shapes/shape.ts';
import { z } from 'zod';
import { call, cannot, jsonBody, orGone, pagesBack, webAddress, type CallOptions } from '../answers.ts';
import type { Connector } from '../connector.ts';

/** Stars come as words. */
const STARS = { ONE: 1, TWO: 2, THREE: 3, FOUR: 4, FIVE: 5 } as const;
const reviewSchema = z.object({
  review_id: z.string().min(1),
  location: z.object({ id: z.string(), name: z.string() }),
  rating: z.enum(['ONE', 'TWO', 'THREE', 'FOUR', 'FIVE']),
  comment: z.string().nullable(),
  reviewer: z.object({ display: z.string(), key: z.string() }),
  page: webAddress,
  created: z.iso.datetime().transform((text) => Date.parse(text)),
  reply: z.object({ comment: z.string(), updated: z.iso.datetime() }).nullable(),
});
const errorSchema = z.object({ ok: z.literal(false), message: z.string().max(500) });
const manner: CallOptions = { message: (body) => errorSchema.safeParse(body).data?.message };

/** Listings of businesses: reviews at several places, one reply of the owner to each. Nobody is told of new ones. */
export const listings: Connector = {
  kind: 'listings',
  purpose: 'reviews',
  signIn: {
    by: 'consent',
    authorize: '/oauth/authorize',
    token: '/oauth/token',
    revoke: '/oauth/revoke',
    scopes: { reviews: 'read reviews', replies: 'answer reviews' },
  },
  allowance: { calls: 1500, per: 'hour' },

  async whoAmI(session) {
    const me = await call(session, '/v2/me', z.object({ id: z.string(), display: z.string() }), manner);
    return { remoteId: me.id, name: me.display };
  },

  async outlets(session) {
    const schema = z.object({
      locations: z.array(z.object({ id: z.string(), name: z.string(), business: z.string(), page: webAddress })),
    });
    const { locations } = await call(session, '/v2/locations', schema, manner);
    return locations.map((location) => ({
      kind: 'listing',
      remoteId: location.id,
      name: location.name,
      address: location.page,
      feed: null,
      details: { within: location.business },
    }));
  },

  watches: {
    reviews: {
      things: 'reviews',
      said: 'review',
      outlet: 'listing',
      shape: {
        text: LONG_TEXT,
        stars: NUMBER,
        person: PERSON,
        location: TEXT,
        published: MOMENT,
        link: LINK,
        answered: YES_NO,
        answeredAt: MOMENT,
        id: TEXT,
      },
      read: (session, outlet, seen) =>
        pagesBack<string>(seen, async (cursor) => {
          const schema = z.object({ reviews: z.array(reviewSchema), next_page_token: z.string().nullable() });
          const query = cursor ? `?page_token=${encodeURIComponent(cursor)}` : '';
          const path = `/v2/locations/${encodeURIComponent(outlet)}/reviews${query}`;
          const page = await call(session, path, schema, manner);
          return {
            cursor: page.next_page_token,
            items: page.reviews.map((review) => ({
              identity: `review:${review.review_id}`,
              publishedAt: review.created,
              fields: {
                text: review.comment ?? '',
                stars: STARS[review.rating],
                person: { name: review.reviewer.display, id: review.reviewer.key },
                location: review.location.name,
                published: new Date(review.created).toISOString(),
                link: review.page,
                answered: review.reply !== null,
                answeredAt: review.reply ? new Date(review.reply.updated).toISOString() : null,
                id: review.review_id,
              },
            })),
          };
        }),
    },
  },

  acts: {
    // A review has one reply: to put it there again changes nothing.
    reply: {
      repeats: 'keyed',
      async standing(session, _outlet, input) {
        const path = `/v2/reviews/${encodeURIComponent(input.to)}`;
        const found = await orGone(call(session, path, z.object({ review: reviewSchema }), manner));
        if (!found) return undefined;
        const { comment, reply } = found.review;
        return { text: comment ?? '', answers: reply ? [reply.comment] : [] };
      },
      async send(session, _outlet, input) {
        const path = `/v2/reviews/${encodeURIComponent(input.to)}/reply`;
        const schema = z.object({ review: reviewSchema });
        const options = { ...manner, ...jsonBody({ comment: input.text }), method: 'PUT' as const, writes: true };
        const { review } = await call(session, path, schema, options);
        return {
          remoteId: review.review_id,
          url: review.page,
          at: Date.parse(review.reply?.updated ?? '') || session.now(),
        };
      },
    },
    revise: {
      offers: ['edit', 'delete'],
      repeats: 'keyed',
      async send(session, _outlet, input) {
        const path = `/v2/reviews/${encodeURIComponent(input.post)}/reply`;
        if (input.change === 'edit') {
          const options = { ...manner, ...jsonBody({ comment: input.text }), method: 'PUT' as const, writes: true };
          const { review } = await call(session, path, z.object({ review: reviewSchema }), options);
          return { remoteId: review.review_id, url: review.page, at: session.now() };
        }
        if (input.change !== 'delete') throw cannot(session, input.change);
        await call(session, path, z.unknown(), { ...manner, method: 'DELETE', writes: true, gone: true });
        return { remoteId: input.post, url: null, at: session.now() };
      },
    },
  },
};
