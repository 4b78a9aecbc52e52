import type { NamedFeed } from '@playa/core/feeds/autodiscovery.ts';
import { FeedError } from '@playa/core/feeds/feed-error.ts';
import type { ReadFeed } from '@playa/core/feeds/parse-feed.ts';
import { cutUnits } from '@playa/core/text/graphemes.ts';
import { composed } from '@playa/core/text/well-formed.ts';
import type { FoundSource } from '../connectors/connector.ts';
import type { NetworkConfig } from '../connectors/network-config.ts';
import { FetchTrouble } from '../guard/guard.ts';
import type { Services } from '../base/services.ts';
import { KIND_RULES } from '@playa/core/outlets/kinds.ts';
import { outletsOf, type Outlet } from '../store/outlets.ts';
import type { AccountKind } from '../store/accounts.ts';
import { FEED_TYPES } from './fetch-feed.ts';
import { feedKind } from './kinds/feed.ts';

/** One thing that was tried, for saying so when nothing is found. */
export interface Tried {
  address: string;
  says: string;
}
export interface Finding {
  found: (FoundSource & { newest: ReadFeed['items'] }) | null;
  tried: Tried[];
}

/** An address inside pasted text: with or without scheme, in quotation marks, brackets or a sentence. */
const ADDRESS =
  /(?:https?:\/\/)?(?:[\p{L}\p{N}](?:[\p{L}\p{N}-]*[\p{L}\p{N}])?\.)+[\p{L}\p{N}-]{1,63}(?::\d{1,5})?(?:\/[^\s<>"'“”‘’]*)?|https?:\/\/[^\s<>"'“”‘’]+/iu;

/**
 * Finds the source that someone means by what they pasted: any form of a channel's address, a handle, a name, a bare
 * identifier, a feed, or any page that names its feed or leads to it.
 *
 * @param brandId whose own outlets are known by their names and addresses
 */
export async function findSource(services: Services, pasted: string, brandId?: number): Promise<Finding> {
  const tried: Tried[] = [];
  const own = brandId === undefined ? undefined : await ownOutlet(services, brandId, pasted);
  if (own?.feed) {
    const found = await tryAddress(services, own.feed, tried);
    if (found) return { found, tried };
  }
  if (own && !own.feed)
    tried.push({
      address: cutUnits(pasted.trim(), 200),
      says: `This is ${own.name}, ${KIND_RULES[own.kind].name} of your own. What appears there is seen with its account: choose it from the list of what your accounts see.`,
    });
  for (const address of addressesFor(services, pasted)) {
    const found = await tryAddress(services, address, tried);
    if (found) return { found, tried };
  }
  if (tried.length === 0)
    tried.push({ address: cutUnits(pasted.trim(), 200), says: 'There is no address, handle or identifier in this.' });
  return { found: null, tried };
}

/** The brand's own outlet that somebody means by its name or its address. */
async function ownOutlet(services: Services, brandId: number, pasted: string): Promise<Outlet | undefined> {
  const bare = (text: string | null) =>
    (text ?? '')
      .trim()
      .toLowerCase()
      .replace(/^https?:\/\//, '')
      .replace(/[?#&].*$/, '')
      .replace(/\/+$/, '');
  const wanted = bare(pasted);
  if (wanted === '') return undefined;
  const outlets = (await outletsOf(services.pool, brandId)).filter((outlet) => !outlet.gone);
  const named = outlets.filter((outlet) => bare(outlet.address) === wanted || outlet.name.toLowerCase() === wanted);
  return named.find((outlet) => outlet.feed) ?? named[0];
}

/** What is worth trying, best guess first. */
function addressesFor(services: Pick<Services, 'config' | 'connectors'>, pasted: string): string[] {
  const text = composed(pasted)
    .replace(/[\u200b-\u200f\u2060\ufeff]/g, '')
    .trim()
    .replace(/^[<("'“‘[]+|[>)"'”’\].,;]+$/gu, '');
  const addresses: string[] = [];
  for (const [kind, network] of Object.entries(services.config.networks) as [AccountKind, NetworkConfig][]) {
    addresses.push(...(services.connectors[kind].addresses?.(network, text) ?? []));
  }
  const match = ADDRESS.exec(text)?.[0].replace(/[.,;:!?)\]]+$/, '');
  if (match) addresses.push(...schemed(match), ...mended(text, match));
  return [...new Set(addresses)].filter((address) => URL.canParse(address)).slice(0, 8);
}

/** An address with its scheme, or with both where it has none. */
function schemed(address: string): string[] {
  if (/^https?:\/\//i.test(address)) return [address];
  return URL.canParse(`https://${address}`) ? [`https://${address}`, `http://${address}`] : [];
}

/** What an address may have been before it was copied: with a space in it, a rest of another one behind it, in capitals. */
function mended(text: string, match: string): string[] {
  const guesses: string[] = [];
  // "…/on/tern baylidos": a line that was broken.
  const whole = /\s/.test(text) && text.startsWith(match) ? ADDRESS.exec(text.replace(/\s+/g, ''))?.[0] : undefined;
  for (const address of [match, ...(whole && whole !== match ? [whole] : [])]) {
    if (address !== match) guesses.push(...schemed(address));
    // "…/on/ternbaylidos&si=x", "…/films?&": what a page or a letter has hung behind it.
    const clean = address
      .replace(/&amp;/gi, '&')
      .replace(/^([^?#]*?)&.*$/, '$1')
      .replace(/[?&](utm_\w+|si|ref|fbclid)=[^&#]*/gi, '')
      .replace(/[?&#=]+$/, '');
    if (clean !== address) guesses.push(...schemed(clean));
    const [, origin = '', path = ''] = /^((?:https?:\/\/)?[^/?#]+)([^?#]*)/i.exec(clean) ?? [];
    if (path !== path.toLowerCase()) guesses.push(...schemed(origin.toLowerCase() + path.toLowerCase()));
  }
  return guesses;
}

async function tryAddress(services: Services, address: string, tried: Tried[]): Promise<Finding['found']> {
  const answer = await fetchAny(services, address, tried);
  if (!answer) return null;
  const feed = await tryRead(services, answer.body, answer.url, answer.type);
  if (feed instanceof Error) {
    const isPage =
      /html/i.test(answer.type) || /^\s*<(!doctype html|html)/i.test(answer.body.subarray(0, 200).toString());
    if (!isPage) {
      tried.push({ address, says: feed.message });
      return null;
    }
    const named = await namedFeeds(services, answer.body, answer.url);
    if (named.length === 0) tried.push({ address, says: 'There is a page, but it names no feed.' });
    for (const each of named.slice(0, 3)) {
      const next = await fetchAny(services, each.url, tried);
      const read = next && (await tryRead(services, next.body, next.url, next.type));
      if (next && read && !(read instanceof Error)) return describe(services, next.url, read);
      if (read instanceof Error) tried.push({ address: each.url, says: read.message });
    }
    return null;
  }
  return describe(services, answer.url, feed);
}

async function fetchAny(services: Services, address: string, tried: Tried[]) {
  try {
    const answer = await services.guard.fetch(address, {
      headers: { accept: `text/html, ${FEED_TYPES}` },
      timeout: 10_000,
    });
    if (answer.status === 200)
      return { body: answer.body, url: answer.url, type: answer.headers['content-type'] ?? '' };
    tried.push({
      address,
      says:
        answer.status === 404 ? 'There is nothing at this address.' : `It answers with an error (${answer.status}).`,
    });
  } catch (error) {
    if (!(error instanceof FetchTrouble)) throw error;
    tried.push({ address, says: error.message });
  }
  return undefined;
}

/** A page that cannot be read within the limits names none. */
async function namedFeeds(services: Services, body: Buffer, url: string): Promise<NamedFeed[]> {
  try {
    return await services.outside.feedsNamedBy(body.toString('utf8'), url);
  } catch (error) {
    if (error instanceof FeedError) return [];
    throw error;
  }
}

async function tryRead(
  services: Pick<Services, 'outside'>,
  body: Buffer,
  url: string,
  type: string,
): Promise<ReadFeed | FeedError> {
  try {
    return await services.outside.feed(body, url, type);
  } catch (error) {
    if (error instanceof FeedError) return error;
    throw error;
  }
}

function describe(services: Services, url: string, feed: ReadFeed): NonNullable<Finding['found']> {
  const network = services.config.networks.video;
  const ours = network !== undefined && url.startsWith(`${network.base}/`);
  const channel = ours ? /\/channels\/([\w-]+)/.exec(feed.home ?? '')?.[1] : undefined;
  const films = channel !== undefined || feed.items.some((item) => 'length' in item.fields || 'video' in item.fields);
  return {
    kind: 'feed',
    key: feedKind.key({ url }),
    params: { url, ...(channel ? { channel } : {}) },
    name: cutUnits(feed.title, 200),
    things: films ? 'videos' : 'posts',
    home: feed.home,
    newest: [...feed.items].sort((a, b) => (b.publishedAt ?? 0) - (a.publishedAt ?? 0)).slice(0, 3),
  };
}
