import { Router, urlencoded } from 'express';
import { botsPage } from '../base/bots-page.ts';
import { Html, html, when } from '../base/html.ts';
import type { Lagoon } from '../base/lagoon.ts';
import { formText, missing, show, somebody } from '../base/screen.ts';
import { Things, type Thing } from '../base/things.ts';
import { broadcastApi, type Chat, type Sent } from './api.ts';

const TITLE = 'Lagoon Broadcast';

/** Lagoon Broadcast: channels and groups that bots send to, when they were made administrators there. */
export function broadcastRoutes(lagoon: Lagoon): Router {
  const { clock, config } = lagoon;
  const base = `${config.origin}/broadcast`;
  const chats = new Things<Chat>(lagoon, 'broadcast', 'chat');
  const messages = new Things<Sent>(lagoon, 'broadcast', 'message');
  const bots = new Things<{ name: string }>(lagoon, 'broadcast', 'bot');
  const router = Router();
  const form = urlencoded({ extended: false });
  router.use('/bot', broadcastApi(lagoon));

  router.get('/', (req, res) =>
    show(lagoon, TITLE, req, res, 'Channels', async () => {
      const all = (await chats.list({ order: 'oldest' })).filter((chat) => chat.body.handle);
      return html`<h1>Channels and groups</h1>
        <ul>
          ${all.map((each) => html`<li><a href="${base}/c/${each.body.handle}">${each.body.title}</a> <span class="soft">@${each.body.handle}</span></li>`)}
        </ul>
        <p><a href="${base}/bots">Your bots</a></p>`;
    }),
  );
  const chatOf = async (name: string) => (/^\d+$/.test(name) ? chats.get(name) : chats.byKey(name.toLowerCase()));
  router.get(['/c/:chat', '/c/:chat/:message'], async (req, res) => {
    const chat = await chatOf(String(req.params.chat));
    if (!chat) return missing(lagoon, TITLE, req, res);
    await show(lagoon, TITLE, req, res, chat.body.title, async (person) => {
      const one = req.params.message ? await messages.get(req.params.message) : undefined;
      const all = req.params.message
        ? one?.parent === chat.id
          ? [one]
          : []
        : (await messages.list({ parent: chat.id, most: 60 })).reverse();
      const admins = await Promise.all(chat.body.admins.map((id) => bots.get(id)));
      return html`<h1>${chat.body.title}</h1>
        <p class="soft">
          ${chat.body.type}${chat.body.handle ? ` @${chat.body.handle}` : ''} · ${chat.body.subscribers} subscribers
        </p>
        ${all.length === 0 && req.params.message ? html`<p>This message is gone.</p>` : all.map(showMessage)}
        ${
          person?.id === chat.owner
            ? html`<div class="box">
                <b>Administrators</b>
                ${admins.map((bot) => bot && html`<form class="row" method="post" action="${base}/c/${chat.id}/admins">${bot.body.name} <button class="plain" name="remove" value="${bot.id}">Remove</button></form>`)}
                <form method="post" action="${base}/c/${chat.id}/admins">
                  <label>Number of a bot<input name="add" required /></label><button>Make it an administrator</button>
                </form>
                <p class="soft">Invite link: ${base}/join/${chat.body.invite}</p>
              </div>`
            : ''
        }`;
    });
  });
  router.get('/join/:invite', async (req, res) => {
    const chat = (await chats.list({ most: 500 })).find((each) => each.body.invite === req.params.invite);
    if (!chat) return missing(lagoon, TITLE, req, res);
    res.redirect(303, `${base}/c/${chat.body.handle ?? chat.id}`);
  });
  const showMessage = ({ id, body, createdAt }: Thing<Sent>) =>
    html`<article class="box post" data-post="${id}">
      ${body.forwardedFrom ? html`<span class="soft">forwarded from ${body.forwardedFrom}</span>` : ''}
      ${body.media?.type === 'picture' ? html`<div class="screen"><img src="${body.media.url}" alt="" /></div>` : body.media ? html`<a href="${body.media.url}">${body.media.type}</a>` : ''}
      ${
        body.poll
          ? html`<b>${body.poll.question}</b>
              <ul>
                ${body.poll.options.map((each) => html`<li>${each}</li>`)}
              </ul>`
          : ''
      }
      <div class="message">${new Html(body.shown)}</div>
      <span class="soft"
        >${when(createdAt, clock.now())}${body.edited ? ' · edited' : ''}${body.pinned ? ' · pinned' : ''}${body.silent ? ' · silent' : ''}${body.preview ? '' : ' · no preview'}</span
      >
    </article>`;
  router.post('/c/:id/admins', form, async (req, res) => {
    const person = await somebody(lagoon, req, res);
    const chat = person && (await chats.get(req.params.id));
    if (!chat || chat.owner !== person.id) return;
    const bot = await bots.get(formText(req, 'add') || formText(req, 'remove'));
    if (bot) {
      const others = chat.body.admins.filter((id) => id !== bot.id);
      const admins = formText(req, 'add') ? [...others, bot.id] : others;
      await chats.change(chat.id, { ...chat.body, admins }, clock.now());
    }
    res.redirect(303, `${base}/c/${chat.body.handle ?? chat.id}`);
  });
  router.use(
    '/bots',
    botsPage(lagoon, 'broadcast', TITLE, bots, (number) => `Its number is ${number}.`),
  );
  return router;
}
