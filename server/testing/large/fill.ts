// A large installation, made by the database itself in a minute or two: 50 brands, a million items, half a million runs,
// 300,000 acts. The first brand has a fifth of everything.
import type { Trace } from '@playa/core/model/cells.ts';
import type { RunState } from '@playa/core/model/state.ts';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { change, inTransaction, select, toTime } from '../../db/database.ts';
import type { Services } from '../../base/services.ts';
import { tokenOwner } from '../../accounts/sessions.ts';
import { rebuildRecords } from '../../runner/rebuild-records.ts';
import { keepAccount } from '../../store/accounts.ts';
import { keepOutlets } from '../../store/outlets.ts';
import { addBrand, addMembership, addUser } from '../../store/users.ts';
import { addVersion, setSubscriptions } from '../../store/versions.ts';
import { keepWatch } from '../../store/watches.ts';
import { addWorkflow } from '../../store/workflows.ts';
import { setStatus } from '../../store/workflow-state.ts';
import { fillSheet, fillWritten, fillDesk, quoted } from './fill-more.ts';

/** How much there is of what. */
export interface Size {
  brands: number;
  items: number;
  runs: number;
  acts: number;
}
export const LARGE: Size = { brands: 50, items: 1_000_000, runs: 500_000, acts: 300_000 };
/** The brand that is asked about has 600 items and 200 runs, about what the demonstration's has. */
export const SMALL: Size = { brands: 2, items: 3000, runs: 1000, acts: 800 };

/** Of each brand. */
const WATCHES = 8;
const WORKFLOWS = 12;
const OUTLETS = 6;

/** The first brand, and some of what is its own. */
export interface Filled {
  user: number;
  brand: number;
  workflow: number;
  watches: number[];
  outlet: number;
  account: number;
  run: number;
  post: { key: string; run: number };
  /** A sheet of Playa's own, and one of its rows. */
  sheet: number;
  row: number;
  /** Something on the desk, and who said it. */
  said: number;
  contact: number;
  /** A post written by hand. */
  written: number;
}

