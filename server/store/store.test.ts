import { randomBytes } from 'node:crypto';
import { readdir } from 'node:fs/promises';
import { findContacts, labelContact } from './contacts.ts';
import { findPosts } from './logbook.ts';
import { letThrough } from './passed.ts';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { change, inTransaction, makeDatabase, openPool, select, type Pool } from '../db/database.ts';
import { migrate } from '../db/migrate.ts';
import { keepAccount } from './accounts.ts';
import { changesAfter, forgetChanges, newestChange, noteChange } from './changes.ts';
import { addEffects, claimEffects, lockDueEffects } from './effects.ts';
import { markSending } from './effect-claims.ts';
import { endEffects, postponeEffect } from './effect-claims.ts';
import { parkEffects, unparkEffects } from './acts-waiting.ts';
import { addItems, knownIdentities } from './items.ts';
import { itemsOf } from './items-shown.ts';
import { keepOutlets, outletsOf } from './outlets.ts';
import { addBrand } from './users.ts';
import { addRun, lockDueRuns } from './runs.ts';
import { runsOf } from '../testing/runs-of.ts';
import { keepWatch, watchBy } from './watches.ts';
import { scheduleWatches } from './watch-times.ts';
import { addVersion, liveSubscribers, setSubscriptions } from './versions.ts';
import { addWorkflow } from './workflows.ts';
import { pausedWorkflows, setStatus } from './workflow-state.ts';

// The stores on a real MariaDB, without Lagoon.
const NOW = Date.UTC(2026, 10, 23, 12, 0, 0, 123);
let pool: Pool;
let url: string;
let lidos: number;
let watch: number;
let workflow: number;
let account: number;
let outlet: number;
beforeAll(async () => {
  const server = process.env.PLAYA_TEST_DATABASE;
  if (!server) throw new Error('These tests need the test database: run them with npm test -- unit');
  url = server.replace(/\/?$/, `/store_${randomBytes(5).toString('hex')}`);
  await makeDatabase(url);
  pool = openPool(url);
  await migrate(pool);
  lidos = await addBrand(pool, { name: 'Tern Bay Lidos', timeZone: 'Europe/Lisbon', locale: 'en' });
  watch = await keepWatch(pool, {
    brandId: lidos,
    sourceKey: 'feed:a',
    kind: 'feed',
    params: { url: 'https://x.example/a' },
    name: 'A',
    things: 'videos',
    everySeconds: 60,
  });
  workflow = await addWorkflow(pool, lidos, 'W', { schema: 1, sources: [{ id: 's', watch }], steps: [] }, NOW);
  account = await keepAccount(pool, {
    brandId: lidos,
    kind: 'pages',
    name: 'P',
    remoteId: '1',
    remoteName: 'Mo',
    sealed: Buffer.from('x'),
    tokenExpiresAt: null,
    now: NOW,
  });
  await keepOutlets(
    pool,
    { brandId: lidos, accountId: account },
    [{ kind: 'page', remoteId: '1', name: 'One', address: null, feed: null }],
    NOW,
  );
  outlet = (await outletsOf(pool, lidos))[0]!.id;
});
afterAll(async () => {
  await change(pool, `DROP DATABASE ${new URL(url).pathname.slice(1)}`);
  await pool.end();
});

describe('migrations', () => {
  it('run once, and wait for each other', async () => {
    expect(await migrate(pool)).toEqual([]);
    const fresh = url.replace('store_', 'store2_');
    await makeDatabase(fresh);
    const pools = [openPool(fresh), openPool(fresh), openPool(fresh)];
    const ran = await Promise.all(pools.map(migrate));
    const there = await readdir(new URL('../db/migrations', import.meta.url));
    expect(there.length).toBeGreaterThan(3);
    expect(ran.flat()).toEqual(there.sort());
    await change(pools[0]!, `DROP DATABASE ${new URL(fresh).pathname.slice(1)}`);
    await Promise.all(pools.map((each) => each.end()));
  });
  it('make tables that hold any text', async () => {
    const [row] = await select<{ charset: string }>(
      pool,
      "SELECT CCSA.CHARACTER_SET_NAME AS charset FROM information_schema.TABLES T JOIN information_schema.COLLATION_CHARACTER_SET_APPLICABILITY CCSA ON CCSA.COLLATION_NAME = T.TABLE_COLLATION WHERE T.TABLE_SCHEMA = DATABASE() AND T.TABLE_NAME = 'items'",
    );
    expect(row!.charset).toBe('utf8mb4');
  });
});

