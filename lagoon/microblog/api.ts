import type { Router } from 'express';
import { z } from 'zod';
import { apiOf, callerOf, needScope, Refusal, type Manner } from '../base/api.ts';
import type { Lagoon } from '../base/lagoon.ts';
import { addTell, dropTell } from '../base/tells.ts';
import { weighted } from '../base/text.ts';
import type { Thing } from '../base/things.ts';
import { MENTIONS, type MicroProfile, type MicroStore, type Note } from './store.ts';

/** Whoever calls many people at once is taken for a nuisance. */
const MOST_MENTIONS = 10;
/** The longest note; links weigh the same however long they are. */
const LONGEST_NOTE = 300;
const LINK_WEIGHT = 24;

export const microblogManner: Manner = {
  service: 'microblog',
  title: 'Lagoon Microblog',
  sign: {
    scopes: {
      'notes.read': 'see your profiles and notes, and who mentions you',
      'notes.write': 'write notes and likes in your name',
    },
  },
  refuse: (res, status, code, detail) => void res.status(status).json({ errors: [{ code, detail }] }),
};

/** The interface of Lagoon Microblog: snake case, ISO dates, `max_id` for pages. */
export function microblogApi(lagoon: Lagoon, store: MicroStore): Router {
  const { clock, config } = lagoon;
  const { profiles, notes } = store;
  const base = `${config.origin}/microblog`;

  return apiOf(lagoon, microblogManner, (routes) => {
    const ofView = (of: Thing<Note>) => ({
      id: String(of.id),
      text: of.body.text,
      author: String(of.parent),
      page: `${base}/notes/${of.id}`,
    });
    const view = (note: Thing<Note>, profile: Thing<MicroProfile>, of?: Thing<Note>) => ({
      id: String(note.id),
      sort: note.body.sort,
      text: note.body.text,
      author: { id: String(profile.id), handle: profile.body.handle, display_name: profile.body.name },
      of: of ? ofView(of) : null,
      likes: note.body.likes?.length ?? 0,
      page: `${base}/notes/${note.id}`,
      created_at: new Date(note.createdAt).toISOString(),
    });
    const profileView = (profile: Thing<MicroProfile>) => ({
      id: String(profile.id),
      handle: profile.body.handle,
      display_name: profile.body.name,
      page: `${base}/@${profile.body.handle}`,
    });
    const own = async (id: unknown, person: number) => {
      const profile = await profiles.get(id);
      if (profile?.owner !== person)
        throw new Refusal(404, 'no_profile', 'There is no such profile, or it is not yours.');
      return profile;
    };
    const noteAt = async (id: unknown) => {
      const note = await notes.get(id);
      const author = note && (await profiles.get(note.parent));
      if (!note || !author) throw new Refusal(404, 'no_note', 'There is no such note.');
      return { note, author };
    };
    const most = (query: unknown) => Math.min(100, Math.max(1, Number(query) || 20));
    const older = (query: unknown) => Number(query) || undefined;
    const nextPage = (id: number | null) => (id === null ? null : String(id));

    routes.get('/me', (_req, res) => {
      const { person } = callerOf(res);
      res.json({ user: { id: String(person.id), name: person.name } });
    });
    routes.get('/me/profiles', async (_req, res) => {
      const mine = await profiles.list({ owner: callerOf(res).person.id, order: 'oldest' });
      res.json({ profiles: mine.map(profileView) });
    });
    routes.get('/profiles/by-handle/:handle', async (req, res) => {
      const profile = await profiles.byKey(req.params.handle.toLowerCase());
      if (!profile) throw new Refusal(404, 'no_profile', 'Nobody has this handle.');
      res.json({ profile: profileView(profile) });
    });
    routes.get('/profiles/:id/notes', async (req, res) => {
      const profile = await profiles.get(req.params.id);
      if (!profile) throw new Refusal(404, 'no_profile', 'There is no such profile.');
      const limit = most(req.query.limit);
      const found = await notes.list({ parent: profile.id, before: older(req.query.max_id), most: limit });
      const shown = found.map(async (note) => view(note, profile, await store.aboutOf(note)));
      res.json({ notes: await Promise.all(shown), next: nextPage(found.length === limit ? found.at(-1)!.id : null) });
    });
    // Who mentions one is for oneself.
    routes.get('/profiles/:id/mentions', async (req, res) => {
      const profile = await own(req.params.id, callerOf(res).person.id);
      const limit = most(req.query.limit);
      const found = await store.mentioning(profile.id, older(req.query.max_id), limit);
      const shown = found.notes.map(async ({ note, author, of }) => {
        const answer = (await store.answersBy(profile.id, note.id)).at(-1);
        const answered_at = answer ? new Date(answer.createdAt).toISOString() : null;
        return { ...view(note, author, of), answered_at };
      });
      res.json({ notes: await Promise.all(shown), next: nextPage(found.next) });
    });
    routes.post('/profiles/:id/webhooks', async (req, res) => {
      const { person } = callerOf(res);
      const profile = await own(req.params.id, person.id);
      const { topic, url, secret } = z
        .object({
          topic: z.enum(['mentions']),
          url: z.url(),
          secret: z.string().regex(/^whsec_[A-Za-z0-9+/]+=*$/),
        })
        .parse(req.body);
      const wanted = { service: 'microblog', topic, about: profile.id, person: person.id };
      res.status(201).json({ webhook: { id: await addTell(lagoon, { ...wanted, callback: url, secret }) } });
    });
    routes.delete('/webhooks/:id', async (req, res) => {
      await dropTell(lagoon, 'microblog', req.params.id, callerOf(res).person.id);
      res.status(204).end();
    });
    routes.get('/notes/:id', async (req, res) => {
      const { note, author } = await noteAt(req.params.id);
      res.json({ note: view(note, author, await store.aboutOf(note)) });
    });
    routes.get('/notes/:id/replies', async (req, res) => {
      const { note } = await noteAt(req.params.id);
      const profile = await own(req.query.by, callerOf(res).person.id);
      const answers = await store.answersBy(profile.id, note.id);
      res.json({ notes: answers.map((answer) => view(answer, profile, note)) });
    });
    routes.put('/notes/:id/likes/:profile', async (req, res) => {
      needScope(res, 'notes.write');
      const profile = await own(req.params.profile, callerOf(res).person.id);
      const { note } = await noteAt(req.params.id);
      const likes = [...new Set([...(note.body.likes ?? []), profile.id])];
      await notes.change(note.id, { ...note.body, likes }, clock.now());
      res.json({ likes: likes.length });
    });
    const noteSchema = z.object({
      profile: z.string(),
      text: z.string().default(''),
      reply_to: z.string().nullish(),
      quote_of: z.string().nullish(),
      repost_of: z.string().nullish(),
    });
    routes.post('/notes', async (req, res) => {
      needScope(res, 'notes.write');
      const asked = noteSchema.parse(req.body);
      const profile = await own(asked.profile, callerOf(res).person.id);
      const of = asked.reply_to ?? asked.quote_of ?? asked.repost_of ?? null;
      if (of !== null && !(await notes.get(of))) throw new Refusal(404, 'no_note', 'The note it refers to is gone.');
      if (!asked.text.trim() && !asked.repost_of) throw new Refusal(422, 'text_missing', 'A note needs words.');
      const length = weighted(asked.text, LINK_WEIGHT);
      if (length > LONGEST_NOTE)
        throw new Refusal(422, 'text_long', `A note weighs at most ${LONGEST_NOTE}; this one weighs ${length}.`);
      if ((asked.text.match(MENTIONS)?.length ?? 0) > MOST_MENTIONS)
        throw new Refusal(422, 'names_many', `A note calls at most ${MOST_MENTIONS} people.`);
      const sort = asked.reply_to ? 'reply' : asked.quote_of ? 'quote' : asked.repost_of ? 'repost' : 'original';
      const id = await store.write(profile.id, { sort, text: asked.text, of: of === null ? null : Number(of) });
      res.status(201).json({ note: view((await notes.get(id))!, profile) });
    });
    routes.delete('/notes/:id', async (req, res) => {
      needScope(res, 'notes.write');
      const { note } = await noteAt(req.params.id);
      await own(note.parent, callerOf(res).person.id);
      await notes.remove(note.id);
      res.status(204).end();
    });
  });
}
