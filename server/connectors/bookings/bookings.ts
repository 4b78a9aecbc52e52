import { choice, LINK, LONG_TEXT, MOMENT, object, TEXT } from '@playa/core/shapes/shape.ts';
import { z } from 'zod';
import { call, jsonBody, pagesBack, webAddress, type CallOptions } from '../answers.ts';
import type { Connector } from '../connector.ts';

const bookingSchema = z.object({
  uri: z.string().min(1),
  status: z.enum(['active', 'cancelled']),
  eventType: z.object({ name: z.string(), location: z.string() }),
  invitee: z.object({ name: z.string(), email: z.string(), note: z.string() }),
  startTime: z.iso.datetime(),
  endTime: z.iso.datetime(),
  page: webAddress,
  createdAt: z.iso.datetime(),
  updatedAt: z.iso.datetime(),
});
const errorSchema = z.object({ type: z.string(), message: z.string().max(500) });
const manner: CallOptions = { message: (body) => errorSchema.safeParse(body).data?.message };

/** Booking services: who booked what, and who cancelled. They tell by web hook. */
export const bookings: Connector = {
  kind: 'bookings',
  purpose: 'bookings',
  signIn: {
    by: 'form',
    help: 'Make a key for applications in the settings of the booking service.',
    fields: [{ name: 'token', label: 'Key', secret: true }],
  },
  allowance: { calls: 1000, per: 'hour' },

  async whoAmI(session) {
    const schema = z.object({ resource: z.object({ uri: z.string(), name: z.string() }) });
    const { resource } = await call(session, '/api/users/me', schema, manner);
    return { remoteId: resource.uri.split('/').at(-1)!, name: resource.name };
  },

  async outlets(session) {
    const type = z.object({ id: z.string(), name: z.string(), where: z.string(), page: webAddress });
    const { collection } = await call(session, '/api/event-types', z.object({ collection: z.array(type) }), manner);
    return collection.map((each) => ({
      kind: 'classes',
      remoteId: each.id,
      name: each.name,
      address: each.page,
      feed: null,
      details: { within: each.where },
    }));
  },

  watches: {
    bookings: {
      things: 'bookings',
      internal: true,
      outlet: 'classes',
      shape: {
        class: TEXT,
        where: TEXT,
        status: choice('active', 'cancelled'),
        person: object({ name: TEXT, email: TEXT }),
        starts: MOMENT,
        ends: MOMENT,
        note: LONG_TEXT,
        published: MOMENT,
        link: LINK,
        id: TEXT,
      },
      // Old ones change too, so all that is within reach is read each time.
      read: (session, outlet) =>
        pagesBack<number>(new Set(), async (cursor) => {
          const schema = z.object({
            collection: z.array(bookingSchema),
            pagination: z.object({ before: z.number().nullable() }),
          });
          const query = cursor ? `?before=${cursor}` : '';
          const path = `/api/event-types/${encodeURIComponent(outlet)}/bookings${query}`;
          const page = await call(session, path, schema, manner);
          return {
            cursor: page.pagination.before,
            items: page.collection.map((booking) => ({
              // To cancel is something new that happens, and not the booking said again.
              identity: `booking:${booking.uri}${booking.status === 'cancelled' ? ':cancelled' : ''}`,
              publishedAt: Date.parse(booking.status === 'cancelled' ? booking.updatedAt : booking.createdAt),
              fields: {
                class: booking.eventType.name,
                where: booking.eventType.location,
                status: booking.status,
                person: { name: booking.invitee.name, email: booking.invitee.email },
                starts: booking.startTime,
                ends: booking.endTime,
                note: booking.invitee.note,
                published: booking.status === 'cancelled' ? booking.updatedAt : booking.createdAt,
                link: booking.page,
                id: booking.uri.split('/').at(-1)!,
              },
            })),
          };
        }),
      push: {
        signature: 'standard',
        async subscribe(session, outlet, url, signingKey) {
          const schema = z.object({ resource: z.object({ id: z.string() }) });
          const path = `/api/event-types/${encodeURIComponent(outlet)}/webhooks`;
          const options = { ...manner, ...jsonBody({ url, signingKey }), method: 'POST' as const, writes: true };
          return (await call(session, path, schema, options)).resource.id;
        },
        async unsubscribe(session, _outlet, id) {
          const options = { ...manner, method: 'DELETE' as const, writes: true, gone: true };
          await call(session, `/api/webhooks/${encodeURIComponent(id)}`, z.unknown(), options);
        },
      },
    },
  },

  acts: {},
};
