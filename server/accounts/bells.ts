// Bells: networks that tell are asked to call an address of the watch's own. What they say is not believed; the bell
// only makes Playa look at once, so that a forged or lost call does no harm.
import { createHash, createHmac, randomBytes, timingSafeEqual } from 'node:crypto';
import { z } from 'zod';
import type { Bell, Session } from '../connectors/connector.ts';
import { NetworkTrouble } from '../connectors/connector.ts';
import type { Services } from '../base/services.ts';
import { accountBy, type Account } from '../store/accounts.ts';
import * as store from '../store/bells.ts';
import { ringWatch } from '../store/watch-times.ts';
import { watchBy, watchesOfAccount, type Watch } from '../store/watches.ts';
import { signatureTrouble } from '../vault/signature.ts';
import { sessionFor } from './sessions.ts';

export const networkParams = z.object({
  account: z.number().int().positive(),
  outlet: z.string(),
  what: z.string(),
});

const hashOf = (text: string) => createHash('sha256').update(text).digest();
const owner = (watchId: number) => `bell:${watchId}`;

/** Hangs a watch's bell if it has none. A network that refuses is looked at instead, and asked again at the next look. */
export async function hangBell(
  services: Services,
  watch: Pick<Watch, 'id' | 'brandId'>,
  bell: Bell,
  session: Session,
  outlet: string,
): Promise<boolean> {
  if (await store.bellOf(services.pool, watch.id)) return true;
  const token = randomBytes(24).toString('base64url');
  const secret =
    bell.signature === 'standard'
      ? `whsec_${randomBytes(24).toString('base64')}`
      : randomBytes(32).toString('base64url');
  try {
    const remoteId = await bell.hang(session, outlet, `${services.config.origin}/bells/${token}`, secret);
    const sealedSecret = services.vault.seal(secret, owner(watch.id));
    await store.keepBell(
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

/** Takes a watch's bell down, at the network too if it can be reached. */
export async function takeBell(services: Services, watch: Watch, session: Session): Promise<void> {
  const hung = await store.bellOf(services.pool, watch.id);
  if (!hung) return;
  const { outlet, what, account } = networkParams.parse(watch.params);
  const kind = (await accountBy(services.pool, watch.brandId, account))?.kind;
  try {
    if (kind) await services.connectors[kind].watches?.[what]?.bell?.take(session, outlet, hung.remoteId);
  } catch (error) {
    // It goes on calling an address at which nobody is.
    if (!(error instanceof NetworkTrouble)) throw error;
  }
  await store.dropBell(services.pool, watch.id);
}

/** Takes down all bells of an account. */
export async function takeBells(services: Services, account: Account): Promise<void> {
  const session = sessionFor(services, account);
  for (const watch of await watchesOfAccount(services.pool, account.id)) await takeBell(services, watch, session);
}

/** Somebody calls a bell's address. */
export async function ring(
  services: Services,
  token: string,
  body: Buffer,
  headers: Record<string, string | undefined>,
): Promise<'rung' | 'unknown' | 'forged'> {
  const hung = await store.bellByToken(services.pool, hashOf(token));
  const watch = hung && (await watchBy(services.pool, hung.brandId, hung.watchId));
  const params = networkParams.safeParse(watch?.params).data;
  const account = params && (await accountBy(services.pool, hung!.brandId, params.account));
  const bell = account && services.connectors[account.kind].watches?.[params!.what]?.bell;
  if (!hung || !bell) return 'unknown';
  const secret = services.vault.open(hung.sealedSecret, owner(hung.watchId));
  const now = services.clock();
  if (!isSigned(bell.signature, body, headers, secret, now)) return 'forged';
  await store.noteRung(services.pool, hung.watchId, now);
  await ringWatch(services.pool, hung.watchId, now);
  services.nudges.nudge();
  return 'rung';
}

function isSigned(
  signature: Bell['signature'],
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
