// An installation from before: what it holds is brought to the newest schema, and nothing of it is lost or taken for new.
import { createHash, randomBytes } from 'node:crypto';
import { readdir, readFile } from 'node:fs/promises';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { CONNECTORS } from '../connectors/index.ts';
import { traceSchema } from '@playa/core/model/cells.ts';
import { slotsIn } from '@playa/core/model/state.ts';
import { makeRecords } from '../runner/rebuild-records.ts';
import { heldOf } from '../store/held.ts';
import { workflowCounts } from '../store/counts.ts';
import { plannedPosts } from '../store/planned.ts';
import { runBy } from '../store/runs.ts';
import { watchBy } from '../store/watches.ts';
import { networkKind } from '../watch/kinds/network.ts';
import { change, makeDatabase, openPool, select, toTime, type Pool } from './database.ts';
import { migrate } from './migrate.ts';

const NOW = Date.UTC(2026, 10, 23, 12);
const FOLDER = new URL('migrations/', import.meta.url);
let pool: Pool;
let name: string;

/** Brings an empty database as far as an older version did. */
async function migrateTo(last: string): Promise<void> {
  await pool.query(
    'CREATE TABLE migrations (name VARCHAR(100) PRIMARY KEY, ran_at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3))',
  );
  for (const file of (await readdir(FOLDER)).sort().filter((each) => each <= last)) {
    const sql = (await readFile(new URL(file, FOLDER), 'utf8')).replace(/^\s*--.*$/gm, '');
    for (const statement of sql.split(/;\s*$/m).map((part) => part.trim())) if (statement) await pool.query(statement);
    await change(pool, 'INSERT INTO migrations (name) VALUES (?)', [file]);
  }
}
const hash = (text: string) => createHash('sha256').update(text).digest();
const add = async (table: string, row: Record<string, unknown>): Promise<number> =>
  (await change(pool, 'INSERT INTO ?? SET ?', [table, row])).id;

