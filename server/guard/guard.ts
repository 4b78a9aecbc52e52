// The one client through which Playa fetches anything. It refuses private addresses, after the name was resolved and
// again on every redirect, and stops at a size and a time.
import { lookup as resolve } from 'node:dns';
import type { LookupFunction } from 'node:net';
import ipaddr from 'ipaddr.js';
import { Agent, request, type Dispatcher } from 'undici';

/** Why nothing was fetched, in a sentence. `sent` says whether the request may have reached the other side. */
export class FetchTrouble extends Error {
  override name = 'FetchTrouble';
  readonly kind: 'refused' | 'unreachable' | 'timeout' | 'too-large' | 'broken' | 'redirects' | 'address';
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

export class Guard {
  readonly #allowed: ReadonlySet<string>;
  readonly #agent: Agent;

  /** @param allowed host:port pairs the operator lets through although they are private */
  constructor(allowed: readonly string[]) {
    this.#allowed = new Set(allowed);
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
    this.#agent = new Agent({
      connect: { lookup, timeout: 8_000 },
      headersTimeout: 30_000,
      bodyTimeout: 30_000,
      pipelining: 1,
    });
  }

  /** @throws FetchTrouble */
  async fetch(address: string, options: FetchOptions = {}): Promise<Fetched> {
    const { timeout = 15_000, limit = 5 * 1024 * 1024 } = options;
    // Not an abort signal: making one costs as much as a whole conditional request.
    const deadline = performance.now() + timeout;
    let url = this.#check(address);
    let { method = 'GET', body } = options;
    let headers = { 'user-agent': 'Playa/0.1', ...options.headers };
    for (let hop = 0; hop <= REDIRECTS; hop++) {
      const left = Math.max(1, Math.ceil(deadline - performance.now()));
      const answer = await this.#once(url, {
        method,
        headers,
        body: body ?? null,
        headersTimeout: left,
        bodyTimeout: left,
      });
      const location = answer.headers.location;
      if (
        answer.statusCode >= 300 &&
        answer.statusCode < 400 &&
        typeof location === 'string' &&
        answer.statusCode !== 304
      ) {
        await answer.body.dump();
        const next = this.#check(new URL(location, url).href);
        if (next.origin !== url.origin) {
          // Credentials were meant for the first place only.
          headers = Object.fromEntries(
            Object.entries(headers).filter(([name]) => !/^(authorization|cookie)$/i.test(name)),
          ) as typeof headers;
        }
        if (
          answer.statusCode === 303 ||
          ((answer.statusCode === 301 || answer.statusCode === 302) && method === 'POST')
        ) {
          method = 'GET';
          body = undefined;
        }
        url = next;
        continue;
      }
      return {
        status: answer.statusCode,
        headers: plainHeaders(answer.headers),
        body: await readBody(method, answer.statusCode, answer.body, limit, deadline, url.host),
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
        dispatcher: this.#agent,
      });
    } catch (error) {
      throw explain(error, url);
    }
  }

  #check(address: string): URL {
    const url = URL.parse?.(address) ?? safeUrl(address);
    if (!url || (url.protocol !== 'http:' && url.protocol !== 'https:') || url.username || url.password) {
      throw new FetchTrouble('address', 'This is not a web address.', false);
    }
    const port = url.port || (url.protocol === 'https:' ? '443' : '80');
    if (this.#allowed.has(`${url.hostname}:${port}`)) return url;
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
    await this.#agent.destroy();
  }
}

function safeUrl(address: string): URL | null {
  try {
    return new URL(address);
  } catch {
    return null;
  }
}

/** Whether an address is one of the public internet's. IPv4 inside IPv6 is looked at as IPv4. */
export function isPublic(address: string): boolean {
  return ipaddr.isValid(address) && ipaddr.process(address).range() === 'unicast';
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
  deadline: number,
  host: string,
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
      if (performance.now() > deadline) throw new FetchTrouble('timeout', `${host} did not answer in time.`, true);
      if (size > limit)
        throw new FetchTrouble('too-large', `The answer is larger than ${Math.round(limit / 1024 / 1024)} MB.`, true);
      chunks.push(chunk);
    }
  } catch (error) {
    body.destroy();
    if (error instanceof FetchTrouble) throw error;
    if ((error as { code?: string }).code === 'UND_ERR_BODY_TIMEOUT')
      throw new FetchTrouble('timeout', `${host} did not answer in time.`, true);
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
  // Before a connection stands nothing can have been sent.
  const before = ['ECONNREFUSED', 'ENOTFOUND', 'EAI_AGAIN', 'EHOSTUNREACH', 'ENETUNREACH', 'UND_ERR_CONNECT_TIMEOUT'];
  if (before.includes(cause.code ?? ''))
    return new FetchTrouble('unreachable', `${url.host} cannot be reached.`, false);
  return new FetchTrouble('broken', `The connection to ${url.host} broke off.`, true);
}
