import { createHmac } from 'node:crypto';
import type { IncomingMessage, Server, ServerResponse } from 'node:http';
import { Webhook } from 'standardwebhooks';
import { request } from 'undici';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { NO_SETTINGS } from '@playa/core/workflow/settings.ts';
import type { Step } from '@playa/core/steps/index.ts';
import { makeApp } from '../http/app.ts';
import { ChangeTail } from '../http/events.ts';
import { change } from '../db/database.ts';
import { hookBy } from '../store/hooks.ts';
import { recentDeliveries } from '../store/hook-deliveries.ts';
import { itemsOf } from '../store/items-shown.ts';
import { openRunCounts } from '../store/runs-shown.ts';
import { keepWatch, watchBy } from '../store/watches.ts';
import { addWorkflow, workflowBy } from '../store/workflows.ts';
import { websubOf } from '../store/websub.ts';
import { openHouse, testNow, type House } from '../testing/house.ts';
import { serve, toldWorkflow } from '../testing/told.ts';
import { live, newVideos } from '../testing/workflow.ts';
import { goLive } from '../workflows/go-live.ts';
import { HOOK_LIMIT, changeHookAddress, hookAddress, readDeliveries, restoreHookAddress, setSigned } from './hooks.ts';
import { lookAtDue, lookNow } from './look.ts';
import { renameSourceField } from './rename.ts';
import { isSigned, renewSubscriptions } from './websub.ts';
import { runsOf } from '../testing/runs-of.ts';

// How things become known: web hooks, hubs, paged feeds, schedules, items that change.
let house: House;
let feeds: { server: Server; host: string };
let app: { server: Server; host: string };
let answer: (req: IncomingMessage, body: string, res: ServerResponse) => void = (_req, _body, res) =>
  res.writeHead(404).end();
let page: number;
beforeAll(async () => {
  feeds = await serve((req, body, res) => answer(req, body, res));
  house = await openHouse({}, [feeds.host]);
  await house.connect('pages');
  page = await house.page();
  const made = makeApp(house.services, new ChangeTail(house.services));
  app = await serve(() => undefined);
  app.server.removeAllListeners('request');
  app.server.on('request', made);
});
afterAll(async () => {
  await house?.close();
  feeds?.server.close();
  app?.server.close();
});
const words: Step[] = [
  { id: 'words', verb: 'compose', name: 'caption', text: '{$title}' },
  { id: 'tell', verb: 'notify', to: [], text: '{$title}' },
];
const titles = async (workflow: number) =>
  (await runsOf(house.services.pool, house.lidos, workflow, 300))
    .sort((a, b) => a.id - b.id)
    .map((run) => (run.trace.words?.kind === 'text' ? run.trace.words.text : run.status));
const post = (path: string, body: string | Buffer, headers: Record<string, string> = {}) =>
  request(`http://${app.host}${path}`, {
    method: 'POST',
    body,
    headers: { 'content-type': 'application/json', ...headers },
  });

