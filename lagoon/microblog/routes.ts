import { Router, urlencoded } from 'express';
import { signInOf } from '../base/api.ts';
import { byHand } from '../base/hand-forms.ts';
import { html, prose, when } from '../base/html.ts';
import type { Lagoon } from '../base/lagoon.ts';
import { formText, missing, show, somebody } from '../base/screen.ts';
import type { Thing } from '../base/things.ts';
import { microblogApi, microblogManner } from './api.ts';
import { MicroStore, type MicroProfile, type Note } from './store.ts';
import { trendsFeed } from './trends.ts';

const TITLE = 'Lagoon Microblog';

/**
 * Lagoon Microblog: short notes, reposts, quotes and replies. It can be searched for one's own recent notes, and tells by
 * web hook who mentions one.
 */
export function microblogRoutes(lagoon: Lagoon): Router {
  const { clock, config, faults } = lagoon;
  const base = `${config.origin}/microblog`;
  const store = new MicroStore(lagoon);
  const { profiles, notes } = store;
  const router = Router();
  router.use('/oauth', faults.middleware('microblog-sign-in'), signInOf(lagoon, microblogManner));
  router.use('/api', microblogApi(lagoon, store));

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
        ${await Promise.all(all.map((note) => showNote(note, profile)))} ${await mentionsOf(profile, person)}`;
    });
  });
  router.post('/@:handle', urlencoded({ extended: false }), async (req, res) => {
    const person = await somebody(lagoon, req, res);
    const profile = person && (await profiles.byKey(String(req.params.handle).toLowerCase()));
    if (!profile) return;
    if (profile.owner === person.id && formText(req, 'text'))
      await store.write(profile.id, { sort: 'original', text: formText(req, 'text'), of: null });
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
      async (person) =>
        html`<h1>A note of ${profile.body.name}</h1>
          ${await showNote(note, profile)} ${noteByHand(person, `/microblog/notes/${note.id}`, note)}`,
    );
  });
  async function showNote(note: Thing<Note>, profile: Thing<MicroProfile>) {
    const of = await store.aboutOf(note);
    const author = of && (await profiles.get(of.parent));
    return html`<article class="box post" data-post="${note.id}">
      <b>${profile.body.name}</b> <span class="soft">@${profile.body.handle}</span>
      <a class="soft" href="${base}/notes/${note.id}">${when(note.createdAt, clock.now())}</a>
      ${note.body.sort === 'original' ? '' : html`<span class="soft">· ${note.body.sort} ${author ? `of @${author.body.handle}` : ''}</span>`}
      <div class="message">${prose(note.body.text)}</div>
      ${of ? html`<div class="card"><span style="padding:10px 12px">${prose(of.body.text)}</span></div>` : ''}
    </article>`;
  }

  /** Who has mentioned a profile, for its owner. */
  async function mentionsOf(profile: Thing<MicroProfile>, person: { id: number } | undefined) {
    if (person?.id !== profile.owner) return html``;
    const { notes: found } = await store.mentioning(profile.id, undefined, 30);
    if (found.length === 0) return html``;
    const back = `/microblog/@${profile.body.handle}`;
    const shown = found.map(
      async ({ note, author }) =>
        html`${await showNote(note, author)} ${noteByHand(person, back, note, profile.body.handle)}`,
    );
    return html`<h2>Who mentions ${profile.body.name}</h2>
      ${await Promise.all(shown)}`;
  }
  /** @param as the profile that answers; without one it can only be edited and deleted */
  function noteByHand(person: unknown, back: string, note: Thing<Note>, as?: string) {
    const { id } = note;
    const words = { name: 'text', label: 'The words', value: note.body.text, lines: 3 };
    return byHand(person, back, [
      ...(as
        ? [
            {
              label: `Answer as @${as}`,
              act: { do: 'answer-note', id, as },
              fields: [{ name: 'text', label: 'The answer' }],
            },
          ]
        : []),
      { label: 'Edit it as whoever wrote it', act: { do: 'edit-note', id }, fields: [words] },
      { label: 'Delete it', act: { do: 'delete-note', id } },
    ]);
  }

  return router;
}
