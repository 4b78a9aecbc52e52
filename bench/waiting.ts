// (c) 100,000 waiting runs: what claiming the due ones costs beside an empty table, and what memory a worker takes.
import { spawn } from 'node:child_process';
import { change, inTransaction, select } from '@playa/server/db/database.ts';
import { addItems } from '@playa/server/store/items.ts';
import { addRun, lockDueRuns } from '@playa/server/store/runs.ts';
import { closeBench, fiveSteps, liveWorkflow, median, openBench, type BenchHouse } from './house.ts';

const WAITING = 100_000;
const DUE = 50;
const ROUNDS = 40;

/** The median time of claiming the due runs, as a worker does. */
async function claimTime(house: BenchHouse, now: number): Promise<number> {
  const times: number[] = [];
  for (let round = 0; round < ROUNDS; round++) {
    const began = performance.now();
    const { runs: found } = await inTransaction(house.services.pool, (db) => lockDueRuns(db, now, DUE));
    times.push(performance.now() - began);
    if (found.length !== DUE) throw new Error(`${found.length} runs were due instead of ${DUE}.`);
  }
  return median(times);
}

async function workerMemory(house: BenchHouse): Promise<number> {
  const worker = spawn(process.execPath, ['--import', 'tsx', 'bench/worker.ts'], {
    env: { ...process.env, ...house.env, BENCH_MEMORY: '1' },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  let most = 0;
  worker.stdout.on('data', (chunk: Buffer) => {
    for (const match of chunk.toString().matchAll(/rss (\d+)/g)) most = Math.max(most, Number(match[1]));
  });
  await new Promise((later) => setTimeout(later, 12_000));
  worker.kill('SIGKILL');
  return most / 1024 / 1024;
}

export async function benchWaiting(): Promise<void> {
  const house = await openBench();
  const { services, brand } = house;
  const { id, watch: watchId, version } = await liveWorkflow(house, (each) => fiveSteps(each, house.page));
  const owner = { watchId, brandId: brand };
  const now = services.clock();
  const add = (count: number, from: number, dueAt: number) =>
    inTransaction(services.pool, async (db) => {
      const items = Array.from({ length: count }, (_, n) => ({
        identity: `id:${from + n}`,
        publishedAt: now,
        fields: { title: `T${n}`, n },
        past: false,
      }));
      const ids = await addItems(db, owner, items, now);
      for (const itemId of ids) await addRun(db, { brandId: brand, workflowId: id, version, itemId, dueAt, now });
    });
  await add(DUE, 0, now - 1000);
  const empty = await claimTime(house, now);

  // The rest waits for something in the next weeks. Rows are multiplied in the database, since only they matter here.
  const state = JSON.stringify({
    status: 'waiting',
    root: { at: 'post', values: { caption: 'x'.repeat(80) } },
    generation: 1,
    failures: 0,
  });
  await change(services.pool, 'SET SESSION unique_checks = 0');
  for (let from = DUE; from < WAITING; from += 5000) {
    const rows = Array.from({ length: 5000 }, (_, n) => [
      brand,
      watchId,
      Buffer.from(String(from + n).padStart(32, '0')),
      `w:${from + n}`,
      new Date(now),
      0,
      '{"title":"x"}',
    ]);
    await change(
      services.pool,
      'INSERT INTO items (brand_id, watch_id, identity_hash, identity, seen_at, past, fields) VALUES ?',
      [rows],
    );
  }
  await change(
    services.pool,
    `INSERT INTO runs (uuid, brand_id, workflow_id, version, item_id, status, state, trace, due_at, created_at, changed_at)
     SELECT UUID(), ?, ?, ?, i.id, 'waiting', ?, '{}', TIMESTAMPADD(SECOND, 3600 + i.id MOD 1000000, ?), ?, ? FROM items i WHERE i.identity LIKE 'w:%'`,
    [brand, id, version, state, new Date(now), new Date(now), new Date(now)],
  );
  const [row] = await select<{ waiting: number }>(
    services.pool,
    "SELECT COUNT(*) AS waiting FROM runs WHERE status = 'waiting'",
  );
  const full = await claimTime(house, now);
  const memory = await workerMemory(house);
  console.log(
    `(c) ${Number(row!.waiting).toLocaleString('en')} waiting runs, claiming ${DUE} that are due, medians of ${ROUNDS}`,
  );
  console.log(`    empty table   ${empty.toFixed(2)} ms`);
  console.log(`    full table    ${full.toFixed(2)} ms`);
  console.log(`    ratio         ${(full / empty).toFixed(2)}; wanted: at most 1.5`);
  console.log(`    a worker beside it takes ${memory.toFixed(0)} MB; wanted: below 250`);
  await closeBench(house);
}
