// Every query of a screen and of a worker, on a large database: none goes through a large table or sorts many rows, and
// none is asked once per row of a list.
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { inTransaction, select } from '../../db/database.ts';
import type { Services } from '../../base/services.ts';
import { performEffects } from '../../runner/perform-effects.ts';
import { takeRuns } from '../../runner/take-runs.ts';
import { keepHouse } from '../../work.ts';
import { scheduleWatches } from '../../store/watch-times.ts';
import { storeArrivals } from '../../watch/arrivals.ts';
import { readDeliveries } from '../../watch/hooks.ts';
import { lookAtDue } from '../../watch/look.ts';
import { startTurning } from '../../watch/turning.ts';
import { renewSubscriptions } from '../../watch/websub.ts';
import { pause, resume } from '../../workflows/go-live.ts';
import { moveRuns } from '../../workflows/run-actions.ts';
import { faultsOf, listening, type Asked } from './explain.ts';
import { LARGE, SMALL } from './fill.ts';
import { openLarge, readingEndpoints, type Opened } from './open.ts';

let large: Opened;
let small: Opened;
let sizes: Map<string, number>;

beforeAll(async () => {
  small = await openLarge(SMALL);
  large = await openLarge(LARGE);
  const rows = await select<{ name: string; size: string }>(
    large.services.pool,
    'SELECT table_name AS name, table_rows AS size FROM information_schema.tables WHERE table_schema = DATABASE()',
  );
  sizes = new Map(rows.map((row) => [row.name, Number(row.size)]));
});
afterAll(async () => {
  await large?.close();
  await small?.close();
});

/** What is asked of the database while something is done. */
async function askedBy(opened: Opened, act: (services: Services) => Promise<unknown>): Promise<Asked[]> {
  const asked: Asked[] = [];
  await act({ ...opened.services, pool: listening(opened.services.pool, asked) });
  return asked;
}

/** What is wrong with the queries of something, each sort of query once. */
async function wrong(act: (services: Services) => Promise<unknown>): Promise<string[]> {
  const asked = await askedBy(large, act);
  expect(asked.length).toBeGreaterThan(0);
  const faults = new Set<string>();
  for (const each of new Map(asked.map((query) => [query.sql, query])).values())
    for (const fault of await faultsOf(large.services.pool, each, sizes)) faults.add(fault);
  return [...faults];
}

it('is as large as it says', () => {
  expect(sizes.get('items')).toBeGreaterThan(LARGE.items * 0.8);
  expect(sizes.get('runs')).toBeGreaterThan(LARGE.runs * 0.8);
  expect(sizes.get('effects')).toBeGreaterThan(LARGE.acts * 0.8);
});

it('a query that goes through everything is seen to', async () => {
  const { pool } = large.services;
  const asked = { sql: "SELECT * FROM runs WHERE trouble = 'x'", values: [] };
  expect((await faultsOf(pool, asked, sizes))[0]).toMatch(/goes through all of runs/);
  const sorted = { sql: 'SELECT id FROM items WHERE watch_id = 1 ORDER BY identity LIMIT 1', values: [] };
  expect((await faultsOf(pool, sorted, sizes)).join()).toMatch(/sorts 2\d+ rows/);
});

/** What a stretch of time is counted from is read as a whole, by an index that has all of it. */
const COUNTED: [name: string, fits: RegExp][] = [['openDeskNumbers', /^reads \d+ rows of desk_entries by counted\n/]];

/** Answered by how Playa is set up and made; and who is asking has been found out before. */
const ASKS_NOTHING = new Set(['whoAmI', 'listSignInWays', 'listNetworks', 'readDocument']);

describe('a screen', () => {
  const names = readingEndpoints({ filled: {} as never }).map(({ name }) => name);
  it.each(names)('%s reads what it shows, and no more', async (name) => {
    const of = (opened: Opened) => readingEndpoints(opened).find((each) => each.name === name)!;
    const asked = await askedBy(large, of(large).ask);
    const faults = ASKS_NOTHING.has(name) ? [] : await wrong(of(large).ask);
    expect(faults.filter((fault) => !COUNTED.some(([of, fits]) => of === name && fits.test(fault)))).toEqual([]);
    // As many rows as there are in its lists, it asks as often as where there are few.
    expect(asked.length).toBeLessThanOrEqual((await askedBy(small, of(small).ask)).length + 2);
  });
});

describe('a worker', () => {
  const soon = (services: Services): Services => ({ ...services, clock: () => Date.now() + 86_400_000 });
  it('takes runs further', async () => {
    expect(await wrong((services) => takeRuns(soon(services)))).toEqual([]);
  });
  it('sends', async () => {
    expect(await wrong((services) => performEffects(soon(services)))).toEqual([]);
  });
  it('stores what has appeared', async () => {
    const now = Date.now();
    const item = { identity: 'id:new', publishedAt: now, fields: { title: 'New', link: 'https://lidos.example/new' } };
    const watch = { id: large.filled.watches[7]!, brandId: large.filled.brand, names: {} };
    const arrivals = { past: [], fresh: [item], again: [] };
    expect(await wrong(({ pool }) => inTransaction(pool, (db) => storeArrivals(db, watch, arrivals, now)))).toEqual([]);
  });
  it('stores what has changed', async () => {
    const now = Date.now();
    const item = {
      identity: 'id:new',
      publishedAt: now,
      fields: { title: 'Newer', link: 'https://lidos.example/new' },
    };
    const watch = { id: large.filled.watches[7]!, brandId: large.filled.brand, names: {} };
    const arrivals = { past: [], fresh: [], again: [item] };
    expect(await wrong(({ pool }) => inTransaction(pool, (db) => storeArrivals(db, watch, arrivals, now)))).toEqual([]);
  });
  it('looks, reads deliveries, renews and keeps house', async () => {
    await scheduleWatches(large.services.pool, large.filled.brand, Date.now());
    expect(await wrong((services) => lookAtDue(soon(services), 2))).toEqual([]);
    expect(await wrong((services) => readDeliveries(services))).toEqual([]);
    expect(await wrong((services) => renewSubscriptions(services))).toEqual([]);
    expect(await wrong((services) => startTurning(services))).toEqual([]);
    expect(await wrong((services) => keepHouse(services))).toEqual([]);
  });
});

describe('a person', () => {
  it('pauses a workflow, lets it go on, moves its runs', async () => {
    const { brand, workflow } = large.filled;
    expect(await wrong((services) => pause(services, brand, workflow))).toEqual([]);
    expect(await wrong((services) => resume(services, brand, workflow).catch(() => undefined))).toEqual([]);
    expect(await wrong((services) => moveRuns(services, brand, workflow))).toEqual([]);
  });
});
