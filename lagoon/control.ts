import { Router, json, urlencoded } from 'express';
import { z } from 'zod';
import { html, page } from './html.ts';
import type { Lagoon } from './lagoon.ts';
import { addVideo, channelBy } from './video/store.ts';

const faultSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('error'), status: z.coerce.number().int().min(400).max(599) }),
  z.object({ kind: z.literal('errorAfter'), status: z.coerce.number().int().min(400).max(599) }),
  z.object({ kind: z.literal('limit'), seconds: z.coerce.number().positive() }),
  z.object({ kind: z.literal('slow'), milliseconds: z.coerce.number().positive() }),
  z.object({ kind: z.literal('hang') }),
  z.object({ kind: z.literal('hangAfter') }),
]);

const SERVICES: [string, string][] = [
  ['pages', 'Pages: posting'],
  ['pages-read', 'Pages: listing pages'],
  ['pages-sign-in', 'Pages: sign-in'],
  ['video', 'Video: interface'],
  ['video-feed', 'Video: feeds'],
  ['video-sign-in', 'Video: sign-in'],
];

/** A page and an interface that make Lagoon misbehave, and move its clock. */
export function controlRoutes(lagoon: Lagoon): Router {
  const { db, clock, faults } = lagoon;
  const router = Router();
  router.use(json(), urlencoded({ extended: false }));

  router.get('/', (_req, res) => {
    const ordered = faults.list();
    res.send(
      page(
        { service: 'Lagoon', title: 'Control' },
        html`<h1>Control</h1>
          <p>Let a service misbehave for its next requests, to see what an application makes of it.</p>
          <form method="post" action="/control/misbehave" class="box">
            <label
              >Service<select name="service">
                ${SERVICES.map(([id, name]) => html`<option value="${id}">${name}</option>`)}
              </select></label
            >
            <label
              >What it does<select name="what">
                <option value="error">answers 500</option>
                <option value="limit">answers 429, try again in 20 s</option>
                <option value="slow">takes 5 s</option>
                <option value="hang">never answers</option>
                <option value="hangAfter">acts, then never answers</option>
              </select></label
            >
            <label>How many requests<input name="count" type="number" min="1" max="1000" value="1" /></label>
            <button>Order it</button>
          </form>
          <form method="post" action="/control/behave" class="box">
            ${
              ordered.length
                ? html`<table>
                    ${ordered.map(
                      (each) =>
                        html`<tr>
                          <td>${SERVICES.find(([id]) => id === each.service)?.[1]}</td>
                          <td>${each.fault.kind}</td>
                          <td>${each.left} left</td>
                        </tr>`,
                    )}
                  </table>`
                : html`<span class="soft">Everything behaves.</span>`
            }
            <button class="plain">Behave again</button>
          </form>
          <form method="post" action="/control/revoke-all" class="box">
            <span>Take back every access that people have given to applications.</span
            ><button class="plain">Revoke all</button>
          </form>`,
      ),
    );
  });
  router.post('/misbehave', (req, res) => {
    const form = z
      .object({ service: z.string(), what: z.string(), count: z.coerce.number().int().min(1).max(1000) })
      .parse(req.body);
    const fault = faultSchema.parse({ kind: form.what, status: 500, seconds: 20, milliseconds: 5000 });
    faults.order(form.service, fault, form.count);
    res.redirect(303, '/control');
  });
  router.post('/behave', (_req, res) => {
    faults.clear();
    res.redirect(303, '/control');
  });
  router.post('/revoke-all', async (_req, res) => {
    await db.query('UPDATE grants SET revoked = 1');
    res.redirect(303, '/control');
  });

  // The same for programs.
  router.post('/api/faults', (req, res) => {
    const order = z
      .object({
        service: z.string(),
        fault: faultSchema,
        count: z.number().int().min(1),
        share: z.number().min(0).max(1).optional(),
      })
      .parse(req.body);
    faults.order(order.service, order.fault, order.count, order.share);
    res.status(204).end();
  });
  router.delete('/api/faults', (_req, res) => {
    faults.clear();
    res.status(204).end();
  });
  router.put('/api/clock', (req, res) => {
    clock.set(z.object({ now: z.number().nullable() }).parse(req.body).now);
    res.status(204).end();
  });
  router.post('/api/videos', async (req, res) => {
    const film = z
      .object({
        handle: z.string(),
        title: z.string(),
        description: z.string().default(''),
        seconds: z.number().int().positive(),
        publishedAt: z.number().optional(),
      })
      .parse(req.body);
    const channel = await channelBy(db, 'handle', film.handle);
    if (!channel) return void res.status(404).json({ error: 'no such channel' });
    const id = await addVideo(db, {
      channel_id: channel.id,
      title: film.title,
      description: film.description,
      seconds: film.seconds,
      picture: `film-${film.title
        .toLowerCase()
        .replace(/[^a-z0-9]+/g, '-')
        .slice(0, 40)}`,
      published_at: film.publishedAt ?? clock.now(),
    });
    res.status(201).json({ id });
  });
  return router;
}
