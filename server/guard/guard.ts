// The one client through which Playa fetches anything. It refuses private addresses, after the name was resolved and
// again on every redirect, and stops at a size and at one deadline for the whole, redirects and bodies included.
import { EventEmitter } from 'node:events';
import { lookup as resolve } from 'node:dns';
import type { LookupFunction } from 'node:net';
import ipaddr from 'ipaddr.js';
import { Agent, request, type Dispatcher } from 'undici';
import { isPublic } from './addresses.ts';

/** Why nothing was fetched, in a sentence. `sent` says whether the request may have reached the other side. */
export class FetchTrouble extends Error {
  override name = 'FetchTrouble';
  readonly kind: 'refused' | 'unreachable' | 'timeout' | 'too-large' | 'broken' | 'redirects' | 'address' | 'header';
  readonly sent: boolean;
  constructor(kind: FetchTrouble['kind'], message: string, sent: boolean) {
    super(message);
    this.kind = kind;
    this.sent = sent;
  }
}

export interface Fetched {
  status: number;
  headers: Record<string, string>;
  body: Buffer;
  /** The address that answered, after redirects. */
  url: string;
}

export interface FetchOptions {
  method?: 'GET' | 'HEAD' | 'POST' | 'PUT' | 'PATCH' | 'DELETE';
  headers?: Record<string, string>;
  body?: string | undefined;
  /** Milliseconds for the whole, redirects included. */
  timeout?: number;
  /** Bytes of the answer that are read at most. */
  limit?: number;
}

const REDIRECTS = 5;
/** All that goes along to another origin: nothing that is the caller's own. */
const MAY_TRAVEL = new Set(['user-agent', 'accept', 'range', 'if-none-match', 'if-modified-since']);

export class Guard {
  readonly #allowed: ReadonlySet<string>;
  /** For the public internet. */
  readonly #public: Agent;
  /** For what the operator lets through: its names may lead to private addresses. */
  readonly #private: Agent;

  /** @param allowed host:port pairs the operator lets through although they are private */
  constructor(allowed: readonly string[]) {
    this.#allowed = new Set(allowed.map((pair) => pair.toLowerCase()));
    // The check sits in the resolver the connection itself uses, so that a name cannot change its mind in between.
    const lookup: LookupFunction = (hostname, options, callback) => {
      resolve(hostname, { ...options, all: true }, (error, addresses) => {
        if (error) return callback(error, '', 0);
        const bad = addresses.find((each) => !isPublic(each.address));
        if (bad || addresses.length === 0)
          return callback(new FetchTrouble('refused', refusal(hostname), false), '', 0);
        if (options.all) return callback(null, addresses);
        callback(null, addresses[0]!.address, addresses[0]!.family);
      });
    };
    // The deadline is the fetch's own; these are there for connections that nobody waits for any more.
    const times = { headersTimeout: 120_000, bodyTimeout: 120_000, pipelining: 1 };
    this.#public = new Agent({ ...times, connect: { lookup, timeout: 8_000 } });
    this.#private = new Agent({ ...times, connect: { timeout: 8_000 } });
  }

  /**
   * Fetches an address. To another origin, a redirect takes nothing of the caller's along: no headers but those that say
   * what is wanted, and no body; one that would have to is not followed.
   *
   * @throws FetchTrouble
   */
  async fetch(address: string, options: FetchOptions = {}): Promise<Fetched> {
    const { timeout = 15_000, limit = 5 * 1024 * 1024 } = options;
    let url = this.#check(address);
    // Not an abort signal: making one costs as much as a whole conditional request.
    const abort = new EventEmitter();
    let late = false;
    const timer = setTimeout(() => {
      late = true;
      abort.emit('abort');
    }, timeout);
    try {
      return await this.#follow(url, options, limit, abort, (next) => (url = next));
    } catch (error) {
      if (late && !(error instanceof FetchTrouble && error.kind === 'refused'))
        throw new FetchTrouble('timeout', `${url.host} did not answer in time.`, true);
      throw error;
    } finally {
      clearTimeout(timer);
    }
  }

