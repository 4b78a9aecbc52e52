// npm run soak: whether memory stays flat. Playa with its demonstration, a worker of its own and Lagoon run for half an
// hour (or so many minutes: npm run soak -- 5) while Lagoon's people do in that time what they otherwise do in a week,
// which is more than three hundred times the demonstration's pace.
import { mkdirSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { fileURLToPath } from 'node:url';
import { linearRegression, median } from 'simple-statistics';
import { needInterface } from './lib/build.mjs';
import { environments } from './lib/house.mjs';
import { startMariadb } from './lib/mariadb.mjs';
import { needDebianPackages, needNode, needNpmPackages, needRoom } from './lib/needs.mjs';
import { freePort } from './lib/ports.mjs';
import { Processes, waitFor } from './lib/processes.mjs';
import { Stop, runMain, say } from './lib/say.mjs';
import { readSecrets } from './lib/secrets.mjs';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
const minutes = Number(process.argv[2] ?? 30);
const WEEK = 7 * 86_400_000;
/** Caches fill and code is compiled before this share of the time; what counts comes after. */
const WARM = 1 / 3;
/** What a process may grow by in the counted time, as a share of what it holds: garbage comes and goes. */
const MAY_GROW = 0.15;
const EVERY = 5000;

await runMain(async () => {
  if (!(minutes >= 1 && minutes <= 1440)) throw new Stop('npm run soak takes the number of minutes, 1 to 1440.');
  needNode();
  needRoom(root, 1000);
  needDebianPackages(['mariadb-server']);
  needNpmPackages(root);
  needInterface(root);
  mkdirSync(join(root, '.playa'), { recursive: true });
  const folder = mkdtempSync(join(root, '.playa', 'soak-'));
  const mariadb = await startMariadb({ folder, password: 'soak' });
  const programs = new Processes();
  let failed = null;
  try {
    const [port, lagoonPort] = [await freePort(), await freePort()];
    const env = environments({
      port,
      lagoonPort,
      mailPort: await freePort(),
      databaseUrl: mariadb.url('playa'),
      lagoonDatabaseUrl: mariadb.url('lagoon'),
      secrets: readSecrets(join(folder, 'secrets.json')),
      demo: true,
      webDir: join(root, 'web', 'dist'),
    });
    env.playa.PLAYA_LOG = 'error';
    const start = (name, script, vars) =>
      programs.start({
        name,
        root,
        script,
        env: vars,
        quiet: true,
        onExit: (code) => (failed = new Stop(`${name} ended (${code}).`)),
      });
    start('Lagoon', 'lagoon/main.ts', env.lagoon);
    const server = start('The web server', 'server/main.ts', env.playa);
    await waitFor(`${env.origin}/api/health`, 'The web server', 180);
    const worker = start('The worker', 'server/worker.ts', env.playa);
    await pause(5000);

    say(`What happens in a week happens in ${minutes} minutes; memory is read every ${EVERY / 1000} s.`);
    const watched = { 'the web server': server.pid, 'the worker': worker.pid };
    const seen = Object.fromEntries(Object.keys(watched).map((name) => [name, []]));
    const began = Date.now();
    const ends = began + minutes * 60_000;
    let things = 0;
    for (let round = 0; Date.now() < ends; round++) {
      if (failed) throw failed;
      // As much of a week as this round is of the whole.
      const to = Date.now();
      const from = to - (WEEK * EVERY) / (minutes * 60_000);
      const answer = await fetch(`${env.lagoonOrigin}/control/api/weeks`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ seed: `soak ${round}`, from, to }),
      });
      if (answer.ok) things += (await answer.json()).things;
      await pause(Math.max(0, EVERY - (Date.now() - to)));
      const at = (Date.now() - began) / 3_600_000;
      for (const [name, pid] of Object.entries(watched)) seen[name].push([at, megabytes(pid)]);
    }
    say(`${things} things happened at Lagoon.`);
    for (const [name, all] of Object.entries(seen)) {
      const counted = all.slice(Math.floor(all.length * WARM));
      const { m: slope } = linearRegression(counted);
      const middle = median(counted.map(([, size]) => size));
      const grown = slope * (counted.at(-1)[0] - counted[0][0]);
      const flat = grown <= middle * MAY_GROW;
      say(
        `${flat ? '✓' : '✗'} ${name}: median ${middle.toFixed(0)} MB, slope ${slope.toFixed(1)} MB an hour (${grown.toFixed(1)} MB in the ${((counted.at(-1)[0] - counted[0][0]) * 60).toFixed(0)} minutes that count)`,
      );
      if (!flat) process.exitCode = 1;
    }
  } finally {
    await programs.stop();
    await mariadb.stop();
    rmSync(folder, { recursive: true, force: true });
  }
});

/** What a process holds in memory (VmRSS of proc(5)). */
function megabytes(pid) {
  const status = readFileSync(`/proc/${pid}/status`, 'utf8');
  return Number(/^VmRSS:\s+(\d+)/m.exec(status)[1]) / 1024;
}
