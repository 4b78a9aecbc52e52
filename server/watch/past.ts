import type { Item } from '@playa/core/items/item.ts';
import { NetworkTrouble } from '../connectors/connector.ts';
import { sessionFor } from '../accounts/sessions.ts';
import type { Services } from '../base/services.ts';
import { accountsOf } from '../store/accounts.ts';
import { outletsOf } from '../store/outlets.ts';

/** How far back a rehearsal may reach. */
const PAST_ITEMS = 300;

/**
 * Items that a channel's feed no longer shows, when the brand has an account that owns the channel. Without one, or
 * when the network does not answer, there are none: the past is good to have, and nothing depends on it.
 */
export async function pastItems(services: Services, brandId: number, channel: string | undefined): Promise<Item[]> {
  if (!channel) return [];
  const outlet = (await outletsOf(services.pool, brandId)).find(
    (each) => each.kind === 'channel' && each.remoteId === channel && !each.gone,
  );
  const account =
    outlet &&
    (await accountsOf(services.pool, brandId)).find((each) => each.id === outlet.accountId && each.status === 'ok');
  const past = account && services.connectors[account.kind].past;
  if (!account || !past) return [];
  try {
    return await past(sessionFor(services, account), channel, PAST_ITEMS);
  } catch (error) {
    if (error instanceof NetworkTrouble) return [];
    throw error;
  }
}
