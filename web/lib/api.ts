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

/**
 * Asks Playa's server.
 *
 * @throws Refused with status 0 when the server cannot be reached
 */
export async function api<T>(
  method: 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE',
  path: string,
  body?: unknown,
): Promise<T> {
  const headers: Record<string, string> = body === undefined ? {} : { 'content-type': 'application/json' };
  return send<T>(method, path, headers, body === undefined ? null : JSON.stringify(body));
}

/** Sends a file as it is. */
export async function sendFile<T>(path: string, file: Blob): Promise<T> {
  return send<T>('POST', path, { 'content-type': 'application/octet-stream' }, file);
}

async function send<T>(
  method: string,
  path: string,
  headers: Record<string, string>,
  body: BodyInit | null,
): Promise<T> {
  let answer: Response;
  try {
    answer = await fetch(`/api${path}`, {
      method,
      headers: { ...headers, ...(method === 'GET' ? {} : { 'x-csrf-token': csrf }) },
      body,
    });
  } catch {
    throw new Refused(0, 'Playa cannot be reached. What you typed is kept here.');
  }
  if (answer.status === 204) return undefined as T;
  const read = (await answer.json().catch(() => ({}))) as Record<string, unknown>;
  if (answer.ok) return read as T;
  if (answer.status === 401 && !path.startsWith('/sign-in')) onSignedOut();
  throw new Refused(answer.status, String(read.title ?? 'Something went wrong.'), read);
}
