// What only a sign-in can see: comments, reviews, rows, read by the connector of an account.
import { z } from 'zod';
import type { DeskKind } from '@playa/core/desk/entry.ts';
import { notice } from '@playa/core/items/noticing.ts';
import type { Fields, Item } from '@playa/core/items/item.ts';
import { subscribe, networkParams } from '../../accounts/push-subscriptions.ts';
import { noteRefused, sessionFor } from '../../accounts/sessions.ts';
import { NetworkTrouble } from '../../connectors/connector.ts';
import type { Services } from '../../base/services.ts';
import { accountBy, markOk } from '../../store/accounts.ts';
import { outletByRemote } from '../../store/outlets.ts';
import { isWatched } from '../../store/watch-times.ts';
import { type Watch } from '../../store/watches.ts';
import { claimedWatch } from '../../store/watch-claims.ts';
import { LookTrouble } from '../fetch-feed.ts';
import type { SourceKind } from './kind.ts';

/** What a look at a network gave. */
interface NetworkLook {
  items: Item[];
  /** Whether the network tells by itself. */
  told: boolean;
  /** Whether these are all there are, so that what is not among them is gone. */
  whole: boolean;
  /** What they are to the desk. */
  said: DeskKind | undefined;
  /** Whether those who write them are known by the ids of outlets. */
  byOutlets: boolean;
}

/** Who wrote it is known by that network and no other. */
function withNetwork(fields: Fields, network: string): Fields {
  const { person } = fields;
  if (person === null || typeof person !== 'object' || Array.isArray(person) || !('id' in person)) return fields;
  return { ...fields, person: { ...person, network } };
}

/**
 * Reads what is there, back to something seen before.
 *
 * @throws LookTrouble
 */
async function readNetwork(services: Services, watch: Watch, seen: ReadonlySet<string>): Promise<NetworkLook> {
  const params = networkParams.parse(watch.params);
  const account = await accountBy(services.pool, watch.brandId, params.account);
  const watchable = account && services.connectors[account.kind].watches?.[params.what];
  if (!account || !watchable) throw new LookTrouble('The account that could see this is gone.');
  if (account.status !== 'ok') throw new LookTrouble(`${account.name} has to be connected again.`);
  try {
    const session = sessionFor(services, account);
    const read = await watchable.read(session, params.outlet, seen);
    // Where it was seen comes with it, so that it can be named, and answered there.
    const outlet = await outletByRemote(services.pool, account.id, params.outlet);
    const items = read.map((item) => ({
      ...item,
      fields: {
        ...withNetwork(item.fields, account.kind),
        ...(outlet && { outlet: { id: outlet.id, name: outlet.name } }),
      },
    }));
    await markOk(services.pool, account.id, services.clock());
    const told =
      watchable.push !== undefined &&
      (await isWatched(services.pool, watch.id)) &&
      (await subscribe(services, watch, watchable.push, session, params.outlet));
    const whole = watchable.whole !== undefined && items.length < watchable.whole;
    return { items, told, whole, said: watchable.said, byOutlets: watchable.byOutlets === true };
  } catch (error) {
    if (!(error instanceof NetworkTrouble)) throw error;
    if (error.kind === 'reconnect') await noteRefused(services, account, error.message);
    throw new LookTrouble(error.message, error.retryAfter);
  }
}

const memorySchema = z.object({
  window: z.object({ identities: z.array(z.string()), oldest: z.number().nullable() }),
});

const MISSED = 'More appeared at once than could be read; some may have been missed.';

export const networkKind: SourceKind<z.infer<typeof networkParams>> = {
  kind: 'network',
  params: networkParams,
  key: ({ account, what, outlet }) => `network:${account}:${what}:${outlet}`,
  async read(services, claimed) {
    const watch = await claimedWatch(services.pool, claimed.id);
    if (!watch) return 'gone';
    const before = memorySchema.safeParse(watch.memory).data?.window ?? null;
    const { items, told, whole, said, byOutlets } = await readNetwork(services, watch, new Set(before?.identities));
    return {
      watch,
      items,
      said,
      byOutlets,
      whole,
      told,
      tell(known) {
        const { past, fresh, memory, gap } = notice(items, before, known);
        return {
          past,
          fresh,
          again: before ? items.filter((item) => known.has(item.identity)) : [],
          // The newest are enough to find the way back to.
          memory: { window: { identities: memory.identities.slice(0, 100), oldest: memory.oldest } },
          notes: gap ? [MISSED] : [],
        };
      },
    };
  },
};
