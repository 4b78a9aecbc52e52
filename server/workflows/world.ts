import type { World, WorldOutlet } from '@playa/core/workflow/world.ts';
import type { Queryable } from '../db/database.ts';
import { accountsOf } from '../store/accounts.ts';
import { outletsOf } from '../store/outlets.ts';
import { brandById } from '../store/people.ts';
import { watchesOf } from '../store/watches.ts';

/** What a brand's definitions refer to, as it is now. */
export async function worldOf(db: Queryable, brandId: number): Promise<World> {
  const [brand, outlets, accounts, watches] = await Promise.all([
    brandById(db, brandId),
    outletsOf(db, brandId),
    accountsOf(db, brandId),
    watchesOf(db, brandId),
  ]);
  const status = new Map(accounts.map((account) => [account.id, account]));
  return {
    timeZone: brand?.timeZone ?? 'UTC',
    locale: brand?.locale ?? 'en',
    outlets: new Map(
      outlets.map((outlet) => {
        const account = status.get(outlet.accountId);
        const entry: WorldOutlet = { id: outlet.id, kind: outlet.kind, name: outlet.name, accountId: outlet.accountId };
        if (outlet.gone) entry.trouble = `${outlet.name} is no longer listed by its network.`;
        else if (account?.status !== 'ok') entry.trouble = `The account for ${outlet.name} has to be connected again.`;
        return [outlet.id, entry];
      }),
    ),
    watches: new Map(watches.map((watch) => [watch.id, { id: watch.id, name: watch.name, things: watch.things }])),
  };
}
