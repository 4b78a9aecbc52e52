// Keeping a sign-in, however it was given: who it is, what it may reach, and what waited for it.
import { cutUnits } from '@playa/core/text/graphemes.ts';
import { DateTime } from 'luxon';
import type { Connector } from '../connectors/connector.ts';
import { NetworkTrouble } from '../connectors/connector.ts';
import { inTransaction } from '../db/database.ts';
import type { Services } from '../base/services.ts';
import * as accounts from '../store/accounts.ts';
import { noteChange } from '../store/changes.ts';
import { resumeAccount } from '../store/acts-waiting.ts';
import { handOutlets, keepOutlets } from '../store/outlets.ts';
import type { Brand } from '../store/users.ts';
import { resumeSyncs } from '../store/sheet-syncs.ts';
import { resumeWatches } from '../store/watch-times.ts';
import type { Granted } from './oauth.ts';
import { sessionWith, tokenOwner } from './sessions.ts';

/**
 * Stores a sign-in after asking the network who it is. Somebody who is connected already gets a renewed sign-in, and
 * what waited for it goes on.
 *
 * @returns the account's number
 * @throws NetworkTrouble with nothing stored
 */
export async function keepSignIn(
  services: Services,
  brand: Brand,
  kind: accounts.AccountKind,
  granted: Granted,
): Promise<number> {
  const now = services.clock();
  const connector = services.connectors[kind];
  const session = sessionWith(services, kind, granted);
  const who = await connector.whoAmI(session);
  const known = await accounts.accountByRemote(services.pool, brand.id, kind, who.remoteId);
  const byHand = known ? await handOutlets(services.pool, known.id) : [];
  const outlets = await connector.outlets(session, byHand);
  return inTransaction(services.pool, async (db) => {
    const id = await accounts.keepAccount(db, {
      brandId: brand.id,
      kind,
      name: suggestName(connector.purpose, who.name, now, brand),
      remoteId: who.remoteId,
      remoteName: who.name,
      sealed: services.vault.seal(JSON.stringify(granted.tokens), tokenOwner(brand.id, kind)),
      tokenExpiresAt: granted.expiresAt,
      scopes: granted.scopes ?? null,
      now,
    });
    await keepOutlets(db, { brandId: brand.id, accountId: id }, outlets, now);
    await resumeAccount(db, brand.id, id, now);
    await resumeWatches(db, id, now);
    await resumeSyncs(db, id, now);
    await noteChange(db, brand.id, 'accounts', id, now);
    return id;
  });
}

/**
 * Signs in with what a person has filled in.
 *
 * @throws NetworkTrouble with nothing stored
 */
export async function connectByForm(
  services: Services,
  brand: Brand,
  kind: accounts.AccountKind,
  values: Record<string, string>,
): Promise<number> {
  const { signIn } = services.connectors[kind];
  if (signIn.by !== 'form') throw new NetworkTrouble('fix', 'This network asks for a yes on a page of its own.');
  const filled: Record<string, string> = {};
  for (const field of signIn.fields) {
    const value = (values[field.name] ?? '').trim();
    if (value === '' && !field.optional) throw new NetworkTrouble('fix', `${field.label} is empty.`);
    if (value !== '') filled[field.name] = value;
  }
  // A lone key is the token; a form of several fields travels as a whole.
  const access = signIn.fields.length === 1 ? filled[signIn.fields[0]!.name]! : JSON.stringify(filled);
  try {
    return await keepSignIn(services, brand, kind, { tokens: { access, refresh: null }, expiresAt: null });
  } catch (error) {
    // Nothing was connected yet, so there is nothing to connect again.
    if (error instanceof NetworkTrouble && error.kind === 'reconnect')
      throw new NetworkTrouble('fix', `${error.message} Look whether it was copied as a whole.`);
    throw error;
  }
}

/** "Mo Okoro, for posting, since November 2026": who, what for, since when. */
export function suggestName(
  purpose: string,
  who: string,
  now: number,
  brand: { timeZone: string; locale: string },
): string {
  const since = DateTime.fromMillis(now, { zone: brand.timeZone, locale: brand.locale }).toFormat('LLLL yyyy');
  return cutUnits(`${who}, for ${purpose}, since ${since}`, 120);
}

/** What was asked for at the consent and not given, in words. */
export function missingScopes(connector: Connector, scopes: string | null): string[] {
  if (connector.signIn.by !== 'consent' || scopes === null) return [];
  const given = new Set(scopes.split(' '));
  return Object.entries(connector.signIn.scopes).flatMap(([scope, what]) => (given.has(scope) ? [] : [what]));
}
