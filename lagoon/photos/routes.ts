import { Router, urlencoded } from 'express';
import { commentByHand } from '../base/hand-forms.ts';
import { bare, html, prose, when } from '../base/html.ts';
import { signInOf } from '../base/api.ts';
import type { Lagoon } from '../base/lagoon.ts';
import type { Person } from '../base/people.ts';
import { formText, missing, show, somebody } from '../base/screen.ts';
import type { Thing } from '../base/things.ts';
import { photosApi, photosManner } from './api.ts';
import { PhotoStore, type Photo, type PhotoProfile } from './store.ts';

const TITLE = 'Lagoon Photos';

/** Lagoon Photos: business profiles with photos, comments and messages; it tells by web hook. */
export function photosRoutes(lagoon: Lagoon): Router {
  const { clock, config, faults } = lagoon;
  const base = `${config.origin}/photos`;
  const store = new PhotoStore(lagoon);
  const router = Router();
  const form = urlencoded({ extended: false });
  router.use('/oauth', faults.middleware('photos-sign-in'), signInOf(lagoon, photosManner));
  router.use('/api', photosApi(lagoon, store));

  router.get('/', (req, res) =>
    show(lagoon, TITLE, req, res, 'Profiles', async () => {
      const all = await store.profiles.list({ order: 'oldest' });
      return html`<h1>Profiles</h1>
        <ul>
          ${all.map((each) => html`<li><a href="${base}/@${each.body.handle}">${each.body.name}</a> <span class="soft">@${each.body.handle} · ${each.body.type}</span></li>`)}
        </ul>`;
    }),
  );
  router.get('/@:handle', async (req, res): Promise<void> => {
    const profile = await store.profiles.byKey(req.params.handle.toLowerCase());
    if (!profile) return missing(lagoon, TITLE, req, res);
    await show(lagoon, TITLE, req, res, profile.body.name, async (person) => {
      const photos = await store.photos.list({ parent: profile.id });
      return html`<h1>${profile.body.name}</h1>
        <p class="soft">@${profile.body.handle} · ${profile.body.about}</p>
        <ul class="films">
          ${photos.map(
            (photo) =>
              html`<li>
                <a href="${base}/p/${photo.id}"><img src="${photo.body.picture}" alt="${photo.body.alt}" /></a>
                <div>${photo.body.caption.slice(0, 80)}</div>
              </li>`,
          )}
        </ul>
        ${person ? await conversation(profile, person) : html`<p><a href="/sign-in?next=/photos/@${profile.body.handle}">Sign in to write a message</a></p>`}`;
    });
  });
  async function conversation(profile: Thing<PhotoProfile>, person: { id: number; name: string }) {
    const all = (await store.messages.list({ parent: profile.id, order: 'oldest', most: 200 })).filter(
      (message) => message.body.with === person.id,
    );
    return html`<div class="box">
      <b>Your messages with ${profile.body.name}</b>
      ${all.map((message) => html`<p data-message="${message.id}"><span class="soft">${message.body.from === 'us' ? profile.body.name : person.name}, ${when(message.createdAt, clock.now())}</span><br />${prose(message.body.text)}</p>`)}
      <form method="post" action="${base}/@${profile.body.handle}/messages">
        <label>Write to them<input name="text" maxlength="1000" /></label><button>Send</button>
      </form>
    </div>`;
  }
  router.post('/@:handle/messages', form, async (req, res) => {
    const person = await somebody(lagoon, req, res);
    const profile = person && (await store.profiles.byKey(String(req.params.handle).toLowerCase()));
    if (!profile) return;
    if (formText(req, 'text')) await store.write(profile, person, formText(req, 'text'));
    res.redirect(303, `${base}/@${profile.body.handle}`);
  });
  router.get('/p/:id', async (req, res) => {
    const photo = await store.photos.get(req.params.id);
    const profile = photo && (await store.profiles.get(photo.parent));
    if (!photo || !profile) return missing(lagoon, TITLE, req, res);
    await show(
      lagoon,
      TITLE,
      req,
      res,
      profile.body.name,
      async (person) =>
        html`<h1>A photo of ${profile.body.name}</h1>
          ${await showPhoto(photo, profile, person)}`,
    );
  });
  async function showPhoto(photo: Thing<Photo>, profile: Thing<PhotoProfile>, person: Person | undefined) {
    const all = await store.comments.list({ parent: photo.id, order: 'oldest', most: 300 });
    const first = all.filter((comment) => comment.body.under === null);
    const line = (comment: (typeof all)[number]) =>
      html`<p data-comment="${comment.id}">
          <b>${comment.body.by.name}</b> ${prose(comment.body.text)}
          <span class="soft"
            >${when(comment.createdAt, clock.now())}${comment.body.likes.length ? ` · ${comment.body.likes.length} like` : ''}</span
          >
        </p>
        ${commentByHand(person, `/photos/p/${photo.id}`, 'photos', comment)}`;
    return html`<article class="box post" data-post="${photo.id}">
        <a href="${base}/@${profile.body.handle}"><b>${profile.body.name}</b></a>
        <span class="soft">${when(photo.createdAt, clock.now())}</span>
        <div class="screen"><img src="${photo.body.picture}" alt="${photo.body.alt}" /></div>
        <div class="message">${bare(photo.body.caption)}</div>
      </article>
      <div class="box">
        ${first.map(
          (comment) =>
            html`${line(comment)}
              <div style="padding-left:28px">${all.filter((each) => each.body.under === comment.id).map(line)}</div>`,
        )}
        ${
          person
            ? html`<form method="post" action="${base}/p/${photo.id}/comments">
                <label>Comment<input name="text" maxlength="1000" /></label>
                <label
                  >As an answer to<select name="under">
                    <option value="">nobody</option>
                    ${first.map((each) => html`<option value="${each.id}">${each.body.by.name}: ${each.body.text.slice(0, 40)}</option>`)}
                  </select></label
                >
                <button>Comment</button>
              </form>`
            : html`<a href="/sign-in?next=/photos/p/${photo.id}">Sign in to comment</a>`
        }
      </div>`;
  }
  router.post('/p/:id/comments', form, async (req, res) => {
    const person = await somebody(lagoon, req, res);
    const photo = person && (await store.photos.get(req.params.id));
    if (!photo) return;
    const text = formText(req, 'text');
    if (text) await store.comment(photo, person, text, Number(formText(req, 'under')) || null);
    res.redirect(303, `${base}/p/${photo.id}`);
  });
  return router;
}
