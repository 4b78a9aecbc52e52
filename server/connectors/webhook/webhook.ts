import { createHash } from 'node:crypto';
import { Webhook } from 'standardwebhooks';
import { z } from 'zod';
import type { Outcome } from '@playa/core/model/acts.ts';
import { FetchTrouble, type Fetched } from '../../guard/guard.ts';
import { retryAfter } from '../answers.ts';
import { NetworkTrouble, type Connector, type Session } from '../connector.ts';

const filledIn = z.object({ address: z.url({ protocol: /^https?$/ }), secret: z.string().default('') });

/** Sends an event as Standard Webhooks has it: an id that stays the same for every try, a time, a signature. */
async function send(session: Session, type: string, data: object, key: string): Promise<Outcome> {
  session.spent?.();
  const { address, secret } = filledIn.parse(JSON.parse(await session.token()));
  const now = new Date(session.now());
  const body = JSON.stringify({ type, timestamp: now.toISOString(), data });
  const headers: Record<string, string> = {
    'content-type': 'application/json',
    'webhook-id': key,
    'webhook-timestamp': String(Math.floor(now.getTime() / 1000)),
  };
  if (secret) headers['webhook-signature'] = new Webhook(secret).sign(key, now, body);
  const { host } = new URL(address);
  let answer: Fetched;
  try {
    answer = await session.guard.fetch(address, {
      method: 'POST',
      headers,
      body,
      timeout: session.answerWithin,
      limit: 100_000,
    });
  } catch (error) {
    if (!(error instanceof FetchTrouble)) throw error;
    if (error.kind === 'refused' || error.kind === 'address') throw new NetworkTrouble('fix', error.message);
    throw new NetworkTrouble(error.sent ? 'unknown' : 'retry', error.message);
  }
  if (answer.status >= 200 && answer.status < 300) return { remoteId: key, url: null, at: now.getTime() };
  // Standard Webhooks: 410 says that nothing more is wanted.
  if (answer.status === 410) throw new NetworkTrouble('reconnect', `${host} no longer wants to be told.`);
  if (answer.status === 429 || answer.status === 503)
    throw new NetworkTrouble('wait', `${host} asks to go slower.`, {
      retryAfter: retryAfter(answer.headers['retry-after']),
    });
  if (answer.status >= 500) throw new NetworkTrouble('unknown', `${host} has trouble of its own (${answer.status}).`);
  throw new NetworkTrouble('fix', `${host} refuses it (${answer.status}).`, { definite: true });
}

/** Telling another program by web hook. It knows a repeated event by its id, as Standard Webhooks asks of it. */
export const webhook: Connector = {
  kind: 'webhook',
  purpose: 'telling a program',
  signIn: {
    by: 'form',
    help: 'Where the other program listens, and the secret it checks signatures with (Standard Webhooks), if it has one.',
    fields: [
      { name: 'address', label: 'Address', secret: false, hint: 'https://…' },
      { name: 'secret', label: 'Signing secret', secret: true, hint: 'whsec_…', optional: true },
    ],
  },

  async whoAmI(session) {
    const read = filledIn.safeParse(JSON.parse(await session.token()));
    if (!read.success) throw new NetworkTrouble('fix', 'The address has to begin with http:// or https://.');
    try {
      if (read.data.secret) new Webhook(read.data.secret);
    } catch {
      throw new NetworkTrouble('fix', 'The secret has to be “whsec_” and base64.');
    }
    const { host, href } = new URL(read.data.address);
    return { remoteId: createHash('sha256').update(href).digest('hex').slice(0, 32), name: host };
  },

  async outlets(session) {
    const { address } = filledIn.parse(JSON.parse(await session.token()));
    const { host, pathname } = new URL(address);
    return [
      {
        kind: 'address',
        remoteId: 'address',
        name: host + (pathname === '/' ? '' : pathname),
        address: null,
        feed: null,
      },
    ];
  },

  acts: {
    publish: {
      repeats: 'keyed',
      send: (session, _outlet, input, key) => send(session, 'playa.post', input, key),
    },
    record: {
      repeats: 'keyed',
      send: (session, _outlet, input, key) => send(session, 'playa.record', input.values, key),
    },
  },
};
