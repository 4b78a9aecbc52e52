// npm run hours: the browser tests at every set hour, one after the other, and once beside processes that keep all cores
// busy. Names of hours run only those: npm run hours -- 00:05 "clocks back" busy.
import { spawn } from 'node:child_process';
import { availableParallelism } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Stop, runMain, say } from './lib/say.mjs';
import { SET_HOURS } from './lib/set-clock.mjs';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
const BUSY = 'busy';
const all = [...Object.keys(SET_HOURS), BUSY];

await runMain(async () => {
  const wanted = process.argv.length > 2 ? process.argv.slice(2) : all;
  const unknown = wanted.find((name) => !all.includes(name));
  if (unknown !== undefined) throw new Stop(`“${unknown}” is none of ${all.join(', ')}.`);
  const failed = [];
  for (const name of wanted) {
    say(`\n══ ${name}`);
    const burners = name === BUSY ? Array.from({ length: availableParallelism() }, burn) : [];
    try {
      if ((await tests(name === BUSY ? '09:00' : name)) !== 0) failed.push(name);
    } finally {
      for (const burner of burners) burner.kill('SIGKILL');
    }
  }
  say(failed.length === 0 ? `\n✓ at every hour: ${wanted.join(', ')}` : `\n✗ failed at ${failed.join(', ')}`);
  if (failed.length > 0) process.exitCode = 1;
});

/** A process that takes all of a core. */
function burn() {
  return spawn(process.execPath, ['-e', 'for (;;) Math.sqrt(Math.random())'], { stdio: 'ignore' });
}

function tests(hour) {
  return new Promise((resolve, reject) => {
    const child = spawn(process.execPath, [join(root, 'bin', 'test.mjs'), 'e2e'], {
      cwd: root,
      stdio: 'inherit',
      env: { ...process.env, PLAYA_TEST_HOUR: hour },
    });
    child.once('error', reject);
    child.once('exit', (code) => resolve(code ?? 1));
  });
}
