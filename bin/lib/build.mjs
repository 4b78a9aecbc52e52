import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, readdirSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { Stop, say } from './say.mjs';

/** Builds the interface when its sources are not those of the last build. */
export function needInterface(root) {
  const hash = createHash('sha256');
  for (const folder of ['web', 'core']) addFolder(hash, join(root, folder));
  hash.update(readFileSync(join(root, 'package-lock.json')));
  const sources = hash.digest('hex');
  const mark = join(root, 'web', 'dist', '.built-from');
  if (existsSync(mark) && readFileSync(mark, 'utf8') === sources) return;
  say('Building the interface …');
  const built = spawnSync('npx', ['vite', 'build', 'web', '--logLevel', 'warn'], { cwd: root, encoding: 'utf8' });
  if (built.status !== 0) throw new Stop(`The interface could not be built:\n${built.stderr || built.stdout}`);
  writeFileSync(mark, sources);
}

function addFolder(hash, folder) {
  for (const name of readdirSync(folder).sort()) {
    if (name === 'node_modules' || name === 'dist' || name.endsWith('.test.ts')) continue;
    const path = join(folder, name);
    if (statSync(path).isDirectory()) addFolder(hash, path);
    else hash.update(path.slice(folder.length)).update(readFileSync(path));
  }
}
