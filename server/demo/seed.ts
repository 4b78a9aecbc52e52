import { DateTime } from 'luxon';
import { sessionFor } from '../accounts/sessions.ts';
import { hashPassword } from '../vault/password.ts';
import { LOOK_EVERY } from '../watch/watchable.ts';
import { takeRuns } from '../runner/take-runs.ts';
import { performEffects } from '../runner/perform-effects.ts';
import type { Services } from '../base/services.ts';
import { accountsOf } from '../store/accounts.ts';
import { fact, setFact } from '../store/facts.ts';
import { outletsOf, type Outlet } from '../store/outlets.ts';
import * as users from '../store/users.ts';
import { keepWatch } from '../store/watches.ts';
import { addWorkflow } from '../store/workflows.ts';
import { findSource } from '../watch/find-source.ts';
import { hookAddress, makeHook, readDeliveries, receive } from '../watch/hooks.ts';
import { hookBy } from '../store/hooks.ts';
import { nextDue } from '../store/run-times.ts';
import { nextTurning } from '../store/readiness.ts';
import { lookNow } from '../watch/look.ts';
import { startTurning } from '../watch/turning.ts';
import { goLive } from '../workflows/go-live.ts';
import { CLOSURES, lessonVideos, poolClosures, quayFilms, sunriseSwims } from './definitions.ts';
import { lagoonIsUp, playAtLagoon, setLagoonClock } from './lagoon.ts';
import { sendDue } from '../desk/send.ts';
import { answerSome, listenEverywhere, sayLately } from './desk.ts';
import { connectForDemo } from './connect.ts';
import { Starters } from './begin-starters.ts';
import { clipSome, makeBakes } from './content-plan.ts';
import { writeSome } from './written-posts.ts';
import { DEMO_EMAIL, DEMO_PASSWORD } from './people.ts';

const DAY = 86_400_000;
const FACT = 'demonstration';
/** The workflows that reach the other kinds of network were set up a week ago, and looked around every eight hours. */
const STARTERS_FOR = 7 * DAY;
const LOOK_EVERY_MS = DAY / 3;

/**
 * Sets up the demonstration once. Its history is not written down but lived through: Playa's clock and Lagoon's are set
 * back a month, and the real watches, runs and posts happen at each moment something appeared.
 */
export async function seedDemonstration(services: Services): Promise<void> {
  if ((await fact(services.pool, FACT)) === 'ready') return;
  if (await users.anyUser(services.pool)) {
    throw new Error('Setting up the demonstration was interrupted. Start it anew: npm start -- --fresh');
  }
  await lagoonIsUp(services);
  const real = services.clock();
  const start = real - 30 * DAY;
  let now = start;
  // The past is gone through here; looks happen when it is their turn.
  const past: Services = { ...services, clock: () => now, looksBeside: false };
  const goTo = async (moment: number) => {
    now = moment;
    await setLagoonClock(services, moment);
  };
  try {
    await goTo(start);
    const mo = await users.addUser(past.pool, {
      email: DEMO_EMAIL,
      name: 'Mo Okoro',
      passwordHash: await hashPassword(DEMO_PASSWORD),
    });
    // What is set up is set up by her.
    past.actor = { kind: 'person', userId: mo };
    const lidos = await users.addBrand(past.pool, { name: 'Tern Bay Lidos', timeZone: 'Europe/Lisbon', locale: 'en' });
    const bakehouse = await users.addBrand(past.pool, {
      name: 'Marram Bakehouse',
      timeZone: 'Europe/London',
      locale: 'en',
    });
    for (const brand of [lidos, bakehouse]) await users.addMembership(past.pool, mo, brand);
    for (const kind of ['video', 'pages'] as const) await connectForDemo(past, mo, lidos, kind);

    const outlets = await outletsOf(past.pool, lidos);
    const outlet = (name: string): Outlet => outlets.find((each) => each.name === name)!;
    const tern = await watch(past, lidos, outlet('Tern Bay channel'));
    const quay = await watch(past, lidos, outlet('Old Quay films'));
    const lessons = await addWorkflow(
      past.pool,
      lidos,
      'Lesson videos to the page',
      lessonVideos(tern, outlet('Tern Bay Lidos').id),
      now,
    );
    const films = await addWorkflow(
      past.pool,
      lidos,
      'Old Quay films',
      quayFilms(quay, outlet('Old Quay pool').id),
      now,
    );
    const hook = await makeHook(past, lidos, 'Pool closures');
    const closed = await addWorkflow(
      past.pool,
      lidos,
      'Closures to the page',
      poolClosures(hook, outlet('Tern Bay Lidos').id),
      now,
    );
    for (const workflowId of [lessons, films, closed]) {
      await goLive(past, { brandId: lidos, workflowId, revision: 1, userId: mo, beginning: { last: 0, every: 0 } });
    }
    await addWorkflow(past.pool, lidos, 'Sunrise swims', sunriseSwims(tern), now);
    const others = new Starters(past, lidos, mo);

    // Lagoon shows the films up to its own clock, so the ones to come have to be asked for at the real time.
    await setLagoonClock(services, real);
    const appeared = (await appearances(services, lidos, start, real)).map((moment) => ({
      at: Math.min(real, moment + 4 * 60_000),
      body: null as object | null,
    }));
    const told = CLOSURES.map(({ daysAgo, hour, body }) => ({
      at: daysAgo === 0 ? real + hour * 3_600_000 : real - daysAgo * DAY - (real % DAY) + hour * 3_600_000,
      body: body as object | null,
    }));
    const token = hookAddress(past, (await hookBy(past.pool, lidos, hook))!)
      .split('/')
      .at(-1)!;
    const begins = real - STARTERS_FOR;
    const looks = Array.from({ length: Math.floor(STARTERS_FOR / LOOK_EVERY_MS) }, (_, index) => ({
      at: begins + (index + 1) * LOOK_EVERY_MS,
      body: null as object | null,
    }));
    let begun = false;
    let heard: number[] = [];
    for (const { at, body } of [...appeared, ...told, ...looks].sort((a, b) => a.at - b.at)) {
      if (!begun && at > begins) {
        await goTo(begins);
        await others.begin(tern, real);
        await makeBakes(past, bakehouse, real);
        heard = await listenEverywhere(past, lidos);
        begun = true;
      }
      // What wakes in between wakes at its own moment.
      for (let due = await nextMoment(past); due !== null && due < at; due = await nextMoment(past)) {
        await goTo(Math.max(now, due));
        await settle(past);
      }
      await goTo(at);
      if (body) await receive(past, token, Buffer.from(JSON.stringify(body)), { 'content-type': 'application/json' });
      else for (const id of new Set([tern, quay, ...others.watches, ...heard])) await lookNow(past, id);
      await settle(past);
    }
    // What the crew has put down for the coming days, an hour ago.
    await goTo(real - 3_600_000 > now ? real - 3_600_000 : now);
    for (const row of plannedRows(real)) await playAtLagoon(past, row);
    await lookNow(past, others.plan);
    await clipSome(past, lidos, others.clips, past.config.networks.microblog!.base);
    const connected = await outletsOf(past.pool, lidos);
    const kindOf = (kind: Outlet['kind']) => connected.find((each) => each.kind === kind && !each.gone)!.id;
    const places = { page: outlet('Tern Bay Lidos').id, microblog: kindOf('microblog') };
    await writeSome(past, lidos, places, real);
    await answerSome(past, lidos, mo);
    await settle(past);
    await goTo(Math.max(now, real - 20 * 60_000));
    await sayLately(past);
    for (const id of heard) await lookNow(past, id);
    await settle(past);
    now = real;
    await setFact(services.pool, FACT, 'ready');
  } finally {
    await setLagoonClock(services, null);
  }
}

