import { Router } from 'express';
import { z } from 'zod';
import { apiOf, callerOf, needScope, Refusal, signInOf, type Manner } from '../base/api.ts';
import { html, prose, when } from '../base/html.ts';
import type { Lagoon } from '../base/lagoon.ts';
import { previewOf, type Preview } from '../base/preview.ts';
import { missing, show } from '../base/screen.ts';
import { Things, type Thing } from '../base/things.ts';

const TITLE = 'Lagoon Professional';
/** UTF-16 units. */
const LONGEST = 3000;

export interface Author {
  type: 'profile' | 'organisation';
  name: string;
  about: string;
}
export interface Share {
  commentary: string;
  link: string | null;
  preview: Preview | null;
}

const manner: Manner = {
  service: 'professional',
  title: TITLE,
  sign: { scopes: { profile: 'see who you are and your organisations', share: 'share in your name or theirs' } },
  refuse: (res, status, why, what) => void res.status(status).json({ fault: { status, why, what } }),
};

/** Lagoon Professional: profiles and organisations that share texts with links; a link's preview appears by itself. */
export function professionalRoutes(lagoon: Lagoon): Router {
  const { clock, config, faults } = lagoon;
  const base = `${config.origin}/professional`;
  const authors = new Things<Author>(lagoon, 'professional', 'author');
  const shares = new Things<Share>(lagoon, 'professional', 'share');
  const router = Router();
  router.use('/oauth', faults.middleware('professional-sign-in'), signInOf(lagoon, manner));
  router.use('/rest', apiOf(lagoon, manner, api));

  router.get('/', (req, res) =>
    show(lagoon, TITLE, req, res, 'Profiles', async () => {
      const all = await authors.list({ order: 'oldest' });
      return html`<h1>Profiles and organisations</h1>
        <ul>
          ${all.map((each) => html`<li><a href="${base}/a/${each.id}">${each.body.name}</a> <span class="soft">${each.body.type}</span></li>`)}
        </ul>`;
    }),
  );
  router.get('/a/:id', async (req, res) => {
    const author = await authors.get(req.params.id);
    if (!author) return missing(lagoon, TITLE, req, res);
    await show(lagoon, TITLE, req, res, author.body.name, async () => {
      const all = await shares.list({ parent: author.id });
      return html`<h1>${author.body.name}</h1>
        <p class="soft">${author.body.about}</p>
        ${all.map((share) => showShare(share, author))}`;
    });
  });
  router.get('/s/:id', async (req, res) => {
    const share = await shares.get(req.params.id);
    const author = share && (await authors.get(share.parent));
    if (!share || !author) return missing(lagoon, TITLE, req, res);
    await show(lagoon, TITLE, req, res, author.body.name, showShare(share, author));
  });
  const showShare = (share: Thing<Share>, author: Thing<Author>) => {
    const { commentary, link, preview } = share.body;
    return html`<article class="box post" data-post="${share.id}">
      <b>${author.body.name}</b> <a class="soft" href="${base}/s/${share.id}">${when(share.createdAt, clock.now())}</a>
      <div class="message">${prose(commentary)}</div>
      ${
        link
          ? html`<a class="card" href="${link}"
              >${preview?.image ? html`<img src="${preview.image}" alt="" />` : ''}<span style="padding-left:12px"
                ><span class="soft">${new URL(link).host}</span><b>${preview?.title ?? link}</b></span
              ></a
            >`
          : ''
      }
    </article>`;
  };
  return router;

  function api(routes: Router) {
    const urn = (author: Thing<Author>) => `${author.body.type}:${author.id}`;
    const own = async (text: unknown, person: number) => {
      const author = await authors.get(String(text).split(':')[1]);
      if (!author || author.owner !== person || urn(author) !== text)
        throw new Refusal(403, 'not_yours', 'You may not share in this name.');
      return author;
    };
    const view = (share: Thing<Share>, author: Thing<Author>) => ({
      urn: `share:${share.id}`,
      author: urn(author),
      commentary: share.body.commentary,
      content: { link: share.body.link },
      page: `${base}/s/${share.id}`,
      created: Math.floor(share.createdAt / 1000),
    });
    routes.get('/me', async (_req, res) => {
      const { person } = callerOf(res);
      const mine = await authors.list({ owner: person.id, order: 'oldest' });
      const show_ = (each: Thing<Author>) => ({ urn: urn(each), name: each.body.name, page: `${base}/a/${each.id}` });
      res.json({ person: `person:${person.id}`, name: person.name, authors: mine.map(show_) });
    });
    routes.get('/shares', async (req, res) => {
      const author = await own(req.query.author, callerOf(res).person.id);
      const start = Math.max(0, Number(req.query.start) || 0);
      const count = Math.min(50, Number(req.query.count) || 10);
      const all = await shares.list({ parent: author.id, most: start + count });
      res.json({ elements: all.slice(start).map((share) => view(share, author)), paging: { start, count } });
    });
    routes.post('/shares', async (req, res) => {
      needScope(res, 'share');
      const asked = z
        .object({
          author: z.string(),
          commentary: z.string().trim().min(1),
          content: z.object({ link: z.url().nullable() }).default({ link: null }),
        })
        .parse(req.body);
      const author = await own(asked.author, callerOf(res).person.id);
      if (asked.commentary.length > LONGEST)
        throw new Refusal(422, 'commentary_long', `A commentary has at most ${LONGEST} characters.`);
      const { link } = asked.content;
      const share: Share = { commentary: asked.commentary, link, preview: null };
      const id = await shares.add(share, clock.now(), { parent: author.id });
      // As out there, the preview comes a moment later.
      if (link)
        void previewOf(link)
          .then((preview) => preview && shares.change(id, { ...share, preview }, clock.now()))
          .catch(() => undefined);
      res.status(201).json(view((await shares.get(id))!, author));
    });
    routes.delete('/shares/:urn', async (req, res) => {
      needScope(res, 'share');
      const share = await shares.get(req.params.urn.split(':')[1]);
      const author = share && (await authors.get(share.parent));
      if (!share || author?.owner !== callerOf(res).person.id)
        throw new Refusal(404, 'no_share', 'There is no such share.');
      await shares.remove(share.id);
      res.status(204).end();
    });
  }
}
