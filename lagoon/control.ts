import { Router, json, urlencoded } from 'express';
import { z } from 'zod';
import { html, page } from './base/html.ts';
import type { Lagoon } from './base/lagoon.ts';
import { giveKey } from './base/keys.ts';
import { RoomStore } from './rooms/store.ts';
import type { Chat } from './broadcast/api.ts';
import { SERVICES } from './services.ts';
import { Things } from './base/things.ts';
import { releaseVideo } from './video/release.ts';
import { channelBy } from './video/store.ts';
import { actSchema, Audience } from './world/audience.ts';
import { handActOf, handActSchema, isByHand, playByHand } from './world/by-hand.ts';
import { SCENES, playScene } from './world/scenes.ts';
import { fillWeek } from './world/week.ts';

const faultSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('error'), status: z.coerce.number().int().min(400).max(599) }),
  z.object({ kind: z.literal('slowAfter'), milliseconds: z.coerce.number().int().min(1).max(60_000) }),
  z.object({ kind: z.literal('errorAfter'), status: z.coerce.number().int().min(400).max(599) }),
  z.object({ kind: z.literal('limit'), seconds: z.coerce.number().positive() }),
  z.object({ kind: z.literal('slow'), milliseconds: z.coerce.number().positive() }),
  z.object({ kind: z.literal('hang') }),
  z.object({ kind: z.literal('garbled') }),
  z.object({ kind: z.literal('hangAfter') }),
]);

/** What can be made to go wrong: what a service writes, what it reads, its sign-in. */
const TARGETS: [string, string][] = [
  ...SERVICES.filter(({ signIn }) => signIn !== null).flatMap(({ path, name, signIn }): [string, string][] => [
    [path, path === 'video' ? 'Video: interface' : `${name}: writing`],
    ...(path === 'video' ? [] : ([[`${path}-read`, `${name}: reading`]] as [string, string][])),
    ...(signIn === 'consent' ? ([[`${path}-sign-in`, `${name}: sign-in`]] as [string, string][]) : []),
  ]),
  ['video-feed', 'Video: feeds'],
];

const sceneSchema = z.object({ name: z.string(), seconds: z.coerce.number().min(0).max(600) });