describe('web hooks in', () => {
  it('answer 202 once the body is stored, recognise what comes again, and start a run', async () => {
    const told = await toldWorkflow(house, words);
    const path = `/hooks/${told.token}`;
    const first = await post(path, '{"title":"Rough"}', { 'webhook-id': 'm1' });
    expect(first.statusCode).toBe(202);
    expect(await first.body.json()).toEqual({ received: true, repeated: false });
    // Nothing has been read yet, and nothing can be lost any more.
    expect(await recentDeliveries(house.services.pool, house.lidos, told.watch, 5)).toMatchObject([{ readAt: null }]);
    expect(await (await post(path, '{"title":"Rough"}', { 'webhook-id': 'm1' })).body.json()).toEqual({
      received: true,
      repeated: true,
    });
    await house.settle();
    expect(await titles(told.id)).toEqual(['Rough']);
  });
  it('without a message id take the same body within the hour for the same', async () => {
    const told = await toldWorkflow(house, words);
    for (let n = 0; n < 3; n++) await post(`/hooks/${told.token}`, '{"title":"Same"}');
    await house.settle();
    house.clock.now += 2 * 3_600_000;
    await post(`/hooks/${told.token}`, '{"title":"Same"}');
    await house.settle();
    expect(await titles(told.id)).toEqual(['Same', 'Same']);
  });
  it('refuse what is too large, empty, or for nobody, and keep what cannot be read with the reason', async () => {
    const told = await toldWorkflow(house, words);
    expect((await post(`/hooks/${told.token}`, Buffer.alloc(HOOK_LIMIT + 1, 97))).statusCode).toBe(413);
    expect((await post(`/hooks/${told.token}`, '')).statusCode).toBe(400);
    expect((await post('/hooks/nobody', '{}')).statusCode).toBe(404);
    const unread = await post(`/hooks/${told.token}`, 'not json');
    expect(unread.statusCode).toBe(422);
    expect(await unread.body.json()).toMatchObject({ title: 'The body is not JSON.' });
    await post(`/hooks/${told.token}`, 'title=By+form&n=1', { 'content-type': 'application/x-www-form-urlencoded' });
    await post(`/hooks/${told.token}`, '[1,2]');
    await house.settle();
    const deliveries = await recentDeliveries(house.services.pool, house.lidos, told.watch, 5);
    expect(deliveries.map((each) => each.trouble)).toEqual([null, null, 'The body is not JSON.']);
    expect(await titles(told.id)).toEqual(['By form', '']);
  });
  it('only when signed, as Standard Webhooks say: signature, time window, replay', async () => {
    const told = await toldWorkflow(house, words);
    const secret = (await setSigned(house.services, house.services.pool, house.lidos, told.watch, true))!;
    const body = '{"title":"Signed"}';
    const send = (when: number, sign = secret, text = body) =>
      post(`/hooks/${told.token}`, text, {
        'webhook-id': 'msg_1',
        'webhook-timestamp': String(Math.floor(when / 1000)),
        'webhook-signature': new Webhook(sign).sign('msg_1', new Date(when), body),
      });
    expect((await post(`/hooks/${told.token}`, body)).statusCode).toBe(401);
    expect((await send(house.clock.now, `whsec_${Buffer.from('another').toString('base64')}`)).statusCode).toBe(401);
    expect((await send(house.clock.now, secret, '{"title":"Forged"}')).statusCode).toBe(401);
    expect((await send(house.clock.now - 6 * 60_000)).statusCode).toBe(401);
    expect((await send(house.clock.now + 6 * 60_000)).statusCode).toBe(401);
    expect((await send(house.clock.now)).statusCode).toBe(202);
    expect(await (await send(house.clock.now)).body.json()).toMatchObject({ repeated: true });
    await house.settle();
    expect(await titles(told.id)).toEqual(['Signed']);
  });
  it('agree with the published example of Standard Webhooks (from memory)', () => {
    // id, timestamp and signature of the specification's example for the secret below.
    const secret = 'whsec_MfKQ9r8GKYqrTwjUPD8ILPZIo2LaLaSw';
    const payload = '{"test": 2432232314}';
    const signed = createHmac('sha256', Buffer.from(secret.slice(6), 'base64'))
      .update(`msg_p5jXN8AQM9LWM0D4loKWxJek.1614265330.${payload}`)
      .digest('base64');
    expect(signed).toBe('g0hM9SsE+OTPJTGt/tmIKtSyZlE3uFJELVlNIOLJ1OE=');
    expect(new Webhook(secret).sign('msg_p5jXN8AQM9LWM0D4loKWxJek', new Date(1614265330 * 1000), payload)).toBe(
      `v1,${signed}`,
    );
  });
  it('learn the form of what came; a renamed field is renamed everywhere, in what waits too', async () => {
    const told = await toldWorkflow(house, [
      {
        id: 'check',
        verb: 'check',
        condition: { type: 'group', match: 'all', items: [{ type: 'test', field: 'client.name', op: 'filled' }] },
      },
      { id: 'wait', verb: 'wait', until: { type: 'duration', seconds: 60 } },
      { id: 'words', verb: 'compose', name: 'caption', text: 'For {$client.name}: {$n}' },
      { id: 'tell', verb: 'notify', to: [], text: '{$caption}' },
    ]);
    await told.tell({ client: { name: 'Mo' }, n: 1 });
    const hook = (await hookBy(house.services.pool, house.lidos, told.watch))!;
    expect(hook.schema).toMatchObject({
      properties: { client: { properties: { name: { type: 'string' } } }, n: { type: 'integer' } },
      required: ['client', 'n'],
    });
    expect(await renameSourceField(house.services, house.lidos, told.watch, 'client.name', 'swimmer')).toEqual({
      workflows: 1,
      items: 1,
    });
    await told.tell({ client: { name: 'Ines' }, n: 2 });
    house.clock.now += 60_000;
    await house.settle();
    expect(await titles(told.id)).toEqual(['For Mo: 1', 'For Ines: 2']);
    expect((await workflowBy(house.services.pool, house.lidos, told.id))!.draft.steps[2]).toMatchObject({
      text: 'For {$swimmer}: {$n}',
    });
    expect(
      (await itemsOf(house.services.pool, house.lidos, [told.watch], 5)).map((item) => item.fields.swimmer).sort(),
    ).toEqual(['Ines', 'Mo']);
    await expect(renameSourceField(house.services, house.lidos, told.watch, 'n', 'swimmer')).rejects.toThrow(
      'already a field',
    );
    await expect(renameSourceField(house.services, house.bakehouse, told.watch, 'n', 'x')).rejects.toThrow('gone');
  });
  it('get another address while the old one works for a day more; and can have the old one back', async () => {
    const told = await toldWorkflow(house, words);
    const addressNow = async () =>
      hookAddress(house.services, (await hookBy(house.services.pool, house.lidos, told.watch))!)
        .split('/')
        .at(-1)!;
    const send = async (token: string, n: number) => (await post(`/hooks/${token}`, `{"title":"A${n}"}`)).statusCode;
    const old = told.token;
    await changeHookAddress(house.services, house.services.pool, house.lidos, told.watch);
    const fresh = await addressNow();
    expect(fresh).not.toBe(old);
    expect([await send(old, 1), await send(fresh, 2)]).toEqual([202, 202]);
    expect(await restoreHookAddress(house.services, house.services.pool, house.lidos, told.watch)).toBe(true);
    expect(await addressNow()).toBe(old);
    expect([await send(old, 3), await send(fresh, 4)]).toEqual([202, 202]);
    house.clock.now += 24 * 3_600_000 + 1000;
    expect([await send(old, 5), await send(fresh, 6)]).toEqual([202, 404]);
    expect(await restoreHookAddress(house.services, house.services.pool, house.lidos, told.watch)).toBe(false);
  });
  it('two readers never make two runs of one delivery', async () => {
    const told = await toldWorkflow(house, words);
    for (let n = 0; n < 10; n++) await post(`/hooks/${told.token}`, `{"title":"T${n}"}`, { 'webhook-id': `d${n}` });
    await Promise.all(Array.from({ length: 4 }, () => readDeliveries(house.services, 4)));
    await house.settle();
    expect((await titles(told.id)).sort()).toEqual(Array.from({ length: 10 }, (_, n) => `T${n}`));
  });
});

