import { randomBytes } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';

/** The secrets of this installation, made at the first start. They lie beside the database, never in it. */
export function readSecrets(file) {
  if (existsSync(file)) return JSON.parse(readFileSync(file, 'utf8'));
  const secrets = {
    database: randomBytes(18).toString('base64url'),
    vaultKey: randomBytes(32).toString('base64'),
    lagoonClient: randomBytes(24).toString('base64url'),
  };
  mkdirSync(dirname(file), { recursive: true });
  writeFileSync(file, JSON.stringify(secrets, null, 2), { mode: 0o600 });
  return secrets;
}