describe('items', () => {
  const film = (identity: string, title = identity) => ({
    identity,
    publishedAt: NOW + 1,
    fields: { title },
    past: false,
  });
  it('are stored once each, with milliseconds and any character', async () => {
    const title = 'Plaiting 🥨 é Ω ส \u{1f468}\u200d\u{1f373}';
    const first = await addItems(pool, { brandId: lidos, watchId: watch }, [film('id:1', title), film('id:2')], NOW);
    expect(first).toHaveLength(2);
    expect(
      await addItems(pool, { brandId: lidos, watchId: watch }, [film('id:1', 'changed'), film('id:3')], NOW),
    ).toHaveLength(1);
    const stored = await itemsOf(pool, lidos, [watch], 10);
    expect(stored.find((item) => item.identity === 'id:1')).toMatchObject({
      publishedAt: NOW + 1,
      seenAt: NOW,
      past: false,
      fields: { title },
    });
    expect(await knownIdentities(pool, watch, ['id:1', 'id:9'])).toEqual(new Set(['id:1']));
  });
  it('are told apart to the last character', async () => {
    const odd = ['id:A', 'id:a', 'id:á', 'id:a '];
    expect(
      await addItems(
        pool,
        { brandId: lidos, watchId: watch },
        odd.map((identity) => film(identity)),
        NOW,
      ),
    ).toHaveLength(4);
    expect((await knownIdentities(pool, watch, odd)).size).toBe(4);
  });
  it('are found only under their lidos', async () => {
    expect(await itemsOf(pool, lidos + 1, [watch], 10)).toEqual([]);
  });
});

describe('runs and effects', () => {
  const newRun = async (title: string) => {
    const [itemId] = await addItems(
      pool,
      { brandId: lidos, watchId: watch },
      [{ identity: `run:${title}`, publishedAt: NOW, fields: { title }, past: false }],
      NOW,
    );
    await addRun(pool, { brandId: lidos, workflowId: workflow, version: 1, itemId: itemId!, dueAt: NOW, now: NOW });
    const run = (await runsOf(pool, lidos, workflow, 500)).find((each) => each.itemId === itemId)!;
    return { itemId: itemId!, runId: run.id, uuid: run.uuid };
  };
  const effect = (runId: number, key: string) => ({
    key,
    brandId: lidos,
    workflowId: workflow,
    runId,
    place: 'p',
    dueAt: NOW,
    outletId: outlet,
    accountId: account,
    action: 'publish' as const,
    input: { text: 'x', card: null },
  });

  it('a run is made once per workflow and item', async () => {
    const { itemId } = await newRun('once');
    expect(await addRun(pool, { brandId: lidos, workflowId: workflow, version: 2, itemId, dueAt: NOW, now: NOW })).toBe(
      false,
    );
  });
  it('two workers never hold the same run', async () => {
    for (let n = 0; n < 6; n++) await newRun(`shared ${n}`);
    await inTransaction(pool, async (one) => {
      const { runs: mine } = await lockDueRuns(one, NOW, 3);
      expect(mine).toHaveLength(3);
      await inTransaction(pool, async (two) => {
        const { runs: theirs } = await lockDueRuns(two, NOW, 100);
        expect(theirs.length).toBeGreaterThanOrEqual(3);
        expect(theirs.filter((run) => mine.some((own) => own.id === run.id))).toEqual([]);
      });
    });
  });
  it('an effect is stored once per key, claimed once, and ended only by its holder', async () => {
    const { runId } = await newRun('effects');
    await addEffects(pool, [effect(runId, 'key-1')], await pausedWorkflows(pool, [workflow]), NOW);
    await addEffects(pool, [effect(runId, 'key-1')], await pausedWorkflows(pool, [workflow]), NOW);
    const claim = (now: number) =>
      inTransaction(pool, async (db) => (await claimEffects(db, await lockDueEffects(db, now, 10), now, 1000)).claimed);
    const [first] = await claim(NOW);
    expect(first).toMatchObject({ key: 'key-1', unsure: false });
    expect(await claim(NOW + 999)).toEqual([]);
    // The claim ran out before anything was sent: whoever comes next knows so.
    const [again] = await claim(NOW + 1001);
    expect(again).toMatchObject({ key: 'key-1', unsure: false, firstSentAt: NOW });
    expect(await markSending(pool, first!)).toBe(false);
    expect(await markSending(pool, again!)).toBe(true);
    // It ran out after that: nobody can know what came of it.
    const [second] = await claim(NOW + 2002);
    expect(second).toMatchObject({ key: 'key-1', unsure: true, firstSentAt: NOW });
    const outcome = { remoteId: '1', url: null, at: NOW };
    expect(await endEffects(pool, [{ effect: first!, outcome }])).toBe(0);
    expect(await postponeEffect(pool, first!, { at: NOW, unsure: false, failures: 1, trouble: 'late' })).toBe(false);
    expect(await endEffects(pool, [{ effect: second!, outcome }])).toBe(1);
    expect(await claim(NOW + 9999)).toEqual([]);
  });
  it('keys that differ only in case are two', async () => {
    const { runId } = await newRun('case');
    await addEffects(pool, [effect(runId, 'Case')], await pausedWorkflows(pool, [workflow]), NOW);
    await addEffects(pool, [effect(runId, 'case')], await pausedWorkflows(pool, [workflow]), NOW);
    const [row] = await select<{ number: number }>(
      pool,
      "SELECT COUNT(*) AS number FROM effects WHERE effect_key IN ('Case', 'case')",
    );
    expect(Number(row!.number)).toBe(2);
    await change(pool, "DELETE FROM effects WHERE effect_key IN ('Case', 'case')");
  });
  it('in a paused workflow wait without a time, also those that come later', async () => {
    const { runId } = await newRun('paused');
    await addEffects(pool, [effect(runId, 'before the pause')], await pausedWorkflows(pool, [workflow]), NOW);
    await setStatus(pool, lidos, workflow, 'paused', NOW);
    await parkEffects(pool, lidos, workflow, NOW);
    await addEffects(pool, [effect(runId, 'during the pause')], await pausedWorkflows(pool, [workflow]), NOW + 5);
    const due = () =>
      select<{ effect_key: string }>(
        pool,
        'SELECT effect_key FROM effects WHERE due_at IS NOT NULL AND effect_key LIKE ? ORDER BY id',
        ['% the pause'],
      );
    expect(await due()).toEqual([]);
    await setStatus(pool, lidos, workflow, 'live', NOW);
    await unparkEffects(pool, lidos, workflow);
    expect((await due()).map((row) => row.effect_key)).toEqual(['before the pause', 'during the pause']);
  });
});