let ids: Awaited<ReturnType<typeof furnish>>;
/** What an older version left: a live workflow with a run that waits, one that is held, one that is done. */
async function furnish() {
  const at = toTime(NOW);
  const brand = await add('brands', { name: 'Tern Bay Lidos', time_zone: 'Europe/Lisbon', locale: 'en' });
  const account = await add('accounts', {
    brand_id: brand,
    kind: 'boards',
    name: 'Boards',
    remote_id: '1',
    remote_name: 'Mo',
    connected_at: at,
  });
  const outlet = await add('outlets', {
    brand_id: brand,
    account_id: account,
    kind: 'room',
    remote_id: 'r1',
    name: '#general',
    details: '{"within":"Crew","roles":[{"id":"7","name":"Lifeguards"}]}',
  });
  const watch = await add('watches', {
    brand_id: brand,
    source_key: `network:${account}:pins:b1`,
    kind: 'network',
    params: JSON.stringify({ account, outlet: 'b1', what: 'pins' }),
    name: 'Swim lessons: pins',
    things: 'pins',
    memory: '{"window":{"identities":["pin:12"],"oldest":null}}',
    every_seconds: 60,
    account_id: account,
  });
  const feed = await add('watches', {
    brand_id: brand,
    source_key: 'feed:https://lidos.example/pins',
    kind: 'feed',
    params: '{"url":"https://lidos.example/pins"}',
    name: 'A feed: pins',
    things: 'posts',
    every_seconds: 60,
  });
  const item = (watchId: number, identity: string) =>
    add('items', {
      brand_id: brand,
      watch_id: watchId,
      identity_hash: hash(identity),
      identity,
      published_at: at,
      seen_at: at,
      past: 0,
      fields: '{"title":"High tide"}',
    });
  const pinned = await item(watch, 'pin:12');
  const other = await item(feed, 'pin:12');
  const third = await item(feed, 'id:3');
  const fourth = await item(feed, 'id:4');
  const definition = JSON.stringify({
    schema: 1,
    sources: [{ id: 's', watch: feed }],
    steps: [
      { id: 'wait', verb: 'wait', until: { type: 'duration', seconds: 3600 } },
      { id: 'words', verb: 'compose', name: 'caption', text: '{$title}' },
      { id: 'post', verb: 'publish', outlets: [outlet], caption: 'caption', card: null },
    ],
  });
  const workflow = await add('workflows', {
    brand_id: brand,
    name: 'Tides',
    status: 'live',
    draft: definition,
    live_version: 1,
    created_at: at,
    changed_at: at,
  });
  await add('versions', { workflow_id: workflow, number: 1, brand_id: brand, definition, created_at: at });
  const run = (itemId: number, status: string, state: object | null, more: Record<string, unknown> = {}) =>
    add('runs', {
      uuid: randomBytes(18).toString('hex'),
      brand_id: brand,
      workflow_id: workflow,
      version: 1,
      item_id: itemId,
      status,
      state: state && JSON.stringify(state),
      trace: '{}',
      created_at: at,
      changed_at: at,
      ...more,
    });
  const waiting = await run(
    pinned,
    'waiting',
    {
      status: 'waiting',
      root: { at: 'wait', values: {}, wait: { for: 'moment', until: NOW + 3_600_000, then: 'next', tries: 0 } },
      generation: 1,
      failures: 0,
    },
    { due_at: toTime(NOW + 3_600_000) },
  );
  const slot = { key: 'k.post.1.1', outlet, action: 'publish', input: { text: 'High tide', card: null } };
  const held = await run(other, 'held', {
    status: 'held',
    root: {
      at: 'post',
      values: {},
      wait: {
        for: 'acts',
        tries: 0,
        slots: [{ ...slot, generation: 1, status: 'held', says: 'It is too long.', trouble: 'too-long' }],
      },
    },
    generation: 1,
    failures: 0,
  });
  const cut = { text: { from: 300, hashtags: 2, fields: ['title'], optional: 0 } };
  // A text that says what is renamed, and a field called so: both stay as they are.
  const text = 'He said "status":"asked", and {"cut":{"text":{"from":3}}}';
  const sent = { ...slot, input: { text, card: null }, cut, generation: 1, status: 'asked' };
  const sending = await run(fourth, 'waiting', {
    status: 'waiting',
    root: {
      at: 'post',
      values: { cut: 'short', case: { status: 'asked' } },
      wait: { for: 'acts', tries: 0, slots: [sent] },
    },
    generation: 1,
    failures: 0,
    memory: {
      acts: { 'label.-': { action: 'label', key: 'k.label.-.1', status: 'asked', generation: 1 } },
      waits: { wait: NOW },
      turns: { words: 1 },
    },
  });
  const post = { text, card: null, length: 4, limit: 280, at: NOW };
  await change(pool, 'UPDATE runs SET trace = ? WHERE id = ?', [
    JSON.stringify({
      off: { kind: 'posts', off: true, posts: [{ outlet, status: 'planned', ...post }] },
      post: { kind: 'posts', posts: [{ outlet, status: 'sending', ...post, cut, key: sent.key }] },
      label: { kind: 'acts', acts: [{ action: 'label', outlet: null, status: 'doing', what: '+swims', at: NOW }] },
    }),
    sending,
  ]);
  await add('effects', {
    effect_key: sent.key,
    brand_id: brand,
    workflow_id: workflow,
    run_id: sending,
    step: 'post',
    outlet_id: outlet,
    account_id: account,
    action: 'publish',
    input: JSON.stringify(sent.input),
    status: 'due',
    due_at: toTime(NOW + 60_000),
    created_at: at,
  });
  await add('turns', { workflow_id: workflow, step: 'words', brand_id: brand, choice: 1 });
  const done = await run(third, 'done', null);
  await add('logbook', {
    effect_key: 'done.post.1.1',
    brand_id: brand,
    workflow_id: workflow,
    run_id: done,
    step: 'post',
    outlet_id: outlet,
    action: 'publish',
    text: 'High tide',
    remote_id: '1',
    at,
  });
  return { brand, account, outlet, watch, feed, pinned, other, workflow, waiting, held, sending, text };
}

beforeAll(async () => {
  const server = process.env.PLAYA_TEST_DATABASE;
  if (!server) throw new Error('These tests need the test database: run them with npm test -- unit');
  name = `migrate_${randomBytes(4).toString('hex')}`;
  await makeDatabase(server.replace(/\/?$/, `/${name}`));
  pool = openPool(server.replace(/\/?$/, `/${name}`));
  await migrateTo('009_audit.sql');
  ids = await furnish();
  expect(await migrate(pool)).toContain('010_records.sql');
});
afterAll(async () => {
  if (!pool) return;
  await change(pool, 'DROP DATABASE ??', [name]);
  await pool.end();
});

