// npm run rotate-keys: a new key for the vault of this installation. With PLAYA_DATABASE_URL and PLAYA_VAULT_KEY in the
// environment it works on those; otherwise on the private database that npm start keeps, which has to be stopped.
import { randomBytes } from 'node:crypto';
import { existsSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { startMariadb } from './lib/mariadb.mjs';
import { needNode, needNpmPackages } from './lib/needs.mjs';
import { Stop, runMain, say } from './lib/say.mjs';
import { runProgram, stoppedHouse } from './lib/stopped-house.mjs';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
/** Where npm start keeps its database and secrets; a test keeps them elsewhere. */
const folder = process.env.PLAYA_FOLDER ?? join(root, '.playa');
const file = join(folder, 'secrets.json');

await runMain(async () => {
  needNode();
  needNpmPackages(root);
  if (process.env.PLAYA_DATABASE_URL) return void reseal(process.env);
  if (!existsSync(file)) throw new Stop('There is nothing to rotate yet: start Playa first, with npm start.');
  const secrets = JSON.parse(readFileSync(file, 'utf8'));
  const next = { ...secrets, vaultKey: randomBytes(32).toString('base64') };
  next.oldVaultKeys = [secrets.vaultKey, ...(secrets.oldVaultKeys ?? [])];
  const keep = (what) => {
    writeFileSync(`${file}.new`, JSON.stringify(what, null, 2), { mode: 0o600 });
    renameSync(`${file}.new`, file);
  };
  // First, since it refuses while Playa runs: then nothing has been changed.
  const mariadb = await startMariadb({ folder, password: secrets.database });
  try {
    // Both keys are kept before anything is sealed, so that breaking off half-way loses nothing.
    keep(next);
    reseal(stoppedHouse(mariadb, next));
    keep({ ...next, oldVaultKeys: [] });
    say('The old key was thrown away.');
  } finally {
    await mariadb.stop();
  }
});

function reseal(env) {
  runProgram(root, 'server/rotate-keys.ts', env, 'The keys were not changed over; everything still opens as before.');
}
