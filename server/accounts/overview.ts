// What the table of accounts shows: each account with its outlets, its health, what it has used, what depends on it.
import { NETWORK_WORDS, type NetworkKind } from '@playa/core/outlets/networks.ts';
import { outletsUsed, watchesUsed } from '@playa/core/workflow/uses.ts';
import type { Connector } from '../connectors/connector.ts';
import type { Services } from '../base/services.ts';
import { callsSince } from '../store/account-calls.ts';
import * as accounts from '../store/accounts.ts';
import { slowAccounts } from '../store/buckets.ts';
import { waitingForAccounts } from '../store/acts-waiting.ts';
import { outletsOf } from '../store/outlets.ts';
import { watchesOf, type Watch } from '../store/watches.ts';
import { workflowsOf } from '../store/workflows.ts';
import { networkParams } from './push-subscriptions.ts';
import { missingScopes } from './sign-in.ts';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;

/** How one signs in at a network, as the interface needs to know it. */
function wayIn({ signIn, openHint, creations, acts, watches }: Connector) {
  return {
    signIn:
      signIn.by === 'form'
        ? { by: 'form' as const, help: signIn.help, fields: signIn.fields }
        : { by: 'consent' as const },
    opens: openHint ?? null,
    creations: creations?.map(({ what, fields }) => ({ what, fields })) ?? [],
    acts: Object.keys(acts),
    watches: Object.entries(watches ?? {}).map(([what, { things, outlet }]) => ({ what, things, outlet })),
  };
}

/** Accounts of a brand, each with its outlets, what it has used of what its network allows, and what depends on it. */
export async function accountsOverview(services: Services, brandId: number, all: readonly accounts.Account[]) {
  const { pool, connectors } = services;
  const now = services.clock();
  await services.calls.flush(pool);
  const [outlets, workflows, watches, waiting, hour, day] = await Promise.all([
    outletsOf(pool, brandId),
    workflowsOf(pool, brandId),
    watchesOf(pool, brandId),
    waitingForAccounts(pool, brandId),
    callsSince(pool, brandId, now - (now % HOUR)),
    callsSince(pool, brandId, now - DAY),
  ]);
  const slow = await slowAccounts(
    pool,
    all.map((account) => account.id),
    now,
  );
  const uses = workflows.map((workflow) => ({
    workflow,
    outlets: outletsUsed(workflow.draft),
    watches: watchesUsed(workflow.draft),
  }));
  return all.map((account) => {
    const own = outlets.filter((outlet) => outlet.accountId === account.id);
    const ids = new Set(own.map((outlet) => outlet.id));
    const channels = new Set(own.filter((outlet) => outlet.kind === 'channel').map((outlet) => outlet.remoteId));
    const seen = new Set(watches.filter((watch) => isSeenBy(watch, account.id, channels)).map((watch) => watch.id));
    const { allowance } = connectors[account.kind];
    return {
      ...account,
      missing: missingScopes(connectors[account.kind], account.scopes),
      waiting: waiting.get(account.id) ?? 0,
      /** The network asked to go slower until then. */
      slowUntil: slow.get(account.id) ?? null,
      outlets: own,
      allowance: allowance && {
        ...allowance,
        used: (allowance.per === 'day' ? day : hour).get(account.id) ?? 0,
        forecast: forecast(allowance.per, hour.get(account.id) ?? 0, day.get(account.id) ?? 0, now),
      },
      workflows: uses
        .filter((use) => [...use.outlets].some((id) => ids.has(id)) || [...use.watches].some((id) => seen.has(id)))
        .map(({ workflow }) => ({ id: workflow.id, name: workflow.name, status: workflow.status })),
    };
  });
}

/** The kinds of network that this installation can reach. */
export const networksReached = ({ connectors, config }: Pick<Services, 'connectors' | 'config'>) =>
  (Object.keys(config.networks) as NetworkKind[]).map((kind) => ({
    kind,
    ...NETWORK_WORDS[kind],
    name: config.networks[kind]!.name,
    address: config.networks[kind]!.base,
    ...wayIn(connectors[kind]),
  }));

/** Whether a source is looked at with an account, or is a channel of its. */
function isSeenBy(watch: Watch, accountId: number, channels: ReadonlySet<string>): boolean {
  if (watch.kind === 'network') return networkParams.safeParse(watch.params).data?.account === accountId;
  return channels.has((watch.params as { channel?: string }).channel ?? '');
}

/** How many calls the running hour or day will have seen, going on as the last day did. */
function forecast(per: 'hour' | 'day', hour: number, day: number, now: number): number {
  if (per === 'day') return day;
  const left = 1 - (now % HOUR) / HOUR;
  return Math.round(hour + (day / 24) * left);
}
