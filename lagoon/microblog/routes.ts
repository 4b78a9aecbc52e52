import { Router, urlencoded } from 'express';
import { z } from 'zod';
import { apiOf, callerOf, needScope, Refusal, signInOf, type Manner } from '../base/api.ts';
import { html, prose, when } from '../base/html.ts';
import type { Lagoon } from '../base/lagoon.ts';
import { formText, missing, show, somebody } from '../base/screen.ts';
import { weighted } from '../base/text.ts';
import { Things, type Thing } from '../base/things.ts';
import { trendsFeed } from './trends.ts';

/** Whoever calls many people at once is taken for a nuisance. */
const MOST_MENTIONS = 10;
const MENTIONS = /(?<![\p{L}\p{N}_.@/])@[\p{L}\p{N}_][\p{L}\p{N}_.]*/gu;
/** The longest note; links weigh the same however long they are. */
export const LONGEST_NOTE = 300;
const LINK_WEIGHT = 24;
const TITLE = 'Lagoon Microblog';

export interface MicroProfile {
  handle: string;
  name: string;
  about: string;
}
export interface Note {
  sort: 'original' | 'repost' | 'quote' | 'reply';
  text: string;
  /** The note that is reposted, quoted or replied to. */
  of: number | null;
}

const manner: Manner = {
  service: 'microblog',
  title: TITLE,
  sign: { scopes: { 'notes.read': 'see your profiles and notes', 'notes.write': 'write notes in your name' } },
  refuse: (res, status, code, detail) => void res.status(status).json({ errors: [{ code, detail }] }),
};

/** Lagoon Microblog: short notes, reposts, quotes and replies. It can be searched for one's own recent notes. */
export function microblogRoutes(lagoon: Lagoon): Router {
  const { clock, config, faults } = lagoon;
  const base = `${config.origin}/microblog`;
  const profiles = new Things<MicroProfile>(lagoon, 'microblog', 'profile');
  const notes = new Things<Note>(lagoon, 'microblog', 'note');
  const router = Router();
  router.use('/oauth', faults.middleware('microblog-sign-in'), signInOf(lagoon, manner));
  router.use('/api', apiOf(lagoon, manner, api));

  router.get('/', (req, res) =>
    show(lagoon, TITLE, req, res, 'Profiles', async () => {
      const all = await profiles.list({ order: 'oldest' });
      return html`<h1>Profiles</h1>
        <ul>
          ${all.map((each) => html`<li><a href="${base}/@${each.body.handle}">${each.body.name}</a> <span class="soft">@${each.body.handle}</span></li>`)}
        </ul>`;
    }),
  );
  router.get('/trends.json', (_req, res) => {
    res.type('application/feed+json').send(JSON.stringify(trendsFeed(base, clock.now())));
  });
  router.get('/trends', (req, res) =>
    show(lagoon, TITLE, req, res, 'Trends', () => {
      const { items } = trendsFeed(base, clock.now()) as { items: { title: string; date_published: string }[] };
      return html`<h1>What the coast talks about</h1>
        <p><a href="${base}/trends.json">As a feed</a></p>
        <ul>
          ${items.map((item) => html`<li>${item.title} <span class="soft">${item.date_published.slice(0, 10)}</span></li>`)}
        </ul>`;
    }),
  );
  router.get('/@:handle', async (req, res): Promise<void> => {
    const profile = await profiles.byKey(req.params.handle.toLowerCase());
    if (!profile) return missing(lagoon, TITLE, req, res);
    await show(lagoon, TITLE, req, res, profile.body.name, async (person) => {
      const all = await notes.list({ parent: profile.id });
      return html`<h1>${profile.body.name}</h1>
        <p class="soft">@${profile.body.handle} · ${profile.body.about}</p>
        ${
          person?.id === profile.owner
            ? html`<form method="post" action="${base}/@${profile.body.handle}" class="box">
                <label>Write a note<textarea name="text" rows="3" maxlength="1000"></textarea></label
                ><button>Write</button>
              </form>`
            : ''
        }
        ${await Promise.all(all.map((note) => showNote(note, profile)))}`;
    });
  });
  router.post('/@:handle', urlencoded({ extended: false }), async (req, res) => {
    const person = await somebody(lagoon, req, res);
    const profile = person && (await profiles.byKey(String(req.params.handle).toLowerCase()));
    if (!profile) return;
    if (profile.owner === person.id && formText(req, 'text'))
      await notes.add({ sort: 'original', text: formText(req, 'text'), of: null }, clock.now(), { parent: profile.id });
    res.redirect(303, `${base}/@${profile.body.handle}`);
  });
  router.get('/notes/:id', async (req, res) => {
    const note = await notes.get(req.params.id);
    const profile = note && (await profiles.get(note.parent));
    if (!note || !profile) return missing(lagoon, TITLE, req, res);
    await show(
      lagoon,
      TITLE,
      req,
      res,
      profile.body.name,
      async () =>
        html`<h1>A note of ${profile.body.name}</h1>
          ${await showNote(note, profile)}`,
    );
  });
  async function showNote(note: Thing<Note>, profile: Thing<MicroProfile>) {
    const of = note.body.of === null ? undefined : await notes.get(note.body.of);
    const author = of && (await profiles.get(of.parent));
    return html`<article class="box post" data-post="${note.id}">
      <b>${profile.body.name}</b> <span class="soft">@${profile.body.handle}</span>
      <a class="soft" href="${base}/notes/${note.id}">${when(note.createdAt, clock.now())}</a>
      ${note.body.sort === 'original' ? '' : html`<span class="soft">· ${note.body.sort} ${author ? `of @${author.body.handle}` : ''}</span>`}
      <div class="message">${prose(note.body.text)}</div>
      ${of ? html`<div class="card"><span style="padding:10px 12px">${prose(of.body.text)}</span></div>` : ''}
    </article>`;
  }

  return router;

  function api(routes: Router) {
    const view = (note: Thing<Note>, profile: Thing<MicroProfile>, of?: Thing<Note>) => ({
      id: String(note.id),
      sort: note.body.sort,
      text: note.body.text,
      author: { id: String(profile.id), handle: profile.body.handle, display_name: profile.body.name },
      of: of ? { id: String(of.id), text: of.body.text } : null,
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
      const most = Math.min(100, Number(req.query.limit) || 20);
      const before = Number(req.query.max_id) || undefined;
      const found = await notes.list({ parent: profile.id, before, most });
      const shown = found.map(async (note) =>
        view(note, profile, note.body.of === null ? undefined : await notes.get(note.body.of)),
      );
      res.json({ notes: await Promise.all(shown), next: found.length === most ? String(found.at(-1)!.id) : null });
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
      const id = await notes.add({ sort, text: asked.text, of: of === null ? null : Number(of) }, clock.now(), {
        parent: profile.id,
      });
      res.status(201).json({ note: view((await notes.get(id))!, profile) });
    });
    routes.delete('/notes/:id', async (req, res) => {
      needScope(res, 'notes.write');
      const note = await notes.get(req.params.id);
      if (!note) throw new Refusal(404, 'no_note', 'There is no such note.');
      await own(note.parent, callerOf(res).person.id);
      await notes.remove(note.id);
      res.status(204).end();
    });
  }
}
