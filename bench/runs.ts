// (a) Runs finished per second, for a five-step workflow with one effect on an instant network, beside the rate at which
// MariaDB commits the same bare rows from the same process; then with 1, 2 and 4 worker processes.
import { spawn } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { change, inTransaction, select } from '@playa/server/db/database.ts';
import { Performer } from '@playa/server/runner/perform-effects.ts';
import { takeRuns } from '@playa/server/runner/take-runs.ts';
import { addItems } from '@playa/server/store/items.ts';
import { addRun } from '@playa/server/store/runs.ts';
import { closeBench, fiveSteps, liveWorkflow, median, openBench, type BenchHouse } from './house.ts';

const RUNS = 1000;
const ROUNDS = 5;

async function fill(house: BenchHouse, count: number, dueAt: number): Promise<number> {
  const { services, brand } = house;
  const { id, watch: watchId, version } = await liveWorkflow(house, (each) => fiveSteps(each, house.page));
  const owner = { watchId, brandId: brand };
  const now = services.clock();
  const items = Array.from({ length: count }, (_, n) => ({
    identity: `id:${n}`,
    publishedAt: now,
    fields: {
      // Each round says something else: the same words of another workflow would wait for a person.
      title: `Breathing on both sides, part ${n} of round ${id}`,
      n,
      description: 'Three drills you can try in the slow lane.',
    },
    past: false,
  }));
  await inTransaction(services.pool, async (db) => {
    const ids = await addItems(db, owner, items, now);
    for (const itemId of ids) await addRun(db, { brandId: brand, workflowId: id, version, itemId, dueAt, now });
  });
  return id;
}

async function ours(house: BenchHouse): Promise<number> {
  const { services } = house;
  const id = await fill(house, RUNS, services.clock());
  const began = performance.now();
  let finished = false;
  // As a worker does: both loops beside each other.
  await Promise.all([
    (async () => {
      while ((await takeRuns(services)) > 0);
      finished = true;
    })(),
    (async () => {
      const performer = new Performer(services);
      for (;;) {
        if ((await performer.round()) > 0) continue;
        await performer.finish();
        if (finished && (await performer.round()) === 0) break;
      }
    })(),
  ]);
  const took = performance.now() - began;
  const [row] = await select<{ done: number }>(
    services.pool,
    "SELECT COUNT(*) AS done FROM runs WHERE workflow_id = ? AND status = 'done'",
    [id],
  );
  if (Number(row!.done) !== RUNS) throw new Error(`Only ${row!.done} of ${RUNS} runs are done.`);
  return took;
}

/** The rows that a run leaves behind, written as they are: its two states, its effect and the log of it, one commit each. */
async function bare(house: BenchHouse): Promise<number> {
  const { services, brand, page } = house;
  const id = await fill(house, RUNS, services.clock() + 86_400_000 * 365);
  const runs = await select<{ id: number }>(services.pool, 'SELECT id FROM runs WHERE workflow_id = ?', [id]);
  const state = JSON.stringify({ status: 'done', root: { at: null, values: { caption: 'x'.repeat(60) } } });
  const trace = JSON.stringify({ check: { kind: 'passes', why: 'x'.repeat(200) }, words: { text: 'x'.repeat(300) } });
  const began = performance.now();
  let next = 0;
  await Promise.all(
    Array.from({ length: 10 }, async () => {
      for (let index = next++; index < runs.length; index = next++) {
        const run = runs[index]!;
        const key = randomUUID();
        await inTransaction(services.pool, async (db) => {
          await change(db, 'UPDATE runs SET state = ?, trace = ? WHERE id = ?', [state, trace, run.id]);
          await change(
            db,
            "INSERT INTO effects (effect_key, brand_id, workflow_id, run_id, step, outlet_id, account_id, action, input, status, created_at) VALUES (?, ?, ?, ?, 'post', ?, 1, 'publish', '{}', 'done', NOW())",
            [key, brand, id, run.id, page],
          );
          await change(
            db,
            "INSERT INTO logbook (effect_key, brand_id, workflow_id, run_id, outlet_id, text, remote_id, at) VALUES (?, ?, ?, ?, ?, 'x', 'x', NOW())",
            [key, brand, id, run.id, page],
          );
          await change(db, "UPDATE runs SET status = 'done', state = ?, trace = ?, due_at = NULL WHERE id = ?", [
            state,
            trace,
            run.id,
          ]);
        });
      }
    }),
  );
  return performance.now() - began;
}

async function withWorkers(house: BenchHouse, count: number): Promise<number> {
  const { services } = house;
  const id = await fill(house, RUNS * 2, services.clock() + 86_400_000);
  const workers = Array.from({ length: count }, () =>
    spawn(process.execPath, ['--import', 'tsx', 'bench/worker.ts'], {
      env: { ...process.env, ...house.env },
      stdio: ['ignore', 'pipe', 'inherit'],
    }),
  );
  await Promise.all(workers.map((worker) => new Promise((ready) => worker.stdout.once('data', ready))));
  const began = performance.now();
  await change(services.pool, 'UPDATE runs SET due_at = ? WHERE workflow_id = ?', [new Date(), id]);
  for (;;) {
    const [row] = await select<{ open: number }>(
      services.pool,
      "SELECT COUNT(*) AS open FROM runs WHERE workflow_id = ? AND status <> 'done'",
      [id],
    );
    if (Number(row!.open) === 0) break;
    await new Promise((later) => setTimeout(later, 50));
  }
  const took = performance.now() - began;
  for (const worker of workers) worker.kill('SIGKILL');
  return took;
}

export async function benchRuns(): Promise<void> {
  const house = await openBench();
  await ours(house);
  await bare(house);
  const pairs = [];
  for (let round = 0; round < ROUNDS; round++) pairs.push({ ours: await ours(house), bare: await bare(house) });
  const rate = (ms: number, runs = RUNS) => Math.round(runs / (ms / 1000));
  const ratios = pairs.map((pair) => pair.bare / pair.ours);
  console.log(`(a) ${RUNS} runs of five steps and one effect, medians of ${ROUNDS} rounds`);
  console.log(`    bare rows    ${rate(median(pairs.map((pair) => pair.bare)))} runs/s`);
  console.log(`    ours         ${rate(median(pairs.map((pair) => pair.ours)))} runs/s`);
  console.log(
    `    ratio        ${median(ratios).toFixed(2)} (${Math.min(...ratios).toFixed(2)} to ${Math.max(...ratios).toFixed(2)}); wanted: at least 0.5`,
  );
  const one = await withWorkers(house, 1);
  for (const count of [2, 4]) {
    const many = await withWorkers(house, count);
    console.log(
      `    ${count} worker processes: ${rate(many, RUNS * 2)} runs/s, ${(one / many).toFixed(2)} times one (${rate(one, RUNS * 2)} runs/s)`,
    );
  }
  await closeBench(house);
}