/** Fills an empty database. Times lie in the 90 days before the clock's. */
export async function fillLarge(
  services: Pick<Services, 'pool' | 'clock' | 'log' | 'vault'>,
  size: Size,
): Promise<Filled> {
  const { pool, clock } = services;
  const now = clock();
  const user = await addUser(pool, { email: 'mo@ternbay.example', name: 'Mo Okoro', passwordHash: 'none' });
  const brands: number[] = [];
  const watches: number[] = [];
  const workflows: number[] = [];
  const outlets: number[] = [];
  for (let number = 0; number < size.brands; number++) {
    const brand = await addBrand(pool, { name: `Lidos ${number}`, timeZone: 'Europe/Lisbon', locale: 'en' });
    await addMembership(pool, user, brand);
    brands.push(brand);
    const accountId = await keepAccount(pool, {
      brandId: brand,
      kind: 'pages',
      name: 'Pages',
      remoteId: String(number),
      remoteName: 'Mo',
      sealed: services.vault.seal(JSON.stringify({ access: 'token', refresh: null }), tokenOwner(brand, 'pages')),
      tokenExpiresAt: null,
      now,
    });
    await keepOutlets(
      pool,
      { brandId: brand, accountId },
      Array.from({ length: OUTLETS }, (_, index) => ({
        kind: 'page' as const,
        remoteId: `p${index}`,
        name: `Page ${index}`,
        address: null,
        feed: null,
      })),
      now,
    );
    const own = await select<{ id: number }>(pool, 'SELECT id FROM outlets WHERE brand_id = ? ORDER BY id', [brand]);
    outlets.push(...own.map(({ id }) => id));
    for (let index = 0; index < WATCHES; index++)
      watches.push(
        await keepWatch(pool, {
          brandId: brand,
          sourceKey: `feed:${number}.${index}`,
          kind: 'feed',
          params: { url: 'http://127.0.0.1:9/' },
          name: `Feed ${index}`,
          things: 'posts',
          everySeconds: 3600,
        }),
      );
    for (let index = 0; index < WORKFLOWS; index++) {
      const watch = watches.at(-1 - (index % WATCHES))!;
      const definition = posting(watch, [own[index % OUTLETS]!.id, own[(index + 1) % OUTLETS]!.id]);
      const id = await addWorkflow(pool, brand, `Workflow ${index}`, definition, now);
      await addVersion(pool, { brandId: brand, id }, definition, user, now);
      await setSubscriptions(pool, brand, id, definition.sources);
      await setStatus(pool, brand, id, index % 6 === 5 ? 'paused' : 'live', now);
      workflows.push(id);
    }
  }
  const first = { brand: brands[0]!, watch: watches[0]!, workflow: workflows[0]!, outlet: outlets[0]! };
  // Numbers are given out without gaps, so that they can be computed with.
  const brandOf = `IF(seq % 5 = 0, 0, 1 + seq % ${size.brands - 1})`;
  const start = toTime(now - 90 * 86_400_000);
  const at = (count: number) => `TIMESTAMPADD(SECOND, FLOOR(seq * ${(90 * 86_400) / count}), ?)`;
  await inTransaction(pool, async (db) => {
    await change(
      db,
      `INSERT INTO items (id, brand_id, watch_id, identity_hash, identity, published_at, seen_at, past, fields)
       SELECT seq, ${first.brand} + ${brandOf}, ${first.watch} + (${brandOf}) * ${WATCHES} + (seq DIV 50) % ${WATCHES},
         UNHEX(SHA2(seq, 256)), CONCAT('id:', seq), ${at(size.items)}, ${at(size.items)}, seq % 3 = 0,
         CONCAT('{"title":"Film ', seq, '","link":"https://lidos.example/films/', seq, '","description":"', REPEAT('Breathing on both sides. ', 4), '"}')
       FROM seq_1_to_${size.items}`,
      [start, start],
    );
  });
  const every = Math.floor(size.items / size.runs);
  const open = Math.max(20, Math.floor(size.runs / 400));
  // The newest are still open: some held, some waiting for a moment, some not begun.
  const status = `CASE WHEN seq <= ${size.runs - open * 3} THEN ELT(1 + seq % 10, 'done', 'done', 'done', 'done', 'done', 'done', 'stopped', 'stopped', 'done', 'cancelled')
    WHEN seq % 3 = 0 THEN 'held' WHEN seq % 3 = 1 THEN 'waiting' ELSE 'new' END`;
  const item = `(seq * ${every})`;
  const brandOfItem = brandOf.replaceAll('seq', item);
  const workflow = `${first.workflow} + (${brandOfItem}) * ${WORKFLOWS} + seq % ${WORKFLOWS}`;
  const outlet = `${first.outlet} + (${brandOfItem}) * ${OUTLETS} + seq % ${WORKFLOWS} % ${OUTLETS}`;
  const key = `CONCAT('key', seq, '.post.', ${outlet}, '.1')`;
  const withKey = (document: object) =>
    `REPLACE(REPLACE(${quoted(JSON.stringify(document))}, '"KEY"', CONCAT('"', ${key}, '"')), '"OUTLET"', ${outlet})`;
  await inTransaction(pool, async (db) => {
    await change(
      db,
      `INSERT INTO runs (id, uuid, brand_id, workflow_id, version, item_id, status, state, trace, due_at, created_at, changed_at)
       SELECT seq, INSERT(INSERT(MD5(seq), 9, 0, '-'), 14, 0, '-'), ${first.brand} + ${brandOfItem}, ${workflow}, 1, ${item}, ${status},
         CASE ${status} WHEN 'held' THEN ${withKey(HELD)} WHEN 'waiting' THEN ${withKey(WAITING)} WHEN 'new' THEN NULL ELSE ${withKey(DONE)} END,
         ${withKey(TRACE)}, IF(${status} IN ('new', 'waiting'), TIMESTAMPADD(MINUTE, 60 + seq % 10000, ?), NULL), ${at(size.runs)}, ${at(size.runs)}
       FROM seq_1_to_${size.runs}`,
      [toTime(now), start, start],
    );
  });
  const sent = Math.min(size.acts, size.runs - open * 3);
  await inTransaction(pool, async (db) => {
    const act = `seq, ${key}, ${first.brand} + ${brandOfItem}, ${workflow}, seq, 'post', ${outlet}`;
    await change(
      db,
      `INSERT INTO effects (id, effect_key, brand_id, workflow_id, run_id, step, outlet_id, account_id, action, input, status, due_at, outcome, created_at)
       SELECT ${act}, 1 + (${brandOfItem}), 'publish', ${quoted(JSON.stringify(INPUT))}, IF(seq > ${sent - open}, 'planned', 'done'),
         IF(seq > ${sent - open}, TIMESTAMPADD(MINUTE, 60 + seq % 10000, ?), NULL), NULL, ${at(size.runs)}
       FROM seq_1_to_${sent}`,
      [toTime(now), start],
    );
    await change(
      db,
      `INSERT INTO logbook (id, effect_key, brand_id, workflow_id, run_id, step, outlet_id, action, text, card, url, remote_id, at)
       SELECT ${act}, 'publish', CONCAT('New: Film ', seq), NULL, CONCAT('https://pages.example/', seq), seq, ${at(size.runs)}
       FROM seq_1_to_${sent - open}`,
      [start],
    );
  });
  // A twentieth of the items has changed once; what was said lately is claimed.
  await change(
    pool,
    `INSERT INTO item_versions (item_id, revision, fields) SELECT seq, 0, '{"title":"Before"}' FROM seq_20_to_${size.items}_step_20`,
  );
  await change(pool, 'UPDATE items SET revision = 1 WHERE id IN (SELECT item_id FROM item_versions)');
  await change(
    pool,
    `INSERT INTO claims (brand_id, about_hash, effect_key, run_id, workflow_id, at)
     SELECT ${first.brand} + ${brandOfItem} AS brand, UNHEX(SHA2(seq, 256)), ${key}, seq, ${workflow}, ? FROM seq_1_to_${sent}`,
    [toTime(now)],
  );
  const sheet = await fillSheet(pool, first.brand, Math.max(20, Math.floor(size.acts / 30)), now);
  const written = await fillWritten(pool, first, Math.max(20, Math.floor(size.acts / 30)), 5 * every, now);
  const desk = await fillDesk(pool, first, Math.max(40, Math.floor(size.acts / 15)), now);
  for (const table of [
    'written_posts',
    'desk_entries',
    'contacts',
    'sheets',
    'sheet_rows',
    'sheet_history',
    'item_versions',
    'claims',
    'items',
    'runs',
    'effects',
    'logbook',
    'workflows',
    'versions',
    'outlets',
    'watches',
  ])
    await select(pool, `ANALYZE TABLE ${table}`);
  await rebuildRecords(services);
  for (const table of ['held', 'posts_ahead', 'version_posts', 'counts']) await select(pool, `ANALYZE TABLE ${table}`);
  const one = async <T>(sql: string) => (await select<T>(pool, sql, [first.brand]))[0]!;
  return {
    user,
    ...first,
    watches: watches.slice(0, WATCHES),
    account: (await one<{ id: number }>('SELECT id FROM accounts WHERE brand_id = ?')).id,
    run: (await one<{ id: number }>("SELECT id FROM runs WHERE brand_id = ? AND status = 'done' LIMIT 1")).id,
    ...sheet,
    written,
    ...desk,
    post: await one("SELECT effect_key AS 'key', run_id AS run FROM logbook WHERE brand_id = ? LIMIT 1"),
  };
}

