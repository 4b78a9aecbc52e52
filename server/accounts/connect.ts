import { DateTime } from 'luxon';
import { inTransaction } from '../db/database.ts';
import { NetworkTrouble } from '../connectors/connector.ts';
import type { Services } from '../services.ts';
import * as accounts from '../store/accounts.ts';
import { noteChange } from '../store/changes.ts';
import { resumeAccount } from '../store/effects.ts';
import { keepOutlets } from '../store/outlets.ts';
import type { Brand } from '../store/people.ts';
import { hashState } from './oauth.ts';
import { oauthClient, sessionFor, sessionWith, tokenOwner } from './sessions.ts';
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
  const connector = services.connectors[consent.kind];
  const session = sessionWith(services, consent.kind, granted);
  const who = await connector.whoAmI(session);
  const outlets = await connector.outlets(session);
  const accountId = await inTransaction(services.pool, async (db) => {
    const id = await accounts.keepAccount(db, {
      brandId: brand.id,
      kind: consent.kind,
      name: suggestName(connector.purpose, who.name, now, brand),
      remoteId: who.remoteId,
      remoteName: who.name,
      sealed: services.vault.seal(JSON.stringify(granted.tokens), tokenOwner(brand.id, consent.kind)),
      tokenExpiresAt: granted.expiresAt,
      now,
    });
    await keepOutlets(db, { brandId: brand.id, accountId: id }, outlets, now);
    await resumeAccount(db, brand.id, id, now);
    await noteChange(db, brand.id, 'accounts', id, now);
    return id;
  });
  return { accountId, brandId: brand.id, backTo: consent.backTo, kind: consent.kind };
}

/** "Mo Okoro, for posting, since November 2026": who, what for, since when. */
export function suggestName(
  purpose: string,
  who: string,
  now: number,
  brand: { timeZone: string; locale: string },
): string {
  const since = DateTime.fromMillis(now, { zone: brand.timeZone, locale: brand.locale }).toFormat('LLLL yyyy');
  return `${who}, for ${purpose}, since ${since}`.slice(0, 120);
}

/** Asks the network anew for an account's outlets. @throws NetworkTrouble */
export async function refreshOutlets(services: Services, brandId: number, accountId: number): Promise<void> {
  const account = await accounts.accountBy(services.pool, brandId, accountId);
  if (!account) throw new NetworkTrouble('fix', 'The account is gone.');
  try {
    const outlets = await services.connectors[account.kind].outlets(sessionFor(services, account));
    await inTransaction(services.pool, async (db) => {
      const now = services.clock();
      await keepOutlets(db, { brandId, accountId }, outlets, now);
      await accounts.markOk(db, accountId, now);
      await noteChange(db, brandId, 'accounts', accountId, now);
    });
  } catch (error) {
    if (error instanceof NetworkTrouble && error.kind === 'reconnect') {
      await inTransaction(services.pool, async (db) => {
        if (await accounts.markReconnect(db, accountId, error.message))
          await noteChange(db, brandId, 'accounts', accountId, services.clock());
      });
    }
    throw error;
  }
}

/** Gives the grant back to the network and forgets the tokens. */
export async function disconnect(services: Services, brandId: number, accountId: number): Promise<void> {
  const account = await accounts.accountBy(services.pool, brandId, accountId);
  const kept = account && (await accounts.tokensOf(services.pool, accountId));
  if (!account || !kept) return;
  if (kept.sealed) {
    const { access, refresh } = tokensSchema.parse(
      JSON.parse(services.vault.open(kept.sealed, tokenOwner(brandId, account.kind))),
    );
    await oauthClient(services, account.kind).revoke(refresh ?? access);
  }
  await inTransaction(services.pool, async (db) => {
    await accounts.disconnectAccount(db, brandId, accountId);
    await noteChange(db, brandId, 'accounts', accountId, services.clock());
  });
}
