import type { ActInput, Outcome } from '@playa/core/model/acts.ts';
import { bounded, OutOfBounds } from '@playa/core/items/bounded.ts';
import type { FieldValue } from '@playa/core/items/item.ts';
import { retryAfter } from '../connectors/answers.ts';
import { NetworkTrouble } from '../connectors/connector.ts';
import { FetchTrouble, type Fetched } from '../guard/guard.ts';
import type { Services } from '../base/services.ts';
import { sealedSecret } from '../store/secrets.ts';

/** An answer longer than this is of no use to a workflow. */
const LONGEST_ANSWER = 1024 * 1024;

/** Whether a request may be sent again when nobody knows what became of it (RFC 9110 section 9.2.2). */
export function isRepeatable(call: ActInput<'call'>): boolean {
  return call.keyed || call.method === 'GET' || call.method === 'PUT' || call.method === 'DELETE';
}

/** Troubles that a later try would meet again. */
const NOT_BETTER_LATER = new Set(['refused', 'address', 'header', 'too-large', 'redirects']);

/** What a secret in the vault belongs to; one copied to another brand does not open. */
export const secretOwner = (brandId: number, name: string): string => `secret:${brandId}:${name}`;

/**
 * Asks a service. An answer that there is no such thing (404, 410) is an answer; other refusals are not.
 *
 * @throws NetworkTrouble
 */
export async function callService(
  services: Services,
  brandId: number,
  call: ActInput<'call'>,
  key: string,
): Promise<Outcome> {
  const headers: Record<string, string> = { accept: 'application/json, text/plain;q=0.8, */*;q=0.5' };
  for (const header of call.headers) {
    const name = header.name.toLowerCase();
    if (header.secret === undefined) headers[name] = header.value ?? '';
    else headers[name] = await openSecret(services, brandId, header.secret);
  }
  if (call.keyed) headers['idempotency-key'] = key;
  if (call.body)
    headers['content-type'] ??= call.body.type === 'json' ? 'application/json' : 'application/x-www-form-urlencoded';
  let answer: Fetched;
  try {
    answer = await services.guard.fetch(call.url, {
      method: call.method,
      headers,
      body: call.body?.text,
      timeout: services.config.answerWithin,
      limit: LONGEST_ANSWER,
    });
  } catch (error) {
    if (!(error instanceof FetchTrouble)) throw error;
    if (NOT_BETTER_LATER.has(error.kind)) throw new NetworkTrouble('fix', error.message);
    throw new NetworkTrouble(error.sent && !isRepeatable(call) ? 'unknown' : 'retry', error.message);
  }
  const { status } = answer;
  if ((status >= 200 && status < 300) || status === 404 || status === 410) {
    return { remoteId: '', url: null, at: services.clock(), result: { status, body: readAnswer(answer, call) } };
  }
  throw refusal(call, answer);
}

async function openSecret(services: Services, brandId: number, name: string): Promise<string> {
  const sealed = await sealedSecret(services.pool, brandId, name);
  if (!sealed) throw new NetworkTrouble('fix', `The vault has no secret called “${name}”.`);
  return services.vault.open(sealed, secretOwner(brandId, name));
}

/** @throws NetworkTrouble when it is more than a workflow can work with */
function readAnswer(answer: Fetched, call: ActInput<'call'>): FieldValue {
  const text = answer.body.toString('utf8');
  let value: FieldValue;
  try {
    value = JSON.parse(text) as FieldValue;
  } catch {
    // Not JSON: then it is text.
    value = { text };
  }
  try {
    return bounded(value);
  } catch (error) {
    if (!(error instanceof OutOfBounds)) throw error;
    const { host } = new URL(call.url);
    throw new NetworkTrouble('fix', `${host} answered, but Playa cannot take what it says. ${error.message}`, {
      definite: true,
    });
  }
}

function refusal(call: ActInput<'call'>, answer: Fetched): NetworkTrouble {
  const { host } = new URL(call.url);
  const { status } = answer;
  const after = retryAfter(answer.headers['retry-after']);
  if (status === 429 || status === 503 || status === 425)
    return new NetworkTrouble('wait', `${host} asks to go slower (${status}).`, { retryAfter: after });
  if (status >= 500)
    return new NetworkTrouble(isRepeatable(call) ? 'retry' : 'unknown', `${host} has trouble of its own (${status}).`);
  return new NetworkTrouble('fix', `${host} refuses it (${status}).`, { definite: true });
}
