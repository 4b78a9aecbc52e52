// npm run rebuild-records: makes the records that screens read anew. With PLAYA_DATABASE_URL and PLAYA_VAULT_KEY in the
// environment it works on those, also while Playa works; otherwise on the private database that npm start keeps, which
// has to be stopped.
import { existsSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { startMariadb } from './lib/mariadb.mjs';
import { needNode, needNpmPackages } from './lib/needs.mjs';
import { Stop, runMain } from './lib/say.mjs';
import { runProgram, stoppedHouse } from './lib/stopped-house.mjs';

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
    rebuild(stoppedHouse(mariadb, secrets));
  } finally {
    await mariadb.stop();
  }
});

function rebuild(env) {
  runProgram(root, 'server/rebuild-records.ts', env, 'The records were not made anew; they are as they were.');
}