const posting = (watch: number, pages: number[]): Definition => ({
  schema: 1,
  sources: [{ id: 'source', watch }],
  steps: [
    { id: 'wait', verb: 'wait', until: { type: 'duration', seconds: 60 } },
    { id: 'words', verb: 'compose', name: 'caption', text: 'New: {$title}' },
    { id: 'post', verb: 'publish', outlets: pages, caption: 'caption', card: 'link' },
  ],
});

const INPUT = { text: 'New: Film', card: 'https://lidos.example/films/1' };
const HELD = {
  status: 'held',
  root: {
    at: 'post',
    values: { caption: 'New: Film' },
    wait: {
      for: 'acts',
      tries: 0,
      slots: [
        {
          key: 'KEY',
          outlet: 'OUTLET' as unknown as number,
          action: 'publish',
          input: INPUT,
          generation: 1,
          status: 'held',
          says: 'It is too long for Page 1.',
          trouble: 'too-long',
        },
      ],
    },
  },
  generation: 1,
  failures: 0,
} satisfies RunState;
const WAITING = {
  status: 'waiting',
  root: { at: 'wait', values: {}, wait: { for: 'moment', until: 0, then: 'next', tries: 0 } },
  generation: 1,
  failures: 0,
} satisfies RunState;
const DONE = {
  status: 'done',
  root: { at: null, values: { caption: 'New: Film' } },
  generation: 1,
  failures: 0,
} satisfies RunState;
const TRACE = {
  wait: { kind: 'passes', why: 'Waited for a minute, as the sheet says.' },
} satisfies Trace;
