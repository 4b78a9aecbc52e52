// npm run bench:engine, bench:queries, bench:reserving, bench:planned: benchmarks on a private MariaDB with the settings
// Playa is started with. The first word says which.
import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { startMariadb } from './lib/mariadb.mjs';
import { needDebianPackages, needNode, needNpmPackages, needRoom } from './lib/needs.mjs';
import { runMain } from './lib/say.mjs';

const [which = 'engine', ...rest] = process.argv.slice(2);
const root = dirname(dirname(fileURLToPath(import.meta.url)));
await runMain(async () => {
  needNode();
  needRoom(root, 1000);
  needDebianPackages(['mariadb-server']);
  needNpmPackages(root);
  mkdirSync(join(root, '.playa'), { recursive: true });
  const folder = mkdtempSync(join(root, '.playa', 'bench-'));
  const database = await startMariadb({ folder, password: 'bench' });
  try {
    const done = spawnSync(process.execPath, ['--import', 'tsx', `bench/${which}.ts`, ...rest], {
      cwd: root,
      stdio: 'inherit',
      env: { ...process.env, PLAYA_TEST_DATABASE: database.url('') },
    });
    process.exitCode = done.status ?? 1;
  } finally {
    await database.stop();
    rmSync(folder, { recursive: true, force: true });
  }
});