/** A page and an interface that make Lagoon misbehave, and move its clock. */
export function controlRoutes(lagoon: Lagoon): Router {
  const { db, clock, faults } = lagoon;
  const router = Router();
  router.use(json(), urlencoded({ extended: false }));

  router.get('/', (_req, res) => {
    const ordered = faults.list();
    res.send(
      page(
        { service: 'Lagoon', title: 'Control' },
        html`<h1>Control</h1>
          <p>Let a service misbehave for its next requests, to see what an application makes of it.</p>
          <form method="post" action="/control/misbehave" class="box">
            <label
              >Service<select name="service">
                ${TARGETS.map(([id, name]) => html`<option value="${id}">${name}</option>`)}
              </select></label
            >
            <label
              >What it does<select name="what">
                <option value="error">answers 500</option>
                <option value="limit">answers 429, try again in 20 s</option>
                <option value="slow">takes 5 s</option>
                <option value="hang">never answers</option>
                <option value="garbled">acts, then answers nonsense</option>
                <option value="hangAfter">acts, then never answers</option>
              </select></label
            >
            <label>How many requests<input name="count" type="number" min="1" max="1000" value="1" /></label>
            <button>Order it</button>
          </form>
          <form method="post" action="/control/behave" class="box">
            ${
              ordered.length
                ? html`<table>
                    ${ordered.map(
                      (each) =>
                        html`<tr>
                          <td>${TARGETS.find(([id]) => id === each.service)?.[1]}</td>
                          <td>${each.fault.kind}</td>
                          <td>${each.left} left</td>
                        </tr>`,
                    )}
                  </table>`
                : html`<span class="soft">Everything behaves.</span>`
            }
            <button class="plain">Behave again</button>
          </form>
          <form method="post" action="/control/revoke" class="box">
            <label
              >Take back what people have given to applications<select name="service">
                <option value="">at every service</option>
                ${SERVICES.filter(({ signIn }) => signIn).map(({ path, name }) => html`<option value="${path}">at ${name}</option>`)}
              </select></label
            >
            <button class="plain">Revoke</button>
          </form>
          <form method="post" action="/control/scene" class="box">
            <label
              >A scene<select name="name">
                ${Object.entries(SCENES).map(([name, scene]) => html`<option value="${name}">${scene.title}</option>`)}
              </select></label
            >
            <label>Over so many seconds<input name="seconds" type="number" min="0" max="600" value="60" /></label>
            <button>Play it</button>
          </form>
          <form method="post" action="/control/week" class="box">
            <label
              >Fill the last seven days with activity, from a seed<input name="seed" required value="a windy week"
            /></label>
            <button>Fill in</button>
          </form>
          <form method="post" action="/control/skip" class="box">
            <span>It is ${new Date(clock.now()).toISOString().slice(0, 16).replace('T', ' ')} here.</span>
            <label>Skip ahead by so many hours<input name="hours" type="number" min="0" max="2000" value="24" /></label>
            <button>Skip</button>
          </form>`,
      ),
    );
  });
  router.post('/misbehave', (req, res) => {
    const form = z
      .object({ service: z.string(), what: z.string(), count: z.coerce.number().int().min(1).max(1000) })
      .parse(req.body);
    const fault = faultSchema.parse({ kind: form.what, status: 500, seconds: 20, milliseconds: 5000 });
    faults.order(form.service, fault, form.count);
    res.redirect(303, '/control');
  });
  router.post('/behave', (_req, res) => {
    faults.clear();
    res.redirect(303, '/control');
  });
  const revoke = async (service?: string) => {
    const [where, values] = service ? [' WHERE service = ?', [service]] : ['', []];
    await db.query(`UPDATE grants SET revoked = 1${where}`, values);
    await db.query(`UPDATE given_keys SET revoked = 1${where}`, values);
  };
  router.post(['/revoke', '/revoke-all'], async (req, res) => {
    const { service } = z.object({ service: z.string().optional() }).parse(req.body ?? {});
    await revoke(service || undefined);
    res.redirect(303, '/control');
  });
  router.post('/scene', (req, res) => {
    const { name, seconds } = sceneSchema.parse(req.body);
    if (!playScene(lagoon, name, seconds)) return void res.status(404).send('There is no such scene.');
    res.redirect(303, '/control');
  });
  router.post('/week', async (req, res) => {
    const { seed } = z.object({ seed: z.string().min(1).max(60) }).parse(req.body);
    await fillWeek(lagoon, seed, clock.now() - 7 * 86_400_000, clock.now());
    res.redirect(303, '/control');
  });
  // What the pages' own buttons do: see base/hand-forms.
  router.post('/by-hand', async (req, res) => {
    const { back, ...fields } = z
      .object({ back: z.string().max(300) })
      .loose()
      .parse(req.body);
    const read = handActSchema.safeParse(handActOf(fields));
    if (!read.success) return void res.status(422).send(read.error.issues[0]?.message ?? 'That cannot be done.');
    try {
      await playByHand(lagoon, read.data);
    } catch (error) {
      const { status = 500, message } = error as Error & { status?: number };
      return void res.status(status).send(status === 500 ? 'That went wrong.' : message);
    }
    // To a page of Lagoon's, and nowhere else.
    res.redirect(303, /^\/[a-z]/.test(back) ? back : '/');
  });
  router.post('/skip', (req, res) => {
    const { hours } = z.object({ hours: z.coerce.number().min(0).max(2000) }).parse(req.body);
    clock.set(clock.now() + hours * 3_600_000);
    res.redirect(303, '/control');
  });

  // The same for programs.
  router.post('/api/faults', (req, res) => {
    const order = z
      .object({
        service: z.string(),
        fault: faultSchema,
        count: z.number().int().min(1),
        share: z.number().min(0).max(1).optional(),
      })
      .parse(req.body);
    faults.order(order.service, order.fault, order.count, order.share);
    res.status(204).end();
  });
  router.delete('/api/faults', (_req, res) => {
    faults.clear();
    res.status(204).end();
  });
  router.put('/api/clock', (req, res) => {
    clock.set(z.object({ now: z.number().nullable() }).parse(req.body).now);
    res.status(204).end();
  });
  router.post('/api/acts', async (req, res) => {
    const { act, at } = z
      .object({ act: z.union([actSchema, handActSchema]), at: z.number().optional() })
      .parse(req.body);
    const id = isByHand(act) ? await playByHand(lagoon, act) : await new Audience(lagoon).play(act, at);
    res.status(201).json({ id });
  });
  router.post('/api/scenes', (req, res) => {
    const { name, seconds } = sceneSchema.parse(req.body);
    res.status(playScene(lagoon, name, seconds) ? 202 : 404).end();
  });
  router.post('/api/weeks', async (req, res) => {
    const { seed, from, to } = z.object({ seed: z.string(), from: z.number(), to: z.number() }).parse(req.body);
    res.json({ things: await fillWeek(lagoon, seed, from, to) });
  });
  router.post('/api/revoke', async (req, res) => {
    await revoke(z.object({ service: z.string().optional() }).parse(req.body ?? {}).service);
    res.status(204).end();
  });
  // A key, or a bot with a key that is at home in everything its person looks after, unless it should not be.
  router.post('/api/keys', async (req, res) => {
    const asked = z
      .object({ service: z.string(), person: z.number(), name: z.string(), welcome: z.boolean().default(true) })
      .parse(req.body);
    const { service, person, name, welcome } = asked;
    if (service !== 'rooms' && service !== 'broadcast')
      return void res.status(201).json({ token: await giveKey(lagoon, { service, person, name }) });
    const bot = await new Things<{ name: string }>(lagoon, service, 'bot').add({ name }, clock.now(), {
      owner: person,
    });
    if (welcome && service === 'rooms') {
      const store = new RoomStore(lagoon);
      for (const community of await store.communities.list({ owner: person }))
        await store.invited.add({ bot, permissions: ['read', 'write', 'mention'] }, community.createdAt, {
          parent: community.id,
        });
    }
    if (welcome && service === 'broadcast') {
      const chats = new Things<Chat>(lagoon, 'broadcast', 'chat');
      for (const chat of await chats.list({ owner: person }))
        if (chat.body.handle !== 'coastdigest')
          await chats.change(chat.id, { ...chat.body, admins: [...chat.body.admins, bot] }, chat.createdAt);
    }
    res.status(201).json({ token: await giveKey(lagoon, { service, person, name, bot }), bot });
  });
  router.post('/api/videos', async (req, res) => {
    const film = z
      .object({
        handle: z.string(),
        title: z.string(),
        description: z.string().default(''),
        seconds: z.number().int().positive(),
        publishedAt: z.number().optional(),
      })
      .parse(req.body);
    const channel = await channelBy(db, 'handle', film.handle);
    if (!channel) return void res.status(404).json({ error: 'no such channel' });
    const id = await releaseVideo(lagoon, {
      channel_id: channel.id,
      title: film.title,
      description: film.description,
      seconds: film.seconds,
      picture: `film-${film.title
        .toLowerCase()
        .replace(/[^a-z0-9]+/g, '-')
        .slice(0, 40)}`,
      published_at: film.publishedAt ?? clock.now(),
    });
    res.status(201).json({ id });
  });
  return router;
}