describe('an installation from before', () => {
  it('is migrated once, and a second time nothing is left to do', async () => {
    expect(await migrate(pool)).toEqual([]);
  });
  it('knows pictures on boards by their new name, and takes none of them for new', async () => {
    const watch = (await watchBy(pool, ids.brand, ids.watch))!;
    const params = networkKind.params.parse(watch.params);
    expect(params).toEqual({ account: ids.account, outlet: 'b1', what: 'pictures' });
    // Whoever chooses it again gets the same watch, and the connector knows what is asked.
    expect(watch.sourceKey).toBe(networkKind.key(params));
    expect(CONNECTORS.boards.watches).toHaveProperty(params.what);
    expect([watch.things, watch.name]).toEqual(['pictures', 'Swim lessons: pictures']);
    expect(watch.memory).toEqual({ window: { identities: ['picture:12'], oldest: null } });
    const [item] = await select<{ identity: string; hash: Buffer }>(
      pool,
      'SELECT identity, identity_hash AS hash FROM items WHERE id = ?',
      [ids.pinned],
    );
    expect(item!.identity).toBe('picture:12');
    expect(item!.hash.equals(hash('picture:12'))).toBe(true);
  });
  it('leaves alone what only looks like it', async () => {
    const feed = (await watchBy(pool, ids.brand, ids.feed))!;
    expect([feed.sourceKey, feed.name, feed.things]).toEqual([
      'feed:https://lidos.example/pins',
      'A feed: pins',
      'posts',
    ]);
    const [item] = await select<{ identity: string }>(pool, 'SELECT identity FROM items WHERE id = ?', [ids.other]);
    expect(item!.identity).toBe('pin:12');
  });
  it('knows groups of members in a room', async () => {
    const [outlet] = await select<{ details: string }>(pool, 'SELECT details FROM outlets WHERE id = ?', [ids.outlet]);
    expect(JSON.parse(outlet!.details)).toEqual({ within: 'Crew', groups: [{ id: '7', name: 'Lifeguards' }] });
  });
  it('knows the stages of acts, what was trimmed and what rotates by their new names, and no text is touched', async () => {
    const state = (await runBy(pool, ids.brand, ids.sending))!.state!;
    const trimmed = { text: { from: 300, hashtags: 2, fields: ['title'], optional: 0 } };
    expect(slotsIn(state)).toMatchObject([{ status: 'planned', trimmed, input: { text: ids.text } }]);
    expect(state.root.values).toEqual({ cut: 'short', case: { status: 'asked' } });
    expect(state.memory).toMatchObject({ acts: { 'label.-': { status: 'planned' } }, rotations: { words: 1 } });
    const { trace } = (await runBy(pool, ids.brand, ids.sending))!;
    expect(traceSchema.parse(trace)).toMatchObject({
      off: { posts: [{ status: 'would', text: ids.text }] },
      post: { posts: [{ status: 'planned', trimmed, text: ids.text }] },
      label: { acts: [{ status: 'planned' }] },
    });
    const acts = await select(pool, 'SELECT status, open_at IS NOT NULL AS open, input FROM effects WHERE run_id = ?', [
      ids.sending,
    ]);
    expect(acts).toEqual([{ status: 'planned', open: 1, input: JSON.stringify({ text: ids.text, card: null }) }]);
    expect(await select(pool, 'SELECT choice FROM rotations')).toEqual([{ choice: 1 }]);
  });
  it('has its records made at the first start, and not again', async () => {
    const services = { pool, clock: () => NOW, log: { warn: () => undefined } as never };
    expect(await heldOf(pool, ids.brand, 10)).toEqual([]);
    await makeRecords(services);
    expect(await heldOf(pool, ids.brand, 10)).toMatchObject([
      { runId: ids.held, says: 'It is too long.', trouble: 'too-long', act: { input: { text: 'High tide' } } },
    ]);
    expect(await plannedPosts(pool, ids.brand, { from: null, to: null, paused: false }, 10)).toMatchObject([
      { runId: ids.sending, state: 'planned', at: NOW + 60_000 },
      { runId: ids.waiting, outletId: ids.outlet, at: NOW + 3_600_000, state: 'ahead', sure: true },
    ]);
    expect((await workflowCounts(pool, ids.brand)).get(ids.workflow)).toMatchObject({
      runs: 4,
      waiting: 2,
      held: 1,
      posts: 1,
    });
    await change(pool, 'DELETE FROM held');
    await makeRecords(services);
    expect(await heldOf(pool, ids.brand, 10)).toEqual([]);
  });
});
