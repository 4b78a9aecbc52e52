// The private database and whoever starts it: two starts on one folder, and one that was killed.
import { spawn } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { startMariadb } from './lib/mariadb.mjs';

let folder: string;
beforeEach(() => (folder = mkdtempSync(join(tmpdir(), 'playa-start-'))));
afterEach(() => rmSync(folder, { recursive: true, force: true }));

/** The database servers on a folder, by their process numbers. */
function serversOn(path: string): number[] {
  return readdirSync('/proc')
    .filter((name) => /^\d+$/.test(name))
    .map(Number)
    .filter((pid) => {
      try {
        const command = readFileSync(`/proc/${pid}/cmdline`, 'utf8');
        return command.startsWith('mariadbd\0') && command.includes(`--datadir=${join(path, 'db')}\0`);
      } catch {
        return false;
      }
    });
}

describe('the private database', () => {
  // Two that were begun at once took each other's tables away, when both kept them in the folder of all programs.
  it('leaves what another server keeps for a moment when it starts', async () => {
    const others = join(tmpdir(), `#sql-temptable-${process.pid}-of-another-0.MAD`);
    writeFileSync(others, '');
    try {
      await (await startMariadb({ folder, password: 'one', quick: true })).stop();
      expect(readdirSync(tmpdir())).toContain(basename(others));
    } finally {
      rmSync(others, { force: true });
    }
  }, 60_000);

  it('is started once on a folder; the second start says so and leaves nothing behind', async () => {
    const first = await startMariadb({ folder, password: 'one', quick: true });
    try {
      await expect(startMariadb({ folder, password: 'one', quick: true })).rejects.toThrow(/already runs/);
      expect(serversOn(folder)).toHaveLength(1);
    } finally {
      await first.stop();
    }
    expect(serversOn(folder)).toEqual([]);
  }, 60_000);

  it('that a killed start left behind is ended by the next one', async () => {
    const library = fileURLToPath(new URL('lib/mariadb.mjs', import.meta.url));
    const script = `const { startMariadb } = await import(${JSON.stringify(library)});
      await startMariadb({ folder: ${JSON.stringify(folder)}, password: 'one', quick: true });
      console.log('up');
      setInterval(() => undefined, 1000);`;
    const child = spawn(process.execPath, ['--input-type=module', '-e', script], {
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    await new Promise<void>((resolve) => child.stdout.once('data', () => resolve()));
    const [orphan] = serversOn(folder);
    child.kill('SIGKILL');
    await new Promise((resolve) => child.once('exit', resolve));
    expect(serversOn(folder)).toEqual([orphan]);
    const next = await startMariadb({ folder, password: 'one', quick: true });
    try {
      expect(serversOn(folder)).toHaveLength(1);
      expect(serversOn(folder)).not.toContain(orphan);
    } finally {
      await next.stop();
    }
  }, 60_000);

  it('tells when it has ended, so that it can be started again at the same place', async () => {
    const first = await startMariadb({ folder, password: 'one', quick: true });
    process.kill(serversOn(folder)[0]!, 'SIGKILL');
    await first.ended;
    const again = await startMariadb({ folder, password: 'one', quick: true, port: first.port });
    expect(again.port).toBe(first.port);
    await again.stop();
  }, 60_000);
});
