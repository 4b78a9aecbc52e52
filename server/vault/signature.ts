import { timingSafeEqual } from 'node:crypto';
import { Webhook } from 'standardwebhooks';

/** A call that was signed longer ago, or later from now, is one that somebody kept (Standard Webhooks: five minutes). */
const SIGNED_WITHIN = 5 * 60_000;

/** Why a signature is not good (Standard Webhooks: id, timestamp within five minutes, v1 HMAC-SHA256); null when it is. */
export function signatureTrouble(
  body: Buffer,
  headers: Record<string, string | undefined>,
  secret: string,
  now: number,
): string | null {
  const names = ['webhook-id', 'webhook-timestamp', 'webhook-signature'] as const;
  const missing = names.filter((name) => !headers[name]);
  if (missing.length) return `The call is not signed: ${missing.join(', ')} missing.`;
  const [id, timestamp, signatures] = names.map((name) => headers[name]!) as [string, string, string];
  // The time is looked at here, since the library knows no clock but the machine's.
  const at = Number(timestamp) * 1000;
  if (!/^\d{1,12}$/.test(timestamp) || Math.abs(now - at) > SIGNED_WITHIN)
    return 'The signature is not good: it is not of the last five minutes.';
  const wanted = Buffer.from(new Webhook(secret).sign(id, new Date(at), body));
  const good = signatures.split(' ').some((each) => {
    const given = Buffer.from(each);
    return given.length === wanted.length && timingSafeEqual(given, wanted);
  });
  return good ? null : 'The signature is not good: it is not made with this key.';
}
