import { Router, urlencoded } from 'express';
import { botsPage } from '../base/bots-page.ts';
import { html, prose, when } from '../base/html.ts';
import type { Lagoon } from '../base/lagoon.ts';
import { formText, missing, show, somebody } from '../base/screen.ts';
import { roomsApi } from './api.ts';
import { PERMISSIONS, RoomStore, type RoomMessage } from './store.ts';

const TITLE = 'Lagoon Rooms';

/** Lagoon Rooms: communities with channels and groups. Bots have to be invited, with permissions. */
export function roomsRoutes(lagoon: Lagoon): Router {
  const { clock, config } = lagoon;
  const base = `${config.origin}/rooms`;
  const store = new RoomStore(lagoon);
  const router = Router();
  const form = urlencoded({ extended: true });
  router.use('/api', roomsApi(lagoon, store));

  router.get('/', (req, res) =>
    show(lagoon, TITLE, req, res, 'Communities', async () => {
      const all = await store.communities.list({ order: 'oldest' });
      return html`<h1>Communities</h1>
        <ul>
          ${all.map((each) => html`<li><a href="${base}/s/${each.id}">${each.body.name}</a> <span class="soft">${each.body.about}</span></li>`)}
        </ul>
        <p><a href="${base}/bots">Your bots</a></p>`;
    }),
  );
  router.get('/s/:id', async (req, res) => {
    const community = await store.communities.get(req.params.id);
    if (!community) return missing(lagoon, TITLE, req, res);
    await show(lagoon, TITLE, req, res, community.body.name, async (person) => {
      const channels = await store.channels.list({ parent: community.id, order: 'oldest' });
      const invited = await store.invited.list({ parent: community.id, order: 'oldest' });
      const bots = await Promise.all(invited.map(async (each) => ({ each, bot: await store.bots.get(each.body.bot) })));
      return html`<h1>${community.body.name}</h1>
        <p class="soft">${community.body.about}</p>
        <ul>
          ${channels.map((each) => html`<li><a href="${base}/c/${each.id}"># ${each.body.name}</a>${each.body.readOnly ? html` <span class="soft">bots may not write here</span>` : ''}</li>`)}
        </ul>
        <div class="box">
          <b>Bots</b>
          ${bots.map(
            ({ each, bot }) =>
              html`<p>
                ${bot?.body.name ?? 'a bot that is gone'}
                <span class="soft">may ${each.body.permissions.join(', ') || 'nothing'}</span>
              </p>`,
          )}
          ${bots.length ? '' : html`<p class="soft">None was invited.</p>`}
          ${
            person?.id === community.owner
              ? html`<form method="post" action="${base}/s/${community.id}/invite">
                  <label>Invite link or number of a bot<input name="bot" required /></label>
                  <span class="row"
                    >${PERMISSIONS.map((each) => html`<label class="row"><input type="checkbox" name="${each}" checked />${each}</label>`)}</span
                  >
                  <button>Invite</button>
                </form>`
              : ''
          }
        </div>`;
    });
  });
  router.post('/s/:id/invite', form, async (req, res) => {
    const person = await somebody(lagoon, req, res);
    const community = person && (await store.communities.get(req.params.id));
    if (!community || community.owner !== person.id) return;
    const bot = await store.bots.get(/(\d+)\D*$/.exec(formText(req, 'bot'))?.[1]);
    if (bot) {
      const permissions = PERMISSIONS.filter((each) => formText(req, each) !== '');
      const known = (await store.invited.list({ parent: community.id, most: 200 })).find(
        (each) => each.body.bot === bot.id,
      );
      if (known) await store.invited.change(known.id, { bot: bot.id, permissions }, clock.now());
      else await store.invited.add({ bot: bot.id, permissions }, clock.now(), { parent: community.id });
    }
    res.redirect(303, `${base}/s/${community.id}`);
  });
  router.get('/c/:id', async (req, res) => {
    const channel = await store.channels.get(req.params.id);
    if (!channel) return missing(lagoon, TITLE, req, res);
    await show(lagoon, TITLE, req, res, `# ${channel.body.name}`, async (person) => {
      const all = await store.messages.list({ parent: channel.id, most: 60 });
      const groups = new Map(
        (await store.groups.list({ parent: channel.parent!, most: 100 })).map((group) => [group.id, group.body.name]),
      );
      return html`<h1># ${channel.body.name}</h1>
        <p><a href="${base}/s/${channel.parent}">The community</a></p>
        ${all.reverse().map((message) => showMessage(message.id, message.body, message.createdAt, groups))}
        ${
          person
            ? html`<form class="box" method="post" action="${base}/c/${channel.id}">
                <label>Say something<input name="text" maxlength="2000" /></label><button>Send</button>
              </form>`
            : ''
        }`;
    });
  });
  const showMessage = (id: number, message: RoomMessage, at: number, groups: Map<number, string>) =>
    html`<article class="box post" data-post="${id}">
      <b>${message.by}</b>${message.bot === null ? '' : html` <span class="soft">bot</span>`}
      <span class="soft">${when(at, clock.now())}</span>
      ${message.groups.map((group) => html`<b class="group">@${groups.get(group) ?? 'a group'}</b> `)}
      <div class="message">${marked(message.text)}</div>
      ${
        message.card
          ? html`<div
              class="roomcard"
              style="border:1px solid #d5dae6;border-radius:8px;background:#fafbfd;padding:10px 14px"
            >
              ${message.card.colour ? html`<span style="display:inline-block;width:12px;height:12px;border-radius:50%;background:${message.card.colour}"></span>` : ''}
              ${message.card.link ? html`<a href="${message.card.link}"><b>${message.card.title}</b></a>` : html`<b>${message.card.title}</b>`}
              <div>${marked(message.card.text)}</div>
              ${message.card.picture ? html`<img src="${message.card.picture}" alt="" style="max-width:100%;width:420px;display:block;margin-top:8px" />` : ''}
            </div>`
          : ''
      }
    </article>`;
  router.post('/c/:id', form, async (req, res) => {
    const person = await somebody(lagoon, req, res);
    const channel = person && (await store.channels.get(req.params.id));
    if (!channel) return;
    const text = formText(req, 'text');
    if (text)
      await store.messages.add({ by: person.name, bot: null, text, card: null, groups: [] }, clock.now(), {
        parent: channel.id,
      });
    res.redirect(303, `${base}/c/${channel.id}`);
  });
  router.use(
    '/bots',
    botsPage(lagoon, 'rooms', TITLE, store.bots, (number) => `To invite it, its number is ${number}.`),
  );
  return router;
}

