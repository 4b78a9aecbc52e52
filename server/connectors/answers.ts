import { z } from 'zod';
import type { Item } from '@playa/core/items/item.ts';
import { FetchTrouble, type Fetched, type FetchOptions } from '../guard/guard.ts';
import { NetworkTrouble, type Session } from './connector.ts';

/** An address as networks give them: of the web only, since people will follow it. */
export const webAddress = z.url({ protocol: /^https?$/ });

export interface CallOptions extends FetchOptions {
  /** Whether the call changes something there, so that silence leaves its outcome unknown. */
  writes?: boolean;
  /** What is not there any more counts as done: for deleting. */
  gone?: boolean;
  /** What the network says in words when it refuses. */
  message?: (body: unknown) => string | undefined;
  /** How the token is shown; as a bearer token (RFC 6750) without. */
  show?: (token: string) => Record<string, string>;
  /** What a refusal means in this network's own manner, where its status alone does not say. */
  means?: (status: number, body: unknown) => NetworkTrouble | undefined;
}

/** A body of JSON with its headers. */
export const jsonBody = (body: unknown): Pick<FetchOptions, 'body' | 'headers'> => ({
  headers: { 'content-type': 'application/json' },
  body: JSON.stringify(body),
});

/**
 * Calls a network with the account's token and sorts what can go wrong.
 *
 * @throws NetworkTrouble
 */
export async function call<T>(
  session: Session,
  path: string,
  schema: z.ZodType<T>,
  options: CallOptions = {},
): Promise<T> {
  const { writes = false, gone = false, message, show, means, ...rest } = options;
  const token = await session.token();
  session.spent?.();
  let answer: Fetched;
  try {
    answer = await session.guard.fetch(session.network.base + path, {
      timeout: session.answerWithin,
      ...rest,
      headers: {
        accept: 'application/json',
        ...(show?.(token) ?? { authorization: `Bearer ${token}` }),
        ...rest.headers,
      },
    });
  } catch (error) {
    if (!(error instanceof FetchTrouble)) throw error;
    if (error.kind === 'refused' || error.kind === 'address' || error.kind === 'header')
      throw new NetworkTrouble('fix', error.message);
    throw new NetworkTrouble(writes && error.sent ? 'unknown' : 'retry', error.message);
  }
  const body = parseJson(answer.body);
  if (answer.status >= 200 && answer.status < 300) {
    const read = schema.safeParse(body);
    if (read.success) return read.data;
    // It said yes in words we cannot read: whether and what it did is not known.
    throw new NetworkTrouble(
      writes ? 'unknown' : 'retry',
      `${session.network.name} answered in a way Playa does not understand.`,
    );
  }
  if (gone && (answer.status === 404 || answer.status === 410)) return schema.parse(undefined);
  const meant = means?.(answer.status, body);
  if (meant) throw meant;
  throw refusal(session, answer, message?.(body), writes);
}

/** So many things of a list are read, and then to the end of the page. */
export const PAGES_BACK = 300;

/**
 * Pages back through a list, newest first, until something known comes up or `most` have been read.
 *
 * @param next reads one page; `cursor` is null for the first
 */
export async function pagesBack<C>(
  seen: ReadonlySet<string>,
  next: (cursor: C | null) => Promise<{ items: Item[]; cursor: C | null }>,
  most = PAGES_BACK,
): Promise<Item[]> {
  const items: Item[] = [];
  for (let cursor: C | null = null; ;) {
    const page: { items: Item[]; cursor: C | null } = await next(cursor);
    items.push(...page.items);
    cursor = page.cursor;
    if (cursor === null || items.length >= most || page.items.some((item) => seen.has(item.identity))) return items;
  }
}

/** What a look at one thing gives; undefined when the network no longer has it. @throws NetworkTrouble */
export async function orGone<T>(looking: Promise<T>): Promise<T | undefined> {
  try {
    return await looking;
  } catch (error) {
    if (error instanceof NetworkTrouble && error.missing) return undefined;
    throw error;
  }
}

function refusal(session: Session, answer: Fetched, said: string | undefined, writes: boolean): NetworkTrouble {
  const name = session.network.name;
  const { status } = answer;
  if (status === 401) return new NetworkTrouble('reconnect', `${name} no longer accepts the sign-in.`);
  if (status === 429)
    return new NetworkTrouble('wait', `${name} asks to go slower.`, {
      retryAfter: retryAfter(answer.headers['retry-after']),
      limited: true,
    });
  if (status === 503 || status === 425 || status === 409) {
    return new NetworkTrouble('wait', `${name} cannot do it at the moment.`, {
      retryAfter: retryAfter(answer.headers['retry-after']),
    });
  }
  if (status >= 500)
    return new NetworkTrouble(writes ? 'unknown' : 'retry', `${name} has trouble of its own (${status}).`);
  return new NetworkTrouble('fix', said ? `${name} refuses it: ${said}` : `${name} refuses it (${status}).`, {
    definite: true,
    missing: status === 404 || status === 410,
  });
}

/** What a network does not offer. */
export const cannot = (session: Session, what: string): NetworkTrouble =>
  new NetworkTrouble('fix', `${session.network.name} does not offer to ${what}.`, { definite: true });

/** Nobody is waited for longer than this at once, whatever they say: then it is tried again. Milliseconds. */
export const LONGEST_WAIT = 24 * 3_600_000;

/** Retry-After as seconds or as a date (RFC 9110 section 10.2.3), in milliseconds; a day at most. */
export function retryAfter(header: string | undefined, now = Date.now()): number {
  const said = header?.trim() ?? '';
  if (said === '') return 0;
  const wait = /^\d+$/.test(said) ? Number(said) * 1000 : Date.parse(said) - now;
  return Number.isNaN(wait) ? 0 : Math.min(LONGEST_WAIT, Math.max(0, wait));
}

function parseJson(body: Buffer): unknown {
  try {
    return JSON.parse(body.toString('utf8'));
  } catch {
    return undefined;
  }
}
