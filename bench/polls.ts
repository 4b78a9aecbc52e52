// (d) 5,000 unchanged feeds looked at: processor time for each look beside a bare conditional request.
import { spawn } from 'node:child_process';
import { Agent, request } from 'undici';
import { Guard } from '@playa/server/guard/guard.ts';
import { change } from '@playa/server/db/database.ts';
import { Looker } from '@playa/server/watch/look.ts';
import { closeBench, fiveSteps, liveWorkflow, median, openBench } from './house.ts';

const FEEDS = 5000;
const ROUNDS = 3;
const AT_ONCE = 64;

const cpu = () => {
  const { user, system } = process.cpuUsage();
  return (user + system) / 1000;
};

export async function benchPolls(): Promise<void> {
  // In a process of its own, so that its work is not counted.
  const feeds = spawn(
    process.execPath,
    [
      '-e',
      "const s=require('http').createServer((q,r)=>{r.writeHead(304,{etag:'\"1\"'}).end()});s.listen(0,'127.0.0.1',()=>console.log(s.address().port))",
    ],
    { stdio: ['ignore', 'pipe', 'inherit'] },
  );
  const port = await new Promise<number>((done) => feeds.stdout.once('data', (chunk) => done(Number(String(chunk)))));
  const house = await openBench({ guard: new Guard([`127.0.0.1:${port}`]) });
  const { services, brand } = house;
  const { id } = await liveWorkflow(house, (watch) => fiveSteps(watch, house.page));
  const window = {
    identities: Array.from({ length: 15 }, (_, n) => `id:tag:lidos.example,2026:${n}`),
    oldest: 1_700_000_000_000,
  };
  const memory = JSON.stringify({ validators: { etag: '"1"' }, window });
  const now = new Date(services.clock());
  for (let from = 0; from < FEEDS; from += 1000) {
    const rows = Array.from({ length: 1000 }, (_, n) => {
      const url = `http://127.0.0.1:${port}/feed/${from + n}`;
      return [brand, `feed:${url}`, 'feed', JSON.stringify({ url }), 'A feed', 'posts', memory, 3600, now, now, null];
    });
    await change(
      services.pool,
      'INSERT INTO watches (brand_id, source_key, kind, params, name, things, memory, every_seconds, first_look_at, last_ok_at, due_at) VALUES ?',
      [rows],
    );
  }
  await change(
    services.pool,
    "INSERT INTO subscriptions (workflow_id, watch_id, brand_id) SELECT ?, w.id, ? FROM watches w WHERE w.source_key LIKE 'feed:http://127.0.0.1:%/feed/%'",
    [id, brand],
  );

  const ours = async () => {
    await change(services.pool, "UPDATE watches SET due_at = ? WHERE source_key LIKE '%/feed/%'", [
      new Date(services.clock()),
    ]);
    const began = cpu();
    const looker = new Looker(services);
    let looks = 0;
    while (looks < FEEDS) looks += await looker.round();
    await looker.finish();
    return (cpu() - began) / FEEDS;
  };
  const agent = new Agent();
  const bare = async () => {
    const began = cpu();
    let next = 0;
    await Promise.all(
      Array.from({ length: AT_ONCE }, async () => {
        for (let n = next++; n < FEEDS; n = next++) {
          const answer = await request(`http://127.0.0.1:${port}/feed/${n}`, {
            headers: { 'user-agent': 'Playa/0.1', 'if-none-match': '"1"' },
            dispatcher: agent,
          });
          await answer.body.dump();
          if (answer.statusCode !== 304) throw new Error('It changed.');
        }
      }),
    );
    return (cpu() - began) / FEEDS;
  };
  await ours();
  await bare();
  const pairs = [];
  for (let round = 0; round < ROUNDS; round++) pairs.push({ ours: await ours(), bare: await bare() });
  const ratios = pairs.map((pair) => pair.ours / pair.bare);
  console.log(`(d) ${FEEDS} unchanged feeds, processor time for each, medians of ${ROUNDS} rounds`);
  console.log(`    bare conditional request  ${median(pairs.map((pair) => pair.bare)).toFixed(3)} ms`);
  console.log(`    a look                    ${median(pairs.map((pair) => pair.ours)).toFixed(3)} ms`);
  console.log(
    `    ratio                     ${median(ratios).toFixed(2)} (${Math.min(...ratios).toFixed(2)} to ${Math.max(...ratios).toFixed(2)}); wanted: at most 2`,
  );
  await agent.close();
  await closeBench(house);
  feeds.kill('SIGKILL');
}
