// npm run soak: whether memory stays flat. Playa with its demonstration, a worker of its own and Lagoon run for half an
// hour (or so many minutes: npm run soak -- 5) while somebody at Lagoon does something every five seconds: a film, a
// comment, a review, a booking, a row. In the demonstration's weeks about eleven such things happen in a day.
import { execFileSync } from 'node:child_process';
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
    // At this pace the workflows would pause by themselves, and there would be nothing to soak.
    execFileSync(process.execPath, ['--import', 'tsx', 'server/testing/lift-brakes.ts'], {
      cwd: root,
      env: { ...process.env, ...env.playa },
      stdio: 'inherit',
    });
    const worker = start('The worker', 'server/worker.ts', env.playa);
    await pause(5000);

    say(`For ${minutes} minutes somebody does something every ${EVERY / 1000} s, and memory is read.`);
    const watched = { 'the web server': server.pid, 'the worker': worker.pid };
    const seen = Object.fromEntries(Object.keys(watched).map((name) => [name, []]));
    const began = Date.now();
    const ends = began + minutes * 60_000;
    let things = 0;
    for (let round = 0; Date.now() < ends; round++) {
      if (failed) throw failed;
      const then = Date.now();
      const [path, body] = happening(round, env.lagoonOrigin);
      const answer = await fetch(`${env.lagoonOrigin}/control/api/${path}`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify(body),
      });
      if (!answer.ok) throw new Stop(`Lagoon refused ${JSON.stringify(body)}: ${answer.status}`);
      things++;
      await pause(Math.max(0, EVERY - (Date.now() - then)));
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

/** One thing after the other that people at Lagoon do: where it is asked for, and what. */
function happening(round, origin) {
  const by = ['Ana Prata', 'Tom Ridley', 'Bea Lund', 'Jonas Fell'][round % 4];
  const place = ['Tern Bay Lido', 'Gannet Point Pool', 'Old Quay Pool'][round % 3];
  const act = (act) => ['acts', { act }];
  const all = [
    () => [
      'videos',
      { handle: 'ternbaylidos', title: `Lesson ${round}: the slow lane`, description: 'Three drills.', seconds: 300 },
    ],
    () => act({ do: 'comment', profile: 'ternbaylidos', by, text: `Is it open at ${round % 24}?` }),
    () => act({ do: 'review', location: place, by, stars: (round % 5) + 1, text: `Visit number ${round}.` }),
    () => act({ do: 'message', profile: 'ternbaylidos', by, text: 'When is the next lesson?' }),
    () => act({ do: 'booking', type: 'Sunrise swim', by }),
    () => act({ do: 'note', profile: 'harbourmaster', text: `Tide table, part ${round}.` }),
    () =>
      act({
        do: 'row',
        tab: 'Water',
        cells: { Date: new Date().toISOString().slice(0, 10), Pool: place, Degrees: 11, Note: `Reading ${round}` },
      }),
    () =>
      act({
        do: 'photo',
        profile: 'ternbaylidos',
        caption: `The wall, ${round}`,
        picture: `${origin}/pages/pictures/photo-soak-${round}.jpg`,
      }),
  ];
  return all[round % all.length]();
}

/** What a process holds in memory (VmRSS of proc(5)). */
function megabytes(pid) {
  const status = readFileSync(`/proc/${pid}/status`, 'utf8');
  return Number(/^VmRSS:\s+(\d+)/m.exec(status)[1]) / 1024;
}
