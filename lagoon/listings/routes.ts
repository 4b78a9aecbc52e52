import { createHash } from 'node:crypto';
import { Router, urlencoded } from 'express';
import { z } from 'zod';
import { apiOf, callerOf, needScope, Refusal, signInOf, type Manner } from '../base/api.ts';
import { byHand } from '../base/hand-forms.ts';
import { html, prose, when } from '../base/html.ts';
import type { Lagoon } from '../base/lagoon.ts';
import { formText, missing, show, somebody } from '../base/screen.ts';
import { Things, type Thing } from '../base/things.ts';

const TITLE = 'Lagoon Listings';
const LONGEST_REPLY = 1500;
const WORDS = ['', 'ONE', 'TWO', 'THREE', 'FOUR', 'FIVE'] as const;

export interface Location {
  business: string;
  name: string;
  address: string;
}
export interface Review {
  stars: number;
  /** Null for stars without words. */
  text: string | null;
  /** As the person wants to be called. */
  name: string;
  reply: { text: string; at: number } | null;
  /** Every answer there has been, oldest first: for tests. */
  replies?: { by: 'app' | 'hand'; text: string; at: number }[];
}

const manner: Manner = {
  service: 'listings',
  title: TITLE,
  sign: { scopes: { reviews: 'read the reviews of your businesses', replies: 'answer them in your name' } },
  refuse: (res, status, reason, message) => void res.status(status).json({ ok: false, reason, message }),
};

/** A review with an answer of its owner. */
export function answered(review: Review, by: 'app' | 'hand', text: string, at: number): Review {
  return { ...review, reply: { text, at }, replies: [...(review.replies ?? []), { by, text, at }] };
}

/** Reviews are known by an opaque id. */
const opaque = (id: number) => `${createHash('sha256').update(`review ${id}`).digest('base64url').slice(0, 16)}~${id}`;

