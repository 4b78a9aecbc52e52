// Telling applications: whoever asked to be told of something is called when it happens, signed with their secret.
import { createHmac, randomBytes, randomUUID } from 'node:crypto';
import { rows } from './db.ts';
import type { Lagoon } from './lagoon.ts';

/** How a service signs what it sends: the way of Standard Webhooks, or a digest of the body in one header. */
export type Signing = 'standard' | 'digest';

interface Tell {
  id: string;
  callback: string;
  secret: string;
}

/** Remembers who wants to be told. The same callback twice is one. */
export async function addTell(
  lagoon: Lagoon,
  tell: { service: string; topic: string; about: number; callback: string; secret: string; person: number },
): Promise<string> {
  const { service, topic, about, callback, secret, person } = tell;
  await lagoon.db.query('DELETE FROM tells WHERE service = ? AND topic = ? AND about = ? AND callback = ?', [
    service,
    topic,
    about,
    callback,
  ]);
  const id = randomBytes(16).toString('base64url');
  await lagoon.db.query(
    'INSERT INTO tells (id, service, topic, about, callback, secret, person_id) VALUES (?, ?, ?, ?, ?, ?, ?)',
    [id, service, topic, about, callback, secret, person],
  );
  return id;
}

export async function dropTell(lagoon: Lagoon, service: string, id: string, person: number): Promise<void> {
  await lagoon.db.query('DELETE FROM tells WHERE id = ? AND service = ? AND person_id = ?', [id, service, person]);
}

/** Tells of something. Who cannot be reached is tried twice more; then it is left, as out there. */
export function tell(
  lagoon: Lagoon,
  { service, topic, about, signing }: { service: string; topic: string; about: number; signing: Signing },
  event: object,
): void {
  void (async () => {
    const wanted = await rows<Tell>(
      lagoon.db,
      'SELECT id, callback, secret FROM tells WHERE service = ? AND topic = ? AND about = ?',
      [service, topic, about],
    );
    const body = JSON.stringify(event);
    await Promise.all(wanted.map((each) => deliver(lagoon, each, body, signing)));
  })().catch((error: unknown) => console.error('Telling failed:', error));
}

async function deliver(lagoon: Lagoon, { callback, secret }: Tell, body: string, signing: Signing): Promise<void> {
  const id = `msg_${randomUUID()}`;
  for (let tries = 0; tries < 3; tries++) {
    const headers = { 'content-type': 'application/json', ...signed(signing, secret, id, lagoon.clock.now(), body) };
    try {
      const answer = await fetch(callback, { method: 'POST', headers, body, signal: AbortSignal.timeout(5000) });
      if (answer.ok || answer.status === 410) return;
    } catch {
      // Tried again below.
    }
    await new Promise((done) => setTimeout(done, 500 * 2 ** tries));
  }
}

function signed(signing: Signing, secret: string, id: string, now: number, body: string): Record<string, string> {
  if (signing === 'digest')
    return { 'x-lagoon-digest': `sha256=${createHmac('sha256', secret).update(body).digest('hex')}` };
  // Standard Webhooks, section "Signature scheme": id, seconds and body with dots between.
  const seconds = String(Math.floor(now / 1000));
  const key = Buffer.from(secret.replace(/^whsec_/, ''), 'base64');
  const signature = createHmac('sha256', key).update(`${id}.${seconds}.${body}`).digest('base64');
  return { 'webhook-id': id, 'webhook-timestamp': seconds, 'webhook-signature': `v1,${signature}` };
}
