import { Router, urlencoded, type Request, type Response } from 'express';
import type { Lagoon } from '../base/lagoon.ts';
import { byHand, commentByHand } from '../base/hand-forms.ts';
import { html, page, prose, when } from '../base/html.ts';
import { oauthRoutes } from '../base/oauth.ts';
import { personOf, randomToken } from '../base/people.ts';
import { Things } from '../base/things.ts';
import { picture } from '../base/pictures.ts';
import { videoApi, type Playlist } from './api.ts';
import { VideoComments } from './comments.ts';
import { channelFeed } from './feed.ts';
import { hubRoutes } from './hub.ts';
import { FEED_SIZE, releaseVideo } from './release.ts';
import {
  allChannels,
  channelBy,
  channelsOf,
  clock as length,
  videoBy,
  videosOf,
  type Channel,
  type Video,
} from './store.ts';

/** Lagoon Video: channels, their films and feeds, a studio to upload, and an interface for applications. */
export function videoRoutes(lagoon: Lagoon): Router {
  const { db, clock, config, faults } = lagoon;
  const base = `${config.origin}/video`;
  const router = Router();
  const title = 'Lagoon Video';

  router.use(
    '/oauth',
    faults.middleware('video-sign-in'),
    oauthRoutes(db, clock, config.clients, {
      service: 'video',
      title,
      scopes: {
        'channels.read': 'see your channels, the films on them and what is said about them',
        'comments.write': 'answer comments in your name',
      },
    }),
  );

  router.use('/hub', hubRoutes(lagoon));
  const comments = new VideoComments(lagoon);
  const playlists = new Things<Playlist>(lagoon, 'video', 'playlist');

  const film = (video: Video) =>
    html`<li>
      <a href="${base}/v/${video.id}"><img src="${base}/pictures/${video.picture}.jpg" alt="" /></a>
      <div>
        <a href="${base}/v/${video.id}">${video.title}</a><br /><span class="soft"
          >${length(video.seconds)} · ${when(video.published_at, clock.now())}</span
        >
      </div>
    </li>`;
  const feedLink = (channel: Channel) =>
    html`<link
      rel="alternate"
      type="application/atom+xml"
      title="${channel.title}"
      href="${base}/feeds/${channel.id}.atom"
    />`;

  async function showChannel(req: Request, res: Response, channel: Channel | undefined) {
    if (!channel) return missing(res);
    const videos = await videosOf(db, channel.id, clock.now(), 60);
    const lists = (await playlists.list({ most: 200 })).filter((each) => each.body.channel === channel.id);
    res.send(
      page(
        {
          service: title,
          title: channel.title,
          head: feedLink(channel),
          person: (await personOf(db, req))?.name,
          here: req.originalUrl,
        },
        html`<h1>${channel.title}</h1>
          <p class="soft">@${channel.handle} · ${videos.length} films</p>
          <p>${prose(channel.about)}</p>
          ${lists.map((list) => html`<p class="soft">List: ${list.body.title} (${list.body.films.length} films) <a href="${base}/feeds/list-${list.id}.atom">feed</a></p>`)}
          <ul class="films">
            ${videos.map(film)}
          </ul>`,
      ),
    );
  }
  const missing = (res: Response) =>
    void res
      .status(404)
      .send(page({ service: title, title: 'Not here' }, html`<p>There is nothing at this address.</p>`));

  router.get('/', async (req, res) => {
    const channels = await allChannels(db);
    res.send(
      page(
        { service: title, title: 'Channels', person: (await personOf(db, req))?.name, here: req.originalUrl },
        html`<h1>Channels</h1>
          <ul>
            ${channels.map((channel) => html`<li><a href="${base}/on/${channel.handle}">${channel.title}</a> <span class="soft">@${channel.handle}</span></li>`)}
          </ul>
          <p><a href="${base}/studio">Upload a film</a></p>`,
      ),
    );
  });
  // A channel answers at several addresses: by handle or by id, and with the part that says which list is shown.
  router.get(['/on/:handle', '/on/:handle/films', '/on/:handle/about'], async (req, res) =>
    showChannel(req, res, await channelBy(db, 'handle', String(req.params.handle))),
  );
  router.get(['/channels/:id', '/channels/:id/films', '/channels/:id/about'], async (req, res) =>
    showChannel(req, res, await channelBy(db, 'id', String(req.params.id))),
  );

  // What others embed a film by (oembed.com, version 1.0).
  router.get('/oembed', async (req, res) => {
    const id = String(req.query.url ?? '').split('/v/')[1] ?? '';
    const video = await videoBy(db, id, clock.now());
    const channel = video && (await channelBy(db, 'id', video.channel_id));
    if (!video || !channel) return void res.status(404).json({ error: 'There is no such film.' });
    res.json({
      ...{ version: '1.0', type: 'link', title: video.title, author_name: channel.title, provider_name: title },
      ...{ author_url: `${base}/on/${channel.handle}`, provider_url: base },
      ...{ thumbnail_url: `${base}/pictures/${video.picture}.jpg`, thumbnail_width: 640, thumbnail_height: 360 },
    });
  });
  router.get('/v/:id', async (req, res) => {
    const video = await videoBy(db, req.params.id, clock.now());
    const channel = video && (await channelBy(db, 'id', video.channel_id));
    if (!video || !channel) return missing(res);
    const meta: [string, string][] = [
      ['og:title', video.title],
      ['og:type', 'video.other'],
      ['og:url', `${base}/v/${video.id}`],
      ['og:image', `${base}/pictures/${video.picture}.jpg`],
      ['og:description', video.description.split('\n')[0]!],
      ['og:site_name', title],
    ];
    const about = `${base}/oembed?url=${encodeURIComponent(`${base}/v/${video.id}`)}`;
    const oembed = html`<link rel="alternate" type="application/json+oembed" title="${video.title}" href="${about}" />`;
    const head = html`${feedLink(channel)}${oembed}${meta.map(([property, content]) => html`<meta property="${property}" content="${content}" />`)}`;
    res.send(
      page(
        { service: title, title: video.title, head, person: (await personOf(db, req))?.name, here: req.originalUrl },
        html`<div class="screen">
            <img src="${base}/pictures/${video.picture}.jpg" alt="" /><span class="long">${length(video.seconds)}</span>
          </div>
          <h1 style="margin-top:14px">${video.title}</h1>
          <p class="soft">
            <a href="${base}/on/${channel.handle}">${channel.title}</a> · ${when(video.published_at, clock.now())} ·
            ${video.views} views
          </p>
          <div class="box">${prose(video.description)}</div>
          ${byHand(await personOf(db, req), `/video/on/${channel.handle}`, [{ label: 'Delete the film', act: { do: 'delete-film', film: video.id } }])}
          ${await discussion(video, channel, await personOf(db, req))}`,
      ),
    );
  });
  async function discussion(video: Video, channel: Channel, person: { name: string } | undefined) {
    const all = await comments.onFilm(video.id, channel.id);
    const line = (comment: (typeof all)[number]) =>
      html`<p data-comment="${comment.id}" style="${comment.body.under === null ? '' : 'padding-left:28px'}">
          <b>${comment.body.by.name}</b> ${prose(comment.body.text)}
          <span class="soft">${when(comment.createdAt, clock.now())}</span>
        </p>
        ${commentByHand(person, `/video/v/${video.id}`, 'video', comment)}`;
    return html`<div class="box">
      <b>${all.length} comments</b>
      ${all.filter((each) => each.body.under === null).map((each) => [line(each), ...all.filter((other) => other.body.under === each.id).map(line)])}
      ${
        person
          ? html`<form method="post" action="${base}/v/${video.id}">
              <label>Comment as ${person.name}<input name="text" required maxlength="1000" /></label
              ><button>Comment</button>
            </form>`
          : html`<a href="/sign-in?next=/video/v/${video.id}">Sign in to comment</a>`
      }
    </div>`;
  }
  router.post('/v/:id', urlencoded({ extended: false }), async (req, res) => {
    const person = await personOf(db, req);
    if (!person) return void res.status(403).send('Sign in first.');
    const text = String((req.body as { text?: unknown })?.text ?? '').trim();
    if (text) await comments.add(String(req.params.id), person, text.slice(0, 1000), clock.now());
    res.redirect(303, `${base}/v/${req.params.id}`);
  });

  router.get('/feeds/:name', faults.middleware('video-feed'), async (req, res) => {
    const name = String(req.params.name).replace(/\.atom$/, '');
    const list = await playlists.get(/^list-(\d+)$/.exec(name)?.[1]);
    const channel = await channelBy(db, 'id', list?.body.channel ?? name);
    if (!channel) return void res.status(404).type('text').send('No such feed.');
    const all = await videosOf(db, channel.id, clock.now(), list ? 1000 : FEED_SIZE);
    const feed = list
      ? channelFeed(
          { ...channel, title: `${channel.title}: ${list.body.title}` },
          all.filter((video) => list.body.films.includes(video.id)).slice(0, FEED_SIZE),
          base,
          `list-${list.id}`,
        )
      : channelFeed(channel, all, base);
    res.set({ ETag: feed.etag, 'Last-Modified': new Date(feed.updated).toUTCString(), 'Cache-Control': 'max-age=60' });
    // Express compares If-None-Match and If-Modified-Since itself (RFC 9110 section 13).
    if (req.fresh) return void res.status(304).end();
    res.type('application/atom+xml').send(feed.body);
  });

  router.get('/pictures/:name', async (req, res) => {
    const seed = /^([\w-]{1,60})\.jpg$/.exec(req.params.name)?.[1];
    if (!seed) return missing(res);
    res
      .type('image/jpeg')
      .set('Cache-Control', 'max-age=86400')
      .send(await picture(seed));
  });

  router.get('/studio', async (req, res) => {
    const person = await personOf(db, req);
    if (!person) return void res.redirect(303, `/sign-in?next=${encodeURIComponent('/video/studio')}`);
    res.send(await studio(person));
  });
  async function studio(person: { id: number; name: string }, wrong?: string, kept: Record<string, string> = {}) {
    const channels = await channelsOf(db, person.id);
    const seed = kept.picture || `film-${randomToken().slice(0, 8)}`;
    return page(
      { service: title, title: 'Upload', person: person.name, here: '/video/studio' },
      html`<h1>Upload a film</h1>
        ${wrong ? html`<p role="alert" class="box"><b>${wrong}</b></p>` : ''}
        <form method="post" action="${base}/studio" class="box">
          <label
            >Channel<select name="channel">
              ${channels.map((channel) => html`<option value="${channel.id}">${channel.title}</option>`)}
            </select></label
          >
          <label>Title<input name="title" required maxlength="200" value="${kept.title ?? ''}" /></label>
          <label>Description<textarea name="description" rows="4">${kept.description ?? ''}</textarea></label>
          <label>Length<input name="length" required placeholder="6:10" value="${kept.length ?? ''}" /></label>
          <label
            >Picture<img src="${base}/pictures/${seed}.jpg" alt="The picture drawn for this film" width="320"
          /></label>
          <input type="hidden" name="picture" value="${seed}" />
          <button>Publish</button>
        </form>`,
    );
  }
  router.post('/studio', urlencoded({ extended: false }), async (req, res) => {
    const person = await personOf(db, req);
    if (!person) return void res.status(403).send('Sign in first.');
    const body = req.body as Record<string, string>;
    const channel = (await channelsOf(db, person.id)).find((each) => each.id === body.channel);
    const long = /^(?:(\d+):)?(\d{1,3}):(\d\d)$/.exec((body.length ?? '').trim());
    const seconds = long ? Number(long[1] ?? 0) * 3600 + Number(long[2]) * 60 + Number(long[3]) : 0;
    const wrong = !channel
      ? 'Choose a channel of yours.'
      : !body.title?.trim()
        ? 'A film needs a title.'
        : seconds <= 0
          ? 'Write the length as minutes and seconds, 6:10.'
          : '';
    if (wrong || !channel) return void res.status(422).send(await studio(person, wrong, body));
    const id = await releaseVideo(lagoon, {
      channel_id: channel.id,
      title: body.title!.trim().slice(0, 200),
      description: (body.description ?? '').replace(/\r\n/g, '\n').slice(0, 10_000),
      seconds,
      picture: /^[\w-]{1,60}$/.test(body.picture ?? '') ? body.picture! : 'film',
      published_at: clock.now(),
    });
    res.redirect(303, `/video/v/${id}`);
  });

  router.use('/api', videoApi(lagoon, comments, playlists));
  return router;
}
