// npm run rebuild-records: makes the records that screens read anew. With PLAYA_DATABASE_URL and PLAYA_VAULT_KEY in the
// environment it works on those, also while Playa works; otherwise on the private database that npm start keeps, which
// has to be stopped.
import { spawnSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { environments } from './lib/house.mjs';
import { startMariadb } from './lib/mariadb.mjs';
import { needNode, needNpmPackages } from './lib/needs.mjs';
import { Stop, runMain } from './lib/say.mjs';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
const folder = process.env.PLAYA_FOLDER ?? join(root, '.playa');
const file = join(folder, 'secrets.json');

await runMain(async () => {
  needNode();
  needNpmPackages(root);
  if (process.env.PLAYA_DATABASE_URL) return void rebuild(process.env);
  if (!existsSync(file)) throw new Stop('There are no records yet: start Playa first, with npm start.');
  const secrets = JSON.parse(readFileSync(file, 'utf8'));
  const mariadb = await startMariadb({ folder, password: secrets.database });
  try {
    const { playa } = environments({
      port: 4810,
      lagoonPort: 4811,
      databaseUrl: mariadb.url('playa'),
      lagoonDatabaseUrl: mariadb.url('lagoon'),
      secrets,
      demo: true,
      webDir: '',
    });
    rebuild({ ...process.env, ...playa });
  } finally {
    await mariadb.stop();
  }
});

function rebuild(env) {
  const done = spawnSync(process.execPath, ['--import', 'tsx', 'server/rebuild-records.ts'], {
    cwd: root,
    stdio: 'inherit',
    env,
  });
  if (done.status !== 0) throw new Stop('The records were not made anew; they are as they were.');
}