describe('items that change', () => {
  it.each([
    ['a run that waits goes on with what it says now', 'update', ['Second']],
    ['or with what it began with', 'keep', ['First', 'Second']],
  ] as const)('run again when a chosen field says something else; %s', async (_, whileOpen, said) => {
    const told = await toldWorkflow(
      house,
      [{ id: 'wait', verb: 'wait', until: { type: 'duration', seconds: 60 } }, ...words],
      { onChange: ['title'], whileOpen },
    );
    await change(house.services.pool, "UPDATE hooks SET identity_field = 'number' WHERE watch_id = ?", [told.watch]);
    await told.tell({ number: 1, title: 'First', other: 1 }, 'a');
    await told.tell({ number: 1, title: 'First', other: 2 }, 'b');
    await told.tell({ number: 1, title: 'Second', other: 2 }, 'c');
    await told.tell({ number: 1, title: 'Second', other: 3 }, 'd');
    house.clock.now += 60_000;
    await house.settle();
    expect(await titles(told.id)).toEqual(said);
    // Once it is through, another change runs it again.
    await told.tell({ number: 1, title: 'Third', other: 3 }, 'e');
    house.clock.now += 60_000;
    await house.settle();
    expect(await titles(told.id)).toEqual([...said, 'Third']);
  });
});

