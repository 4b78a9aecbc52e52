import { readConfig } from './base/config.ts';
import { migrate } from './db/migrate.ts';
import { makeRecords } from './runner/rebuild-records.ts';
import { work } from './work.ts';
import { closeServices, openServices } from './compose.ts';

// A worker process: any number of them may run, on any number of machines, on one database.
const services = openServices(readConfig(process.env));
await migrate(services.pool);
await makeRecords(services);
const stop = new AbortController();
for (const signal of ['SIGINT', 'SIGTERM'] as const) process.once(signal, () => stop.abort());
services.log.info('worker ready');
await work(services, stop.signal);
await closeServices(services);
