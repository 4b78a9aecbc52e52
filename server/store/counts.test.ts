// Counting: days are the brand's, nobody waits for anybody, and nothing is lost or doubled by adding up or by making anew.
import { randomBytes } from 'node:crypto';
import fc from 'fast-check';
import { DateTime } from 'luxon';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { change, inTransaction, makeDatabase, openPool, select, type Pool } from '../db/database.ts';
import { migrate } from '../db/migrate.ts';
import { addCounts, byDay, EVER, foldCounts, rebuildCounts, workflowCounts, type Counted } from './counts.ts';
import { addBrand } from './users.ts';

const NOON = Date.UTC(2026, 10, 23, 12);
const one = (more: Partial<Counted> = {}): Counted => ({
  brandId: 1,
  workflowId: 7,
  what: 'act',
  state: 'publish',
  outletId: 3,
  at: NOON,
  n: 1,
  ...more,
});
const days = (counted: Counted[], zone: string) =>
  byDay(counted, () => zone)
    .filter(({ day }) => day !== EVER)
    .map(({ day, n }) => [day, n]);

describe('the day of a count', () => {
  it('is the brand’s, a minute before midnight and a minute after', () => {
    const at = (text: string, zone: string) => DateTime.fromISO(text, { zone }).toMillis();
    for (const zone of ['Europe/Lisbon', 'Asia/Kathmandu', 'America/St_Johns', 'Pacific/Kiritimati']) {
      const before = one({ at: at('2026-11-23T23:59:00', zone) });
      const after = one({ at: at('2026-11-24T00:01:00', zone) });
      expect(days([before, after], zone)).toEqual([
        ['2026-11-23', 1],
        ['2026-11-24', 1],
      ]);
    }
  });
  // IANA time zone database: Lisbon went forward on 29 March 2026 at 01:00, and back on 25 October 2026 at 02:00.
  it('has 23 hours or 25 where clocks change', () => {
    const hours = (from: string) => {
      const begin = DateTime.fromISO(from, { zone: 'Europe/Lisbon' }).minus({ hours: 3 }).toMillis();
      const all = Array.from({ length: 32 }, (_, hour) => one({ at: begin + hour * 3_600_000 }));
      return Object.fromEntries(days(all, 'Europe/Lisbon'))[from];
    };
    expect(hours('2026-03-29')).toBe(23);
    expect(hours('2026-10-25')).toBe(25);
    expect(hours('2026-11-23')).toBe(24);
  });
  it('adds up to all of them together, whatever is counted', () => {
    const counted = fc.record({
      workflowId: fc.integer({ min: 1, max: 3 }),
      outletId: fc.option(fc.integer({ min: 1, max: 2 })),
      at: fc.integer({ min: NOON - 3e9, max: NOON }),
      n: fc.constantFrom(-1, 1),
    });
    fc.assert(
      fc.property(fc.array(counted), (all) => {
        const rows = byDay(
          all.map((each) => one(each)),
          () => 'Europe/Lisbon',
        );
        const sum = (of: typeof rows) => of.reduce((total, { n }) => total + n, 0);
        const ever = rows.filter(({ day }) => day === EVER);
        expect(sum(ever)).toBe(all.reduce((total, { n }) => total + n, 0));
        expect(sum(rows) - sum(ever)).toBe(sum(ever));
        // In one order, so that two who add up never wait for each other in a circle.
        const keys = rows.map((row) =>
          [row.brandId, row.day, row.workflowId, row.what, row.state, row.outletId].join('\n'),
        );
        expect(keys).toEqual([...keys].sort());
        expect(new Set(keys).size).toBe(keys.length);
      }),
    );
  });
});

describe('counts in the database', () => {
  let pool: Pool;
  let name: string;
  let brand: number;
  beforeAll(async () => {
    const server = process.env.PLAYA_TEST_DATABASE!;
    name = `counts_${randomBytes(4).toString('hex')}`;
    await makeDatabase(server.replace(/\/?$/, `/${name}`));
    pool = openPool(server.replace(/\/?$/, `/${name}`));
    await migrate(pool);
    brand = await addBrand(pool, { name: 'Tern Bay Lidos', timeZone: 'Europe/Lisbon', locale: 'en' });
  });
  afterAll(async () => {
    await change(pool, 'DROP DATABASE ??', [name]);
    await pool.end();
  });
  const posts = async () => (await workflowCounts(pool, brand)).get(7)?.posts ?? 0;
  const fold = (most = 1000) => inTransaction(pool, (db) => foldCounts(db, most));

  it('are seen before they are added up, while they are, and after', async () => {
    await addCounts(pool, [one({ brandId: brand }), one({ brandId: brand }), one({ brandId: brand, state: 'reply' })]);
    expect(await posts()).toBe(2);
    expect(await fold()).toBe(2);
    expect(await posts()).toBe(2);
    expect((await workflowCounts(pool, brand, 7)).get(7)).toMatchObject({ posts: 2, answers: 1, others: 0, runs: 0 });
    expect(await fold()).toBe(0);
  });
  it('that come to nothing are not written down', async () => {
    await addCounts(pool, [one({ brandId: brand }), one({ brandId: brand, n: -1 })]);
    expect(await select(pool, 'SELECT 1 FROM counts_to_add')).toEqual([]);
  });
  it('of a transaction that is undone are none', async () => {
    const before = await posts();
    await inTransaction(pool, async (db) => {
      await addCounts(db, [one({ brandId: brand })]);
      throw new Error('undone');
    }).catch(() => undefined);
    expect(await posts()).toBe(before);
  });
  it('are neither lost nor doubled by many who count, several who add up, and one who makes them anew', async () => {
    // What there is to make them from.
    const before = await posts();
    await change(
      pool,
      `INSERT INTO logbook (effect_key, brand_id, workflow_id, run_id, outlet_id, action, text, remote_id, at)
       SELECT CONCAT('before', seq), ?, 7, 1, 3, IF(seq > ?, 'reply', 'publish'), '', '', ? FROM seq_1_to_50`,
      [brand, before, new Date(NOON)],
    );
    await change(pool, 'DELETE FROM counts');
    await rebuildCounts(pool);
    expect(await posts()).toBe(before);
    let counted = 0;
    const count = async (worker: number) => {
      for (let index = 0; index < 25; index++) {
        await inTransaction(pool, async (db) => {
          await change(
            db,
            `INSERT INTO logbook (effect_key, brand_id, workflow_id, run_id, outlet_id, action, text, remote_id, at)
             VALUES (?, ?, 7, 1, 3, 'publish', '', '', ?)`,
            [`w${worker}.${index}`, brand, new Date(NOON + index * 900_000)],
          );
          await addCounts(db, [one({ brandId: brand, at: NOON + index * 900_000 })]);
        });
        counted++;
      }
    };
    const add = async () => {
      for (let round = 0; round < 15; round++) await fold(7);
    };
    const anew = async () => {
      for (let round = 0; round < 4; round++) await rebuildCounts(pool);
    };
    await Promise.all([count(1), count(2), count(3), add(), add(), anew()]);
    expect(await posts()).toBe(before + counted);
    while ((await fold()) > 0);
    expect(await posts()).toBe(before + counted);
    const sum = async () =>
      select<{ ever: string; days: string }>(
        pool,
        "SELECT SUM(IF(day = '1000-01-01', n, 0)) AS ever, SUM(IF(day = '1000-01-01', 0, n)) AS days FROM counts WHERE brand_id = ? AND state = 'publish'",
        [brand],
      ).then(([row]) => [Number(row!.ever), Number(row!.days)]);
    expect(await sum()).toEqual([before + counted, before + counted]);
  });
});
