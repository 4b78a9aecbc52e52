import { readConfig } from './base/config.ts';
import { migrate } from './db/migrate.ts';
import { closeServices, openServices } from './compose.ts';
import { rotateKeys } from './vault/rotate.ts';

// Seals everything under PLAYA_VAULT_KEY; PLAYA_VAULT_OLD_KEYS holds the keys it was sealed under before.
const services = openServices(readConfig(process.env));
try {
  await migrate(services.pool);
  const count = await rotateKeys(services);
  console.log(`${count} secrets are sealed under the new key. The old ones are no longer needed.`);
} finally {
  await closeServices(services);
}
