// The hub of the channels' feeds: WebSub (W3C Recommendation, 23 January 2018).
import { createHmac, randomBytes } from 'node:crypto';
import { Router, urlencoded } from 'express';
import { z } from 'zod';
import { rows } from '../base/db.ts';
import type { Lagoon } from '../base/lagoon.ts';

/** Lease in seconds: what is granted at most, and when nothing is asked for. */
const LEASE = { most: 10 * 86_400, usual: 5 * 86_400 };

const requestSchema = z.object({
  'hub.mode': z.enum(['subscribe', 'unsubscribe']),
  'hub.topic': z.url().max(700),
  'hub.callback': z.url().max(700),
  'hub.lease_seconds': z.coerce.number().int().positive().optional(),
  'hub.secret': z.string().max(199).optional(),
});
type HubRequest = z.infer<typeof requestSchema>;

export function hubRoutes(lagoon: Lagoon): Router {
  const { config } = lagoon;
  const router = Router();
  router.post('/', urlencoded({ extended: false }), (req, res) => {
    const read = requestSchema.safeParse(req.body);
    if (!read.success) return void res.status(400).type('text').send('The request is not complete.');
    if (!read.data['hub.topic'].startsWith(`${config.origin}/video/feeds/`))
      return void res.status(404).type('text').send('This hub does not have that topic.');
    // Section 5.3: accepted now, verified afterwards.
    res.status(202).end();
    void verify(lagoon, read.data).catch((error: unknown) => console.error('Verifying a subscriber failed:', error));
  });
  return router;
}

async function verify(lagoon: Lagoon, request: HubRequest): Promise<void> {
  const challenge = randomBytes(20).toString('base64url');
  const lease = Math.min(LEASE.most, request['hub.lease_seconds'] ?? LEASE.usual);
  const callback = new URL(request['hub.callback']);
  callback.searchParams.set('hub.mode', request['hub.mode']);
  callback.searchParams.set('hub.topic', request['hub.topic']);
  callback.searchParams.set('hub.challenge', challenge);
  if (request['hub.mode'] === 'subscribe') callback.searchParams.set('hub.lease_seconds', String(lease));
  let answer: Response;
  try {
    answer = await fetch(callback, { signal: AbortSignal.timeout(5000) });
  } catch {
    return;
  }
  if (!answer.ok || (await answer.text()) !== challenge) return;
  if (request['hub.mode'] === 'unsubscribe') {
    await lagoon.db.query('DELETE FROM hub_subscribers WHERE callback = ?', [request['hub.callback']]);
    return;
  }
  await lagoon.db.query('REPLACE INTO hub_subscribers (callback, topic, secret, until) VALUES (?, ?, ?, ?)', [
    request['hub.callback'],
    request['hub.topic'],
    request['hub.secret'] ?? null,
    lagoon.clock.now() + lease * 1000,
  ]);
}

/** Sends a feed to whoever subscribed to it (section 7), signed where they gave a secret (section 8). */
export async function publishFeed(lagoon: Lagoon, topic: string, body: string): Promise<void> {
  const subscribers = await rows<{ callback: string; secret: string | null }>(
    lagoon.db,
    'SELECT callback, secret FROM hub_subscribers WHERE topic = ? AND until > ?',
    [topic, lagoon.clock.now()],
  );
  await Promise.all(
    subscribers.map(async ({ callback, secret }) => {
      const headers: Record<string, string> = {
        'content-type': 'application/atom+xml',
        link: `<${lagoon.config.origin}/video/hub>; rel="hub", <${topic}>; rel="self"`,
      };
      if (secret) headers['x-hub-signature'] = `sha256=${createHmac('sha256', secret).update(body).digest('hex')}`;
      await fetch(callback, { method: 'POST', headers, body, signal: AbortSignal.timeout(5000) }).catch(
        () => undefined,
      );
    }),
  );
}
