// npm run properties: the property tests with examples nobody has tried, again and again. `npm run properties -- 50` takes
// fifty rounds. A round that fails names its seed; PLAYA_TEST_SEED=<seed> npx vitest run --project core tries it again.
import { spawnSync } from 'node:child_process';
import { randomInt } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Stop, runMain, say } from './lib/say.mjs';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
const rounds = Number(process.argv[2] ?? 10);

await runMain(async () => {
  if (!Number.isInteger(rounds) || rounds < 1) throw new Stop('npm run properties takes a number of rounds.');
  // Those of the server want a database, and have few properties.
  const files = ['core', 'web/lib'].flatMap((room) =>
    readdirSync(join(root, room), { recursive: true })
      .map((path) => join(room, String(path)))
      .filter((path) => path.endsWith('.test.ts') && readFileSync(join(root, path), 'utf8').includes("'fast-check'")),
  );
  const failed = [];
  for (let round = 1; round <= rounds; round++) {
    const seed = randomInt(-(2 ** 31), 2 ** 31);
    say(`— round ${round} of ${rounds}, seed ${seed}`);
    const { status } = spawnSync('npx', ['vitest', 'run', '--project', 'core', '--reporter=dot', ...files], {
      cwd: root,
      stdio: 'inherit',
      env: { ...process.env, PLAYA_TEST_SEED: String(seed) },
    });
    if (status !== 0) failed.push(seed);
  }
  say(failed.length === 0 ? `✓ ${rounds} rounds` : `✗ failed with the seeds ${failed.join(', ')}`);
  if (failed.length > 0) process.exitCode = 1;
});
