// Web hooks in: what is sent to a secret address is stored at once, answered with 202, and read afterwards.
import { createHash, randomBytes } from 'node:crypto';
import { Webhook, WebhookVerificationError } from 'standardwebhooks';
import { fieldsSchema, type Fields, type FieldValue } from '@playa/core/items/item.ts';
import { inferSchema, mergeSchemas } from '@playa/core/items/json-schema.ts';
import { fieldText, readField } from '@playa/core/items/read-field.ts';
import { inTransaction, type Queryable } from '../db/database.ts';
import type { Services } from '../services.ts';
import * as hooks from '../store/hooks.ts';
import { itemsByIdentity } from '../store/items.ts';
import { noteChange } from '../store/changes.ts';
import { keepWatch, watchBy } from '../store/watches.ts';
import { storeArrivals } from './arrivals.ts';

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
    const watchId = await keepWatch(db, {
      brandId,
      sourceKey: `hook:${randomBytes(12).toString('hex')}`,
      kind: 'hook',
      params: {},
      name,
      things: 'messages',
      everySeconds: 3600,
    });
    const sealedToken = services.vault.seal(token, owner(watchId));
    await hooks.addHook(db, { watchId, brandId, tokenHash: hashOf(token), sealedToken });
    return watchId;
  });
}

/** Where a hook is called. */
export function hookAddress(services: Services, hook: hooks.Hook): string {
  return `${services.config.origin}/hooks/${services.vault.open(hook.sealedToken, owner(hook.watchId))}`;
}

/** Gives a hook another address; the old one stops working. */
export async function changeHookAddress(services: Services, brandId: number, watchId: number): Promise<void> {
  const token = randomBytes(24).toString('base64url');
  const sealed = services.vault.seal(token, owner(watchId));
  await hooks.setHookAddress(services.pool, brandId, watchId, hashOf(token), sealed);
}

/**
 * Asks senders to sign, or no longer. The key is made here and shown once.
 *
 * @returns the key in the form of Standard Webhooks ("whsec_" and base64), null when signatures are no longer asked for
 */
export async function setSigned(
  services: Services,
  brandId: number,
  watchId: number,
  signed: boolean,
): Promise<string | null> {
  const secret = signed ? `whsec_${randomBytes(24).toString('base64')}` : null;
  const sealed = secret === null ? null : services.vault.seal(secret, owner(watchId));
  await hooks.setHookSecret(services.pool, brandId, watchId, sealed);
  return secret;
}

/** What a call to a hook came to. */
export type Received = { status: 202; repeated: boolean } | { status: 400 | 401 | 404; says: string };

/**
 * Takes a call: checks the signature if one is asked for, stores the body, and recognises a delivery that came before:
 * by the sender's message id, or by the same body within the hour.
 */
export async function receive(
  services: Services,
  token: string,
  body: Buffer,
  headers: Record<string, string | undefined>,
): Promise<Received> {
  const hook = await hooks.hookByToken(services.pool, hashOf(token));
  if (!hook) return { status: 404, says: 'There is no web hook at this address.' };
  if (hook.sealedSecret) {
    const secret = services.vault.open(hook.sealedSecret, owner(hook.watchId));
    const trouble = signatureTrouble(body, headers, secret);
    if (trouble) return { status: 401, says: trouble };
  }
  if (body.length === 0) return { status: 400, says: 'The body is empty.' };
  return { status: 202, repeated: !(await keep(services, hook, body, headers, false)) };
}

