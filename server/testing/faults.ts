// npm run faults: many items through three worker processes while workers are killed by signal 9, the database is
// restarted, and the network fails in every way it can. Afterwards the network must hold each post exactly once (a
// blind network: never twice), and every item must be accounted for. `--short` is the form that npm test runs.
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { fileURLToPath } from 'node:url';
import { startMariadb } from '../../bin/lib/mariadb.mjs';
import { select } from '../db/database.ts';
import { addItems } from '../store/items.ts';
import { itemsOf } from '../store/items-shown.ts';
import { addRun } from '../store/runs.ts';
import { openHouse, type House, testNow } from './house.ts';
import { answersByHand, postsByHand, rowsByHand, type ByHand } from './faults-by-hand.ts';
import { answersFromDesk } from './faults-desk.ts';
import { timesTaken } from './faults-timetable.ts';
import { KilledWorkers } from './killed-workers.ts';
import { keptAndRebuilt } from './records.ts';
import { live, newVideos } from './workflow.ts';

const ROOT = fileURLToPath(new URL('../..', import.meta.url));
const short = process.argv.includes('--short');
const plan = short
  ? { items: 120, restarts: 1, blindItems: 40, kills: 1200, reviews: 40, rows: 40, posts: 30, said: 30, times: 40 }
  : {
      items: 2000,
      restarts: 2,
      blindItems: 400,
      kills: 1000,
      reviews: 400,
      rows: 300,
      posts: 200,
      said: 240,
      times: 240,
    };

interface Counts {
  items: number;
  posted: number;
  twice: number;
  done: number;
  held: number;
  other: number;
  kills: number;
  restarts: number;
  seconds: number;
}

async function torture(
  house: House,
  options: { items: number; restarts: number; blind: boolean; restart: () => Promise<void> },
): Promise<Counts> {
  const { services } = house;
  const watch = await house.watch();
  const page = await house.page(options.blind ? 'Gannet Point pool' : 'Tern Bay Lidos');
  const workflowId = await live(house, newVideos(watch, [page]));
  // The items come straight into the store: it is sending that is tried here, and a feed shows only fifteen.
  const prefix = options.blind ? 'Blind' : 'Film';
  const now = testNow();
  const films = Array.from({ length: options.items }, (_, index) => ({
    identity: `id:${prefix}-${index}`,
    publishedAt: now + index,
    fields: { title: `${prefix} ${index}`, link: null },
    past: false,
  }));
  const ids = await addItems(services.pool, { brandId: house.lidos, watchId: watch }, films, now);
  for (const itemId of ids)
    await addRun(services.pool, { brandId: house.lidos, workflowId, version: 1, itemId, dueAt: now, now });
  if ((await itemsOf(services.pool, house.lidos, [watch], options.items + 100)).length < options.items)
    throw new Error('not all items were stored');

  await misbehave(house);
  const began = performance.now();
  const workers = new KilledWorkers(house, plan.kills, { BLIND: options.blind ? '1' : '0' });
  const count = async () => {
    const rows = await select<{ status: string; number: number }>(
      services.pool,
      'SELECT status, COUNT(*) AS number FROM runs WHERE workflow_id = ? GROUP BY status',
      [workflowId],
    );
    return Object.fromEntries(rows.map((row) => [row.status, Number(row.number)]));
  };
  let restarts = 0;
  let most = 0;
  let progress = began;
  for (;;) {
    await pause(500);
    const now = await count().catch(() => ({}) as Record<string, number>);
    const settled = (now.done ?? 0) + (now.held ?? 0);
    if (restarts < options.restarts && settled > (options.items * (restarts + 1)) / (options.restarts + 2)) {
      await options.restart();
      restarts++;
    }
    if (settled === options.items) break;
    if (settled > most) {
      most = settled;
      progress = performance.now();
    }
    if (performance.now() - progress > 180_000) {
      console.error('Stuck:', now);
      break;
    }
  }
  await workers.stop();
  await house.behave();
  await pause(500);

  const texts = new Map<string, number>();
  for (const post of await house.posts(options.blind ? 'gannet-point' : 'tern-bay-lidos')) {
    if (post.text.startsWith(`New: ${prefix} `)) texts.set(post.text, (texts.get(post.text) ?? 0) + 1);
  }
  const now2 = await count();
  return {
    items: options.items,
    posted: texts.size,
    twice: [...texts.values()].filter((times) => times > 1).length,
    done: now2.done ?? 0,
    held: now2.held ?? 0,
    other: options.items - (now2.done ?? 0) - (now2.held ?? 0),
    kills: workers.kills,
    restarts,
    seconds: Math.round((performance.now() - began) / 1000),
  };
}

