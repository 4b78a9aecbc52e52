import { readConfig } from './base/config.ts';
import { migrate } from './db/migrate.ts';
import { closeServices, openServices } from './compose.ts';
import { rebuildRecords } from './runner/rebuild-records.ts';

// Makes the records that screens read anew. Playa may go on working meanwhile.
const services = openServices(readConfig(process.env));
try {
  await migrate(services.pool);
  const count = await rebuildRecords(services);
  console.log(`The records were made anew: ${count} runs that have not ended, all versions, all counts.`);
} finally {
  await closeServices(services);
}
