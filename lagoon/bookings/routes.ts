import { Router, urlencoded } from 'express';
import { z } from 'zod';
import { apiOf, callerOf, Refusal, type Manner } from '../base/api.ts';
import { html, when } from '../base/html.ts';
import { keysPage } from '../base/keys-page.ts';
import type { Lagoon } from '../base/lagoon.ts';
import { formText, missing, show, somebody } from '../base/screen.ts';
import { addTell, dropTell, tell } from '../base/tells.ts';
import { Things, type Thing } from '../base/things.ts';

const TITLE = 'Lagoon Bookings';

export interface EventType {
  name: string;
  minutes: number;
  where: string;
}
export interface Booking {
  invitee: string;
  email: string;
  startsAt: number;
  note: string;
  cancelled: boolean;
}

const manner: Manner = {
  service: 'bookings',
  title: TITLE,
  sign: { header: 'Authorization', scheme: 'Bearer' },
  refuse: (res, status, type, message) => void res.status(status).json({ type, message, details: [] }),
};

function bookingView(base: string, booking: Thing<Booking>, type: Thing<EventType>) {
  return {
    uri: `${base}/api/bookings/${booking.id}`,
    status: booking.body.cancelled ? 'cancelled' : 'active',
    eventType: { uri: `${base}/api/event-types/${type.id}`, name: type.body.name, location: type.body.where },
    invitee: { name: booking.body.invitee, email: booking.body.email, note: booking.body.note },
    startTime: new Date(booking.body.startsAt).toISOString(),
    endTime: new Date(booking.body.startsAt + type.body.minutes * 60_000).toISOString(),
    page: `${base}/e/${type.id}`,
    createdAt: new Date(booking.createdAt).toISOString(),
    updatedAt: new Date(booking.updatedAt).toISOString(),
  };
}

/** Tells of a booking that was made or cancelled. */
export async function tellBooking(lagoon: Lagoon, event: 'booking.created' | 'booking.cancelled', id: number) {
  const booking = await new Things<Booking>(lagoon, 'bookings', 'booking').get(id);
  const type = booking && (await new Things<EventType>(lagoon, 'bookings', 'type').get(booking.parent));
  if (!booking || !type) return;
  tell(
    lagoon,
    { service: 'bookings', topic: 'bookings', about: type.id, signing: 'standard' },
    {
      type: event,
      timestamp: new Date(lagoon.clock.now()).toISOString(),
      data: bookingView(`${lagoon.config.origin}/bookings`, booking, type),
    },
  );
}

