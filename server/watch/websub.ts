// WebSub (W3C Recommendation of 23 January 2018): being told by a feed's hub instead of looking.
import { createHash, createHmac, randomBytes, timingSafeEqual } from 'node:crypto';
import type { FeedLinks } from '@playa/core/feeds/links.ts';
import { FeedError } from '@playa/core/feeds/feed-error.ts';
import { inTransaction } from '../db/database.ts';
import { FetchTrouble } from '../guard/guard.ts';
import type { Services } from '../base/services.ts';
import { knownIdentities } from '../store/items.ts';
import * as store from '../store/websub.ts';
import { isWatched } from '../store/watch-times.ts';
import { watchBy, type Watch } from '../store/watches.ts';
import { storeArrivals } from './arrivals.ts';

/** The lease that is asked for; hubs may grant another. */
const LEASE_SECONDS = 10 * 86_400;
/** After a refusal or silence it is asked again this much later. */
const ASK_AGAIN = 6 * 3_600_000;
/** A subscription that was asked for and not verified in this time is asked for anew. */
const VERIFY_WITHIN = 10 * 60_000;

const owner = (watchId: number) => `websub:${watchId}`;
const hashOf = (text: string) => createHash('sha256').update(text).digest();

/** Subscribes when a feed that is watched names a hub and there is no subscription for it yet. */
export async function offerSubscription(
  services: Services,
  watch: Pick<Watch, 'id' | 'brandId'>,
  links: FeedLinks,
): Promise<void> {
  const [hub] = links.hubs;
  const known = await store.websubOf(services.pool, watch.id);
  if (!hub || !links.self) {
    if (known) await store.forgetWebsub(services.pool, watch.id);
    return;
  }
  if (known && known.hub === hub && known.topic === links.self) return;
  const sub = { watchId: watch.id, brandId: watch.brandId, hub, topic: links.self };
  if (await isWatched(services.pool, watch.id)) await subscribe(services, sub);
  else await store.idleWebsub(services.pool, { ...sub, ...newKeys(services, watch.id).sealed });
}

/** An address and a key of our own for one subscription, each used once. */
function newKeys(services: Services, watchId: number) {
  const callback = randomBytes(24).toString('base64url');
  const secret = randomBytes(32).toString('base64url');
  const sealed = {
    callbackHash: hashOf(callback),
    sealedCallback: services.vault.seal(callback, owner(watchId)),
    sealedSecret: services.vault.seal(secret, owner(watchId)),
  };
  return { callback, secret, sealed };
}

/** Asks a hub (section 5.1). It answers 202 and verifies the intent later. */
async function subscribe(
  services: Services,
  sub: { watchId: number; brandId: number; hub: string; topic: string },
): Promise<void> {
  const { callback, secret, sealed } = newKeys(services, sub.watchId);
  const now = services.clock();
  const { watchId, brandId, hub, topic } = sub;
  await store.keepWebsub(services.pool, { watchId, brandId, hub, topic, ...sealed }, now + VERIFY_WITHIN);
  const form = new URLSearchParams({
    'hub.callback': `${services.config.origin}/websub/${callback}`,
    'hub.mode': 'subscribe',
    'hub.topic': sub.topic,
    'hub.lease_seconds': String(LEASE_SECONDS),
    'hub.secret': secret,
  });
  let says: string | null = null;
  try {
    const answer = await services.guard.fetch(sub.hub, {
      method: 'POST',
      headers: { 'content-type': 'application/x-www-form-urlencoded' },
      body: form.toString(),
      timeout: 15_000,
    });
    if (answer.status < 200 || answer.status >= 300) says = `The hub refuses to tell (${answer.status}).`;
  } catch (error) {
    if (!(error instanceof FetchTrouble)) throw error;
    says = error.message;
  }
  if (says !== null) await store.denyWebsub(services.pool, sub.watchId, says, now + ASK_AGAIN);
}

