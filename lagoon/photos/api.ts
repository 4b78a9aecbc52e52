import type { Router } from 'express';
import { z } from 'zod';
import { answeredBy } from '../base/answers.ts';
import { apiOf, callerOf, needScope, Refusal, type Manner } from '../base/api.ts';
import type { Lagoon } from '../base/lagoon.ts';
import { once } from '../base/repeats.ts';
import { addTell, dropTell } from '../base/tells.ts';
import { graphemes } from '../base/text.ts';
import type { Thing } from '../base/things.ts';
import type { DirectMessage, Photo, PhotoComment, PhotoProfile, PhotoStore } from './store.ts';

const LONGEST_CAPTION = 2000;
const MOST_HASHTAGS = 20;
/** What follows a letter, as in the address of a part of a page, is none. */
const HASHTAGS = /(?<![\p{L}\p{N}_&/])#[\p{L}\p{N}_]+/gu;
/** A profile may write only to people who have written or commented within this time. */
const MAY_ANSWER_WITHIN = 7 * 86_400_000;

export const photosManner: Manner = {
  service: 'photos',
  title: 'Lagoon Photos',
  sign: {
    scopes: {
      profiles: 'see your business profiles',
      photos: 'publish photos',
      comments: 'read, answer and like comments',
      messages: 'read and write messages',
    },
  },
  refuse: (res, status, name, text) => void res.status(status).json({ status: 'error', reason: { name, text } }),
};

