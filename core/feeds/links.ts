import { XMLParser } from 'fast-xml-parser';

/** What a feed says about itself and where more of it is. */
export interface FeedLinks {
  /** Hubs that tell of changes (WebSub section 4); the first is used. */
  hubs: string[];
  /** The feed's own address, the topic to subscribe to. */
  self: string | null;
  /** The next older page (RFC 5005 section 3), or the archive before (section 4). */
  older: string | null;
}

/**
 * Reads the links of a feed's head: from Atom link elements, also inside RSS, or from JSON Feed's own members.
 *
 * @param text the feed
 * @param base what relative links are resolved against
 * @param linkHeader the Link header the feed came with (RFC 8288); what it says wins, as WebSub section 4 wants
 */
export function feedLinks(text: string, base: string, linkHeader = ''): FeedLinks {
  const links = text.trimStart().startsWith('{') ? fromJson(text) : fromXml(text);
  const header = fromHeader(linkHeader);
  const resolve = (href: string | undefined | null) =>
    href && URL.canParse(href, base) ? new URL(href, base).href : null;
  const all = (rel: string) => {
    const found = header.filter((link) => link.rel === rel);
    return (found.length ? found : links.filter((link) => link.rel === rel)).flatMap(
      (link) => resolve(link.href) ?? [],
    );
  };
  return {
    hubs: all('hub').filter((hub) => /^https?:/.test(hub)),
    self: all('self')[0] ?? null,
    older: all('prev-archive')[0] ?? all('next')[0] ?? null,
  };
}

interface Link {
  rel: string;
  href: string;
}

function fromXml(text: string): Link[] {
  // Only the head is wanted; entries have links of their own.
  const head = text.slice(0, /<(?:[\w.-]+:)?(?:entry|item)[\s>]/i.exec(text)?.index ?? text.length);
  const parser = new XMLParser({
    ignoreAttributes: false,
    attributeNamePrefix: '',
    processEntities: { enabled: true, maxTotalExpansions: 1000 },
    isArray: (name) => /(^|:)link$/.test(name),
  });
  try {
    const links: Link[] = [];
    collect(parser.parse(head), links);
    return links;
  } catch {
    return [];
  }
}

function collect(node: unknown, links: Link[]): void {
  if (typeof node !== 'object' || node === null) return;
  for (const [name, value] of Object.entries(node)) {
    if (/(^|:)link$/.test(name) && Array.isArray(value)) {
      for (const link of value as { rel?: unknown; href?: unknown }[])
        if (typeof link === 'object' && typeof link?.href === 'string') {
          const rels = typeof link.rel === 'string' ? link.rel : 'alternate';
          for (const rel of rels.split(/\s+/)) links.push({ rel: rel.toLowerCase(), href: link.href });
        }
    } else collect(value, links);
  }
}

function fromJson(text: string): Link[] {
  try {
    const feed = JSON.parse(text) as { hubs?: { url?: unknown }[]; feed_url?: unknown; next_url?: unknown };
    const links: Link[] = [];
    for (const hub of Array.isArray(feed.hubs) ? feed.hubs : [])
      if (typeof hub?.url === 'string') links.push({ rel: 'hub', href: hub.url });
    if (typeof feed.feed_url === 'string') links.push({ rel: 'self', href: feed.feed_url });
    if (typeof feed.next_url === 'string') links.push({ rel: 'next', href: feed.next_url });
    return links;
  } catch {
    return [];
  }
}

/** A longer Link header is not read: no server that means it sends one. */
const LONGEST_HEADER = 8192;

function fromHeader(header: string): Link[] {
  const links: Link[] = [];
  if (header.length > LONGEST_HEADER) return links;
  for (const match of header.matchAll(/<([^<>]*)>((?:\s*;\s*[\w*-]+\s*=\s*(?:"[^"]*"|[^",;\s]+))*)/g)) {
    const rel = /(?:^|;)\s*rel\s*=\s*(?:"([^"]*)"|([^",;\s]+))/i.exec(match[2]!);
    for (const each of (rel?.[1] ?? rel?.[2] ?? '').split(/\s+/).filter(Boolean))
      links.push({ rel: each.toLowerCase(), href: match[1]! });
  }
  return links;
}
