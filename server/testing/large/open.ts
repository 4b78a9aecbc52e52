// A filled database of its own, and what is needed to ask everything of it that screens and workers ask.
import { randomBytes } from 'node:crypto';
import { readConfig } from '../../base/config.ts';
import type { Services } from '../../base/services.ts';
import { closeServices, openServices } from '../../compose.ts';
import { CONNECTORS } from '../../connectors/index.ts';
import { change, makeDatabase } from '../../db/database.ts';
import { migrate } from '../../db/migrate.ts';
import type { Endpoint } from '../../http/contract/endpoint.ts';
import { allEndpoints } from '../../http/endpoints/index.ts';
import { fillLarge, type Filled, type Size } from './fill.ts';

export interface Opened {
  services: Services;
  filled: Filled;
  close(): Promise<void>;
}

/** Makes a database of this size on the test server. Nothing in it ever reaches a network. */
export async function openLarge(size: Size): Promise<Opened> {
  const server = process.env.PLAYA_TEST_DATABASE;
  if (!server)
    throw new Error('This needs the test database: run it with npm test -- large, or npm run bench:queries.');
  const name = `large_${randomBytes(4).toString('hex')}`;
  const url = server.replace(/\/?$/, `/${name}`);
  await makeDatabase(url);
  const config = readConfig({
    PLAYA_ORIGIN: 'http://127.0.0.1:4810',
    PLAYA_DATABASE_URL: url,
    PLAYA_VAULT_KEY: randomBytes(32).toString('base64'),
    PLAYA_NETWORKS: JSON.stringify({
      pages: { name: 'Pages', base: 'http://127.0.0.1:9', clientId: 'x', clientSecret: 'x' },
    }),
    PLAYA_LOG: 'silent',
  });
  const services = openServices(config, {
    connectors: {
      ...CONNECTORS,
      pages: {
        ...CONNECTORS.pages,
        acts: {
          publish: {
            repeats: 'keyed',
            send: async (_session, _outlet, _input, key) => ({ remoteId: key, url: null, at: Date.now() }),
          },
        },
      },
    },
  });
  await migrate(services.pool);
  const filled = await fillLarge(services, size);
  return {
    services,
    filled,
    async close() {
      await change(services.pool, `DROP DATABASE ${name}`);
      await closeServices(services);
    },
  };
}

/**
 * Every screen's endpoint that only reads and answers with data, with how it is asked here; null where it cannot be.
 *
 * @param queries how some are asked instead, by name
 */
export function readingEndpoints(
  { filled }: Pick<Opened, 'filled'>,
  queries: Readonly<Record<string, unknown>> = {},
): { name: string; ask: (services: Services) => Promise<unknown> }[] {
  const endpoints = allEndpoints({ listen: () => undefined, endSessions: () => undefined });
  return endpoints
    .filter(({ described }) => described.method === 'get' && described.answersItself === undefined)
    .filter(({ described: { name } }) => !NOT_HERE.has(name))
    .map((endpoint) => ({
      name: endpoint.described.name,
      ask: (services) => askAs(endpoint, filled, services, queries),
    }));
}

/** These ask a network or a page, or need what is not in this database. */
const NOT_HERE: ReadonlySet<string> = new Set(['readTrouble', 'previewLink', 'openHook']);

function askAs(
  endpoint: Endpoint,
  filled: Filled,
  services: Services,
  queries: Readonly<Record<string, unknown>>,
): Promise<unknown> {
  const { name, query } = endpoint.described;
  const ofSheet = ['openSheet', 'listSheetRows', 'openSheetRow'].includes(name);
  const params: Record<string, unknown> = {
    id:
      name === 'previewRerun'
        ? filled.run
        : name === 'openWritten'
          ? filled.written
          : ofSheet
            ? filled.sheet
            : filled.workflow,
    row: filled.row,
    item: filled.said,
    contact: filled.contact,
    run: filled.post.run,
    key: filled.post.key,
    step: 'post',
  };
  const asked: Record<string, unknown> = {
    // It reads and sorts as many as it is asked for.
    listItems: { watches: filled.watches.slice(0, 2).join(), most: 500 },
    forecastCalendar: { from: Date.now() - 4 * 86_400_000, to: Date.now() + 3 * 86_400_000 },
    openCalendar: { from: Date.now() - 4 * 86_400_000, to: Date.now() + 3 * 86_400_000 },
    readLogbook: { words: 'film 47' },
    saidLately: { outlets: String(filled.outlet), except: filled.workflow },
    ...queries,
  };
  return endpoint.run({
    services,
    params,
    query: query?.parse(asked[name] ?? {}) ?? {},
    brand: { id: filled.brand, name: 'Lidos', role: 'owner', timeZone: 'Europe/Lisbon', locale: 'en' },
    brands: [{ id: filled.brand, name: 'Lidos', role: 'member', timeZone: 'Europe/Lisbon', locale: 'en' }],
    user: { id: filled.user, email: 'mo@ternbay.example', name: 'Mo Okoro' },
    csrf: '',
  } as never);
}
