// Web hooks in: what is sent to a secret address is stored at once, answered with 202, and read afterwards.
import { createHash, randomBytes } from 'node:crypto';
import { bounded, OutOfBounds } from '@playa/core/items/bounded.ts';
import { storable } from '@playa/core/items/identity.ts';
import type { Fields, FieldValue } from '@playa/core/items/item.ts';
import { inferSchema, mergeSchemas } from '@playa/core/items/json-schema.ts';
import { fieldText, readField } from '@playa/core/items/read-field.ts';
import { cutUnits } from '@playa/core/text/graphemes.ts';
import { oneLine } from '@playa/core/text/plain.ts';
import { CouldNotBeStored, inSavepoint, inTransaction, type Queryable } from '../db/database.ts';
import type { Services } from '../base/services.ts';
import { signatureTrouble } from '../vault/signature.ts';
import * as hooks from '../store/hooks.ts';
import * as hookDeliveries from '../store/hook-deliveries.ts';
import { itemsByIdentity } from '../store/items.ts';
import { noteChange } from '../store/changes.ts';
import { setAside } from '../store/set-aside.ts';
import { watchBy } from '../store/watches.ts';
import { storeArrivals } from './arrivals.ts';
import { hookKind } from './kinds/hook.ts';
import { keepSource } from './kinds/keep.ts';
import type { Delivery } from '../store/hook-deliveries.ts';

/** The largest body that is taken, in bytes. */
export const HOOK_LIMIT = 512 * 1024;
/** The same body within this time, without a message id, is the sender trying again. */
const SAME_BODY_WITHIN = 3_600_000;

const hashOf = (text: string | Buffer) => createHash('sha256').update(text).digest();
const owner = (watchId: number) => `hook:${watchId}`;

/** Makes a hook for a brand: a watch that is told instead of looking. */
export async function makeHook(services: Services, brandId: number, name: string): Promise<number> {
  const token = randomBytes(24).toString('base64url');
  return inTransaction(services.pool, async (db) => {
    const watchId = await keepSource(
      db,
      hookKind,
      {
        brandId,
        params: {},
        name,
        things: 'messages',
        everySeconds: 3600,
      },
      { actor: services.actor, now: services.clock() },
    );
    const sealedToken = services.vault.seal(token, owner(watchId));
    await hooks.addHook(db, { watchId, brandId, tokenHash: hashOf(token), sealedToken });
    return watchId;
  });
}

/** Where a hook is called. */
export function hookAddress(services: Services, hook: hooks.Hook): string {
  return `${services.config.origin}/hooks/${services.vault.open(hook.sealedToken, owner(hook.watchId))}`;
}

/** So long both addresses of a hook work: whoever sends has to be told of the new one first. Milliseconds. */
const BOTH_WORK = 24 * 3_600_000;

/** Gives a hook another address; the old one works for a day more. */
export async function changeHookAddress(
  services: Services,
  db: Queryable,
  brandId: number,
  watchId: number,
): Promise<void> {
  const token = randomBytes(24).toString('base64url');
  const sealedToken = services.vault.seal(token, owner(watchId));
  const oldUntil = services.clock() + BOTH_WORK;
  await hooks.setHookAddress(db, { brandId, watchId, tokenHash: hashOf(token), sealedToken, oldUntil });
}

/** Takes back that a hook got another address. Run inside a transaction. Returns whether there was one to go back to. */
export const restoreHookAddress = (
  { clock }: Services,
  db: Queryable,
  brandId: number,
  watchId: number,
): Promise<boolean> => hooks.restoreHookAddress(db, brandId, watchId, clock());

/**
 * Asks senders to sign, or no longer. The key is made here and shown once.
 *
 * @returns the key in the form of Standard Webhooks ("whsec_" and base64), null when signatures are no longer asked for
 */
export async function setSigned(
  services: Services,
  db: Queryable,
  brandId: number,
  watchId: number,
  signed: boolean,
): Promise<string | null> {
  const secret = signed ? `whsec_${randomBytes(24).toString('base64')}` : null;
  const sealed = secret === null ? null : services.vault.seal(secret, owner(watchId));
  await hooks.setHookSecret(db, brandId, watchId, sealed);
  return secret;
}

/** What a call to a hook came to. */
export type Received = { status: 202; repeated: boolean } | { status: 400 | 401 | 404 | 422; says: string };

/**
 * Takes a call: checks the signature if one is asked for, looks whether the body can be taken, stores it, and recognises
 * a delivery that came before. What cannot be taken is stored all the same, for whoever sets the hook up to see.
 */
export async function receive(
  services: Services,
  token: string,
  body: Buffer,
  headers: Record<string, string | undefined>,
): Promise<Received> {
  const hook = await hooks.hookByToken(services.pool, hashOf(token), services.clock());
  if (!hook) return { status: 404, says: 'There is no web hook at this address.' };
  if (hook.sealedSecret) {
    const secret = services.vault.open(hook.sealedSecret, owner(hook.watchId));
    const trouble = signatureTrouble(body, headers, secret, services.clock());
    if (trouble) return { status: 401, says: trouble };
  }
  if (body.length === 0) return { status: 400, says: 'The body is empty.' };
  const repeated = !(await keep(services, hook, body, headers, false));
  const read = readBody(body.toString('utf8'), headers['content-type'] ?? '');
  // The sender can act on it, so the sender is told.
  return typeof read === 'string' ? { status: 422, says: read } : { status: 202, repeated };
}