describe('schedules', () => {
  it('happen at their moments, in the brand’s time zone, each once', async () => {
    const start = Date.UTC(2027, 2, 26, 12);
    house.clock.now = start;
    const id = await keepWatch(house.services.pool, {
      brandId: house.lidos,
      sourceKey: 'schedule:test',
      kind: 'schedule',
      params: { rule: 'FREQ=DAILY', start: '2027-03-01T09:00', zone: 'Europe/Lisbon' },
      name: 'Every morning',
      things: 'times',
      everySeconds: 60,
    });
    const workflow = await live(house, { ...newVideos(id, [page]), steps: words });
    for (let hour = 0; hour < 24 * 4; hour++) {
      house.clock.now += 3_600_000;
      await lookAtDue(house.services);
      if (hour % 7 === 0) await lookNow(house.services, id);
      await house.settle();
    }
    // Clocks go forward on Sunday 28 March 2027: nine o'clock stays nine o'clock.
    expect(await titles(workflow)).toEqual([
      'Saturday 27 March 2027, 09:00',
      'Sunday 28 March 2027, 09:00',
      'Monday 29 March 2027, 09:00',
      'Tuesday 30 March 2027, 09:00',
    ]);
    const seen = (await itemsOf(house.services.pool, house.lidos, [id], 4)).map(
      (item) => (item.publishedAt! % 86_400_000) / 3_600_000,
    );
    expect(seen).toEqual([8, 8, 8, 9]);
    // A clock that was set back makes nothing happen again.
    house.clock.now -= 86_400_000;
    await lookNow(house.services, id);
    expect(await titles(workflow)).toHaveLength(4);
    house.clock.now = testNow();
  });
});

const entry = (n: number) =>
  `<entry><id>tag:lidos.example,${n}</id><title>Entry ${n}</title><updated>${new Date(Date.UTC(2026, 0, 1) + n * 3_600_000).toISOString()}</updated></entry>`;
const atom = (head: string, ns: number[]) =>
  `<?xml version="1.0"?><feed xmlns="http://www.w3.org/2005/Atom"><title>Pages</title><id>x</id>${head}${ns.map(entry).join('')}</feed>`;
async function watchFeed(path: string): Promise<number> {
  const id = await keepWatch(house.services.pool, {
    brandId: house.lidos,
    sourceKey: `feed:${path}`,
    kind: 'feed',
    params: { url: `http://${feeds.host}${path}` },
    name: 'Pages',
    things: 'posts',
    everySeconds: 60,
  });
  await lookNow(house.services, id);
  return id;
}

