// Push subscriptions: networks that tell are asked to call an address of the watch's own. What they say is not believed;
// a call only makes Playa look at once, so that a forged or lost call does no harm.
import { createHash, createHmac, randomBytes, timingSafeEqual } from 'node:crypto';
import { z } from 'zod';
import type { Push, Session } from '../connectors/connector.ts';
import { NetworkTrouble } from '../connectors/connector.ts';
import type { Services } from '../base/services.ts';
import { accountBy, type Account } from '../store/accounts.ts';
import * as store from '../store/push-subscriptions.ts';
import { hastenWatch } from '../store/watch-times.ts';
import { watchBy, watchesOfAccount, type Watch } from '../store/watches.ts';
import { signatureTrouble } from '../vault/signature.ts';
import { sessionFor } from './sessions.ts';

export const networkParams = z.object({
  account: z.number().int().positive(),
  outlet: z.string(),
  what: z.string(),
});

const hashOf = (text: string) => createHash('sha256').update(text).digest();
/** What a secret is sealed for; the word is part of what is sealed, and stays. */
const owner = (watchId: number) => `bell:${watchId}`;

/**
 * Subscribes a watch if it is not yet. A network that refuses is looked at instead, and asked again at the next look.
 *
 * @returns whether the network tells
 */
export async function subscribe(
  services: Services,
  watch: Pick<Watch, 'id' | 'brandId'>,
  push: Push,
  session: Session,
  outlet: string,
): Promise<boolean> {
  if (await store.subscriptionOf(services.pool, watch.id)) return true;
  const token = randomBytes(24).toString('base64url');
  const secret =
    push.signature === 'standard'
      ? `whsec_${randomBytes(24).toString('base64')}`
      : randomBytes(32).toString('base64url');
  try {
    const remoteId = await push.subscribe(session, outlet, `${services.config.origin}/push/${token}`, secret);
    const sealedSecret = services.vault.seal(secret, owner(watch.id));
    await store.keepSubscription(
      services.pool,
      { watchId: watch.id, brandId: watch.brandId, tokenHash: hashOf(token), sealedSecret, remoteId },
      services.clock(),
    );
    return true;
  } catch (error) {
    if (!(error instanceof NetworkTrouble)) throw error;
    services.log.warn({ watch: watch.id, trouble: error.message }, 'a network does not tell');
    return false;
  }
}

/** Ends a watch's subscription, at the network too if it can be reached. */
export async function unsubscribe(services: Services, watch: Watch, session: Session): Promise<void> {
  const known = await store.subscriptionOf(services.pool, watch.id);
  if (!known) return;
  const { outlet, what, account } = networkParams.parse(watch.params);
  const kind = (await accountBy(services.pool, watch.brandId, account))?.kind;
  try {
    if (kind) await services.connectors[kind].watches?.[what]?.push?.unsubscribe(session, outlet, known.remoteId);
  } catch (error) {
    // It goes on calling an address at which nobody is.
    if (!(error instanceof NetworkTrouble)) throw error;
  }
  await store.dropSubscription(services.pool, watch.id);
}

/** Ends all subscriptions of an account. */
export async function unsubscribeAll(services: Services, account: Account): Promise<void> {
  const session = sessionFor(services, account);
  for (const watch of await watchesOfAccount(services.pool, account.id)) await unsubscribe(services, watch, session);
}

/** Somebody calls the address of a subscription. */
export async function receivePush(
  services: Services,
  token: string,
  body: Buffer,
  headers: Record<string, string | undefined>,
): Promise<'taken' | 'unknown' | 'forged'> {
  const known = await store.subscriptionByToken(services.pool, hashOf(token));
  const watch = known && (await watchBy(services.pool, known.brandId, known.watchId));
  const params = networkParams.safeParse(watch?.params).data;
  const account = params && (await accountBy(services.pool, known!.brandId, params.account));
  const push = account && services.connectors[account.kind].watches?.[params!.what]?.push;
  if (!known || !push) return 'unknown';
  const secret = services.vault.open(known.sealedSecret, owner(known.watchId));
  const now = services.clock();
  if (!isSigned(push.signature, body, headers, secret, now)) return 'forged';
  await store.notePush(services.pool, known.watchId, now);
  await hastenWatch(services.pool, known.watchId, now);
  services.nudges.nudge();
  return 'taken';
}

function isSigned(
  signature: Push['signature'],
  body: Buffer,
  headers: Record<string, string | undefined>,
  secret: string,
  now: number,
): boolean {
  if (signature === 'standard') return signatureTrouble(body, headers, secret, now) === null;
  const given = Buffer.from((headers[signature.header] ?? '').replace(/^sha256=/, ''), 'hex');
  const wanted = createHmac('sha256', secret).update(body).digest();
  return given.length === wanted.length && timingSafeEqual(given, wanted);
}
