// A worker for the fault test: the real one, or the real one on a network that offers nothing against repeats.
import { randomUUID } from 'node:crypto';
import { join } from 'node:path';
import { readConfig } from '../base/config.ts';
import { CONNECTORS } from '../connectors/index.ts';
import type { Connector } from '../connectors/connector.ts';
import { OutsideReader } from '../outside/reader.ts';
import { work } from '../work.ts';
import { closeServices, openServices } from '../compose.ts';

const { publish } = CONNECTORS.pages.acts;
const blind: Connector = {
  ...CONNECTORS.pages,
  acts: {
    publish: {
      ...publish!,
      repeats: 'blind',
      // Another key each time is no key at all.
      send: (session, outlet, input) => publish!.send(session, outlet, input, randomUUID()),
    },
  },
};
const { reply, message } = CONNECTORS.photos.acts;
const blindPhotos: Connector = {
  ...CONNECTORS.photos,
  acts: {
    ...CONNECTORS.photos.acts,
    reply: { ...reply!, repeats: 'blind' },
    message: {
      ...message!,
      repeats: 'blind',
      send: (session, outlet, input) => message!.send(session, outlet, input, randomUUID()),
    },
  },
};
const changed = {
  ...CONNECTORS,
  ...(process.env.BLIND === '1' && { pages: blind }),
  ...(process.env.BLIND_PHOTOS === '1' && { photos: blindPhotos }),
};
const services = openServices(readConfig(process.env), {
  // Built into one file, it lies elsewhere than what its threads run.
  outside: new OutsideReader(undefined, join(process.cwd(), 'server/outside/worker.ts')),
  connectors: changed,
});
const stop = new AbortController();
process.on('SIGTERM', () => stop.abort());
process.send?.('up');
await work(services, stop.signal, { retry: { tries: 12, base: 300, longest: 5_000 } });
await closeServices(services);
