import type { World, WorldOutlet, WorldWatch } from '@playa/core/model/world.ts';
import { networkParams } from '../accounts/push-subscriptions.ts';
import type { Queryable } from '../db/database.ts';
import { worldFile } from '../media/library.ts';
import { accountsOf } from '../store/accounts.ts';
import { KIND_RULES } from '@playa/core/outlets/kinds.ts';
import { filesOf } from '../store/files.ts';
import { outletsOf, type Outlet } from '../store/outlets.ts';
import type { ActName } from '@playa/core/model/acts.ts';
import type { Connector } from '../connectors/connector.ts';
import { CONNECTORS } from '../connectors/index.ts';
import { brandById, membersOf, policyOf } from '../store/users.ts';
import type { Services } from '../base/services.ts';
import { hookSchemas } from '../store/hooks.ts';
import { secretNames } from '../store/secrets.ts';
import { timetablesOf } from '../store/timetables.ts';
import { columnsByWatch } from '../store/sheets.ts';
import { snippetsOf } from '../store/snippets.ts';
import { watchesOf, type Watch } from '../store/watches.ts';
import { watchShape } from './watch-shape.ts';

/**
 * What a brand's definitions refer to, as it is now.
 *
 * @param connectors what the networks offer, for telling what cannot be done at an outlet
 */
export async function worldOf(
  db: Queryable,
  brandId: number,
  connectors: Services['connectors'] = CONNECTORS,
): Promise<World> {
  const [brand, outlets, accounts, watches, members, secrets, snippets, files, learned, timetables, sheets, policy] =
    await Promise.all([
      brandById(db, brandId),
      outletsOf(db, brandId),
      accountsOf(db, brandId),
      watchesOf(db, brandId),
      membersOf(db, brandId),
      secretNames(db, brandId),
      snippetsOf(db, brandId),
      filesOf(db, brandId),
      hookSchemas(db, brandId),
      timetablesOf(db, brandId),
      columnsByWatch(db, brandId),
      policyOf(db, brandId),
    ]);
  const status = new Map(accounts.map((account) => [account.id, account]));
  return {
    timeZone: brand?.timeZone ?? 'UTC',
    locale: brand?.locale ?? 'en',
    policy: policy ?? undefined,
    colleagues: new Map(members.map((member) => [member.id, member.name])),
    secrets: secrets.map((secret) => secret.name),
    snippets: new Map(snippets.map(({ name, text }) => [name, text])),
    files: new Map(files.map((file) => [file.id, worldFile(file)])),
    outlets: new Map(
      outlets.map((outlet) => {
        const name = distinctName(outlet, outlets);
        const account = outlet.accountId === null ? undefined : status.get(outlet.accountId);
        const entry: WorldOutlet = { id: outlet.id, kind: outlet.kind, name, accountId: outlet.accountId };
        if (outlet.accountId === null) entry.acts = SHEET_ACTS;
        if (account) {
          const { acts } = connectors[account.kind];
          entry.acts = Object.keys(acts) as ActName[];
          if (acts.revise) entry.revisions = acts.revise.offers;
        }
        if (outlet.gone)
          entry.trouble =
            outlet.accountId === null
              ? `The sheet ${outlet.name} was deleted.`
              : `${outlet.name} is no longer listed by its network.`;
        else if (outlet.trouble) entry.trouble = `${outlet.name}: ${outlet.trouble} ${outlet.remedy ?? ''}`.trim();
        if (Object.keys(outlet.details).length > 0) entry.details = outlet.details;
        const kept = timetables.get(outlet.id);
        if (kept) entry.timetable = kept.timetable;
        if (!outlet.gone && outlet.accountId !== null && account?.status !== 'ok')
          entry.trouble = `The account for ${outlet.name} has to be connected again.`;
        return [outlet.id, entry];
      }),
    ),
    watches: new Map(
      watches.map((watch) => {
        const seen = watch.kind === 'network' ? networkParams.safeParse(watch.params).data : undefined;
        const outlet = seen && outlets.find((each) => each.accountId === seen.account && each.remoteId === seen.outlet);
        const entry: WorldWatch = { id: watch.id, name: watch.name, things: watch.things };
        const sheet = sheets.get(watch.id);
        if (sheet) Object.assign(entry, { outlet: sheet.outletId, internal: true, shows: [sheet.outletId] });
        if (outlet) entry.outlet = outlet.id;
        const seenBy = outlet && status.get(outlet.accountId ?? 0);
        if (seen && seenBy && connectors[seenBy.kind].watches?.[seen.what]?.internal) entry.internal = true;
        const said = seen && seenBy && connectors[seenBy.kind].watches?.[seen.what]?.said;
        if (said) entry.said = said;
        const kind = seenBy?.kind;
        const of =
          seen && seenBy ? { watchable: connectors[seenBy.kind].watches?.[seen.what], details: outlet?.details } : {};
        entry.shape = watchShape(watch, { ...of, learned: learned.get(watch.id), columns: sheet?.columns });
        const shows = outletsShown(watch, outlet, kind && connectors[kind], outlets);
        if (shows.length > 0) entry.shows = shows;
        return [watch.id, entry];
      }),
    ),
  };
}

/** What workflows do at a sheet of Playa's own. */
const SHEET_ACTS: readonly ActName[] = ['record', 'find'];

/** Outlets whose posts or rows appear at a source: the one that is watched, or the one whose feed it is. */
function outletsShown(
  watch: Watch,
  seen: Outlet | undefined,
  connector: Connector | undefined,
  outlets: readonly Outlet[],
): number[] {
  if (watch.kind === 'network') {
    const { what } = networkParams.parse(watch.params);
    return seen && connector?.watches?.[what]?.shows?.length ? [seen.id] : [];
  }
  if (watch.kind !== 'feed') return [];
  const { url = '' } = watch.params as { url?: string };
  const bare = (address: string | null) => (address ?? '').replace(/[#?].*$/, '').replace(/\/$/, '');
  return outlets.filter((each) => bare(each.feed) === bare(url) && bare(url) !== '').map((each) => each.id);
}

/** The name of an outlet; with what it is, when one can publish to another that is called the same. */
function distinctName(outlet: Outlet, all: readonly Outlet[]): string {
  const published = (each: Outlet) => KIND_RULES[each.kind].publishes;
  const same =
    published(outlet) &&
    all.some((each) => each.id !== outlet.id && each.name === outlet.name && !each.gone && published(each));
  return same ? `${outlet.name}, ${KIND_RULES[outlet.kind].name}` : outlet.name;
}
