import { spawnSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { startMariadb } from './lib/mariadb.mjs';

it('rotate-keys refuses while Playa runs, before it has written anything', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'rotate-'));
  const secrets = JSON.stringify({
    vaultKey: Buffer.alloc(32, 7).toString('base64'),
    database: 'sea',
    lagoonClient: 'x',
  });
  writeFileSync(join(folder, 'secrets.json'), secrets);
  const running = await startMariadb({ folder, password: 'sea', quick: true });
  try {
    const env = { ...process.env, PLAYA_FOLDER: folder };
    delete env.PLAYA_DATABASE_URL;
    const done = spawnSync(process.execPath, ['bin/rotate-keys.mjs'], { env, encoding: 'utf8' });
    expect(done.status).not.toBe(0);
    expect(readFileSync(join(folder, 'secrets.json'), 'utf8')).toBe(secrets);
    expect(readdirSync(folder)).not.toContain('secrets.json.new');
  } finally {
    await running.stop();
    rmSync(folder, { recursive: true, force: true });
  }
});
