// Lagoon Video's interface for applications.
import { Router, json } from 'express';
import { answeredBy } from '../base/answers.ts';
import type { Lagoon } from '../base/lagoon.ts';
import { accessOf } from '../base/oauth.ts';
import { once } from '../base/repeats.ts';
import type { Things } from '../base/things.ts';
import type { VideoComments } from './comments.ts';
import { channelBy, channelsOf, videoBy, videosOf, type Channel } from './store.ts';

export interface Playlist {
  channel: string;
  title: string;
  films: string[];
}

/** What applications ask with an access token: channels, films, comments, answers, playlists. */
export function videoApi(lagoon: Lagoon, comments: VideoComments, playlists: Things<Playlist>): Router {
  const { db, clock, config, faults } = lagoon;
  const base = `${config.origin}/video`;
  const api = Router();
  api.use(faults.middleware('video'));
  api.use(async (req, res, next) => {
    const access = await accessOf(db, clock, 'video', req);
    if (!access)
      return void res
        .status(401)
        .json({ problem: 'sign_in', detail: 'The access token is missing, expired or revoked.' });
    res.locals.access = access;
    next();
  });
  api.get(
    '/me',
    (_req, res) =>
      void res.json({ person: { id: res.locals.access.person.id, display: res.locals.access.person.name } }),
  );
  api.get('/me/channels', async (_req, res) => {
    const channels = await channelsOf(db, res.locals.access.person.id);
    res.json({ channels: channels.map((channel) => describe(channel)) });
  });
  api.get('/channels/:id/films', async (req, res) => {
    const size = Math.min(50, Math.max(1, Number(req.query.size) || 50));
    const before = Number(req.query.before) || Number.MAX_SAFE_INTEGER;
    const channel = await channelBy(db, 'id', String(req.params.id));
    if (!channel) return void res.status(404).json({ problem: 'no_channel', detail: 'There is no such channel.' });
    const videos = await videosOf(db, channel.id, clock.now(), size, before);
    res.json({
      films: videos.map((video) => ({
        film_id: video.id,
        feed_id: `lagoon:video:${video.id}`,
        title: video.title,
        description: video.description,
        seconds: video.seconds,
        thumbnail: { src: `${base}/pictures/${video.picture}.jpg`, width: 640, height: 360 },
        page: `${base}/v/${video.id}`,
        published: Math.floor(video.published_at / 1000),
        published_ms: video.published_at,
      })),
      before: videos.length === size ? videos.at(-1)!.published_at : null,
    });
  });
  api.get('/channels/:id/comments', async (req, res) => {
    const channel = await channelBy(db, 'id', String(req.params.id));
    if (!channel || channel.owner_id !== res.locals.access.person.id)
      return void res
        .status(404)
        .json({ problem: 'no_channel', detail: 'There is no such channel, or it is not yours.' });
    const found = await comments.onChannel(channel.id, Number(req.query.before) || undefined, 50);
    const films = new Map((await videosOf(db, channel.id, clock.now(), 500)).map((video) => [video.id, video.title]));
    const theirs = found.filter((each) => each.body.by.id > 0 && films.has(each.body.film));
    const ours = (await comments.onChannel(channel.id, undefined, 1000))
      .filter((each) => each.body.by.id < 0)
      .reverse();
    res.json({
      comments: theirs.map((each) => ({
        comment_id: String(each.id),
        text: each.body.text,
        answer_to: each.body.under === null ? null : String(each.body.under),
        person: { id: each.body.by.id, display: each.body.by.name },
        film: { film_id: each.body.film, title: films.get(each.body.film), page: `${base}/v/${each.body.film}` },
        written_ms: each.createdAt,
        answered_ms: ours.find(({ body }) => answeredBy(body) === each.id)?.createdAt ?? null,
      })),
      before: found.length === 50 ? found.at(-1)!.id : null,
    });
  });
  api.get('/comments/:id', async (req, res) => {
    const comment = await comments.get(req.params.id);
    const video = comment && (await videoBy(db, comment.body.film, clock.now()));
    const channel = video && (await channelBy(db, 'id', video.channel_id));
    if (!comment || !channel || channel.owner_id !== res.locals.access.person.id)
      return void res
        .status(404)
        .json({ problem: 'no_comment', detail: 'This comment is gone, or not on a channel of yours.' });
    const all = await comments.onFilm(comment.body.film, channel.id);
    const answers = all.filter((each) => answeredBy(each.body) === comment.id && each.body.by.id < 0);
    res.json({
      comment_id: String(comment.id),
      text: comment.body.text,
      answers: answers.map((each) => ({ comment_id: String(each.id), text: each.body.text })),
    });
  });
  // Under the same answer_ref one comment is answered once.
  api.post('/comments/:id/answers', json(), async (req, res) => {
    const { access } = res.locals;
    if (!access.scopes.includes('comments.write'))
      return void res.status(403).json({ problem: 'scope', detail: 'The permission comments.write was not given.' });
    const { text, answer_ref } = (req.body ?? {}) as { text?: unknown; answer_ref?: unknown };
    if (typeof text !== 'string' || !text.trim() || text.length > 1000 || typeof answer_ref !== 'string' || !answer_ref)
      return void res
        .status(422)
        .json({ problem: 'content', detail: 'An answer needs words, at most 1000 characters, and an answer_ref.' });
    const comment = await comments.get(req.params.id);
    const video = comment && (await videoBy(db, comment.body.film, clock.now()));
    const channel = video && (await channelBy(db, 'id', video.channel_id));
    if (!comment || !channel || channel.owner_id !== access.person.id)
      return void res
        .status(404)
        .json({ problem: 'no_comment', detail: 'This comment is gone, or not on a channel of yours.' });
    const by = { id: -access.person.id, name: channel.title };
    const made = await once(
      db,
      { client: `video:${access.client}`, key: answer_ref, request: [comment.id, text] },
      () =>
        comments.add(comment.body.film, by, text, clock.now(), {
          under: comment.body.under ?? comment.id,
          to: comment.id,
        }),
    );
    if (made.kind === 'mismatch')
      return void res.status(422).json({ problem: 'ref', detail: 'This answer_ref was used for another answer.' });
    res
      .status(201)
      .json({ comment_id: String(made.id), page: `${base}/v/${comment.body.film}`, written_ms: clock.now() });
  });
  api.get('/channels/:id/playlists', async (req, res) => {
    const all = (await playlists.list({ most: 200 })).filter((each) => each.body.channel === req.params.id);
    res.json({
      playlists: all.map((each) => ({
        playlist_id: String(each.id),
        title: each.body.title,
        feed: `${base}/feeds/list-${each.id}.atom`,
      })),
    });
  });
  const describe = (channel: Channel) => ({
    channel_id: channel.id,
    handle: channel.handle,
    title: channel.title,
    page: `${base}/on/${channel.handle}`,
    feed: `${base}/feeds/${channel.id}.atom`,
  });
  return api;
}
