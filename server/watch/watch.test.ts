import { createServer, type Server } from 'node:http';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Guard } from '../guard/guard.ts';
import { OutsideReader } from '../outside/reader.ts';
import { itemsOf } from '../store/items-shown.ts';
import { claimDueWatches } from '../store/watch-claims.ts';
import { wakeIdleWatches } from '../store/watch-times.ts';
import { watchBy } from '../store/watches.ts';
import { inTransaction } from '../db/database.ts';
import { addWorkflow, workflowBy } from '../store/workflows.ts';
import { openHouse, testNow, type House } from '../testing/house.ts';
import { live, newVideos } from '../testing/workflow.ts';
import { goLive, NotReady, pause, resume } from '../workflows/go-live.ts';
import { fetchFeed, LookTrouble } from './fetch-feed.ts';
import { findSource } from './find-source.ts';
import { lookAtDue, lookNow, Looker } from './look.ts';
import { runsOf } from '../testing/runs-of.ts';

let house: House;
beforeAll(async () => {
  house = await openHouse();
  await house.connect('pages');
});
afterAll(() => house?.close());
const titles = async (workflow: number) => {
  const runs = await runsOf(house.services.pool, house.lidos, workflow, 200);
  return runs.map((run) => (run.trace.words?.kind === 'text' ? run.trace.words.text : run.status)).reverse();
};

describe('finding a source', () => {
  const forms = () => {
    const base = `${house.lagoon}/video`;
    return [
      `${base}/on/ternbaylidos`,
      `${base}/on/ternbaylidos/films`,
      `${base}/on/ternbaylidos/about?from=mail&x=1#top`,
      `${base}/channels/ch_7tQm2xVb9Lk`,
      `${base}/channels/ch_7tQm2xVb9Lk/films/`,
      `${base}/feeds/ch_7tQm2xVb9Lk.atom`,
      base.replace('http://', '') + '/on/ternbaylidos',
      `  “${base}/on/ternbaylidos”. `,
      `our channel is <${base}/on/ternbaylidos>, have a look`,
      '@ternbaylidos',
      'ternbaylidos',
      'ch_7tQm2xVb9Lk',
      '\u200bch_7tQm2xVb9Lk\ufeff ',
      // With something behind it, broken over two lines, in capitals, by its name.
      `${base}/on/ternbaylidos&si=AbC`,
      `${base}/on/ternbaylidos?utm_source=mail&`,
      `${base}/on/tern baylidos`,
      `${base}/On/TernBayLidos`,
      'Tern Bay Lidos',
    ];
  };
  it('takes any form of a channel’s address', async () => {
    for (const form of forms()) {
      const { found } = await findSource(house.services, form);
      expect(found, form).toMatchObject({
        key: `feed:${house.lagoon}/video/feeds/ch_7tQm2xVb9Lk.atom`,
        name: 'Tern Bay channel',
        things: 'videos',
      });
      expect(found!.newest).toHaveLength(3);
    }
  });
  it('takes the address of a single film', async () => {
    const id = await house.upload({ title: 'Just one' });
    const { found } = await findSource(house.services, `${house.lagoon}/video/v/${id}?t=90`);
    expect(found?.name).toBe('Tern Bay channel');
  });
  it('knows the brand’s own places by their names and addresses', async () => {
    await house.connect('video');
    await house.connect('microblog');
    const named = await findSource(house.services, 'Tern Bay channel', house.lidos);
    expect(named.found).toMatchObject({ key: `feed:${house.lagoon}/video/feeds/ch_7tQm2xVb9Lk.atom` });
    // What has no feed is seen with its account, and it is said where.
    const profile = (await house.outlet('@ternbaylidos')).address!;
    const { found, tried } = await findSource(house.services, profile, house.lidos);
    expect(found).toBe(null);
    expect(tried[0]!.says).toMatch(/^This is @ternbaylidos, microblog profile of your own/);
  });
  it('follows a page that only links to its feed', async () => {
    const feed = `${house.lagoon}/video/feeds/ch_7tQm2xVb9Lk.atom`;
    const page = createServer((_req, res) =>
      res.writeHead(200, { 'content-type': 'text/html' }).end(`<h1>News</h1><a href="${feed}">RSS</a>`),
    );
    await new Promise<void>((done) => page.listen(0, '127.0.0.1', done));
    const host = `127.0.0.1:${(page.address() as { port: number }).port}`;
    const guard = new Guard([...house.services.config.allowPrivate, host]);
    const { found } = await findSource({ ...house.services, guard }, `http://${host}/news`);
    expect(found?.name).toBe('Tern Bay channel');
    await guard.close();
    page.close();
  });
  it('says what was tried when nothing is there', async () => {
    const nothing = async (pasted: string) => {
      const { found, tried } = await findSource(house.services, pasted);
      expect(found).toBeNull();
      return tried.map((each) => each.says).join(' ');
    };
    expect(await nothing('')).toContain('no address');
    expect(await nothing('please watch our channel!')).toContain('no address');
    expect(await nothing('@nobodyofthatname')).toContain('nothing at this address');
    expect(await nothing(`${house.lagoon}/pages/p/old-quay`)).toContain('names no feed');
    expect(await nothing('http://192.168.1.1/feed')).toContain('private network');
    expect(await nothing('file:///etc/passwd')).not.toContain('root:');
  });
});

