// What is done to an installation that npm start keeps, while it is stopped: by a program of the server's on its database.
import { spawnSync } from 'node:child_process';
import { environments } from './house.mjs';
import { Stop } from './say.mjs';

/** The environment of a program of the server's on the private database. */
export function stoppedHouse(mariadb, secrets) {
  const { playa } = environments({
    port: 4810,
    lagoonPort: 4811,
    mailPort: 4812,
    databaseUrl: mariadb.url('playa'),
    lagoonDatabaseUrl: mariadb.url('lagoon'),
    secrets,
    demo: true,
    webDir: '',
  });
  return { ...process.env, ...playa };
}

/** Runs a program of the server's. @throws Stop with the sentence when it did not do it */
export function runProgram(root, file, env, otherwise) {
  const done = spawnSync(process.execPath, ['--import', 'tsx', file], { cwd: root, stdio: 'inherit', env });
  if (done.status !== 0) throw new Stop(otherwise);
}