/** The interface of Lagoon Photos: an envelope with a status, camel case, seconds, cursors. */
export function photosApi(lagoon: Lagoon, store: PhotoStore): Router {
  const { clock, config } = lagoon;
  const base = `${config.origin}/photos`;
  const ok = (result: unknown) => ({ status: 'ok', result });
  const seconds = (moment: number) => moment / 1000;
  const idOf = (text: unknown, letter: string) =>
    String(text).startsWith(letter) ? Number(String(text).slice(1)) : Number.NaN;

  return apiOf(lagoon, photosManner, (routes) => {
    const profileView = (profile: Thing<PhotoProfile>) => ({
      id: `f${profile.id}`,
      handle: profile.body.handle,
      fullName: profile.body.name,
      business: profile.body.type === 'business',
      page: `${base}/@${profile.body.handle}`,
    });
    const photoView = (photo: Thing<Photo>) => ({
      id: `p${photo.id}`,
      pictureUrl: photo.body.picture,
      caption: photo.body.caption,
      altText: photo.body.alt,
      page: `${base}/p/${photo.id}`,
      takenAt: seconds(photo.createdAt),
    });
    const commentView = (comment: Thing<PhotoComment>, photo: Thing<Photo>) => ({
      id: `c${comment.id}`,
      text: comment.body.text,
      level: comment.body.under === null ? 1 : 2,
      under: comment.body.under === null ? null : `c${comment.body.under}`,
      from: { id: `u${comment.body.by.id}`, fullName: comment.body.by.name },
      photo: photoView(photo),
      likes: comment.body.likes.length,
      page: `${base}/p/${photo.id}`,
      writtenAt: seconds(comment.createdAt),
    });
    const messageView = (message: Thing<DirectMessage>) => ({
      id: `m${message.id}`,
      text: message.body.text,
      sentByUs: message.body.from === 'us',
      person: { id: `u${message.body.with}`, fullName: message.body.name },
      sentAt: seconds(message.createdAt),
    });
    const own = async (id: unknown, person: number) => {
      const profile = await store.profiles.get(idOf(id, 'f'));
      if (profile?.owner !== person)
        throw new Refusal(404, 'NoProfile', 'There is no such profile, or it is not yours.');
      if (profile.body.type === 'personal')
        throw new Refusal(403, 'PersonalProfile', 'Applications may only work with business profiles.');
      return profile;
    };
    const ownComment = async (id: unknown, person: number) => {
      const comment = await store.comments.get(idOf(id, 'c'));
      const photo = comment && (await store.photos.get(comment.parent));
      if (!comment || !photo) throw new Refusal(404, 'NoComment', 'This comment is gone.');
      return { comment, photo, profile: await own(`f${photo.parent}`, person) };
    };
    const most = (query: unknown) => Math.min(100, Math.max(1, Number(query) || 25));
    const older = (query: unknown) => Number(query) || undefined;

    routes.get('/account', async (_req, res) => {
      const { person } = callerOf(res);
      const mine = await store.profiles.list({ owner: person.id, order: 'oldest' });
      res.json(ok({ id: `u${person.id}`, fullName: person.name, profiles: mine.map(profileView) }));
    });
    routes.get('/profiles/:id', async (req, res) => {
      res.json(ok(profileView(await own(req.params.id, callerOf(res).person.id))));
    });
    routes.get('/profiles/:id/photos', async (req, res) => {
      const profile = await own(req.params.id, callerOf(res).person.id);
      const count = most(req.query.count);
      const found = await store.photos.list({ parent: profile.id, before: older(req.query.cursor), most: count });
      res.json(ok({ photos: found.map(photoView), cursor: found.length === count ? String(found.at(-1)!.id) : null }));
    });
    routes.post('/profiles/:id/photos', async (req, res) => {
      needScope(res, 'photos');
      const asked = z
        .object({ pictureUrl: z.url(), caption: z.string(), altText: z.string().default('') })
        .parse(req.body);
      const profile = await own(req.params.id, callerOf(res).person.id);
      if (graphemes(asked.caption) > LONGEST_CAPTION)
        throw new Refusal(422, 'CaptionTooLong', `A caption has at most ${LONGEST_CAPTION} characters.`);
      if ((asked.caption.match(HASHTAGS)?.length ?? 0) > MOST_HASHTAGS)
        throw new Refusal(422, 'TooManyHashtags', `A caption has at most ${MOST_HASHTAGS} hashtags.`);
      await needPicture(asked.pictureUrl);
      const body = { picture: asked.pictureUrl, caption: asked.caption, alt: asked.altText };
      const id = await store.photos.add(body, clock.now(), { parent: profile.id });
      res.status(201).json(ok(photoView((await store.photos.get(id))!)));
    });
    routes.delete('/photos/:id', async (req, res) => {
      const photo = await store.photos.get(idOf(req.params.id, 'p'));
      if (!photo) throw new Refusal(404, 'NoPhoto', 'This photo is gone.');
      await own(`f${photo.parent}`, callerOf(res).person.id);
      await store.photos.remove(photo.id);
      res.json(ok(null));
    });
    routes.get('/profiles/:id/comments', async (req, res) => {
      needScope(res, 'comments');
      const profile = await own(req.params.id, callerOf(res).person.id);
      const count = most(req.query.count);
      const photos = await store.photos.list({ parent: profile.id, most: 200 });
      const all = (await Promise.all(photos.map((photo) => commentsOn(photo, older(req.query.cursor), count)))).flat();
      const newest = all.sort((a, b) => b.comment.id - a.comment.id).slice(0, count);
      const cursor = newest.length === count ? String(newest.at(-1)!.comment.id) : null;
      const answers = await firstAnswers(newest.map(({ photo }) => photo));
      const shown = newest.map(({ comment, photo }) => ({
        ...commentView(comment, photo),
        repliedAt: answers.get(comment.id) ?? null,
      }));
      res.json(ok({ comments: shown, cursor }));
    });
    /** When comments under some photos were first answered by their profile, by number. */
    const firstAnswers = async (photos: readonly Thing<Photo>[]) => {
      const first = new Map<number, number>();
      for (const id of new Set(photos.map((photo) => photo.id)))
        for (const { body, createdAt } of await store.comments.list({ parent: id, most: 500, order: 'oldest' }))
          if (body.by.id < 0) {
            const comment = answeredBy(body);
            if (comment !== null && !first.has(comment)) first.set(comment, seconds(createdAt));
          }
      return first;
    };
    const commentsOn = async (photo: Thing<Photo>, before: number | undefined, count: number) =>
      (await store.comments.list({ parent: photo.id, before, most: count }))
        // What a profile says itself is nothing it has to be told of.
        .filter((comment) => comment.body.by.id > 0)
        .map((comment) => ({ comment, photo }));
    routes.get('/comments/:id', async (req, res) => {
      const { comment, photo } = await ownComment(req.params.id, callerOf(res).person.id);
      res.json(ok(commentView(comment, photo)));
    });
    routes.get('/comments/:id/replies', async (req, res) => {
      const { comment, photo } = await ownComment(req.params.id, callerOf(res).person.id);
      const replies = (await store.comments.list({ parent: photo.id, most: 300 })).filter(
        (each) => answeredBy(each.body) === comment.id,
      );
      res.json(ok({ replies: replies.map((each) => ({ ...commentView(each, photo), byUs: each.body.by.id < 0 })) }));
    });
    routes.post('/comments/:id/replies', async (req, res) => {
      needScope(res, 'comments');
      const { text } = z.object({ text: z.string().trim().min(1).max(1000) }).parse(req.body);
      const { comment, photo, profile } = await ownComment(req.params.id, callerOf(res).person.id);
      const by = { id: -profile.id, name: profile.body.name };
      const body = { text, by, under: comment.body.under ?? comment.id, to: comment.id, likes: [] };
      const id = await store.comments.add(body, clock.now(), { parent: photo.id });
      res.status(201).json(ok(commentView((await store.comments.get(id))!, photo)));
    });
    routes.delete('/comments/:id', async (req, res) => {
      needScope(res, 'comments');
      const { comment } = await ownComment(req.params.id, callerOf(res).person.id);
      await store.comments.remove(comment.id);
      res.json(ok(null));
    });
    routes.put('/comments/:id/like', async (req, res) => {
      needScope(res, 'comments');
      const { comment, profile } = await ownComment(req.params.id, callerOf(res).person.id);
      const likes = [...new Set([...comment.body.likes, -profile.id])];
      await store.comments.change(comment.id, { ...comment.body, likes }, clock.now());
      res.json(ok({ likes: likes.length }));
    });
    routes.get('/profiles/:id/messages', async (req, res) => {
      needScope(res, 'messages');
      const profile = await own(req.params.id, callerOf(res).person.id);
      const count = most(req.query.count);
      const found = await store.messages.list({ parent: profile.id, before: older(req.query.cursor), most: count });
      const cursor = found.length === count ? String(found.at(-1)!.id) : null;
      const ours = (await store.messages.list({ parent: profile.id, most: 500, order: 'oldest' })).filter(
        ({ body }) => body.from === 'us',
      );
      // What we write answers all that this person had written before.
      const repliedAt = (message: Thing<DirectMessage>) =>
        ours.find((each) => each.body.with === message.body.with && each.id > message.id)?.createdAt;
      const shown = found.map((message) => {
        const at = message.body.from === 'them' ? repliedAt(message) : undefined;
        return { ...messageView(message), repliedAt: at === undefined ? null : seconds(at) };
      });
      res.json(ok({ messages: shown, cursor }));
    });
    routes.post('/profiles/:id/messages', async (req, res) => {
      needScope(res, 'messages');
      const asked = z
        .object({ to: z.string(), text: z.string().trim().min(1).max(1000), ref: z.string().max(255) })
        .parse(req.body);
      const profile = await own(req.params.id, callerOf(res).person.id);
      const person = idOf(asked.to, 'u');
      const name = await lastWrote(profile, person);
      if (name === undefined)
        throw new Refusal(403, 'NotWaiting', 'This person has not written or commented in the last seven days.');
      const request = [profile.id, asked.to, asked.text];
      const made = await once(lagoon.db, { client: callerOf(res).client, key: asked.ref, request }, () =>
        store.messages.add({ with: person, name, from: 'us', text: asked.text }, clock.now(), { parent: profile.id }),
      );
      if (made.kind === 'mismatch') throw new Refusal(422, 'RefReused', 'This ref was used for another message.');
      res.status(201).json(ok(messageView((await store.messages.get(made.id))!)));
    });
    /** The person's name, when they have written or commented lately. */
    const lastWrote = async (profile: Thing<PhotoProfile>, person: number) => {
      const since = clock.now() - MAY_ANSWER_WITHIN;
      const messages = await store.messages.list({ parent: profile.id, most: 500 });
      const wrote = messages.find((each) => each.body.with === person && each.body.from === 'them');
      if (wrote && wrote.createdAt > since) return wrote.body.name;
      for (const photo of await store.photos.list({ parent: profile.id, most: 200 })) {
        const comments = await store.comments.list({ parent: photo.id, most: 300 });
        const found = comments.find((each) => each.body.by.id === person && each.createdAt > since);
        if (found) return found.body.by.name;
      }
      return undefined;
    };
    routes.post('/profiles/:id/hooks', async (req, res) => {
      const asked = z
        .object({
          topic: z.enum(['comments', 'mentions', 'messages']),
          callback: z.url(),
          secret: z.string().min(16).max(200),
        })
        .parse(req.body);
      const { person } = callerOf(res);
      const profile = await own(req.params.id, person.id);
      const tellsOf = { service: 'photos', about: profile.id, person: person.id };
      res.status(201).json(ok({ hook: await addTell(lagoon, { ...asked, ...tellsOf }) }));
    });
    routes.delete('/hooks/:id', async (req, res) => {
      await dropTell(lagoon, 'photos', req.params.id, callerOf(res).person.id);
      res.json(ok(null));
    });
  });
}

/** A photo has to be one: the picture is fetched and looked at. */
async function needPicture(url: string): Promise<void> {
  try {
    const answer = await fetch(url, { signal: AbortSignal.timeout(4000) });
    await answer.body?.cancel();
    if (answer.ok && /^image\/(jpeg|png|webp)/.test(answer.headers.get('content-type') ?? '')) return;
  } catch {
    // Said below.
  }
  throw new Refusal(422, 'NoPicture', 'There is no picture at this address.');
}
