import { inTransaction } from '../db/database.ts';
import { NetworkTrouble } from '../connectors/connector.ts';
import type { Services } from '../base/services.ts';
import { addAudit } from '../store/audit.ts';
import * as accounts from '../store/accounts.ts';
import { noteChange } from '../store/changes.ts';
import { handOutlets, keepOutlets } from '../store/outlets.ts';
import type { Brand } from '../store/users.ts';
import { hashState } from './oauth.ts';
import { keepSignIn } from './sign-in.ts';
import { noteRefused, oauthClient, sessionFor, tokenOwner } from './sessions.ts';
import { unsubscribeAll } from './push-subscriptions.ts';
import { tokensSchema } from './oauth.ts';

const CONSENT_LIFE = 15 * 60_000;

/** Begins a consent: returns the address at the network where the person says yes. */
export async function beginConnect(
  services: Services,
  request: { brandId: number; userId: number; kind: accounts.AccountKind; backTo: string },
): Promise<string> {
  const { url, state, verifier } = await oauthClient(services, request.kind).begin();
  const now = services.clock();
  const sealedVerifier = services.vault.seal(verifier, `consent:${request.userId}`);
  await accounts.addConsent(services.pool, hashState(state), { ...request, sealedVerifier }, now + CONSENT_LIFE, now);
  return url;
}

export interface Connected {
  accountId: number;
  brandId: number;
  backTo: string;
  kind: accounts.AccountKind;
}

/**
 * Finishes a consent with the network's answer. Connecting somebody who is connected already renews the sign-in, and
 * what waited for it goes on.
 *
 * @throws NetworkTrouble with nothing stored
 */
export async function finishConnect(
  services: Services,
  userId: number,
  answer: URLSearchParams,
  brandOf: (id: number) => Brand | undefined,
): Promise<Connected> {
  const state = answer.get('state') ?? '';
  const now = services.clock();
  const consent = await inTransaction(services.pool, (db) => accounts.takeConsent(db, hashState(state), now));
  const brand = consent && brandOf(consent.brandId);
  // The one who comes back must be the one who left (RFC 9700 section 4.7).
  if (!consent || consent.userId !== userId || !brand)
    throw new NetworkTrouble('fix', 'This sign-in took too long or was not begun here. Begin again.');
  const verifier = services.vault.open(consent.sealedVerifier, `consent:${userId}`);
  const granted = await oauthClient(services, consent.kind).finish(answer, state, verifier, now);
  const accountId = await keepSignIn(services, brand, consent.kind, granted);
  return { accountId, brandId: brand.id, backTo: consent.backTo, kind: consent.kind };
}

/** Asks the network anew for an account's outlets. @throws NetworkTrouble */
export async function refreshOutlets(services: Services, brandId: number, accountId: number): Promise<void> {
  const account = await accounts.accountBy(services.pool, brandId, accountId);
  if (!account) throw new NetworkTrouble('fix', 'The account is gone.');
  try {
    const byHand = await handOutlets(services.pool, accountId);
    const outlets = await services.connectors[account.kind].outlets(sessionFor(services, account), byHand);
    await inTransaction(services.pool, async (db) => {
      const now = services.clock();
      await keepOutlets(db, { brandId, accountId }, outlets, now);
      await accounts.markOk(db, accountId, now);
      await noteChange(db, brandId, 'accounts', accountId, now);
    });
  } catch (error) {
    if (error instanceof NetworkTrouble && error.kind === 'reconnect')
      await noteRefused(services, { id: accountId, brandId }, error.message);
    throw error;
  }
}

/** Gives the grant back to the network and forgets the tokens. */
export async function disconnect(services: Services, brandId: number, accountId: number): Promise<void> {
  const account = await accounts.accountBy(services.pool, brandId, accountId);
  if (!account) throw new NetworkTrouble('fix', 'There is no such account.');
  const kept = await accounts.tokensOf(services.pool, accountId);
  if (!kept) return;
  if (kept.sealed) {
    if (account.status === 'ok') await unsubscribeAll(services, account);
    if (services.connectors[account.kind].signIn.by === 'consent') {
      const { access, refresh } = tokensSchema.parse(
        JSON.parse(services.vault.open(kept.sealed, tokenOwner(brandId, account.kind))),
      );
      await oauthClient(services, account.kind).revoke(refresh ?? access);
    }
  }
  await inTransaction(services.pool, async (db) => {
    await accounts.disconnectAccount(db, brandId, accountId);
    const deed = { brandId, did: 'disconnected', about: 'account', id: accountId, name: account.name } as const;
    await addAudit(db, services.actor, deed, services.clock());
    await noteChange(db, brandId, 'accounts', accountId, services.clock());
  });
}
