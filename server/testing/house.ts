// What integration tests stand on: a fresh database on the test MariaDB, a real Lagoon in its own process, and
// services with a clock that can be moved.
import { spawn, type ChildProcess } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { fileURLToPath } from 'node:url';
import { beginConnect, finishConnect } from '../accounts/connect.ts';
import { environments } from '../../bin/lib/house.mjs';
import { freePort } from '../../bin/lib/ports.mjs';
import { connectByForm } from '../accounts/sign-in.ts';
import { readConfig } from '../base/config.ts';
import { change, makeDatabase, openPool, select } from '../db/database.ts';
import { migrate } from '../db/migrate.ts';
import { consentAs } from '../demo/lagoon.ts';
import { sendDue } from '../desk/send.ts';
import { takeRuns } from '../runner/take-runs.ts';
import { performEffects, type PerformOptions } from '../runner/perform-effects.ts';
import { closeServices, openServices } from '../compose.ts';
import type { Services } from '../base/services.ts';
import type { AccountKind } from '../store/accounts.ts';
import { outletsOf, type Outlet } from '../store/outlets.ts';
import * as users from '../store/users.ts';
import { keepWatch } from '../store/watches.ts';
import { findSource } from '../watch/find-source.ts';
import { readDeliveries } from '../watch/hooks.ts';
import { lookNow } from '../watch/look.ts';
import { startTurning } from '../watch/turning.ts';

/** By how much the clocks of these tests are ahead of the machine's: `npm test` sets the hour. */
const AHEAD = Number(process.env.PLAYA_TEST_AHEAD ?? 0);
/** What time it is in the world of these tests, where nobody has moved a clock. */
export const testNow = (): number => Date.now() + AHEAD;

const ROOT = fileURLToPath(new URL('../..', import.meta.url));
const SECRET = 'lagoon-secret-for-tests';

/** @param server the fault test keeps Lagoon on another one than Playa, which it restarts */
function databaseUrl(name: string, server = process.env.PLAYA_TEST_DATABASE): string {
  if (!server) throw new Error('These tests need the test database: run them with npm test -- unit');
  return server.replace(/\/?$/, `/${name}`);
}

export interface House {
  services: Services;
  env: Record<string, string>;
  lagoon: string;
  /** Playa's clock in this test. */
  clock: { now: number };
  lidos: number;
  bakehouse: number;
  mo: number;
  close(): Promise<void>;
  connect(kind: AccountKind, brandId?: number): Promise<number>;
  watch(pasted?: string, brandId?: number): Promise<number>;
  page(name?: string): Promise<number>;
  upload(
    film?: Partial<{ handle: string; title: string; description: string; seconds: number; publishedAt: number }>,
  ): Promise<string>;
  fault(service: string, fault: object, count?: number): Promise<void>;
  /** Plays somebody of Lagoon's audience. */
  play(act: { do: string } & Record<string, unknown>, at?: number): Promise<number>;
  /** What one of Lagoon's smaller services holds, oldest first. */
  things<T = Record<string, unknown>>(service: string, kind: string): Promise<{ id: number; body: T }[]>;
  outlet(name: string, accountId?: number): Promise<Outlet>;
  /** Takes back everything people have given to applications at a service. */
  revoke(service: string): Promise<void>;
  behave(): Promise<void>;
  /** Posts on one of Lagoon's pages, oldest first, as its audience has them. */
  posts(slug?: string): Promise<{ id: string; text: string; link: string | null }[]>;
  settle(options?: PerformOptions): Promise<void>;
}

