import { hookBy } from '../store/hooks.ts';
import { hookAddress, makeHook, receive } from '../watch/hooks.ts';
import type { House } from './house.ts';

/** A web hook of the lidos, and a way to send it something. */
export async function receiveHook(house: House): Promise<{ watch: number; send(body: object): Promise<void> }> {
  const { services, lidos } = house;
  const watch = await makeHook(services, lidos, 'Told from outside');
  const hook = (await hookBy(services.pool, lidos, watch))!;
  const token = hookAddress(services, hook).split('/').at(-1)!;
  return {
    watch,
    async send(body) {
      const delivery = { body: Buffer.from(JSON.stringify(body)), headers: { 'content-type': 'application/json' } };
      const { status } = await receive(services, token, delivery.body, delivery.headers);
      if (status !== 202) throw new Error(`The hook answered ${status}.`);
    },
  };
}