/** Renews what is about to end (section 5.1.1: by asking again). Returns how many. */
export async function renewSubscriptions(services: Services): Promise<number> {
  const now = services.clock();
  const due = await inTransaction(services.pool, (db) => store.takeDueRenewals(db, now, now + ASK_AGAIN, 10));
  for (const sub of due) {
    if (await isWatched(services.pool, sub.watchId)) await subscribe(services, sub);
    // The hub stops by itself when the lease has ended.
    else await store.idleWebsub(services.pool, { ...sub, ...newKeys(services, sub.watchId).sealed });
  }
  return due.length;
}

/**
 * Answers a hub that verifies our intent (section 5.3), or tells that it will not (5.2).
 *
 * @returns the challenge to echo; undefined when we want nothing of the sort, which is answered with 404
 */
export async function verifyIntent(
  services: Services,
  callback: string,
  query: Record<string, string | undefined>,
): Promise<string | undefined> {
  const sub = await store.websubByCallback(services.pool, hashOf(callback));
  const mode = query['hub.mode'];
  if (!sub || query['hub.topic'] !== sub.topic) {
    // Whoever asks whether to end what we do not have is told yes.
    return !sub && mode === 'unsubscribe' ? query['hub.challenge'] : undefined;
  }
  const now = services.clock();
  if (mode === 'denied') {
    await store.denyWebsub(
      services.pool,
      sub.watchId,
      query['hub.reason'] ?? 'The hub refuses to tell.',
      now + ASK_AGAIN,
    );
    return '';
  }
  if (mode !== 'subscribe' || !query['hub.challenge']) return undefined;
  const lease = Number(query['hub.lease_seconds']);
  const seconds = Number.isFinite(lease) && lease > 0 ? lease : LEASE_SECONDS;
  // Renewed when nine tenths are over, so that the hub has time to verify again.
  await store.activateWebsub(services.pool, sub.watchId, now + seconds * 1000, now + seconds * 900);
  return query['hub.challenge'];
}

/** What came of a push: taken, not ours (answered with 404), or not signed by the hub (ignored with 202, section 8). */
export type Pushed = 'taken' | 'unknown' | 'unsigned';

/** Takes what a hub tells (section 7): a feed of what is new, signed with our secret. */
export async function takePush(
  services: Services,
  callback: string,
  body: Buffer,
  headers: { signature: string | undefined; type: string | undefined },
): Promise<Pushed> {
  const { pool } = services;
  const sub = await store.websubByCallback(pool, hashOf(callback));
  if (!sub) return 'unknown';
  const secret = services.vault.open(sub.sealedSecret, owner(sub.watchId));
  if (!isSigned(body, headers.signature, secret)) return 'unsigned';
  const watch = await watchBy(pool, sub.brandId, sub.watchId);
  if (!watch) return 'unknown';
  let items;
  try {
    ({ items } = await services.outside.feed(body, sub.topic, headers.type));
  } catch (error) {
    // Whatever it was, the next look sees it.
    if (error instanceof FeedError) return 'taken';
    throw error;
  }
  await inTransaction(pool, async (db) => {
    const now = services.clock();
    await store.notePush(db, watch.id, now);
    const known = await knownIdentities(
      db,
      watch.id,
      items.map((item) => item.identity),
    );
    const fresh = items.filter((item) => !known.has(item.identity)).reverse();
    const again = items.filter((item) => known.has(item.identity));
    await storeArrivals(db, watch, { past: [], fresh, again }, now);
  });
  return 'taken';
}

const ALGORITHMS = new Set(['sha1', 'sha256', 'sha384', 'sha512']);

/** Whether a body carries the signature of its hub (section 8): `X-Hub-Signature: method=hex`. */
export function isSigned(body: Buffer, header: string | undefined, secret: string): boolean {
  const [method = '', signature = ''] = (header ?? '').split('=', 2);
  if (!ALGORITHMS.has(method.toLowerCase()) || !/^[0-9a-f]+$/i.test(signature)) return false;
  const wanted = createHmac(method.toLowerCase(), secret).update(body).digest();
  const given = Buffer.from(signature, 'hex');
  return given.length === wanted.length && timingSafeEqual(given, wanted);
}