/**
 * Stores a delivery unless it came before. A sender's own message id (Standard Webhooks) or idempotency key says so for
 * ever; without one, the same body within an hour before, whatever hour the clock shows.
 */
async function keep(
  services: Services,
  hook: hooks.Hook,
  body: Buffer,
  headers: Record<string, string | undefined>,
  test: boolean,
): Promise<boolean> {
  const now = services.clock();
  const id = headers['webhook-id'] ?? headers['idempotency-key'];
  const { watchId, brandId } = hook;
  const delivery = { watchId, brandId, body, contentType: headers['content-type'] ?? '', test };
  const added = id
    ? await hookDeliveries.addDelivery(services.pool, { ...delivery, messageHash: hashOf(`id:${id}`) }, now)
    : await hookDeliveries.addDeliveryByBody(
        services.pool,
        // The same words later are something new, so that the hash that makes it unique is of this one call.
        { ...delivery, messageHash: hashOf(randomBytes(32)), bodyHash: hashOf(body) },
        now - SAME_BODY_WITHIN,
        now,
      );
  if (added) services.nudges.nudge();
  return added;
}

/** Reads deliveries that nobody has read: learns their form, makes items of them, starts runs. Returns how many. */
export async function readDeliveries(services: Services, most = 50): Promise<number> {
  return inTransaction(services.pool, async (db) => {
    const unread = await hookDeliveries.lockUnread(db, most);
    for (const delivery of unread) {
      const now = services.clock();
      try {
        await inSavepoint(db, () => readDelivery(db, delivery, now));
      } catch (error) {
        if (!(error instanceof CouldNotBeStored)) throw error;
        services.log.error({ err: error, delivery: delivery.id }, 'a delivery could not be taken');
        await setDeliveryAside(db, delivery, 'Playa could not take this. It is kept as it came.', now);
      }
    }
    return unread.length;
  });
}

/** What cannot be taken is kept with its reason, and shown. */
async function setDeliveryAside(db: Queryable, delivery: Delivery, why: string, now: number): Promise<void> {
  const { brandId, watchId } = delivery;
  await hookDeliveries.markRead(db, delivery.id, { itemId: null, trouble: why }, now);
  const what = cutUnits(oneLine(delivery.body.subarray(0, 400).toString('utf8')), 120);
  await setAside(db, { brandId, kind: 'delivery', once: `${watchId}.${why}`, watchId, what, why }, now);
  await noteChange(db, brandId, 'watches', watchId, now);
}

async function readDelivery(db: Queryable, delivery: Delivery, now: number): Promise<void> {
  const { brandId, watchId } = delivery;
  const watch = await watchBy(db, brandId, watchId);
  const hook = await hooks.hookBy(db, brandId, watchId, true);
  if (!watch || !hook)
    return hookDeliveries.markRead(db, delivery.id, { itemId: null, trouble: 'The web hook is gone.' }, now);
  const fields = readBody(delivery.body.toString('utf8'), delivery.contentType);
  if (typeof fields === 'string') return setDeliveryAside(db, delivery, fields, now);
  await hooks.setHookSchema(db, watchId, mergeSchemas(hook.schema, inferSchema(fields)));
  const said = hook.identityField === null ? '' : fieldText(readField(fields, hook.identityField)).trim();
  const identity = storable(said ? `field:${said}` : `message:${delivery.messageHash.toString('hex')}`);
  const item = { identity, publishedAt: delivery.receivedAt, fields };
  const known = await itemsByIdentity(db, watchId, [identity]);
  const { refused } = await storeArrivals(
    db,
    watch,
    known.size > 0 ? { past: [], fresh: [], again: [item] } : { past: [], fresh: [item], again: [] },
    now,
  );
  const itemId = (await itemsByIdentity(db, watchId, [identity])).get(identity)?.id ?? null;
  await hookDeliveries.markRead(db, delivery.id, { itemId, trouble: refused[0]?.why ?? null }, now);
}

/** The fields of a body: a JSON object, another JSON value under `value`, or a form. A sentence when it is neither. */
function readBody(text: string, contentType: string): Fields | string {
  let value: unknown;
  if (/application\/x-www-form-urlencoded/i.test(contentType)) value = Object.fromEntries(new URLSearchParams(text));
  else
    try {
      value = JSON.parse(text.replace(/^\uFEFF/, ''));
    } catch {
      return 'The body is not JSON.';
    }
  const object = value !== null && typeof value === 'object' && !Array.isArray(value) ? value : { value };
  try {
    // JSON holds nothing but such values.
    return bounded(object as Fields) as Fields;
  } catch (error) {
    if (error instanceof OutOfBounds) return `The body cannot be taken. ${error.message}`;
    throw error;
  }
}

/** Sends a test as a sender would, through the same door; it is marked as one. */
export async function sendTest(
  services: Services,
  brandId: number,
  watchId: number,
  body: FieldValue,
): Promise<boolean> {
  const hook = await hooks.hookBy(services.pool, brandId, watchId);
  if (!hook) return false;
  const id = `test-${randomBytes(8).toString('hex')}`;
  const headers = { 'webhook-id': id, 'content-type': 'application/json' };
  await keep(services, hook, Buffer.from(JSON.stringify(body)), headers, true);
  return true;
}
