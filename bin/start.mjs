// npm start: everything from a fresh machine to a running demonstration. `--fresh` starts the demonstration anew.
import { mkdirSync, rmSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { needInterface } from './lib/build.mjs';
import { environments } from './lib/house.mjs';
import { startMariadb } from './lib/mariadb.mjs';
import { needDebianPackages, needNode, needNpmPackages, needRoom } from './lib/needs.mjs';
import { needPort } from './lib/ports.mjs';
import { Processes, waitFor } from './lib/processes.mjs';
import { Stop, runMain, say } from './lib/say.mjs';
import { readSecrets } from './lib/secrets.mjs';
import { aheadFor } from './lib/set-clock.mjs';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
const folder = join(root, '.playa');
const fresh = process.argv.includes('--fresh');

await runMain(async () => {
  const port = portFrom('PLAYA_PORT', 4810);
  const lagoonPort = portFrom('LAGOON_PORT', 4811);
  const mailPort = portFrom('LAGOON_MAIL_PORT', lagoonPort + 1);
  const given = process.env.PLAYA_DATABASE_URL;
  needNode();
  needRoom(root, 600);
  await needPort(port, 'PLAYA_PORT');
  await needPort(lagoonPort, 'LAGOON_PORT');
  await needPort(mailPort, 'LAGOON_MAIL_PORT');
  if (!given) needDebianPackages(['mariadb-server']);
  needNpmPackages(root);

  if (fresh && given)
    throw new Stop('--fresh empties only Playa’s own private database. Empty the one in PLAYA_DATABASE_URL yourself.');
  if (fresh) rmSync(join(folder, 'db'), { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
  const secrets = readSecrets(join(folder, 'secrets.json'));

  let mariadb = null;
  const programs = new Processes();
  let stopping = null;
  const stop = (code) => {
    stopping ??= (async () => {
      await programs.stop();
      await mariadb?.stop();
      process.exit(code);
    })();
    return stopping;
  };
  // Before anything is started, so that nothing is left behind by whoever stops early.
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => (say('\nStopping …'), stop(0)));
  if (!given) {
    mariadb = await startMariadb({ folder, password: secrets.database });
    void keepUp();
  }
  /** A database that dies is started again, at the same place; everything else waits for it and goes on. */
  async function keepUp() {
    for (let times = 0; ; times++) {
      await mariadb.ended;
      if (stopping) return;
      if (times === 10) {
        console.error('The database has ended ten times. Its log is .playa/mariadb.log.');
        return void stop(1);
      }
      say('The database ended unexpectedly; starting it again …');
      try {
        mariadb = await startMariadb({ folder, password: secrets.database, port: mariadb.port });
      } catch (error) {
        console.error(error.message);
        return void stop(1);
      }
    }
  }

  try {
    needInterface(root);
    const env = environments({
      port,
      lagoonPort,
      mailPort,
      databaseUrl: given ?? mariadb.url('playa'),
      lagoonDatabaseUrl: process.env.LAGOON_DATABASE_URL ?? (given ? sibling(given, 'lagoon') : mariadb.url('lagoon')),
      secrets,
      demo: true,
      webDir: join(root, 'web', 'dist'),
      // For looking at another day: a moment as ISO 8601 has it.
      clockAhead: process.env.PLAYA_CLOCK ? Math.round(aheadFor(process.env.PLAYA_CLOCK)) : 0,
    });
    env.playa.PLAYA_LOG = process.env.PLAYA_LOG ?? 'warn';
    const onExit = (name) => (code) => {
      console.error(`${name} ended unexpectedly (${code}).`);
      void stop(1);
    };
    const start = (name, script, vars) =>
      programs.start({ name, root, script, env: vars, quiet: name === 'Lagoon', onExit: onExit(name) });
    start('Lagoon', 'lagoon/main.ts', env.lagoon);
    start('The web server', 'server/main.ts', env.playa);
    await Promise.all([
      waitFor(`${env.lagoonOrigin}/`, 'Lagoon'),
      waitFor(`${env.origin}/api/health`, 'The web server', 120),
    ]);
    say(
      `\n  Playa is at ${env.origin}\n  Lagoon, its made-up social world, is at ${env.lagoonOrigin}\n\n  Ctrl+C stops everything; your data stays.\n`,
    );
  } catch (error) {
    await programs.stop();
    await mariadb?.stop();
    throw error;
  }
});

function portFrom(name, usual) {
  const text = process.env[name] ?? String(usual);
  if (!/^\d{1,5}$/.test(text) || Number(text) < 1 || Number(text) > 65535)
    throw new Stop(`${name} is “${text}”; it has to be a port, 1 to 65535.`);
  return Number(text);
}

function sibling(url, database) {
  const other = new URL(url);
  other.pathname = `/${database}`;
  return other.href;
}
