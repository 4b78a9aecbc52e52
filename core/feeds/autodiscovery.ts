import { parseHtml } from '../text/parse-html.ts';
import { absolute } from './records.ts';

/** A feed that a page names as its own. */
export interface NamedFeed {
  url: string;
  title: string | null;
  type: string;
}

/** Addresses that feeds usually have. */
const LIKELY = /(?:^|[/.?=_-])(?:rss|atom|feeds?)(?:$|[/.?&_-])|\.(?:rss|atom|rdf)$/i;

const FEED_TYPES = ['application/atom+xml', 'application/rss+xml', 'application/feed+json', 'application/rdf+xml'];

/**
 * The feeds a page names in its head by `<link rel="alternate">` (HTML, section "Link type alternate": with a feed's
 * type it is autodiscovery, and the first is the one meant).
 */
export function feedsNamedBy(html: string, base: string): NamedFeed[] {
  const feeds: NamedFeed[] = [];
  /** Links that only look as if they led to one; for pages that name none. */
  const likely: NamedFeed[] = [];
  parseHtml(html, {
    onopentag(name, attributes) {
      if (name !== 'link' && name !== 'a') return;
      if (name === 'a' && LIKELY.test(attributes.href ?? '')) {
        const url = absolute(attributes.href, base);
        if (url && likely.length < 5) likely.push({ url, title: attributes.title ?? null, type: '' });
      }
      const rel = (attributes.rel ?? '').toLowerCase().split(/\s+/);
      const type = (attributes.type ?? '').toLowerCase().split(';')[0]!.trim();
      if (!rel.includes('alternate') || !FEED_TYPES.includes(type)) return;
      const url = absolute(attributes.href, base);
      if (url) feeds.push({ url, title: attributes.title ?? null, type });
    },
  });
  return feeds.length > 0 ? feeds : likely;
}
