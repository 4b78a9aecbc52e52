// What the engine's benchmarks stand on: a fresh database on a private MariaDB with a server's usual settings, a brand, a
// workflow, and a network that answers at once.
import { randomBytes } from 'node:crypto';
import { NO_SETTINGS } from '@playa/core/workflow/settings.ts';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { readConfig } from '@playa/server/base/config.ts';
import { CONNECTORS } from '@playa/server/connectors/index.ts';
import type { Connector } from '@playa/server/connectors/connector.ts';
import { change, makeDatabase } from '@playa/server/db/database.ts';
import { migrate } from '@playa/server/db/migrate.ts';
import { openServices } from '@playa/server/compose.ts';
import type { Services } from '@playa/server/base/services.ts';
import { keepAccount } from '@playa/server/store/accounts.ts';
import { keepOutlets, outletsOf } from '@playa/server/store/outlets.ts';
import { addBrand, addMembership, addUser } from '@playa/server/store/users.ts';
import { keepWatch } from '@playa/server/store/watches.ts';
import { addVersion, setSubscriptions } from '@playa/server/store/versions.ts';
import { addWorkflow, workflowBy } from '@playa/server/store/workflows.ts';
import { setStatus } from '@playa/server/store/workflow-state.ts';
import { Vault } from '@playa/server/vault/vault.ts';
import { tokenOwner } from '@playa/server/accounts/sessions.ts';

export interface BenchHouse {
  services: Services;
  env: Record<string, string>;
  brand: number;
  page: number;
  url: string;
}

/** A network that answers at once and keeps nothing. */
export const instant: Connector = {
  ...CONNECTORS.pages,
  acts: {
    publish: {
      repeats: 'keyed',
      send: async (_session, _outlet, _input, key) => ({ remoteId: key, url: null, at: Date.now() }),
    },
  },
};

export async function openBench(changes: Partial<Services> = {}, port = 0): Promise<BenchHouse> {
  const server = process.env.PLAYA_TEST_DATABASE;
  if (!server) throw new Error('Run the benchmarks with npm run bench:engine.');
  const url = server.replace(/\/?$/, `/bench_${randomBytes(4).toString('hex')}`);
  const key = randomBytes(32);
  const env = {
    PLAYA_ORIGIN: `http://127.0.0.1:${port || 4810}`,
    PLAYA_DATABASE_URL: url,
    PLAYA_VAULT_KEY: key.toString('base64'),
    PLAYA_NETWORKS: JSON.stringify({
      pages: { name: 'Pages', base: 'http://127.0.0.1:9', clientId: 'x', clientSecret: 'x' },
    }),
    PLAYA_LOG: 'error',
  };
  await makeDatabase(url);
  const services = openServices(readConfig(env), { connectors: { ...CONNECTORS, pages: instant }, ...changes });
  await migrate(services.pool);
  const now = services.clock();
  const user = await addUser(services.pool, { email: 'mo@ternbay.example', name: 'Mo', passwordHash: 'none' });
  const brand = await addBrand(services.pool, { name: 'Tern Bay Lidos', timeZone: 'Europe/Lisbon', locale: 'en' });
  await addMembership(services.pool, user, brand);
  const tokens = JSON.stringify({ access: 'token', refresh: null });
  const account = await keepAccount(services.pool, {
    brandId: brand,
    kind: 'pages',
    name: 'Pages',
    remoteId: '1',
    remoteName: 'Mo',
    sealed: new Vault(key).seal(tokens, tokenOwner(brand, 'pages')),
    tokenExpiresAt: null,
    now,
  });
  await keepOutlets(
    services.pool,
    { brandId: brand, accountId: account },
    [{ kind: 'page', remoteId: 'p', name: 'A page', address: null, feed: null }],
    now,
  );
  const [outlet] = await outletsOf(services.pool, brand);
  return { services, env, brand, page: outlet!.id, url };
}

/** Five steps with one effect: check, split, compose, compose, publish. */
export const fiveSteps = (watch: number, page: number): Definition => ({
  schema: 1,
  sources: [{ id: 's', watch }],
  steps: [
    {
      id: 'check',
      verb: 'check',
      condition: { type: 'group', match: 'all', items: [{ type: 'test', field: 'title', op: 'filled' }] },
    },
    {
      id: 'way',
      verb: 'split',
      by: 'asks',
      cases: [
        {
          id: 'a',
          name: '',
          when: { type: 'group', match: 'all', items: [{ type: 'test', field: 'n', op: 'above', value: -1 }] },
          share: 1,
          steps: [{ id: 'intro', verb: 'compose', name: 'intro', text: 'New: {$title}' }],
        },
      ],
      otherwise: [],
    },
    { id: 'words', verb: 'compose', name: 'caption', text: '{$intro}. Number {$n}.' },
    { id: 'post', verb: 'publish', outlets: [page], caption: 'caption', card: null },
  ],
});

/** A live workflow on a made-up feed that is never looked at. */
export async function liveWorkflow(house: BenchHouse, make: (watch: number) => Definition, watchId?: number) {
  const { services, brand } = house;
  const watch =
    watchId ??
    (await keepWatch(services.pool, {
      brandId: brand,
      sourceKey: `feed:bench:${randomBytes(4).toString('hex')}`,
      kind: 'feed',
      params: { url: 'http://127.0.0.1:9/' },
      name: 'A feed',
      things: 'posts',
      everySeconds: 3600,
    }));
  // A benchmark sends more in an hour than an audience would bear.
  const brake = { hour: 10_000, day: 100_000 };
  const made = make(watch);
  const definition = { ...made, settings: { ...NO_SETTINGS, ...made.settings, brake } };
  const id = await addWorkflow(services.pool, brand, 'A workflow', definition, services.clock());
  const workflow = (await workflowBy(services.pool, brand, id))!;
  const version = await addVersion(services.pool, workflow, definition, null, services.clock());
  await setSubscriptions(services.pool, brand, id, definition.sources);
  await setStatus(services.pool, brand, id, 'live', services.clock());
  return { id, watch, version };
}

export async function closeBench(house: BenchHouse): Promise<void> {
  await change(house.services.pool, `DROP DATABASE ${new URL(house.url).pathname.slice(1)}`);
  await house.services.guard.close();
  await house.services.pool.end();
}

export const median = (values: readonly number[]): number =>
  [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)]!;
export const percentile = (values: readonly number[], share: number): number =>
  [...values].sort((a, b) => a - b)[Math.min(values.length - 1, Math.floor(values.length * share))]!;