/** One request in twenty answers 500, one acts and never answers, one acts and answers 500; slow ones; bursts of 429. */
async function misbehave(house: House): Promise<void> {
  const order = (fault: object, share: number) =>
    fetch(`${house.lagoon}/control/api/faults`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ service: 'pages', fault, count: 1_000_000, share }),
    });
  await order({ kind: 'error', status: 500 }, 0.05);
  await order({ kind: 'hangAfter' }, 0.05);
  await order({ kind: 'errorAfter', status: 502 }, 0.03);
  await order({ kind: 'slow', milliseconds: 400 }, 0.05);
  await order({ kind: 'limit', seconds: 1 }, 0.04);
}

const folder = join(ROOT, '.playa');
mkdirSync(folder, { recursive: true });
const own = mkdtempSync(join(folder, 'faults-'));
let database = await startMariadb({ folder: own, password: 'faults' });
// Lagoon's own database stays up: it is the network that is asked afterwards.
process.env.PLAYA_TEST_LAGOON_DATABASE = process.env.PLAYA_TEST_DATABASE;
process.env.PLAYA_TEST_DATABASE = database.url('');
let failed = false;
let house: House | undefined;
try {
  house = await openHouse({ clock: Date.now });
  await house.connect('pages');
  const restart = async () => {
    await database.stop(restartsBy.shift() ?? 'SIGTERM');
    database = await startMariadb({ folder: own, password: 'faults', port: database.port });
  };
  const restartsBy: NodeJS.Signals[] = ['SIGKILL', 'SIGTERM'];
  const keyed = await torture(house, { items: plan.items, restarts: plan.restarts, blind: false, restart });
  report('keyed network', keyed);
  const blind = await torture(house, { items: plan.blindItems, restarts: 0, blind: true, restart });
  report('blind network', blind);
  const answers = await answersByHand(house, plan.reviews, plan.kills * 2);
  reportByHand('two workflows and people on the same reviews', answers);
  const rows = await rowsByHand(house, plan.rows, plan.kills * 2);
  reportByHand('rows changed while they wait', rows);
  const written = await postsByHand(house, plan.posts, plan.kills * 2);
  reportByHand('posts by hand changed while they wait', written);
  const desk = await answersFromDesk(house, { count: plan.said, kills: plan.kills * 2, blind: false });
  reportByHand('comments and messages answered at the desk', desk);
  const deskBlind = await answersFromDesk(house, { count: plan.said, kills: plan.kills * 2, blind: true });
  reportByHand(`the same on a blind network, ${deskBlind.held} held`, deskBlind);
  const times = await timesTaken(house, plan.times, plan.kills * 2);
  reportByHand(`times of a timetable, ${times.free} given back`, times);
  const { kept, rebuilt } = await keptAndRebuilt(house.services);
  const differing = Object.keys(kept).filter((kind) => kept[kind]!.join('\n') !== rebuilt[kind]!.join('\n'));
  console.log(
    differing.length === 0
      ? `Records made anew are those that were kept: ${Object.entries(kept)
          .map(([kind, lines]) => `${kind} ${lines.length}`)
          .join(', ')}.`
      : `Records made anew differ: ${differing.join(', ')}.`,
  );
  failed =
    differing.length > 0 ||
    [answers, rows, written, desk, deskBlind, times].some((arm) => arm.twice > 0 || arm.wrong > 0 || arm.lost > 0) ||
    keyed.twice > 0 ||
    keyed.other > 0 ||
    keyed.held > 0 ||
    keyed.posted !== keyed.items ||
    keyed.restarts !== plan.restarts ||
    blind.twice > 0 ||
    blind.other > 0 ||
    blind.posted < blind.done;
} finally {
  await house?.close().catch(() => undefined);
  await database.stop();
  rmSync(own, { recursive: true, force: true });
}
console.log(failed ? 'FAILED' : 'Every post went out once, and every item is accounted for.');
process.exit(failed ? 1 : 0);

function reportByHand(name: string, arm: ByHand): void {
  console.log(
    `${name}: ${arm.things} things, ${arm.byHand} acts by hand → ${arm.sent} sent, ${arm.twice} twice or over a person’s, ${arm.wrong} in old words or withdrawn, ${arm.lost} lost; ${arm.kills} workers killed`,
  );
}

function report(name: string, counts: Counts): void {
  console.log(
    `${name}: ${counts.items} items → ${counts.posted} posts, ${counts.twice} twice; ${counts.done} done, ${counts.held} held, ${counts.other} lost; ` +
      `${counts.kills} workers killed, ${counts.restarts} database restarts, ${counts.seconds} s`,
  );
}
