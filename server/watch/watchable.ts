// What can be watched with the accounts a brand has.
import { cutUnits } from '@playa/core/text/graphemes.ts';
import { inTransaction } from '../db/database.ts';
import { NetworkTrouble, type Watchable } from '../connectors/connector.ts';
import type { Services } from '../base/services.ts';
import { accountBy, accountsOf } from '../store/accounts.ts';
import { outletBy, type Outlet } from '../store/outlets.ts';
import { sheetOfOutlet } from '../store/sheets.ts';
import { keepSource } from './kinds/keep.ts';
import { networkKind } from './kinds/network.ts';

/** How often a source is looked at when it is likely to say something, in seconds. */
export const LOOK_EVERY = { demo: 15, usual: 300 } as const;

export interface WatchableOutlet {
  outlet: number;
  name: string;
  accountName: string;
  /** What is watched, by the connector's name for it: "comments". */
  what: string;
  things: string;
  /** Whether the network tells by itself. */
  told: boolean;
}

/** What others write to a profile that is only followed is for its owner. */
const canBeWatched = (watchable: Watchable, outlet: Pick<Outlet, 'kind' | 'details'>): boolean =>
  watchable.outlet === outlet.kind && !(watchable.said && outlet.details.watchOnly);

/** Everything that appears at some of the brand's outlets and can be watched. */
export async function watchableOutlets(
  services: Services,
  brandId: number,
  outlets: readonly Outlet[],
): Promise<WatchableOutlet[]> {
  const accounts = await accountsOf(services.pool, brandId);
  return outlets.flatMap((outlet) => {
    if (outlet.accountId === null)
      return outlet.gone
        ? []
        : [
            {
              outlet: outlet.id,
              name: outlet.name,
              accountName: 'sheets of Playa',
              what: 'rows',
              things: 'rows',
              told: true,
            },
          ];
    const account = accounts.find((each) => each.id === outlet.accountId);
    if (!account || account.status !== 'ok' || outlet.gone) return [];
    return Object.entries(services.connectors[account.kind].watches ?? {}).flatMap(([what, watchable]) =>
      canBeWatched(watchable, outlet)
        ? [
            {
              outlet: outlet.id,
              name: outlet.name,
              accountName: account.name,
              what,
              things: watchable.things,
              told: watchable.push !== undefined,
            },
          ]
        : [],
    );
  });
}

/**
 * The brand's watch of something at an outlet, shared by every workflow that uses it.
 *
 * @throws NetworkTrouble when it cannot be watched
 */
export async function watchOutlet(
  services: Services,
  brandId: number,
  outletId: number,
  what: string,
): Promise<number> {
  const outlet = await outletBy(services.pool, brandId, outletId);
  if (outlet?.accountId === null && !outlet.gone && what === 'rows') {
    // A sheet of Playa's own has its source from the beginning.
    const sheet = await sheetOfOutlet(services.pool, brandId, outlet.id);
    if (sheet) return sheet.watchId;
  }
  const account = outlet && (await accountBy(services.pool, brandId, outlet.accountId));
  const watchable = account && services.connectors[account.kind].watches?.[what];
  if (!outlet || outlet.gone || !watchable || !canBeWatched(watchable, outlet))
    throw new NetworkTrouble('fix', 'This cannot be watched.');
  const source = {
    brandId,
    params: { account: account.id, outlet: outlet.remoteId, what },
    name: cutUnits(`${outlet.name}: ${watchable.things}`, 200),
    things: watchable.things,
    everySeconds: services.config.demo ? LOOK_EVERY.demo : LOOK_EVERY.usual,
    accountId: account.id,
  };
  const by = { actor: services.actor, now: services.clock() };
  return inTransaction(services.pool, (db) => keepSource(db, networkKind, source, by));
}