describe('watches', () => {
  it('are shared by key within a brand, and apart between brands', async () => {
    const same = {
      sourceKey: 'feed:a',
      kind: 'feed' as const,
      params: {},
      name: 'Other',
      things: 'posts',
      everySeconds: 5,
    };
    expect(await keepWatch(pool, { ...same, brandId: lidos })).toBe(watch);
    const other = await addBrand(pool, { name: 'B', timeZone: 'UTC', locale: 'en' });
    expect(await keepWatch(pool, { ...same, brandId: other })).not.toBe(watch);
    expect((await watchBy(pool, lidos, watch))!.name).toBe('A');
    expect(await watchBy(pool, other, watch)).toBeUndefined();
  });
  it('are looked at while a workflow listens, also one that is paused and will want to know what appeared', async () => {
    await setSubscriptions(pool, lidos, workflow, [{ id: 's', watch }]);
    await addVersion(
      pool,
      { brandId: lidos, id: workflow },
      { schema: 1, sources: [{ id: 's', watch }], steps: [] },
      null,
      NOW,
    );
    await setStatus(pool, lidos, workflow, 'live', NOW);
    await scheduleWatches(pool, lidos, NOW);
    expect((await watchBy(pool, lidos, watch))!.dueAt).toBe(NOW);
    expect(await liveSubscribers(pool, watch)).toEqual([{ workflowId: workflow, version: 1 }]);
    await setStatus(pool, lidos, workflow, 'paused', NOW);
    await scheduleWatches(pool, lidos, NOW + 1);
    expect((await watchBy(pool, lidos, watch))!.dueAt).toBe(NOW);
    expect(await liveSubscribers(pool, watch)).toEqual([]);
    await setSubscriptions(pool, lidos, workflow, []);
    await scheduleWatches(pool, lidos, NOW + 1);
    expect((await watchBy(pool, lidos, watch))!.dueAt).toBeNull();
  });
});

it('outlets that a network stops listing are marked, and come back under the same number', async () => {
  const list = (names: string[]) =>
    keepOutlets(
      pool,
      { brandId: lidos, accountId: account },
      names.map((name, index) => ({
        kind: 'page' as const,
        remoteId: String(index + 1),
        name,
        address: null,
        feed: null,
      })),
      NOW,
    );
  await list([]);
  expect((await outletsOf(pool, lidos))[0]).toMatchObject({ id: outlet, gone: true });
  await list(['One, renamed']);
  expect((await outletsOf(pool, lidos))[0]).toMatchObject({ id: outlet, gone: false, name: 'One, renamed' });
});

