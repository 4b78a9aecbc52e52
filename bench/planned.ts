// npm run bench:planned: a week of the calendar where a brand has 10,000 posts by hand, and the logbook's first page and a
// search where it has a million entries, and a desk of 20,000, each beside the very queries it asks, put to the database without Playa.
import mysql from 'mysql2/promise';
import { change, select } from '@playa/server/db/database.ts';
import { listening, type Asked } from '@playa/server/testing/large/explain.ts';
import { LARGE } from '@playa/server/testing/large/fill.ts';
import { openLarge, readingEndpoints } from '@playa/server/testing/large/open.ts';
import { median } from './house.ts';

const ROUNDS = 25;
const ENTRIES = 1_000_000;
/** What a screen may take, in times of its queries. */
const BOUND = 2;

const opened = await openLarge(LARGE);
const { services, filled } = opened;
const { pool } = services;
// The brand's own entries, as often as it takes.
for (;;) {
  const [row] = await select<{ n: number }>(pool, 'SELECT COUNT(*) AS n FROM logbook WHERE brand_id = ?', [
    filled.brand,
  ]);
  const missing = ENTRIES - Number(row!.n);
  if (missing <= 0) break;
  await change(
    pool,
    `INSERT INTO logbook (effect_key, brand_id, workflow_id, run_id, step, outlet_id, action, text, card, url, remote_id, at)
     SELECT CONCAT(UUID(), '.post.1.1'), brand_id, workflow_id, run_id, step, outlet_id, action, text, card, url, remote_id, at
     FROM logbook WHERE brand_id = ? LIMIT ?`,
    [filled.brand, Math.min(missing, 200_000)],
  );
}
await select(pool, 'ANALYZE TABLE logbook');
const [counted] = await select<{ written: number; entries: number }>(
  pool,
  `SELECT (SELECT COUNT(*) FROM written_posts WHERE brand_id = ?) AS written,
     (SELECT COUNT(*) FROM logbook WHERE brand_id = ?) AS entries`,
  [filled.brand, filled.brand],
);
console.log(`${counted!.written} posts by hand, ${counted!.entries} entries of the logbook.`);

const endpoints = readingEndpoints(opened);
const named = (name: string) => endpoints.find((each) => each.name === name)!.ask;
const screens: [string, (of: typeof services) => Promise<unknown>][] = [
  ['a week of the calendar', named('openCalendar')],
  [
    'the logbook’s first page',
    readingEndpoints(opened, { readLogbook: {} }).find(({ name }) => name === 'readLogbook')!.ask,
  ],
  ['a search in it', named('readLogbook')],
  ['a desk of 20,000 entries', named('openDesk')],
];
let over = false;
for (const [name, ask] of screens) {
  const asked: Asked[] = [];
  await ask({ ...services, pool: listening(pool, asked) });
  const bare = await mysql.createConnection(services.config.databaseUrl);
  const ours: number[] = [];
  const theirs: number[] = [];
  for (let round = 0; round < ROUNDS + 3; round++) {
    const began = performance.now();
    await ask(services);
    const between = performance.now();
    for (const { sql, values } of asked) await bare.query(sql, values as never);
    const ended = performance.now();
    if (round < 3) continue;
    ours.push(between - began);
    theirs.push(ended - between);
  }
  await bare.end();
  const ratio = median(ours) / median(theirs);
  over ||= ratio > BOUND;
  console.log(
    `${name}: ${median(ours).toFixed(1)} ms, its ${asked.length} queries alone ${median(theirs).toFixed(1)} ms: ${ratio.toFixed(2)} times${ratio > BOUND ? `, more than ${BOUND}` : ''}`,
  );
}
await opened.close();
process.exit(over ? 1 : 0);
