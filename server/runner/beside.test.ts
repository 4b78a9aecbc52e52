// What others send, at its worst, beside a healthy brand: the healthy one's work must not wait for it. A real worker runs
// all the time, against servers that drip, hang, redirect without end and answer with what is made to be slow.
import type { IncomingMessage, ServerResponse } from 'node:http';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Step } from '@playa/core/steps/index.ts';
import { asideOf } from '../store/set-aside.ts';
import { keepWatch, watchBy } from '../store/watches.ts';
import { change, select } from '../db/database.ts';
import { openHouse, testNow, type House } from '../testing/house.ts';
import { serve, toldWorkflow, type Told } from '../testing/told.ts';
import { receive } from '../watch/hooks.ts';
import { work } from '../work.ts';

/** So much longer the healthy brand may wait, in milliseconds. */
const MAY_WAIT = 1000;

const atom = (entries: string, after = '') =>
  `<feed xmlns="http://www.w3.org/2005/Atom"><title>T</title><id>f</id><updated>2026-01-01T00:00:00Z</updated>${entries}</feed>${after}`;
const entry = (id: string, inside: string) =>
  `<entry><id>${id}</id><updated>2026-01-01T00:00:00Z</updated>${inside}</entry>`;

/** Feeds made to be slow, endless or indigestible. */
const FEEDS: Record<string, () => string> = {
  'comments behind its end': () => atom(entry('1', '<title>A</title>'), '<!-- -->'.repeat(200)) + '<!--',
  'brackets for an author': () =>
    `<rss version="2.0"><channel><title>T</title><item><guid>1</guid><author>${'('.repeat(40_000)}</author></item></channel></rss>`,
  'tags within tags': () => atom(entry('1', `<content type="html">${'&lt;div&gt;'.repeat(200_000)}</content>`)),
  'elements within elements': () => atom(entry('1', '<a>'.repeat(50_000))),
  'four megabytes of emoji': () => atom(entry('1', `<title>${'🏊'.repeat(1_000_000)}</title>`)),
  'a lone surrogate and a good one': () =>
    JSON.stringify({
      version: 'https://jsonfeed.org/version/1.1',
      title: 'T',
      items: [
        { id: 'sea \ud83c', content_text: 'half \ud83c' },
        { id: '2', content_text: 'whole' },
      ],
    }),
  'a date beyond all calendars': () =>
    JSON.stringify({
      version: 'https://jsonfeed.org/version/1.1',
      title: 'T',
      items: [{ id: '1', content_text: 'x', date_published: '+275760-09-13T00:00:00Z' }],
    }),
  'an identifier of a megabyte': () => atom(entry('i'.repeat(1_000_000), '<title>A</title>')),
};

let house: House;
let hostile: Awaited<ReturnType<typeof serve>>;
let healthy: Told;
let heard: () => void = () => undefined;
const stop = new AbortController();
let working: Promise<void>;
const open = new Set<NodeJS.Timeout>();

function answer(req: IncomingMessage, _: string, res: ServerResponse) {
  const path = decodeURIComponent(req.url ?? '');
  const drip = () => {
    const timer = setInterval(() => res.write(' '), 20);
    open.add(timer);
    res.on('close', () => clearInterval(timer));
  };
  if (path === '/healthy') {
    res.end('{}');
    heard();
  } else if (path.startsWith('/feed/')) res.end(FEEDS[path.slice('/feed/'.length)]!());
  else if (path === '/drip') drip();
  else if (path === '/round') {
    res.writeHead(302, { location: '/round' });
    drip();
  } else if (path === '/nested') res.end('['.repeat(400_000) + ']'.repeat(400_000));
  // Everything else never answers.
}

const call = (path: string): Step => ({
  id: 'call',
  verb: 'call',
  method: 'GET',
  url: `http://${hostile.host}${path}`,
  headers: [],
  body: null,
  keyed: false,
  as: 'answer',
  sample: {},
  again: null,
  whenNot: 'on',
});
const tell: Step = { id: 'tell', verb: 'notify', to: [], text: 'Told {$n}' };
const send = (told: Told, body: string) =>
  receive(house.services, told.token, Buffer.from(body), { 'content-type': 'application/json' });