describe('transactions', () => {
  it('store all or nothing', async () => {
    const before = await newestChange(pool);
    await expect(
      inTransaction(pool, async (db) => {
        await noteChange(db, lidos, 'runs', 1, NOW);
        throw new Error('no');
      }),
    ).rejects.toThrow('no');
    expect(await changesAfter(pool, before)).toEqual([]);
  });
  it('are run anew after a deadlock, with nothing stored twice', async () => {
    await change(pool, 'CREATE TABLE IF NOT EXISTS counters (id INT PRIMARY KEY, value INT NOT NULL)');
    await change(pool, 'REPLACE INTO counters VALUES (1, 0), (2, 0)');
    const add = (first: number, second: number) =>
      inTransaction(pool, async (db) => {
        await change(db, 'UPDATE counters SET value = value + 1 WHERE id = ?', [first]);
        await new Promise((done) => setTimeout(done, 60));
        await change(db, 'UPDATE counters SET value = value + 1 WHERE id = ?', [second]);
      });
    await Promise.all([add(1, 2), add(2, 1), add(1, 2), add(2, 1)]);
    expect(await select(pool, 'SELECT value FROM counters ORDER BY id')).toEqual([{ value: 4 }, { value: 4 }]);
    await change(pool, 'DROP TABLE counters');
  });
  it('changes are forgotten after a while', async () => {
    await noteChange(pool, lidos, 'runs', 1, NOW - 10_000);
    await forgetChanges(pool, NOW - 5000);
    expect(
      (
        await select<{ number: number }>(pool, 'SELECT COUNT(*) AS number FROM changes WHERE at < ?', [
          new Date(NOW - 5000),
        ])
      )[0]!.number,
    ).toBe(0);
  });
});

describe('people of several networks', () => {
  it('with the same number are two, each with labels of their own', async () => {
    const label = (network: string, name: string, add: string) =>
      labelContact(pool, lidos, { person: '3', network, name, add: [add], remove: [] }, NOW);
    await label('video', 'Ana', 'swims');
    await label('photos', 'Bea', 'paints');
    expect(await findContacts(pool, lidos, 'id', '3', 'video')).toMatchObject([{ name: 'Ana', labels: ['swims'] }]);
    expect(await findContacts(pool, lidos, 'id', '3', 'photos')).toMatchObject([{ name: 'Bea', labels: ['paints'] }]);
    expect(await findContacts(pool, lidos, 'id', '3', 'pages')).toEqual([]);
  });
  it('known from before networks were told apart become whoever comes first', async () => {
    await labelContact(pool, lidos, { person: '7', name: 'Old', add: ['greeted'], remove: [] }, NOW);
    expect(await findContacts(pool, lidos, 'id', '7', 'video')).toMatchObject([{ labels: ['greeted'] }]);
    await labelContact(pool, lidos, { person: '7', network: 'video', name: 'Old', add: ['again'], remove: [] }, NOW);
    expect(await findContacts(pool, lidos, 'id', '7', 'video')).toMatchObject([{ labels: ['again', 'greeted'] }]);
    expect(await findContacts(pool, lidos, 'id', '7', 'photos')).toEqual([]);
  });
  it('looked up by a name of the language itself are none', async () => {
    for (const by of ['constructor', '__proto__', 'toString']) {
      expect(await findContacts(pool, lidos, by, 'x')).toEqual([]);
      expect(await findPosts(pool, lidos, by, 'x')).toEqual([]);
    }
  });
});

describe('once per person', () => {
  it('is once at each network, and not again for those who passed before networks were told apart', async () => {
    const runId = 1_000_000;
    const pass = (by: string, now = NOW) =>
      letThrough(pool, { brandId: lidos, workflowId: workflow, runId: runId + now, by, within: null }, now);
    expect(await pass('video\n3')).toMatchObject({ fresh: true });
    expect(await pass('photos\n3')).toMatchObject({ fresh: true });
    expect(await pass('video\n3', NOW + 1)).toMatchObject({ fresh: false });
    await pass('9');
    await change(pool, 'UPDATE passed SET at = ? WHERE run_id = ?', [new Date(Date.UTC(2020, 0)), runId + NOW]);
    expect(await pass('video\n9', NOW + 2)).toMatchObject({ fresh: false });
  });
});
