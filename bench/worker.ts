// A worker process for the benchmarks: the real one, on a network that answers at once.
import { readConfig } from '@playa/server/base/config.ts';
import { CONNECTORS } from '@playa/server/connectors/index.ts';
import { work } from '@playa/server/work.ts';
import { openServices } from '@playa/server/compose.ts';
import { instant } from './house.ts';

const services = openServices(readConfig(process.env), { connectors: { ...CONNECTORS, pages: instant } });
process.on('message', () => undefined);
console.log('ready');
setInterval(() => {
  if (process.env.BENCH_MEMORY) console.log(`rss ${process.memoryUsage().rss}`);
}, 500).unref();
await work(services, new AbortController().signal);