/** Lagoon Listings: businesses with locations, and what visitors say about them. Nobody is told; one has to look. */
export function listingsRoutes(lagoon: Lagoon): Router {
  const { clock, config, faults } = lagoon;
  const base = `${config.origin}/listings`;
  const locations = new Things<Location>(lagoon, 'listings', 'location');
  const reviews = new Things<Review>(lagoon, 'listings', 'review');
  const router = Router();
  router.use('/oauth', faults.middleware('listings-sign-in'), signInOf(lagoon, manner));
  router.use('/v2', apiOf(lagoon, manner, api));

  router.get('/', (req, res) =>
    show(lagoon, TITLE, req, res, 'Places', async () => {
      const all = await locations.list({ order: 'oldest' });
      return html`<h1>Places</h1>
        <ul>
          ${all.map((each) => html`<li><a href="${base}/l/${each.id}">${each.body.name}</a> <span class="soft">${each.body.address}</span></li>`)}
        </ul>`;
    }),
  );
  router.get('/l/:id', async (req, res) => {
    const location = await locations.get(req.params.id);
    if (!location) return missing(lagoon, TITLE, req, res);
    await show(lagoon, TITLE, req, res, location.body.name, async (person) => {
      const all = await reviews.list({ parent: location.id, most: 100 });
      const mean = all.reduce((sum, each) => sum + each.body.stars, 0) / (all.length || 1);
      return html`<h1>${location.body.name}</h1>
        <p class="soft">${location.body.address} · ${all.length} reviews, ${mean.toFixed(1)} on average</p>
        ${
          person
            ? html`<form class="box" method="post" action="${base}/l/${location.id}">
                <label
                  >Stars<select name="stars">
                    ${[5, 4, 3, 2, 1].map((stars) => html`<option>${stars}</option>`)}
                  </select></label
                >
                <label>Your name there<input name="name" value="${person.name}" maxlength="60" /></label>
                <label>What was it like?<textarea name="text" rows="3" maxlength="2000"></textarea></label>
                <button>Leave a review</button>
              </form>`
            : html`<p><a href="/sign-in?next=/listings/l/${location.id}">Sign in to leave a review</a></p>`
        }
        ${all.map(
          (review) =>
            html`<article class="box post" data-review="${review.id}">
              <b>${'★'.repeat(review.body.stars)}${'☆'.repeat(5 - review.body.stars)}</b> ${review.body.name}
              <span class="soft">${when(review.createdAt, clock.now())}</span>
              ${review.body.text ? html`<div class="message">${prose(review.body.text)}</div>` : ''}
              ${
                review.body.reply
                  ? html`<div class="box" style="margin:8px 0 0">
                      <b>Answer of the owner</b>
                      <div class="message">${prose(review.body.reply.text)}</div>
                    </div>`
                  : ''
              }
              ${byHand(person, `/listings/l/${location.id}`, [
                {
                  label: review.body.reply ? 'Answer otherwise, as the owner' : 'Answer as the owner',
                  act: { do: 'answer-review', id: review.id },
                  fields: [{ name: 'text', label: 'The answer', value: review.body.reply?.text ?? '', lines: 3 }],
                },
                ...(review.body.reply
                  ? [{ label: 'Take the answer away', act: { do: 'answer-review', id: review.id } }]
                  : []),
                {
                  label: 'Edit it as whoever wrote it',
                  act: { do: 'edit-review', id: review.id },
                  fields: [
                    { name: 'stars', label: 'Stars', value: String(review.body.stars) },
                    { name: 'text', label: 'The words', value: review.body.text ?? '', lines: 3 },
                  ],
                },
                { label: 'Delete it', act: { do: 'delete-review', id: review.id } },
              ])}
            </article>`,
        )}`;
    });
  });
  router.post('/l/:id', urlencoded({ extended: false }), async (req, res) => {
    const person = await somebody(lagoon, req, res);
    const location = person && (await locations.get(req.params.id));
    if (!location) return;
    const stars = Math.min(5, Math.max(1, Number(formText(req, 'stars')) || 5));
    const name = formText(req, 'name') || person.name;
    const body = { stars, text: formText(req, 'text') || null, name, reply: null };
    await reviews.add(body, clock.now(), { parent: location.id, owner: person.id });
    res.redirect(303, `${base}/l/${location.id}`);
  });
  return router;

  function api(routes: Router) {
    const ownLocation = async (id: unknown, person: number) => {
      const location = await locations.get(id);
      if (location?.owner !== person)
        throw new Refusal(404, 'NOT_FOUND', 'There is no such location, or it is not yours.');
      return location;
    };
    const view = (review: Thing<Review>, location: Thing<Location>) => ({
      review_id: opaque(review.id),
      location: { id: String(location.id), name: location.body.name },
      rating: WORDS[review.body.stars],
      comment: review.body.text,
      reviewer: { display: review.body.name, key: `v${review.owner ?? 0}` },
      page: `${base}/l/${location.id}`,
      created: new Date(review.createdAt).toISOString(),
      reply: review.body.reply && {
        comment: review.body.reply.text,
        updated: new Date(review.body.reply.at).toISOString(),
      },
    });
    routes.get('/me', (_req, res) => {
      const { person } = callerOf(res);
      res.json({ ok: true, id: `o${person.id}`, display: person.name });
    });
    routes.get('/locations', async (_req, res) => {
      const mine = await locations.list({ owner: callerOf(res).person.id, order: 'oldest', most: 500 });
      const show_ = (each: Thing<Location>) => ({ id: String(each.id), ...each.body, page: `${base}/l/${each.id}` });
      res.json({ ok: true, locations: mine.map(show_) });
    });
    routes.get('/locations/:id/reviews', async (req, res) => {
      needScope(res, 'reviews');
      const location = await ownLocation(req.params.id, callerOf(res).person.id);
      const before = Number(req.query.page_token) || undefined;
      const found = await reviews.list({ parent: location.id, before, most: 20 });
      res.json({
        ok: true,
        reviews: found.map((review) => view(review, location)),
        next_page_token: found.length === 20 ? String(found.at(-1)!.id) : null,
      });
    });
    routes.get('/reviews/:id', async (req, res) => {
      needScope(res, 'reviews');
      const review = await reviews.get(req.params.id.split('~')[1]);
      if (!review || opaque(review.id) !== req.params.id)
        throw new Refusal(404, 'NOT_FOUND', 'This review is not there any more.');
      res.json({ ok: true, review: view(review, await ownLocation(review.parent, callerOf(res).person.id)) });
    });
    routes.put('/reviews/:id/reply', async (req, res) => {
      needScope(res, 'replies');
      const { comment } = z.object({ comment: z.string().trim().min(1).max(LONGEST_REPLY) }).parse(req.body);
      const review = await reviews.get(req.params.id.split('~')[1]);
      if (!review || opaque(review.id) !== req.params.id)
        throw new Refusal(404, 'NOT_FOUND', 'This review is not there any more.');
      const location = await ownLocation(review.parent, callerOf(res).person.id);
      const body = answered(review.body, 'app', comment, clock.now());
      await reviews.change(review.id, body, clock.now());
      res.json({ ok: true, review: view({ ...review, body }, location) });
    });
    routes.delete('/reviews/:id/reply', async (req, res) => {
      needScope(res, 'replies');
      const review = await reviews.get(req.params.id.split('~')[1]);
      if (!review) throw new Refusal(404, 'NOT_FOUND', 'This review is not there any more.');
      await ownLocation(review.parent, callerOf(res).person.id);
      await reviews.change(review.id, { ...review.body, reply: null }, clock.now());
      res.json({ ok: true });
    });
  }
}