beforeAll(async () => {
  hostile = await serve(answer);
  house = await openHouse({ clock: testNow }, [hostile.host]);
  healthy = await toldWorkflow(house, [call('/healthy'), tell]);
  working = work(house.services, stop.signal);
}, 60_000);
afterAll(async () => {
  stop.abort();
  for (const timer of open) clearInterval(timer);
  hostile.server.closeAllConnections();
  hostile.server.close();
  await working;
  await house.close();
});

/** How long from the healthy brand being told to its call, in milliseconds; the middle one of several. */
async function latency(times = 7): Promise<number> {
  const took: number[] = [];
  for (let n = 0; n < times; n++) {
    const began = performance.now();
    const called = new Promise<void>((resolve) => (heard = resolve));
    await send(healthy, JSON.stringify({ n: `${began}` }));
    await called;
    took.push(performance.now() - began);
  }
  return took.sort((a, b) => a - b)[Math.floor(times / 2)]!;
}

describe('a healthy brand waits at most a second longer', () => {
  let usual: number;
  beforeAll(async () => {
    await latency(3);
    usual = await latency();
  }, 60_000);

  it.each(Object.keys(FEEDS))(
    'beside a feed with %s',
    async (name) => {
      const url = `http://${hostile.host}/feed/${encodeURIComponent(name)}`;
      const watch = await keepWatch(house.services.pool, {
        brandId: house.bakehouse,
        sourceKey: `feed:${url}`,
        kind: 'feed',
        params: { url },
        name,
        things: 'posts',
        everySeconds: 60,
      });
      await change(house.services.pool, 'UPDATE watches SET due_at = ? WHERE id = ?', [new Date(testNow()), watch]);
      expect(await latency()).toBeLessThan(usual + MAY_WAIT);
      // It was looked at: something was taken, or somebody is told why not.
      await expect
        .poll(async () => (await watchBy(house.services.pool, house.bakehouse, watch))?.lastLookAt ?? null, {
          timeout: 25_000,
        })
        .not.toBeNull();
    },
    60_000,
  );

  it.each([
    ['/drip', 'an answer that drips'],
    ['/round', 'redirects without end whose bodies drip'],
    ['/never', 'silence'],
    ['/nested', 'an answer of brackets'],
  ])(
    'beside calls to %s: %s',
    async (path) => {
      const rotten = await toldWorkflow(house, [call(path), tell]);
      for (let n = 0; n < 40; n++) await send(rotten, JSON.stringify({ n }));
      expect(await latency()).toBeLessThan(usual + MAY_WAIT);
      await change(
        house.services.pool,
        "UPDATE effects SET status = 'cancelled', due_at = NULL WHERE workflow_id = ?",
        [rotten.id],
      );
    },
    60_000,
  );

  it('beside web hooks that cannot be taken', async () => {
    const rotten = await toldWorkflow(house, [tell]);
    const bodies = [
      `{"a":${'['.repeat(200_000)}${']'.repeat(200_000)}}`,
      JSON.stringify(Object.fromEntries(Array.from({ length: 9000 }, (_, n) => [`f${n}`, { a: [n, { b: n }] }]))),
      `{"title":"${'#'.repeat(300_000)}"}`,
      '{"title":"half \\ud83c"}',
      'no json',
    ];
    for (let n = 0; n < 6; n++)
      for (const [index, body] of bodies.entries()) await send(rotten, `${body}${' '.repeat(n * 5 + index)}`);
    expect(await latency()).toBeLessThan(usual + MAY_WAIT);
    expect((await asideOf(house.services.pool, house.lidos, 20)).length).toBeGreaterThan(0);
    // Each of them was read, one way or another.
    await expect
      .poll(async () => {
        const [row] = await select<{ unread: number }>(
          house.services.pool,
          'SELECT COUNT(*) AS unread FROM deliveries WHERE read_at IS NULL',
        );
        return Number(row!.unread);
      })
      .toBe(0);
  }, 60_000);
});
