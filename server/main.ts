import { readConfig } from './base/config.ts';
import { makeDatabase } from './db/database.ts';
import { migrate } from './db/migrate.ts';
import { seedDemonstration } from './demo/seed.ts';
import { makeApp } from './http/app.ts';
import { ChangeTail } from './http/events.ts';
import { makeRecords } from './runner/rebuild-records.ts';
import { work } from './work.ts';
import { closeServices, openServices } from './compose.ts';

const config = readConfig(process.env);
await makeDatabase(config.databaseUrl);
const services = openServices(config);
await migrate(services.pool);
await makeRecords(services);
if (config.demo) await seedDemonstration(services);

const tail = new ChangeTail(services);
await tail.start();
const server = makeApp(services, tail).listen(config.port, '127.0.0.1', () =>
  services.log.info(`Playa listens at ${config.origin}`),
);
server.on('error', (error) => {
  console.error(`Playa cannot listen on port ${config.port}: ${error.message}`);
  process.exit(1);
});
// One worker lives in the server, so that small installations need no other process; more may run beside it.
const stop = new AbortController();
const working = config.work ? work(services, stop.signal) : Promise.resolve();
for (const signal of ['SIGINT', 'SIGTERM'] as const) {
  process.once(signal, () => {
    stop.abort();
    tail.stop();
    server.close();
    server.closeAllConnections();
    void working.then(() => closeServices(services)).finally(() => process.exit(0));
  });
}
