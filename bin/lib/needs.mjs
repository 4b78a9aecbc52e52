// What the two commands need before they can do anything: a recent enough Node.js, npm packages, Debian packages, room
// on the disk. Node's own modules only, since nothing else may be installed yet.
import { spawnSync } from 'node:child_process';
import { existsSync, readFileSync, statfsSync } from 'node:fs';
import { createHash } from 'node:crypto';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { Stop, say } from './say.mjs';

/** Where a Debian package puts the program that shows it is there. */
const DEBIAN = {
  'mariadb-server': ['/usr/sbin/mariadbd', '/usr/bin/mariadb-install-db'],
  chromium: ['/usr/bin/chromium'],
  // The Unicode Character Database with its test files.
  'unicode-data': ['/usr/share/unicode/auxiliary/GraphemeBreakTest.txt'],
  'fonts-noto-color-emoji': ['/usr/share/fonts/truetype/noto/NotoColorEmoji.ttf'],
};

export function needNode() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major < 20 || (major === 20 && minor < 19)) {
    throw new Stop(`Playa needs Node.js 20.19 or newer; this is ${process.versions.node}.`);
  }
}

export function needRoom(folder, megabytes) {
  const { bavail, bsize } = statfsSync(folder);
  const free = Math.floor((bavail * bsize) / 1024 / 1024);
  if (free < megabytes)
    throw new Stop(`The disk is nearly full: ${free} MB are free in ${folder}, and Playa needs ${megabytes} MB.`);
}

/** Installs what the lock file names, unless that is what is there already. */
export function needNpmPackages(root) {
  const lock = createHash('sha256')
    .update(readFileSync(join(root, 'package-lock.json')))
    .digest('hex');
  const mark = join(root, 'node_modules', '.installed-from');
  if (existsSync(mark) && readFileSync(mark, 'utf8') === lock) return;
  say('Installing npm packages …');
  const done = spawnSync('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], {
    cwd: root,
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  if (done.status !== 0)
    throw new Stop('The npm packages could not be installed; npm says why above. Is the npm registry reachable?');
  writeFileSync(mark, lock);
}

/** Installs Debian packages that are missing, as root; otherwise says the one command to run. */
export function needDebianPackages(names) {
  const missing = names.filter((name) => !DEBIAN[name].every((path) => existsSync(path)));
  if (missing.length === 0) return;
  const command = `apt-get update && apt-get install -y ${missing.join(' ')}`;
  if (process.getuid?.() !== 0)
    throw new Stop(`Playa needs ${list(missing)}. Run this once, then start again:\n\n  sudo sh -c '${command}'`);
  say(`Installing ${list(missing)} …`);
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  const done = spawnSync('sh', ['-c', command], {
    env,
    stdio: ['ignore', 'pipe', 'pipe'],
    encoding: 'utf8',
    maxBuffer: 1 << 26,
  });
  if (done.status !== 0)
    throw new Stop(
      `${list(missing)} could not be installed:\n${done.stderr?.trim().split('\n').slice(-5).join('\n')}\nThe command was: ${command}`,
    );
}

function list(names) {
  return names.length === 1 ? `the Debian package ${names[0]}` : `the Debian packages ${names.join(', ')}`;
}