async function watch(services: Services, brandId: number, channel: Outlet): Promise<number> {
  const { found } = await findSource(services, channel.feed!);
  if (!found) throw new Error(`The feed of ${channel.name} cannot be read.`);
  const id = await keepWatch(services.pool, {
    brandId,
    sourceKey: found.key,
    kind: found.kind,
    params: found.params,
    name: found.name,
    things: found.things,
    everySeconds: LOOK_EVERY.demo,
  });
  await lookNow(services, id);
  return id;
}

/** When films appeared on the brand's channels, oldest first. */
async function appearances(services: Services, brandId: number, from: number, to: number): Promise<number[]> {
  const account = (await accountsOf(services.pool, brandId)).find((each) => each.kind === 'video')!;
  const session = sessionFor(services, account);
  const channels = (await outletsOf(services.pool, brandId)).filter((outlet) => outlet.kind === 'channel');
  const films = await Promise.all(
    channels.map((channel) => services.connectors.video.past!(session, channel.remoteId, 300)),
  );
  const moments = films.flat().map((film) => film.publishedAt ?? 0);
  return [...new Set(moments)].filter((moment) => moment > from && moment <= to).sort((a, b) => a - b);
}

/** Rows of the plan: in so many days, at a time of day. One has no date that anybody could read. */
function plannedRows(now: number): object[] {
  const dotted = (days: number) =>
    DateTime.fromMillis(now, { zone: 'Europe/Lisbon' }).plus({ days }).toFormat('d.M.yyyy');
  return [
    [
      `${dotted(1)} 7:00`,
      'ready',
      'Sunrise swim on Saturday: the kettle is on at the Tern Bay steps from half past six.',
    ],
    [`${dotted(2)} 12:30`, 'ready', 'Old Quay Pool stays open until dusk all week. Bring a torch for the way back.'],
    [`${dotted(3)} 18:00`, 'draft', 'Two places left in Tuesday’s beginners’ lesson.'],
    ['after the storm', 'ready', 'Gannet Point is open again: the steps are dry, the rail is new.'],
  ].map(([At, Status, Caption]) => ({ do: 'row', tab: 'Plan', cells: { Caption, Status, At } }));
}

async function settle(services: Services): Promise<void> {
  while (
    (await startTurning(services)) +
      (await readDeliveries(services)) +
      (await sendDue(services)) +
      (await takeRuns(services)) +
      (await performEffects(services)) >
    0
  );
}

/** When something wakes next: a run, or a row whose time has come. */
async function nextMoment({ pool }: Services): Promise<number | null> {
  const moments = [await nextDue(pool), await nextTurning(pool)].filter((moment) => moment !== null);
  return moments.length > 0 ? Math.min(...moments) : null;
}