describe('paged feeds', () => {
  it('are followed back to what was last seen; a gap that cannot be closed is reported', async () => {
    let newest = 4;
    let archive = true;
    const newestFirst = (from: number, to: number) => Array.from({ length: from - to + 1 }, (_, n) => from - n);
    answer = (req, _body, res) => {
      const at = Number(new URL(req.url!, 'http://x').searchParams.get('page') ?? 1);
      const top = newest - (at - 1) * 3;
      const head = archive && top > 3 ? `<link rel="next" href="/paged?page=${at + 1}"/>` : '';
      res
        .writeHead(200, { 'content-type': 'application/atom+xml' })
        .end(atom(head, newestFirst(top, Math.max(1, top - 2))));
    };
    const watch = await watchFeed('/paged');
    const workflow = await live(house, { ...newVideos(watch, [page]), steps: words });
    newest = 12;
    await lookNow(house.services, watch);
    await house.settle();
    expect(await titles(workflow)).toEqual([5, 6, 7, 8, 9, 10, 11, 12].map((n) => `Entry ${n}`));
    expect((await watchBy(house.services.pool, house.lidos, watch))!.note).toBeNull();
    archive = false;
    newest = 30;
    await lookNow(house.services, watch);
    await house.settle();
    expect((await titles(workflow)).slice(8)).toEqual(['Entry 28', 'Entry 29', 'Entry 30']);
    expect((await watchBy(house.services.pool, house.lidos, watch))!.note).toContain('may have been missed');
  });
});

describe('hubs', () => {
  it('are subscribed to, verified, told by, and renewed', async () => {
    const hub: { form: URLSearchParams }[] = [];
    answer = (req, body, res) => {
      if (req.url === '/hub') {
        hub.push({ form: new URLSearchParams(body) });
        return void res.writeHead(202).end();
      }
      const head = `<link rel="hub" href="http://${feeds.host}/hub"/><link rel="self" href="http://${feeds.host}/hubbed"/>`;
      res.writeHead(200, { 'content-type': 'application/atom+xml' }).end(atom(head, [1]));
    };
    const watch = await watchFeed('/hubbed');
    expect(hub).toHaveLength(0);
    expect(await renewSubscriptions(house.services)).toBe(0);
    const workflow = await live(house, { ...newVideos(watch, [page]), steps: words });
    // Asked once somebody listens, whether or not the feed has changed since.
    expect(await renewSubscriptions(house.services)).toBe(1);
    expect(hub).toHaveLength(1);
    const { form } = hub[0]!;
    expect(Object.fromEntries(form)).toMatchObject({
      'hub.mode': 'subscribe',
      'hub.topic': `http://${feeds.host}/hubbed`,
    });
    const callback = new URL(form.get('hub.callback')!).pathname;
    const secret = form.get('hub.secret')!;
    const verify = (query: Record<string, string>) =>
      request(`http://${app.host}${callback}?${new URLSearchParams(query)}`);
    const topic = form.get('hub.topic')!;
    // Section 5.3: only what we asked for is confirmed.
    expect(
      (
        await verify({
          'hub.mode': 'subscribe',
          'hub.topic': 'http://other.example/',
          'hub.challenge': 'c',
          'hub.lease_seconds': '1000',
        })
      ).statusCode,
    ).toBe(404);
    expect((await verify({ 'hub.mode': 'unsubscribe', 'hub.topic': topic, 'hub.challenge': 'c' })).statusCode).toBe(
      404,
    );
    const verified = await verify({
      'hub.mode': 'subscribe',
      'hub.topic': topic,
      'hub.challenge': 'echo-me',
      'hub.lease_seconds': '1000',
    });
    expect([verified.statusCode, await verified.body.text()]).toEqual([200, 'echo-me']);
    expect(await websubOf(house.services.pool, watch)).toMatchObject({
      status: 'active',
      until: house.clock.now + 1_000_000,
      renewAt: house.clock.now + 900_000,
    });

    const news = atom('', [2]);
    const push = (body: string, signature: string) =>
      post(callback, body, { 'content-type': 'application/atom+xml', 'x-hub-signature': signature });
    const sign = (key: string, body: string) => `sha256=${createHmac('sha256', key).update(body).digest('hex')}`;
    expect((await push(atom('', [99]), sign('wrong', news))).statusCode).toBe(202);
    expect((await push(news, sign(secret, news))).statusCode).toBe(202);
    expect((await push(news, sign(secret, news))).statusCode).toBe(202);
    expect((await post('/websub/nobody', news)).statusCode).toBe(404);
    await house.settle();
    expect(await titles(workflow)).toEqual(['Entry 2']);

    house.clock.now += 900_001;
    expect(await renewSubscriptions(house.services)).toBe(1);
    expect(hub).toHaveLength(2);
    // Section 5.2: a hub may say no.
    const again = new URL(hub[1]!.form.get('hub.callback')!).pathname;
    await request(
      `http://${app.host}${again}?${new URLSearchParams({ 'hub.mode': 'denied', 'hub.topic': topic, 'hub.reason': 'Too many.' })}`,
    );
    expect(await websubOf(house.services.pool, watch)).toMatchObject({ status: 'denied', trouble: 'Too many.' });
  });
  it('sign as WebSub section 8 says', () => {
    const body = Buffer.from('x');
    const good = (method: string) => `${method}=${createHmac(method, 'k').update(body).digest('hex')}`;
    for (const method of ['sha1', 'sha256', 'sha384', 'sha512']) expect(isSigned(body, good(method), 'k')).toBe(true);
    for (const bad of [
      undefined,
      '',
      'sha256=',
      'sha256=zz',
      `md5=${createHmac('md5', 'k').update(body).digest('hex')}`,
      good('sha256').slice(0, -1),
      good('sha256').replace('=', '=00'),
    ])
      expect(isSigned(body, bad, 'k'), bad).toBe(false);
  });
});

