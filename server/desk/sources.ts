// Where the desk listens: what people write at the brand's outlets, whether or not a workflow wants it.
import type { DeskKind } from '@playa/core/desk/entry.ts';
import { inTransaction } from '../db/database.ts';
import type { Services } from '../base/services.ts';
import { addAudit } from '../store/audit.ts';
import { noteChange } from '../store/changes.ts';
import { accountsOf } from '../store/accounts.ts';
import type { Outlet } from '../store/outlets.ts';
import { scheduleWatches } from '../store/watch-times.ts';
import { deskWatches, setDeskWatch, watchBy } from '../store/watches.ts';
import { watchableOutlets, watchOutlet } from '../watch/watchable.ts';

/** A place at which people write. */
export interface DeskSource {
  outletId: number;
  outlet: string;
  account: string;
  /** What is watched there: "comments". */
  what: string;
  kind: DeskKind;
  /** The desk listens there. */
  listens: boolean;
  /** A workflow listens there, so that it comes to the desk anyway. */
  used: boolean;
}

/** Where the desk could listen among some outlets. */
export async function deskSources(
  services: Services,
  brandId: number,
  outlets: readonly Outlet[],
): Promise<DeskSource[]> {
  const { pool, connectors } = services;
  const [watchable, accounts, watches] = await Promise.all([
    watchableOutlets(services, brandId, outlets),
    accountsOf(pool, brandId),
    deskWatches(pool, brandId),
  ]);
  return watchable.flatMap(({ outlet: outletId, name, accountName, what }): DeskSource[] => {
    const outlet = outlets.find(({ id }) => id === outletId);
    const account = accounts.find(({ id }) => id === outlet?.accountId);
    const kind = account && connectors[account.kind].watches?.[what]?.said;
    if (!kind || !outlet) return [];
    const watch = watches.find((each) => each.key === `network:${account.id}:${what}:${outlet.remoteId}`);
    return [
      {
        ...{ outletId, outlet: name, account: accountName, what, kind },
        listens: watch?.desk ?? false,
        used: watch?.used ?? false,
      },
    ];
  });
}

/** Has the desk listen at a place, or no longer. @throws NetworkTrouble when nothing can be watched there */
export async function listenAt(
  services: Services,
  brandId: number,
  { outletId, what, listens }: { outletId: number; what: string; listens: boolean },
): Promise<void> {
  const watch = await watchOutlet(services, brandId, outletId, what);
  await inTransaction(services.pool, async (db) => {
    const now = services.clock();
    await setDeskWatch(db, brandId, watch, listens);
    const { name } = (await watchBy(db, brandId, watch))!;
    const did = listens ? 'has the desk listen' : 'has the desk listen no longer';
    await addAudit(db, services.actor, { brandId, did, about: 'source', id: watch, name }, now);
    await scheduleWatches(db, brandId, now);
    await noteChange(db, brandId, 'watches', watch, now);
    await noteChange(db, brandId, 'desk', null, now);
  });
  services.nudges.nudge();
}