/** Starts Lagoon and waits until it answers. */
async function startLagoon(port: number, env: Record<string, string>): Promise<ChildProcess> {
  const child = spawn(process.execPath, ['--import', 'tsx', 'lagoon/main.ts'], {
    cwd: ROOT,
    env: { ...process.env, ...env },
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  // A busy machine takes its time to start a program.
  for (let tries = 0; tries < 1200; tries++) {
    try {
      if ((await fetch(`http://127.0.0.1:${port}/style.css`)).ok) return child;
    } catch {
      if (child.exitCode !== null) break;
    }
    await new Promise((done) => setTimeout(done, 50));
  }
  throw new Error('Lagoon did not start.');
}

/** @param allow host:port pairs of the test's own servers that Playa may fetch from */
export async function openHouse(changes: Partial<Services> = {}, allow: readonly string[] = []): Promise<House> {
  const id = randomBytes(5).toString('hex');
  const url = databaseUrl(`playa_${id}`);
  const lagoonUrl = databaseUrl(`lagoon_${id}`, process.env.PLAYA_TEST_LAGOON_DATABASE);
  const [port, lagoonPort] = [await freePort(), await freePort()];
  const lagoon = `http://127.0.0.1:${lagoonPort}`;
  const made = environments({
    port,
    lagoonPort,
    mailPort: await freePort(),
    databaseUrl: url,
    lagoonDatabaseUrl: lagoonUrl,
    secrets: { vaultKey: randomBytes(32).toString('base64'), lagoonClient: SECRET },
    demo: false,
    webDir: '',
    clockAhead: AHEAD,
  });
  const env: Record<string, string> = {
    ...made.playa,
    PLAYA_ALLOW_PRIVATE: [made.playa.PLAYA_ALLOW_PRIVATE, ...allow].join(','),
    PLAYA_LOG: 'silent',
    PLAYA_CHECK_ANSWERS: '1',
  };
  const process_ = await startLagoon(lagoonPort, { ...made.lagoon, LAGOON_WRITES_PER_MINUTE: '100000' });
  await makeDatabase(url);
  const clock = { now: testNow() };
  const lagoonDb = openPool(lagoonUrl, 2);
  const services = openServices(readConfig(env), { clock: () => clock.now, ...changes });
  await migrate(services.pool);
  const mo = await users.addUser(services.pool, {
    email: 'mo@ternbay.example',
    name: 'Mo Okoro',
    passwordHash: 'none',
  });
  const lidos = await users.addBrand(services.pool, {
    name: 'Tern Bay Lidos',
    timeZone: 'Europe/Lisbon',
    locale: 'en',
  });
  const bakehouse = await users.addBrand(services.pool, {
    name: 'Marram Bakehouse',
    timeZone: 'Europe/London',
    locale: 'en',
  });
  await users.addMembership(services.pool, mo, lidos);
  await users.addMembership(services.pool, mo, bakehouse);

  const control = async (method: string, path: string, body?: object) => {
    const answer = await fetch(`${lagoon}/control/api/${path}`, {
      method,
      headers: { 'content-type': 'application/json' },
      ...(body ? { body: JSON.stringify(body) } : {}),
    });
    if (!answer.ok) throw new Error(`Lagoon's control refused ${path}: ${answer.status}`);
    return answer;
  };

  const house: House = {
    services,
    env,
    lagoon,
    clock,
    lidos,
    bakehouse,
    mo,
    async close() {
      process_.kill('SIGKILL');
      await change(lagoonDb, `DROP DATABASE lagoon_${id}`);
      await lagoonDb.end();
      await change(services.pool, `DROP DATABASE playa_${id}`);
      await closeServices(services);
    },
    async connect(kind, brandId = lidos) {
      const { signIn } = services.connectors[kind];
      if (signIn.by === 'form') {
        const brand = (await users.brandById(services.pool, brandId))!;
        if (kind === 'mail')
          return connectByForm(services, brand, kind, { user: 'mo', password: 'letters', from: 'mo@ternbay.example' });
        const { token } = (await (
          await control('POST', 'keys', { service: kind, person: 1, name: 'Pool bot' })
        ).json()) as { token: string };
        return connectByForm(services, brand, kind, { token });
      }
      const page = await beginConnect(services, { brandId, userId: mo, kind, backTo: '/accounts' });
      const brands = await users.brandsOf(services.pool, mo);
      return (
        await finishConnect(services, mo, await consentAs(services, 1, page), (each) =>
          brands.find((brand) => brand.id === each),
        )
      ).accountId;
    },
    async watch(pasted = '@ternbaylidos', brandId = lidos) {
      const { found } = await findSource(services, pasted);
      if (!found) throw new Error(`Nothing was found for ${pasted}`);
      const watchId = await keepWatch(services.pool, {
        brandId,
        sourceKey: found.key,
        kind: found.kind,
        params: found.params,
        name: found.name,
        things: found.things,
        everySeconds: 60,
      });
      await lookNow(services, watchId);
      return watchId;
    },
    async page(name = 'Tern Bay Lidos') {
      return (await outletsOf(services.pool, lidos)).find((outlet) => outlet.name === name)!.id;
    },
    async upload(film = {}) {
      const answer = await control('POST', 'videos', {
        handle: 'ternbaylidos',
        title: 'A new film',
        description: 'About it. And more.',
        seconds: 300,
        ...film,
      });
      return ((await answer.json()) as { id: string }).id;
    },
    async fault(service, fault, count = 1) {
      await control('POST', 'faults', { service, fault, count });
    },
    async play(act, at) {
      const answer = await control('POST', 'acts', { act, ...(at === undefined ? {} : { at }) });
      return ((await answer.json()) as { id: number }).id;
    },
    async things<T>(service: string, kind: string) {
      const rows = await select<{ id: number; body: string }>(
        lagoonDb,
        'SELECT id, body FROM things WHERE service = ? AND kind = ? ORDER BY id',
        [service, kind],
      );
      return rows.map((row) => ({ id: row.id, body: JSON.parse(row.body) as T }));
    },
    async outlet(name, accountId) {
      const all = await outletsOf(services.pool, lidos);
      const found = all.find((each) => each.name === name && (accountId === undefined || each.accountId === accountId));
      if (!found) throw new Error(`There is no outlet ${name} among ${all.map((each) => each.name).join(', ')}`);
      return found;
    },
    async revoke(service) {
      await control('POST', 'revoke', { service });
    },
    async behave() {
      await control('DELETE', 'faults');
    },
    async posts(slug = 'tern-bay-lidos') {
      const rows = await select<{ id: number; message: string; link: string | null }>(
        lagoonDb,
        `SELECT p.id, p.message, p.link FROM posts p JOIN pages g ON g.id = p.page_id WHERE g.slug = ? ORDER BY p.id`,
        [slug],
      );
      return rows.map((row) => ({ id: String(row.id), text: row.message, link: row.link }));
    },
    async settle(options = {}) {
      while (
        (await readDeliveries(services)) +
          (await startTurning(services)) +
          (await sendDue(services)) +
          (await takeRuns(services)) +
          (await performEffects(services, options)) >
        0
      );
    },
  };
  return house;
}
