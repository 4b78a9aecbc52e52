// Being told, over real HTTP on both sides: Lagoon's hub and its pushes call Playa's own server.
import type { Server } from 'node:http';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { websubOf } from '../store/websub.ts';
import { subscriptionOf } from '../store/push-subscriptions.ts';
import { openHouse, type House } from '../testing/house.ts';
import { live, newVideos } from '../testing/workflow.ts';
import { lookAtDue, lookNow } from '../watch/look.ts';
import { renewSubscriptions } from '../watch/websub.ts';
import { watchOutlet } from '../watch/watchable.ts';
import { makeApp } from './app.ts';
import { ChangeTail } from './events.ts';
import { runsOf } from '../testing/runs-of.ts';

let house: House;
let server: Server;
let tail: ChangeTail;
beforeAll(async () => {
  house = await openHouse();
  tail = new ChangeTail(house.services);
  await tail.start();
  server = makeApp(house.services, tail).listen(Number(house.env.PLAYA_PORT), '127.0.0.1');
});
afterAll(async () => {
  tail?.stop();
  server?.closeAllConnections();
  server?.close();
  await house?.close();
});
async function until(what: () => Promise<boolean>) {
  for (let tries = 0; !(await what()) && tries < 100; tries++) await new Promise((done) => setTimeout(done, 40));
}

it('a feed’s hub verifies, and sends what is new without a look', async () => {
  await house.connect('pages');
  const watch = await house.watch();
  const id = await live(house, newVideos(watch, [await house.page()]));
  await renewSubscriptions(house.services);
  await until(async () => (await websubOf(house.services.pool, watch))?.status === 'active');
  expect((await websubOf(house.services.pool, watch))?.status).toBe('active');
  await house.upload({ title: 'Told by the hub' });
  await until(async () => (await runsOf(house.services.pool, house.lidos, id, 5)).length > 0);
  await house.settle();
  expect((await house.posts()).map((post) => post.text)).toEqual([expect.stringContaining('Told by the hub')]);
  // The next look finds it known.
  house.clock.now += 86_400_000;
  await lookAtDue(house.services, 16);
  await house.settle();
  expect(await house.posts()).toHaveLength(1);
});

it('a push makes Playa look at once; a forged call does nothing', async () => {
  await house.connect('helpdesk');
  const queue = await house.outlet('Pools');
  const watch = await watchOutlet(house.services, house.lidos, queue.id, 'records');
  await lookNow(house.services, watch);
  const id = await live(house, {
    schema: 1,
    sources: [{ id: 'source', watch }],
    steps: [
      { id: 'words', verb: 'compose', name: 'entry', text: 'Seen: {$summary}' },
      { id: 'back', verb: 'reply', outlet: queue.id, to: 'number', caption: 'entry' },
    ],
  });
  house.clock.now += 1000;
  await lookAtDue(house.services, 16);
  expect(await subscriptionOf(house.services.pool, watch)).toBeDefined();
  const forged = await fetch(`${house.env.PLAYA_ORIGIN}/push/nobody`, { method: 'POST', body: '{}' });
  expect(forged.status).toBe(410);
  await house.play({ do: 'record', queue: 'Pools', summary: 'The gate sticks', priority: 'minor' });
  await until(async () => (await subscriptionOf(house.services.pool, watch))!.lastPushedAt !== null);
  await lookAtDue(house.services, 16);
  await house.settle();
  expect((await runsOf(house.services.pool, house.lidos, id, 5)).map((run) => run.status)).toEqual(['done']);
  const entries = await house.things<{ text: string }>('helpdesk', 'entry');
  expect(entries.map((entry) => entry.body.text)).toEqual(['Seen: The gate sticks']);
});
