// npm run faults: the long fault test, with all it needs. `npm test` runs the short form.
import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { startMariadb } from './lib/mariadb.mjs';
import { needDebianPackages, needNode, needNpmPackages, needRoom } from './lib/needs.mjs';
import { Stop, runMain } from './lib/say.mjs';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
await runMain(async () => {
  needNode();
  needRoom(root, 600);
  needDebianPackages(['mariadb-server']);
  needNpmPackages(root);
  mkdirSync(join(root, '.playa'), { recursive: true });
  // Built once, so that a worker starts in a fraction of the time between two kills.
  const built = spawnSync(
    'npx',
    [
      'vite',
      'build',
      '--ssr',
      'server/testing/fault-worker.ts',
      '--outDir',
      '.playa/fault-worker',
      '--logLevel',
      'warn',
    ],
    { cwd: root, encoding: 'utf8' },
  );
  if (built.status !== 0) throw new Stop(`The worker could not be built:\n${built.stderr}`);
  const folder = mkdtempSync(join(root, '.playa', 'network-'));
  const lagoon = await startMariadb({ folder, password: 'network', quick: true });
  try {
    const done = spawnSync(
      process.execPath,
      ['--import', 'tsx', 'server/testing/faults.ts', ...process.argv.slice(2)],
      {
        cwd: root,
        stdio: 'inherit',
        env: {
          ...process.env,
          PLAYA_TEST_DATABASE: lagoon.url(''),
          FAULT_WORKER: join(root, '.playa/fault-worker/fault-worker.js'),
        },
      },
    );
    process.exitCode = done.status ?? 1;
  } finally {
    await lagoon.stop();
    rmSync(folder, { recursive: true, force: true });
  }
});
