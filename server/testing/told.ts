import type { AddressInfo } from 'node:net';
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { Step } from '@playa/core/steps/index.ts';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { NO_SETTINGS, type Settings } from '@playa/core/workflow/settings.ts';
import { hookBy } from '../store/hooks.ts';
import { hookAddress, makeHook, receive } from '../watch/hooks.ts';
import type { House } from './house.ts';
import { live } from './workflow.ts';

/** A workflow of the lidos that is told by a web hook. */
export interface Told {
  id: number;
  watch: number;
  token: string;
  /** Tells it something, and lets everything happen that can. */
  tell(body: object, id?: string): Promise<void>;
}

export async function toldWorkflow(house: House, steps: Step[], settings: Partial<Settings> = {}): Promise<Told> {
  const watch = await makeHook(house.services, house.lidos, 'A hook');
  const definition: Definition = {
    schema: 1,
    sources: [{ id: 'source', watch }],
    steps,
    settings: { ...NO_SETTINGS, ...settings },
  };
  const id = await live(house, definition);
  const hook = (await hookBy(house.services.pool, house.lidos, watch))!;
  const token = hookAddress(house.services, hook).split('/').at(-1)!;
  return {
    id,
    watch,
    token,
    async tell(body, messageId) {
      const headers = { 'content-type': 'application/json', 'webhook-id': messageId };
      const received = await receive(house.services, token, Buffer.from(JSON.stringify(body)), headers);
      if (received.status !== 202) throw new Error(received.says);
      await house.settle();
    },
  };
}

/** A service of the test's own. Returns it with its host and port. */
export async function serve(
  answer: (req: IncomingMessage, body: string, res: ServerResponse) => void,
): Promise<{ server: Server; host: string }> {
  const server = createServer((req, res) => {
    const chunks: Buffer[] = [];
    req.on('data', (chunk: Buffer) => chunks.push(chunk));
    req.on('end', () => answer(req, Buffer.concat(chunks).toString('utf8'), res));
  });
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  return { server, host: `127.0.0.1:${(server.address() as AddressInfo).port}` };
}