async function keep(
  services: Services,
  hook: hooks.Hook,
  body: Buffer,
  headers: Record<string, string | undefined>,
  test: boolean,
): Promise<boolean> {
  const now = services.clock();
  const id = headers['webhook-id'] ?? headers['idempotency-key'];
  const bodyHash = hashOf(body);
  let messageHash = id ? hashOf(`id:${id}`) : bodyHash;
  if (!id) {
    if (await hooks.cameSince(services.pool, hook.watchId, bodyHash, now - SAME_BODY_WITHIN)) return false;
    // The same words an hour later are something new; the row of the earlier one keeps its hash.
    messageHash = hashOf(`${bodyHash.toString('hex')}:${Math.floor(now / SAME_BODY_WITHIN)}`);
    if (await hooks.cameSince(services.pool, hook.watchId, messageHash, now - SAME_BODY_WITHIN)) return false;
  }
  const contentType = headers['content-type'] ?? '';
  const { watchId, brandId } = hook;
  const added = await hooks.addDelivery(services.pool, { watchId, brandId, messageHash, body, contentType, test }, now);
  if (added) services.nudge();
  return added;
}

/** Why a signature is not good (Standard Webhooks: id, timestamp within five minutes, v1 HMAC-SHA256); null when it is. */
export function signatureTrouble(
  body: Buffer,
  headers: Record<string, string | undefined>,
  secret: string,
): string | null {
  const names = ['webhook-id', 'webhook-timestamp', 'webhook-signature'] as const;
  const missing = names.filter((name) => !headers[name]);
  if (missing.length) return `The call is not signed: ${missing.join(', ')} missing.`;
  try {
    new Webhook(secret).verify(body, headers as Record<string, string>);
    return null;
  } catch (error) {
    // A body that is not JSON is no matter of the signature.
    if (error instanceof SyntaxError) return null;
    if (error instanceof WebhookVerificationError) return `The signature is not good: ${error.message}.`;
    throw error;
  }
}

/** Reads deliveries that nobody has read: learns their form, makes items of them, starts runs. Returns how many. */
export async function readDeliveries(services: Services, most = 50): Promise<number> {
  return inTransaction(services.pool, async (db) => {
    const unread = await hooks.lockUnread(db, most);
    for (const delivery of unread) await readDelivery(db, delivery, services.clock());
    return unread.length;
  });
}

async function readDelivery(db: Queryable, delivery: hooks.Delivery, now: number): Promise<void> {
  const { brandId, watchId } = delivery;
  const watch = await watchBy(db, brandId, watchId);
  const hook = await hooks.hookBy(db, brandId, watchId, true);
  if (!watch || !hook) return;
  const fields = readBody(delivery.body.toString('utf8'), delivery.contentType);
  if (typeof fields === 'string') {
    await hooks.markRead(db, delivery.id, { itemId: null, trouble: fields }, now);
    await noteChange(db, brandId, 'watches', watchId, now);
    return;
  }
  await hooks.setHookSchema(db, watchId, mergeSchemas(hook.schema, inferSchema(fields)));
  const said = hook.identityField === null ? '' : fieldText(readField(fields, hook.identityField)).trim();
  const identity = said ? `field:${said}` : `message:${delivery.messageHash.toString('hex')}`;
  const item = { identity, publishedAt: delivery.receivedAt, fields };
  const known = await itemsByIdentity(db, watchId, [identity]);
  await storeArrivals(
    db,
    watch,
    known.size > 0 ? { past: [], fresh: [], again: [item] } : { past: [], fresh: [item], again: [] },
    now,
  );
  const itemId = (await itemsByIdentity(db, watchId, [identity])).get(identity)?.id ?? null;
  await hooks.markRead(db, delivery.id, { itemId, trouble: null }, now);
}

/** The fields of a body: a JSON object, another JSON value under `value`, or a form. A sentence when it is neither. */
function readBody(text: string, contentType: string): Fields | string {
  if (/application\/x-www-form-urlencoded/i.test(contentType)) return Object.fromEntries(new URLSearchParams(text));
  let value: unknown;
  try {
    value = JSON.parse(text.replace(/^\uFEFF/, ''));
  } catch {
    return 'The body is not JSON.';
  }
  const object = value !== null && typeof value === 'object' && !Array.isArray(value) ? value : { value };
  const read = fieldsSchema.safeParse(object);
  return read.success ? read.data : 'The body is JSON that cannot be read.';
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
