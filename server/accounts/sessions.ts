import pLimit from 'p-limit';
import type { Session } from '../connectors/connector.ts';
import { NetworkTrouble } from '../connectors/connector.ts';
import { inTransaction } from '../db/database.ts';
import type { Services } from '../base/services.ts';
import * as accounts from '../store/accounts.ts';
import { noteChange } from '../store/changes.ts';
import { addNotices } from '../store/notices.ts';
import { OAuthClient, tokensSchema, type Granted } from './oauth.ts';

/** Tokens are renewed this long before they end, so that none ends on the way. */
const AHEAD = 120_000;

export function oauthClient(services: Services, kind: accounts.AccountKind): OAuthClient {
  const network = services.config.networks[kind];
  if (!network) throw new NetworkTrouble('fix', 'This installation of Playa is not set up for that kind of network.');
  const { signIn } = services.connectors[kind];
  if (signIn.by !== 'consent') throw new NetworkTrouble('fix', `${network.name} signs in with a key.`);
  return new OAuthClient(network, signIn, services.guard, `${services.config.origin}/api/oauth/callback`);
}

/**
 * What a sealed token belongs to; a token copied to another brand's account does not open. Text models were called
 * otherwise when the first were sealed.
 */
export const tokenOwner = (brandId: number, kind: string) =>
  `account:${brandId}:${kind === 'text-model' ? 'drafter' : kind}`;

/** A session at the network of an account. Nothing is asked of the network before a token is needed. */
export function sessionFor(services: Services, account: { id: number; kind: accounts.AccountKind }): Session {
  const network = services.config.networks[account.kind];
  if (!network) throw new NetworkTrouble('fix', 'This installation of Playa is not set up for that kind of network.');
  return {
    network,
    guard: services.guard,
    answerWithin: services.config.answerWithin,
    now: services.clock,
    token: () => accessToken(services, account.id),
    spent: () => services.calls.add(account.id, services.clock()),
  };
}

/** A session right after a consent, before there is an account. */
export function sessionWith(services: Services, kind: accounts.AccountKind, granted: Granted): Session {
  return {
    network: services.config.networks[kind]!,
    guard: services.guard,
    answerWithin: services.config.answerWithin,
    now: services.clock,
    token: async () => granted.tokens.access,
  };
}

/**
 * The account's access token, renewed when it is about to end. The row is locked while renewing: rotating refresh
 * tokens may be used once only, however many workers there are.
 *
 * @throws NetworkTrouble
 */
async function accessToken(services: Services, accountId: number): Promise<string> {
  const { pool, vault, clock } = services;
  const open = (kept: accounts.SealedTokens) =>
    tokensSchema.parse(JSON.parse(vault.open(kept.sealed!, tokenOwner(kept.brandId, kept.kind))));
  const usable = (kept: accounts.SealedTokens | undefined): kept is accounts.SealedTokens => {
    if (!kept) throw new NetworkTrouble('fix', 'The account is gone.');
    if (kept.status !== 'ok' || !kept.sealed)
      throw new NetworkTrouble('reconnect', 'The account has to be connected again.');
    return kept.tokenExpiresAt === null || kept.tokenExpiresAt - AHEAD > clock();
  };
  const kept = await accounts.tokensOf(pool, accountId);
  if (usable(kept)) return open(kept).access;
  // Each renewal holds a connection to the database while the network takes its time.
  return fewRenewals(() =>
    inTransaction(pool, async (db) => {
      const latest = await accounts.tokensOf(db, accountId, true);
      if (usable(latest)) return open(latest).access;
      const { refresh } = open(latest!);
      if (!refresh) throw new NetworkTrouble('reconnect', 'The sign-in has ended and cannot be renewed.');
      const granted = await oauthClient(services, latest!.kind).refresh(refresh, clock());
      const sealed = vault.seal(JSON.stringify(granted.tokens), tokenOwner(latest!.brandId, latest!.kind));
      await accounts.keepTokens(db, accountId, sealed, granted.expiresAt, clock());
      return granted.tokens.access;
    }),
  );
}

/** Networks that hang must leave connections for everybody else. */
const fewRenewals = pLimit(3);

/** Notes that a network refuses an account, and tells open screens once. */
export async function noteRefused(
  services: Services,
  account: { id: number; brandId: number },
  trouble: string,
): Promise<void> {
  await inTransaction(services.pool, async (db) => {
    if (await accounts.markReconnect(db, account.id, trouble)) {
      const now = services.clock();
      await noteChange(db, account.brandId, 'accounts', account.id, now);
      const named = await accounts.accountBy(db, account.brandId, account.id);
      await addNotices(
        db,
        {
          brandId: account.brandId,
          to: [],
          onceKey: `reconnect ${account.id} ${now}`,
          workflowId: null,
          runId: null,
          text: `${named?.name ?? 'An account'}: ${trouble} What uses it waits until it is connected again.`,
        },
        now,
      );
    }
  });
}