describe('looking', () => {
  it('sets a baseline, then starts each new item once, for every workflow that shares the watch', async () => {
    const watch = await house.watch();
    expect(await house.watch(`${house.lagoon}/video/on/ternbaylidos/films`)).toBe(watch);
    const page = await house.page();
    const one = await live(house, newVideos(watch, [page], 'One: {$title}'));
    const two = await live(house, newVideos(watch, [page], 'Two: {$title}'));
    expect(await titles(one)).toEqual([]);
    await house.upload({ title: 'Fresh' });
    await lookNow(house.services, watch);
    await lookNow(house.services, watch);
    await house.settle();
    expect(await titles(one)).toEqual(['One: Fresh']);
    expect(await titles(two)).toEqual(['Two: Fresh']);
    expect((await house.posts()).filter((post) => post.text.endsWith(': Fresh'))).toHaveLength(2);
  });
  it('is done when due, by one worker only, and asks only for news', async () => {
    // Longer than the longest interval of a source that starts with a minute.
    house.clock.now += 600_000;
    const claims = await Promise.all(
      [1, 2, 3].map(() => inTransaction(house.services.pool, (db) => claimDueWatches(db, house.clock.now, 1000, 10))),
    );
    expect(claims.flat()).toHaveLength(1);
    house.clock.now += 120_000;
    expect(await lookAtDue(house.services)).toBe(1);
    expect(await lookAtDue(house.services)).toBe(0);
    const { found } = await findSource(house.services, '@ternbaylidos');
    const first = await fetchFeed(house.services, found!.params.url, {});
    expect(first!.validators.etag).toMatch(/^"/);
    expect(await fetchFeed(house.services, found!.params.url, first!.validators)).toBeUndefined();
    expect(
      await fetchFeed(house.services, found!.params.url, { modified: first!.validators.modified }),
    ).toBeUndefined();
  });
  it('survives a source that fails, and says so', async () => {
    const watch = await house.watch();
    await house.fault('video-feed', { kind: 'error', status: 503 });
    await expect(lookNow(house.services, watch)).rejects.toThrow(LookTrouble);
    expect((await watchBy(house.services.pool, house.lidos, watch))!.trouble).toContain('less often');
    await lookNow(house.services, watch);
    expect((await watchBy(house.services.pool, house.lidos, watch))!.trouble).toBeNull();
  });
  it('is looked at while somebody has it open, also when no live workflow uses it, and not more often than usual', async () => {
    const watch = await house.watch('@oldquayfilms');
    const due = async () => {
      const looker = new Looker(house.services);
      const looks = await looker.round();
      await looker.finish();
      return looks;
    };
    await house.upload({ handle: 'oldquayfilms', title: 'On an open sheet' });
    house.clock.now += 120_000;
    expect(await due()).toBe(0);
    expect(await wakeIdleWatches(house.services.pool, house.bakehouse, [watch], house.clock.now)).toBe(0);
    expect(await wakeIdleWatches(house.services.pool, house.lidos, [watch], house.clock.now)).toBe(1);
    expect(await due()).toBe(1);
    const [newest] = await itemsOf(house.services.pool, house.lidos, [watch], 1);
    expect(newest!.fields.title).toBe('On an open sheet');
    expect(await wakeIdleWatches(house.services.pool, house.lidos, [watch], house.clock.now)).toBe(0);
    house.clock.now += 120_000;
    expect(await due()).toBe(0);
    house.clock.now = testNow();
  });
  it('reaches back beyond the feed’s fifteen with the account that owns the channel', async () => {
    const before = await itemsOf(
      house.services.pool,
      house.bakehouse,
      [await house.watch('@ternbaylidos', house.bakehouse)],
      500,
    );
    expect(before).toHaveLength(15);
    await house.connect('video');
    const watch = await house.watch('@oldquayfilms');
    expect(await itemsOf(house.services.pool, house.lidos, [watch], 500)).toHaveLength(4);
    await house.connect('video', house.bakehouse);
    const films = await house.services.connectors.video.past!(
      {
        network: house.services.config.networks.video!,
        guard: house.services.guard,
        answerWithin: 5000,
        now: Date.now,
        token: await tokenOf(house),
      },
      'ch_7tQm2xVb9Lk',
      300,
    );
    expect(films.length).toBeGreaterThan(30);
    // The same film has the same identity in the feed and in the interface.
    expect(films.map((film) => film.identity)).toEqual(expect.arrayContaining(before.map((item) => item.identity)));
  });
});

async function tokenOf(house: House) {
  const { sessionFor } = await import('../accounts/sessions.ts');
  const { accountsOf } = await import('../store/accounts.ts');
  const account = (await accountsOf(house.services.pool, house.lidos)).find((each) => each.kind === 'video')!;
  return sessionFor(house.services, account).token;
}

describe('going live', () => {
  const draft = async (changes = {}) => {
    const definition = { ...newVideos(await house.watch(), [await house.page('Gannet Point pool')]), ...changes };
    return {
      brandId: house.lidos,
      workflowId: await addWorkflow(house.services.pool, house.lidos, 'B', definition, house.clock.now),
      revision: 1,
      userId: house.mo,
    };
  };
  it('also takes the last few, oldest first and spaced', async () => {
    const request = await draft();
    await goLive(house.services, { ...request, beginning: { last: 3, every: 10 } });
    const dues = (await runsOf(house.services.pool, house.lidos, request.workflowId, 10))
      .map((run) => run.dueAt! - house.clock.now)
      .sort((a, b) => a - b);
    expect(dues).toEqual([0, 600_000, 1_200_000]);
    await house.settle();
    expect(await house.posts('gannet-point')).toHaveLength(1);
    house.clock.now += 600_000;
    await house.settle();
    house.clock.now += 600_000;
    await house.settle();
    const items = (await itemsOf(house.services.pool, house.lidos, [await house.watch()], 3)).reverse();
    expect((await house.posts('gannet-point')).map((post) => post.text)).toEqual(
      items.map((item) => `New: ${String(item.fields.title)}`),
    );
    // Going live a second time with the same ones starts none again.
    await goLive(house.services, { ...request, beginning: { last: 3, every: 0 } });
    await house.settle();
    expect(await house.posts('gannet-point')).toHaveLength(3);
  });
  it('refuses with reasons, and switches nothing on', async () => {
    const bad = await draft({ steps: [] });
    await expect(goLive(house.services, { ...bad, beginning: { last: 0, every: 0 } })).rejects.toThrow(
      'Nothing is published',
    );
    const stale = await draft();
    await expect(goLive(house.services, { ...stale, revision: 7, beginning: { last: 0, every: 0 } })).rejects.toThrow(
      NotReady,
    );
    const dark = await draft();
    await house.fault('video-feed', { kind: 'error', status: 500 });
    await expect(goLive(house.services, { ...dark, beginning: { last: 2, every: 0 } })).rejects.toThrow(
      'nothing was switched on',
    );
    await expect(
      goLive(house.services, { ...stale, brandId: house.bakehouse, beginning: { last: 0, every: 0 } }),
    ).rejects.toThrow('gone');
    for (const each of [bad, stale, dark])
      expect((await workflowBy(house.services.pool, house.lidos, each.workflowId))!.status).toBe('draft');
  });
  it('pauses: nothing more goes out; and goes on from now', async () => {
    const watch = await house.watch();
    const id = await live(house, newVideos(watch, [await house.page('Old Quay pool')], 'P: {$title}'), {
      last: 2,
      every: 10,
    });
    await house.settle();
    expect(await house.posts('old-quay')).toHaveLength(1);
    expect(await pause(house.services, house.lidos, id)).toBe(true);
    await house.upload({ title: 'While paused' });
    house.clock.now += 3_600_000;
    await lookNow(house.services, watch);
    await house.settle();
    expect(await house.posts('old-quay')).toHaveLength(1);
    expect(await resume(house.services, house.lidos, id)).toBe(0);
    await house.settle();
    expect((await house.posts('old-quay')).map((post) => post.text)).not.toContain('P: While paused');
    expect(await house.posts('old-quay')).toHaveLength(2);
    await house.upload({ title: 'Afterwards' });
    await lookNow(house.services, watch);
    await house.settle();
    expect((await house.posts('old-quay')).at(-1)!.text).toBe('P: Afterwards');
  });
});

describe('feeds from a hostile server', () => {
  let server: Server;
  let origin: string;
  let guard: Guard;
  let outside: OutsideReader;
  beforeAll(async () => {
    server = createServer((req, res) => {
      if (req.url === '/huge') {
        res.writeHead(200, { 'content-type': 'application/atom+xml' });
        const chunk = Buffer.alloc(1024 * 1024, 'a');
        let sent = 0;
        const more = () => {
          while (sent++ < 50) if (!res.write(chunk)) return void res.once('drain', more);
          res.end();
        };
        return more();
      }
      if (req.url === '/slow') return void res.writeHead(200).write('<feed');
      if (req.url === '/inside') return void res.writeHead(302, { location: 'http://169.254.169.254/secrets' }).end();
      if (req.url === '/round') return void res.writeHead(302, { location: '/round' }).end();
      if (req.url === '/gone') return void res.writeHead(410).end();
      res.writeHead(200, { 'content-type': 'text/html' }).end('<html><title>hello</title></html>');
    });
    await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
    const { port } = server.address() as { port: number };
    origin = `http://127.0.0.1:${port}`;
    guard = new Guard([`127.0.0.1:${port}`]);
    outside = new OutsideReader();
  });
  afterAll(async () => {
    await Promise.all([guard.close(), outside.close()]);
    server.closeAllConnections();
    server.close();
  });
  it.each([
    ['/huge', 'larger than 5 MB'],
    ['/inside', 'private network'],
    ['/round', 'without end'],
    ['/gone', 'no feed at this address any more'],
    ['/page', 'a web page, not a feed'],
  ])('%s is refused in words', async (path, words) => {
    await expect(fetchFeed({ guard, outside }, origin + path, {})).rejects.toThrow(words);
  });
  it('an answer that never ends is given up', async () => {
    await expect(guard.fetch(`${origin}/slow`, { timeout: 400 })).rejects.toMatchObject({
      name: 'FetchTrouble',
      sent: true,
    });
  });
});