/** A little markdown: bold, italic, code, links and lists, as rooms show it. A backslash keeps a sign as it is. */
function marked(text: string) {
  const kept: string[] = [];
  const keep = (shown: string) => `\ue000${kept.push(shown) - 1}\ue001`;
  const char = (sign: string) => `&#${sign.charCodeAt(0)};`;
  const shown = prose(
    text
      .replace(/\\([!-/:-@[-`{-~])/g, (_, sign: string) => keep(char(sign)))
      .replace(/(`+)([^\n]+?)\1(?!`)/g, (_, _ticks, code: string) =>
        keep(`<code>${code.trim().replace(/[&<>"']/g, char)}</code>`),
      )
      .replace(
        /\[([^\]\n]+)\]\(<(https?:[^>\s]+)>\)/g,
        (_, words: string, to: string) =>
          `${keep(`<a href="${to.replace(/[&<>"']/g, char)}" rel="nofollow ugc">`)}${words}${keep('</a>')}`,
      )
      .replace(/^- /gm, '• '),
  );
  shown.text = shown.text
    .replace(/\*\*\*([^*\n]+)\*\*\*/g, '<b><i>$1</i></b>')
    .replace(/\*\*([^*\n]+)\*\*/g, '<b>$1</b>')
    .replace(/(^|[^\p{L}\p{N}*])\*([^*\n]+)\*/gu, '$1<i>$2</i>')
    .replace(/\ue000(\d+)\ue001/g, (_, index: string) => kept[Number(index)] ?? '');
  return shown;
}