/** Lagoon Bookings: classes that people book and cancel; it tells by web hook, signed as Standard Webhooks. */
export function bookingsRoutes(lagoon: Lagoon): Router {
  const { clock, config } = lagoon;
  const base = `${config.origin}/bookings`;
  const types = new Things<EventType>(lagoon, 'bookings', 'type');
  const bookings = new Things<Booking>(lagoon, 'bookings', 'booking');
  const router = Router();
  const form = urlencoded({ extended: false });
  router.use('/keys', keysPage(lagoon, 'bookings', TITLE));
  router.use('/api', apiOf(lagoon, manner, api));

  router.get('/', (req, res) =>
    show(lagoon, TITLE, req, res, 'Classes', async () => {
      const all = await types.list({ order: 'oldest' });
      return html`<h1>Classes</h1>
        <ul>
          ${all.map((each) => html`<li><a href="${base}/e/${each.id}">${each.body.name}</a> <span class="soft">${each.body.minutes} min, ${each.body.where}</span></li>`)}
        </ul>
        <p><a href="${base}/keys">Keys for applications</a></p>`;
    }),
  );
  router.get('/e/:id', async (req, res) => {
    const type = await types.get(req.params.id);
    if (!type) return missing(lagoon, TITLE, req, res);
    await show(lagoon, TITLE, req, res, type.body.name, async (person) => {
      const all = await bookings.list({ parent: type.id });
      return html`<h1>${type.body.name}</h1>
        <p class="soft">${type.body.minutes} min, ${type.body.where}</p>
        <form class="box" method="post" action="${base}/e/${type.id}">
          <label>Name<input name="name" required value="${person?.name ?? ''}" maxlength="60" /></label>
          <label>Day and time<input name="at" type="datetime-local" required /></label>
          <label>Anything we should know<input name="note" maxlength="200" /></label>
          <button>Book</button>
        </form>
        <table>
          ${all.map(
            (each) =>
              html`<tr data-booking="${each.id}">
                <td>${each.body.invitee}</td>
                <td>${new Date(each.body.startsAt).toISOString().slice(0, 16).replace('T', ' ')}</td>
                <td class="soft">booked ${when(each.createdAt, clock.now())}</td>
                <td>
                  ${each.body.cancelled ? 'cancelled' : html`<form method="post" action="${base}/b/${each.id}/cancel"><button class="plain">Cancel</button></form>`}
                </td>
              </tr>`,
          )}
        </table>`;
    });
  });
  router.post('/e/:id', form, async (req, res) => {
    const person = await somebody(lagoon, req, res);
    const type = person && (await types.get(req.params.id));
    if (!type) return;
    const name = formText(req, 'name') || person.name;
    const startsAt = Date.parse(`${formText(req, 'at')}Z`) || clock.now() + 86_400_000;
    const email = `${name.toLowerCase().replace(/[^a-z]+/g, '.')}@visitors.example`;
    const body = { invitee: name, email, startsAt, note: formText(req, 'note'), cancelled: false };
    const id = await bookings.add(body, clock.now(), { parent: type.id });
    await tellBooking(lagoon, 'booking.created', id);
    res.redirect(303, `${base}/e/${type.id}`);
  });
  router.post('/b/:id/cancel', form, async (req, res) => {
    const booking = await bookings.get(req.params.id);
    const type = booking && (await types.get(booking.parent));
    if (!booking || !type) return missing(lagoon, TITLE, req, res);
    await bookings.change(booking.id, { ...booking.body, cancelled: true }, clock.now());
    await tellBooking(lagoon, 'booking.cancelled', booking.id);
    res.redirect(303, `${base}/e/${type.id}`);
  });
  return router;

  function api(routes: Router) {
    const own = async (id: unknown, person: number) => {
      const type = await types.get(id);
      if (type?.owner !== person)
        throw new Refusal(404, 'not_found', 'There is no such event type, or it is not yours.');
      return type;
    };
    routes.get('/users/me', (_req, res) => {
      const { person } = callerOf(res);
      res.json({ resource: { uri: `${base}/api/users/${person.id}`, name: person.name } });
    });
    routes.get('/event-types', async (_req, res) => {
      const mine = await types.list({ owner: callerOf(res).person.id, order: 'oldest' });
      res.json({
        collection: mine.map((each) => ({ id: String(each.id), ...each.body, page: `${base}/e/${each.id}` })),
      });
    });
    routes.get('/event-types/:id/bookings', async (req, res) => {
      const type = await own(req.params.id, callerOf(res).person.id);
      const before = Number(req.query.before) || undefined;
      const found = await bookings.list({ parent: type.id, before, most: 50 });
      res.json({
        collection: found.map((booking) => bookingView(base, booking, type)),
        pagination: { before: found.length === 50 ? found.at(-1)!.id : null },
      });
    });
    routes.post('/event-types/:id/webhooks', async (req, res) => {
      const { person } = callerOf(res);
      const type = await own(req.params.id, person.id);
      const { url, signingKey } = z
        .object({ url: z.url(), signingKey: z.string().regex(/^whsec_[A-Za-z0-9+/]+=*$/) })
        .parse(req.body);
      const id = await addTell(lagoon, {
        service: 'bookings',
        topic: 'bookings',
        about: type.id,
        callback: url,
        secret: signingKey,
        person: person.id,
      });
      res.status(201).json({ resource: { id } });
    });
    routes.delete('/webhooks/:id', async (req, res) => {
      await dropTell(lagoon, 'bookings', req.params.id, callerOf(res).person.id);
      res.status(204).end();
    });
  }
}
