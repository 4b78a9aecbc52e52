// npm run bench:reserving: 1,000 posts that are given the next free time of a timetable, each held by one (the lock on the
// timetable, what is taken there, the unique key), beside 1,000 bare inserts of the same rows. As a worker takes them, so many
// in a transaction, and one by one.
import { randomUUID } from 'node:crypto';
import { compile } from '@playa/core/engine/program.ts';
import { NO_TIMETABLE } from '@playa/core/timetable/timetable.ts';
import { change, inTransaction, select, type Queryable } from '@playa/server/db/database.ts';
import { Placer } from '@playa/server/runner/placing.ts';
import { addEffects, type NewEffect } from '@playa/server/store/effects.ts';
import { addItems } from '@playa/server/store/items.ts';
import { addRun, type Run } from '@playa/server/store/runs.ts';
import { keepTimetable } from '@playa/server/store/timetables.ts';
import { worldOf } from '@playa/server/world/world.ts';
import { closeBench, fiveSteps, liveWorkflow, median, openBench } from './house.ts';

const POSTS = 1000;
const ROUNDS = 5;
/** What reserving may take, in times of the bare inserts, where posts are taken as a worker takes them. */
const BOUND = 3;
const NOBODY: ReadonlySet<number> = new Set();

const house = await openBench();
const { services, brand, page } = house;
const { pool } = services;
const times = ['07:00', '09:30', '12:00', '17:00', '19:30'];
await inTransaction(pool, (db) =>
  keepTimetable(db, brand, page, { ...NO_TIMETABLE, times: Array.from({ length: 7 }, () => times) }, 0),
);
const workflow = await liveWorkflow(house, (watch) => fiveSteps(watch, page));
const now = services.clock();
await addItems(
  pool,
  { watchId: workflow.watch, brandId: brand },
  [{ identity: 'id:1', publishedAt: now, fields: { title: 'A film' }, past: false }],
  now,
);
const [item] = await select<{ id: number }>(pool, 'SELECT id FROM items LIMIT 1');
for (let occurrence = 0; occurrence < POSTS; occurrence++)
  await addRun(pool, {
    brandId: brand,
    workflowId: workflow.id,
    version: workflow.version,
    itemId: item!.id,
    occurrence,
    dueAt: now + 86_400_000,
    now,
  });
// A post of a run each, as they are.
const runs = await select<{ id: number; uuid: string }>(pool, 'SELECT id, uuid FROM runs ORDER BY id');
let turn = 0;
const world = await worldOf(pool, brand, services.connectors);
const program = compile(fiveSteps(workflow.watch, page), world);
const accountId = world.outlets.get(page)!.accountId;

const input = { text: 'New: A film. Number 1.', card: null };
const owner = { brandId: brand, workflowId: workflow.id, place: 'post', outletId: page, accountId };
const bare = (dueAt: number): NewEffect =>
  ({
    runId: runs[turn++ % runs.length]!.id,
    ...owner,
    key: `${randomUUID()}.post.${page}.1`,
    action: 'publish',
    input,
    dueAt,
    plannedAt: dueAt,
    slot: null,
  }) as NewEffect;

async function reserve(db: Queryable, many: number): Promise<void> {
  const placed: NewEffect[] = [];
  const store = async () => addEffects(db, placed.splice(0), NOBODY, now);
  const placer = new Placer(db, now, store);
  for (let index = 0; index < many; index++) {
    const effect = bare(now);
    const perform = { do: 'perform', ...effect, outlet: page, placing: { when: 'free' } } as never;
    const { dueAt, plannedAt, slot } = await placer.place(
      { id: effect.runId, brandId: brand, workflowId: workflow.id } as unknown as Run,
      program,
      perform,
      null,
    );
    placed.push({ ...effect, dueAt, plannedAt, slot } as NewEffect);
  }
  await store();
}
async function insert(db: Queryable, many: number): Promise<void> {
  await addEffects(
    db,
    Array.from({ length: many }, (_, index) => bare(now + 400 * 86_400_000 + index * 60_000)),
    NOBODY,
    now,
  );
}
async function timed(work: (db: Queryable, many: number) => Promise<void>, each: number): Promise<number> {
  await change(pool, 'DELETE FROM effects');
  const began = performance.now();
  for (let done = 0; done < POSTS; done += each) await inTransaction(pool, (db) => work(db, each));
  return performance.now() - began;
}

let over = false;
for (const each of [50, 1]) {
  const ours: number[] = [];
  const theirs: number[] = [];
  for (let round = 0; round <= ROUNDS; round++) {
    const mine = await timed(reserve, each);
    const [held] = await select<{ n: number; of: number }>(
      pool,
      'SELECT COUNT(DISTINCT slot_at) AS n, COUNT(*) AS `of` FROM effects',
    );
    if (Number(held!.n) !== POSTS) throw new Error(`${held!.n} times are held for ${held!.of} posts.`);
    const other = await timed(insert, each);
    // The first round warms everything up.
    if (round === 0) continue;
    ours.push(mine);
    theirs.push(other);
  }
  const ratio = median(ours) / median(theirs);
  // One by one all that is taken is read anew for each: told, and not held to the bound.
  over ||= each > 1 && ratio > BOUND;
  console.log(
    `${each} in a transaction: reserving ${POSTS} times ${median(ours).toFixed(0)} ms, bare inserts ${median(theirs).toFixed(0)} ms: ${ratio.toFixed(2)} times${ratio > BOUND ? `, more than ${BOUND}` : ''}`,
  );
}
await closeBench(house);
process.exit(over ? 1 : 0);