describe('how often a feed is looked at', () => {
  it('follows its own history, and says how late items are usually seen', async () => {
    let newest = 1;
    answer = (_req, _body, res) =>
      res.writeHead(200, { 'content-type': 'application/atom+xml' }).end(atom('', [newest]));
    const quiet = await watchFeed('/quiet');
    await live(house, { ...newVideos(quiet, [page]), steps: words });
    const before = (await watchBy(house.services.pool, house.lidos, quiet))!;
    expect(before.intervalMs).toBeGreaterThan(60_000);
    for (let n = 0; n < 40; n++) {
      newest++;
      house.clock.now += 120_000;
      answer = (_req, _body, res) =>
        res
          .writeHead(200, { 'content-type': 'application/atom+xml' })
          .end(
            atom('', [newest]).replace(
              /<updated>[^<]*/,
              `<updated>${new Date(house.clock.now - 45_000).toISOString()}`,
            ),
          );
      await lookNow(house.services, quiet);
    }
    const after = (await watchBy(house.services.pool, house.lidos, quiet))!;
    expect(after.intervalMs).toBeLessThan(before.intervalMs!);
    expect(after.usualDelay).toBe(45_000);
    expect(after.dueAt).toBe(house.clock.now + after.intervalMs!);
  });
});

describe('the past', () => {
  it('can be begun with since a day, paced, and stopped half way', async () => {
    answer = (_req, _body, res) =>
      res.writeHead(200, { 'content-type': 'application/atom+xml' }).end(atom('', [6, 5, 4, 3, 2, 1]));
    const watch = await watchFeed('/past');
    const definition = { schema: 1 as const, sources: [{ id: 'source', watch }], steps: words, settings: NO_SETTINGS };
    const id = await addWorkflow(house.services.pool, house.lidos, 'Past', definition, house.clock.now);
    const since = Date.UTC(2026, 0, 1) + 3 * 3_600_000;
    await goLive(house.services, {
      brandId: house.lidos,
      workflowId: id,
      revision: 1,
      userId: house.mo,
      beginning: { last: 0, since, every: 10 },
    });
    await house.settle();
    expect(await titles(id)).toEqual(['Entry 3', 'new', 'new', 'new']);
    house.clock.now += 600_000;
    await house.settle();
    expect((await openRunCounts(house.services.pool, house.lidos, id)).backfill).toBe(2);
    const { dropBackfill } = await import('../store/run-times.ts');
    expect(await dropBackfill(house.services.pool, house.lidos, id)).toBe(2);
    house.clock.now += 3_600_000;
    await house.settle();
    expect(await titles(id)).toEqual(['Entry 3', 'Entry 4']);
  });
});
