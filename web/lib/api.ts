// Playa's server, asked by the names of its endpoints: what goes along and what is answered have the types that the
// endpoints say.
import { ADDRESSES } from './api-addresses.ts';
import type { Answer, Endpoint, Params, Query, Sent } from './endpoint-types.ts';

/** A refusal by the server, in its own sentence (RFC 9457). */
export class Refused extends Error {
  readonly status: number;
  readonly details: Record<string, unknown>;
  constructor(status: number, message: string, details: Record<string, unknown> = {}) {
    super(message);
    this.status = status;
    this.details = details;
  }
}

let csrf = '';
let onSignedOut: () => void = () => undefined;

/** Set by the session store: the token that changes carry, and what to do when the server says we are signed out. */
export function connectApi(options: { csrf?: string; signedOut?: () => void }): void {
  if (options.csrf !== undefined) csrf = options.csrf;
  if (options.signedOut) onSignedOut = options.signedOut;
}

/** Optional where everything in it is. */
type Besides<T> = Record<never, never> extends T ? [besides?: T] : [besides: T];

/**
 * Asks an endpoint of Playa's server.
 *
 * @param params what stands in its path
 * @param besides what is behind the question mark, and the body or the file it is told
 * @throws Refused with status 0 when the server cannot be reached
 * @example
 * const { people } = await call('listContacts', { brand: 1 }, { query: { words: 'swim' } });
 */
export async function call<Name extends Endpoint>(
  name: Name,
  params: Params<Name>,
  ...[besides]: Besides<Sent<Name>>
): Promise<Answer<Name>> {
  const { query, body, file } = (besides ?? {}) as { query?: Query<Name>; body?: unknown; file?: Blob };
  const [method, path] = placeOf(name, params, query);
  let answer: Response;
  try {
    answer = await fetch(`/api${path}`, {
      method,
      headers: {
        ...(file ? { 'content-type': 'application/octet-stream' } : {}),
        ...(body === undefined ? {} : { 'content-type': 'application/json' }),
        ...(method === 'GET' ? {} : { 'x-csrf-token': csrf }),
      },
      body: file ?? (body === undefined ? null : JSON.stringify(body)),
    });
  } catch {
    throw new Refused(0, 'Playa cannot be reached. What you typed is kept here.');
  }
  if (answer.status === 204) return undefined as Answer<Name>;
  const read: unknown = await answer.json().catch(() => ({}));
  if (answer.ok) return read as Answer<Name>;
  if (answer.status === 401 && !path.startsWith('/sign-in')) onSignedOut();
  const refusal = read as Record<string, unknown>;
  throw new Refused(answer.status, String(refusal.title ?? 'Something went wrong.'), refusal);
}

/**
 * Where an endpoint is found: for links to files that the browser fetches itself.
 *
 * @returns a path with its query, from the root of the site
 */
export function addressOf<Name extends Endpoint>(name: Name, params: Params<Name>, query?: Query<Name>): string {
  return `/api${placeOf(name, params, query)[1]}`;
}

function placeOf<Name extends Endpoint>(
  name: Name,
  params: Params<Name>,
  query: Query<Name> = {} as Query<Name>,
): [method: string, path: string] {
  const [method, template] = ADDRESSES[name].split(' ') as [string, string];
  const path = template.replace(/\{(\w+)\}/g, (_, key: string) =>
    encodeURIComponent(String((params as Record<string, unknown>)[key])),
  );
  const asked = new URLSearchParams();
  for (const [key, value] of Object.entries(query)) if (value !== undefined) asked.set(key, String(value));
  return [method, asked.size > 0 ? `${path}?${asked}` : path];
}
