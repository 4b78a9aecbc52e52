// (b) From a web hook received to the post arriving at its network, at 20 a second, beside two bare HTTP calls.
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { request } from 'undici';
import { makeApp } from '@playa/server/http/app.ts';
import { ChangeTail } from '@playa/server/http/events.ts';
import { CONNECTORS } from '@playa/server/connectors/index.ts';
import { work } from '@playa/server/work.ts';
import { hookBy } from '@playa/server/store/hooks.ts';
import { hookAddress, makeHook } from '@playa/server/watch/hooks.ts';
import { closeBench, instant, liveWorkflow, median, openBench, percentile } from './house.ts';

const PER_SECOND = 20;
const COUNT = 300;

const listen = (server: Server): Promise<number> =>
  new Promise((done) => server.listen(0, '127.0.0.1', () => done((server.address() as AddressInfo).port)));

export async function benchLatency(): Promise<void> {
  const arrived = new Map<number, number>();
  const target = createServer((req, res) => {
    arrived.set(Number(new URL(req.url!, 'http://x').searchParams.get('n')), performance.now());
    req.resume().on('end', () => res.writeHead(200).end('{}'));
  });
  const targetPort = await listen(target);
  const send = (n: number) => request(`http://127.0.0.1:${targetPort}/?n=${n}`, { method: 'POST', body: '{}' });

  const publish = {
    repeats: 'keyed' as const,
    send: async (_session: unknown, _outlet: string, input: { text: string }, key: string) => {
      await (await send(Number(input.text))).body.dump();
      return { remoteId: key, url: null, at: Date.now() };
    },
  };
  const house = await openBench({ connectors: { ...CONNECTORS, pages: { ...instant, acts: { publish } } } });
  const { services, brand } = house;
  const hookId = await makeHook(services, brand, 'A hook');
  await liveWorkflow(
    house,
    (watch) => ({
      schema: 1,
      sources: [{ id: 's', watch }],
      steps: [
        { id: 'words', verb: 'compose', name: 'caption', text: '{$n}' },
        { id: 'post', verb: 'publish', outlets: [house.page], caption: 'caption', card: null },
      ],
    }),
    hookId,
  );
  const app = createServer(makeApp(services, new ChangeTail(services)));
  const appPort = await listen(app);
  const path = new URL(hookAddress(services, (await hookBy(services.pool, brand, hookId))!)).pathname;
  const stop = new AbortController();
  const working = work(services, stop.signal);

  /** Two bare calls: one that is received, and one that it leads to. */
  const relay = createServer((req, res) => {
    let body = '';
    req.on('data', (chunk) => (body += chunk));
    req.on('end', () => {
      res.writeHead(202).end();
      void send(Number((JSON.parse(body) as { n: number }).n)).then((answer) => answer.body.dump());
    });
  });
  const relayPort = await listen(relay);

  const measure = async (url: string, from: number) => {
    const began = new Map<number, number>();
    for (let n = from; n < from + COUNT; n++) {
      const body = JSON.stringify({ n });
      began.set(n, performance.now());
      void request(url, { method: 'POST', body, headers: { 'content-type': 'application/json' } }).then((answer) =>
        answer.body.dump(),
      );
      await new Promise((later) => setTimeout(later, 1000 / PER_SECOND));
    }
    for (let tries = 0; tries < 100 && [...began.keys()].some((n) => !arrived.has(n)); tries++)
      await new Promise((later) => setTimeout(later, 100));
    return [...began].map(([n, at]) => {
      const end = arrived.get(n);
      if (end === undefined) throw new Error(`Number ${n} never arrived.`);
      return end - at;
    });
  };
  await measure(`http://127.0.0.1:${relayPort}/`, 1_000_000);
  const bare = await measure(`http://127.0.0.1:${relayPort}/`, 2_000_000);
  await measure(`http://127.0.0.1:${appPort}${path}`, 3_000_000);
  const ours = await measure(`http://127.0.0.1:${appPort}${path}`, 4_000_000);
  const line = (values: number[]) =>
    `median ${median(values).toFixed(1)} ms, 99th percentile ${percentile(values, 0.99).toFixed(1)} ms`;
  console.log(`(b) from web hook to post, ${PER_SECOND} a second, ${COUNT} of them`);
  console.log(`    two bare calls  ${line(bare)}`);
  console.log(`    ours            ${line(ours)}`);
  console.log(
    `    ratio           ${(median(ours) / median(bare)).toFixed(1)} at the median, ${(percentile(ours, 0.99) / percentile(bare, 0.99)).toFixed(1)} at the 99th percentile`,
  );
  stop.abort();
  await working;
  for (const server of [app, relay, target]) {
    server.closeAllConnections();
    server.close();
  }
  await closeBench(house);
}
