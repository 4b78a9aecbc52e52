import { Router, urlencoded, type Request } from 'express';
import type { Lagoon } from '../base/lagoon.ts';
import { commentByHand } from '../base/hand-forms.ts';
import { html, page, prose, when } from '../base/html.ts';
import { oauthRoutes } from '../base/oauth.ts';
import { personOf } from '../base/people.ts';
import { picture } from '../base/pictures.ts';
import { pagesApi } from './api.ts';
import { PageComments } from './comments.ts';
import { allPages, pageBy, postBy, postsOn, type Post } from './store.ts';

/** Lagoon Pages: business pages with posts, and an interface for applications. */
export function pagesRoutes(lagoon: Lagoon): Router {
  const { db, clock, config, faults } = lagoon;
  const base = `${config.origin}/pages`;
  const title = 'Lagoon Pages';
  const comments = new PageComments(lagoon);
  const router = Router();

  router.use(
    '/oauth',
    faults.middleware('pages-sign-in'),
    oauthRoutes(db, clock, config.clients, {
      service: 'pages',
      title,
      scopes: { 'pages.list': 'see which pages you look after', 'pages.post': 'post, edit and delete on them' },
    }),
  );

  router.get('/', async (req, res) => {
    res.send(
      page(
        { service: title, title: 'Pages', person: (await personOf(db, req))?.name, here: req.originalUrl },
        html`<h1>Pages</h1>
          <ul>
            ${(await allPages(db)).map((each) => html`<li><a href="${base}/p/${each.slug}">${each.title}</a></li>`)}
          </ul>`,
      ),
    );
  });

  router.get('/p/:slug', async (req, res) => {
    const found = await pageBy(db, 'slug', req.params.slug);
    if (!found)
      return void res
        .status(404)
        .send(page({ service: title, title: 'Not here' }, html`<p>There is no such page.</p>`));
    const posts = await postsOn(db, found.id, 50);
    res.send(
      page(
        { service: title, title: found.title, person: (await personOf(db, req))?.name, here: req.originalUrl },
        html`<div class="box" style="padding:0">
            <img class="banner" src="${base}/pictures/${found.picture}.jpg" alt="" />
            <div style="padding:14px 20px 18px">
              <h1>${found.title}</h1>
              <span class="soft">${found.about}</span>
            </div>
          </div>
          ${posts.length ? posts.map((post) => showPost(post, found.title)) : html`<p class="soft">Nothing posted yet.</p>`}`,
      ),
    );
  });
  router.get('/posts/:id', async (req, res) => {
    const post = await postBy(db, Number(req.params.id) || 0);
    const on = post && (await pageBy(db, 'id', post.page_id));
    if (!post || !on)
      return void res
        .status(404)
        .send(page({ service: title, title: 'Gone' }, html`<p>This post is not here, or not any more.</p>`));
    res.send(
      page(
        { service: title, title: on.title, person: (await personOf(db, req))?.name, here: req.originalUrl },
        html`<p><a href="${base}/p/${on.slug}">All of ${on.title}</a></p>
          ${showPost(post, on.title)} ${await discussion(post, req)}`,
      ),
    );
  });
  async function discussion(post: Post, req: Request) {
    const all = await comments.on(post.id);
    const person = await personOf(db, req);
    return html`<div class="box">
      ${all.map(
        (each) =>
          html`<p data-comment="${each.id}" style="${each.body.under === null ? '' : 'padding-left:28px'}">
              <b>${each.body.by.name}</b> ${prose(each.body.text)}
              <span class="soft">${when(each.createdAt, clock.now())}</span>
            </p>
            ${commentByHand(person, `/pages/posts/${post.id}`, 'pages', each)}`,
      )}
      ${
        person
          ? html`<form method="post" action="${base}/posts/${post.id}">
              <label>Comment as ${person.name}<input name="text" required maxlength="1000" /></label
              ><button>Comment</button>
            </form>`
          : html`<a href="/sign-in?next=/pages/posts/${post.id}">Sign in to comment</a>`
      }
    </div>`;
  }
  router.post('/posts/:id', urlencoded({ extended: false }), async (req, res) => {
    const person = await personOf(db, req);
    const post = await postBy(db, Number(req.params.id) || 0);
    if (!person || !post) return void res.status(403).send('Sign in first.');
    const text = String((req.body as { text?: unknown })?.text ?? '').trim();
    if (text) await comments.add(post, person, text.slice(0, 1000), { under: null });
    res.redirect(303, `${base}/posts/${post.id}`);
  });
  const showPost = (post: Post, name: string) =>
    html`<article class="box post" data-post="${post.id}">
      <b>${name}</b>
      <a class="soft" href="${base}/posts/${post.id}">${when(post.created_at, clock.now())}</a
      >${post.edited_at ? html` <span class="soft">edited</span>` : ''}
      <div class="message">${prose(post.message)}</div>
      ${(post.media ?? []).map((each) => (each.type === 'picture' ? html`<div class="screen"><img src="${each.url}" alt="${each.alt}" /></div>` : html`<video src="${each.url}" controls></video>`))}
      ${
        post.link && post.preview
          ? html`<a class="card" href="${post.link}"
              >${post.preview.image ? html`<img src="${post.preview.image}" alt="" />` : ''}<span
                ><span class="soft">${post.preview.site ?? new URL(post.link).host}</span
                ><b>${post.preview.title}</b>${post.preview.description ?? ''}</span
              ></a
            >`
          : post.link
            ? html`<a href="${post.link}">${post.link}</a>`
            : ''
      }
    </article>`;

  router.get('/pictures/:name', async (req, res) => {
    const seed = /^([\w-]{1,60})\.jpg$/.exec(req.params.name)?.[1];
    if (!seed) return void res.status(404).end();
    res
      .type('image/jpeg')
      .set('Cache-Control', 'max-age=86400')
      .send(await picture(seed, 1200, 340));
  });

  router.use('/api', pagesApi(lagoon, comments));
  return router;
}