  async #follow(
    first: URL,
    options: FetchOptions,
    limit: number,
    abort: EventEmitter,
    onHop: (url: URL) => void,
  ): Promise<Fetched> {
    let url = first;
    let { method = 'GET', body } = options;
    let headers: Record<string, string> = { 'user-agent': 'Playa/0.1', ...options.headers };
    for (let hop = 0; hop <= REDIRECTS; hop++) {
      onHop(url);
      const answer = await this.#once(url, { method, headers, body: body ?? null, signal: abort });
      const { statusCode: status } = answer;
      const { location } = answer.headers;
      if (status >= 300 && status < 400 && status !== 304 && typeof location === 'string') {
        // What a redirect says beside its address is nobody's business, and might never end.
        answer.body.on('error', () => undefined).destroy();
        const next = this.#check(locationOf(location, url));
        if (status === 303 || ((status === 301 || status === 302) && method === 'POST')) {
          method = 'GET';
          body = undefined;
        }
        if (next.origin !== url.origin) {
          if (method !== 'GET' && method !== 'HEAD')
            throw new FetchTrouble(
              'redirects',
              `${url.host} sends on to ${next.host}, which is another place. What was to be sent stays here.`,
              false,
            );
          headers = Object.fromEntries(Object.entries(headers).filter(([name]) => MAY_TRAVEL.has(name.toLowerCase())));
        }
        url = next;
        continue;
      }
      return {
        status,
        headers: plainHeaders(answer.headers),
        body: await readBody(method, status, answer.body, limit),
        url: url.href,
      };
    }
    throw new FetchTrouble('redirects', `${url.host} sends from one address to the next without end.`, true);
  }

  async #once(url: URL, options: Omit<Dispatcher.RequestOptions, 'origin' | 'path' | 'method'> & { method: string }) {
    try {
      return await request(url, {
        ...options,
        method: options.method as Dispatcher.HttpMethod,
        dispatcher: this.#isAllowed(url) ? this.#private : this.#public,
      });
    } catch (error) {
      throw explain(error, url);
    }
  }

  /** Whether the operator lets this through although it may be private. */
  #isAllowed(url: URL): boolean {
    return this.#allowed.has(`${url.hostname}:${url.port || (url.protocol === 'https:' ? '443' : '80')}`);
  }

  #check(address: string): URL {
    const url = URL.parse?.(address) ?? safeUrl(address);
    if (!url || (url.protocol !== 'http:' && url.protocol !== 'https:') || url.username || url.password) {
      throw new FetchTrouble('address', 'This is not a web address.', false);
    }
    if (this.#isAllowed(url)) return url;
    const host = url.hostname.replace(/^\[|\]$/g, '');
    if (ipaddr.isValid(host) && !isPublic(host)) throw new FetchTrouble('refused', refusal(url.hostname), false);
    return url;
  }

  /**
   * The address behind a name, for what is not the web: only a public one, or one the operator allows.
   *
   * @throws FetchTrouble
   */
  async resolve(hostname: string, port: number): Promise<string> {
    const addresses = await new Promise<{ address: string }[]>((found, failed) =>
      resolve(hostname, { all: true }, (error, all) =>
        error ? failed(new FetchTrouble('unreachable', `${hostname} cannot be found.`, false)) : found(all),
      ),
    );
    const allowed = this.#allowed.has(`${hostname}:${port}`);
    if (addresses.length === 0 || (!allowed && addresses.some((each) => !isPublic(each.address))))
      throw new FetchTrouble('refused', refusal(hostname), false);
    return addresses[0]!.address;
  }

  async close(): Promise<void> {
    await Promise.all([this.#public.destroy(), this.#private.destroy()]);
  }
}

function safeUrl(address: string): URL | null {
  try {
    return new URL(address);
  } catch {
    return null;
  }
}

/** Where a redirect leads; what is no address leads nowhere. */
function locationOf(location: string, from: URL): string {
  return URL.canParse(location, from.href) ? new URL(location, from.href).href : '';
}

const refusal = (host: string) =>
  `${host} is an address inside a private network. Playa fetches only from the public internet.`;

function plainHeaders(headers: Record<string, string | string[] | undefined>): Record<string, string> {
  const plain: Record<string, string> = {};
  for (const name in headers) {
    const value = headers[name];
    plain[name] = Array.isArray(value) ? value.join(', ') : (value ?? '');
  }
  return plain;
}

const NOTHING = Buffer.alloc(0);

async function readBody(
  method: string,
  status: number,
  body: AsyncIterable<Buffer> & { destroy(): void; dump(): Promise<void> },
  limit: number,
): Promise<Buffer> {
  // Nothing comes with these (RFC 9110 sections 9.3.2, 15.3.5 and 15.4.5), and an iterator costs more than the answer.
  if (status === 304 || status === 204 || method === 'HEAD') {
    await body.dump();
    return NOTHING;
  }
  const chunks: Buffer[] = [];
  let size = 0;
  try {
    for await (const chunk of body) {
      size += chunk.length;
      if (size > limit)
        throw new FetchTrouble('too-large', `The answer is larger than ${Math.round(limit / 1024 / 1024)} MB.`, true);
      chunks.push(chunk);
    }
  } catch (error) {
    body.destroy();
    if (error instanceof FetchTrouble) throw error;
    throw new FetchTrouble('broken', 'The answer broke off.', true);
  }
  return Buffer.concat(chunks);
}

function explain(error: unknown, url: URL): FetchTrouble {
  const cause = error as { code?: string; name?: string; cause?: unknown };
  if (error instanceof FetchTrouble) return error;
  if (cause.cause instanceof FetchTrouble) return cause.cause;
  if (
    cause.name === 'TimeoutError' ||
    cause.code === 'UND_ERR_HEADERS_TIMEOUT' ||
    cause.code === 'UND_ERR_BODY_TIMEOUT'
  ) {
    return new FetchTrouble('timeout', `${url.host} did not answer in time.`, true);
  }
  // What cannot be written into a request was not sent (RFC 9110 section 5.5).
  if (cause.code === 'UND_ERR_INVALID_ARG' || cause.code === 'ERR_INVALID_CHAR')
    return new FetchTrouble('header', 'A header holds signs that cannot be sent.', false);
  // Before a connection stands nothing can have been sent.
  const before = ['ECONNREFUSED', 'ENOTFOUND', 'EAI_AGAIN', 'EHOSTUNREACH', 'ENETUNREACH', 'UND_ERR_CONNECT_TIMEOUT'];
  if (before.includes(cause.code ?? ''))
    return new FetchTrouble('unreachable', `${url.host} cannot be reached.`, false);
  return new FetchTrouble('broken', `The connection to ${url.host} broke off.`, true);
}
