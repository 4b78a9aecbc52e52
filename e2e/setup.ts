// Starts Lagoon, the web server and a worker on ports and databases of their own, with the demonstration in them.
import { spawn, type ChildProcess } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { environments } from '../bin/lib/house.mjs';
import { freePort } from '../bin/lib/ports.mjs';

const root = dirname(dirname(fileURLToPath(import.meta.url)));

export default async function setup(): Promise<() => Promise<void>> {
  const server = process.env.PLAYA_TEST_DATABASE;
  if (!server) throw new Error('The browser tests need the test database: run them with npm test -- e2e');
  const id = randomBytes(4).toString('hex');
  const database = (name: string) => server.replace(/\/?$/, `/${name}_${id}`);
  const [port, lagoonPort, mailPort] = [await freePort(), await freePort(), await freePort()];
  const secret = () => randomBytes(24).toString('base64url');
  const env = environments({
    port,
    lagoonPort,
    mailPort,
    databaseUrl: database('playa'),
    lagoonDatabaseUrl: database('lagoon'),
    secrets: { vaultKey: randomBytes(32).toString('base64'), lagoonClient: secret() },
    demo: true,
    webDir: join(root, 'web', 'dist'),
    clockAhead: Number(process.env.PLAYA_TEST_AHEAD ?? 0),
  });
  const running: ChildProcess[] = [];
  const start = (script: string, vars: Record<string, string>) =>
    running.push(
      spawn(process.execPath, ['--import', 'tsx', script], {
        cwd: root,
        env: { ...process.env, ...vars, PLAYA_LOG: 'warn', PLAYA_CHECK_ANSWERS: '1' },
        stdio: ['ignore', 'ignore', 'inherit'],
      }),
    );
  start('lagoon/main.ts', env.lagoon);
  start('server/main.ts', env.playa);
  // A busy machine takes its time to set up the demonstration; whoever has ended says why itself.
  const until = Date.now() + 240_000;
  for (;;) {
    const up = await fetch(`${env.origin}/api/health`).then(
      (answer) => answer.ok,
      () => false,
    );
    if (up) break;
    const ended = running.some((child) => child.exitCode !== null || child.signalCode !== null);
    if (ended || Date.now() > until) {
      for (const child of running) child.kill('SIGKILL');
      throw new Error(ended ? 'A program ended before Playa was up.' : 'Playa did not come up.');
    }
    await new Promise((done) => setTimeout(done, 150));
  }
  start('server/worker.ts', env.playa);
  process.env.PLAYA_URL = env.origin;
  process.env.LAGOON_URL = env.lagoonOrigin;
  return async () => {
    for (const child of running) child.kill('SIGKILL');
  };
}
