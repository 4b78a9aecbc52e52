// Entries of the four families of feeds → items with the same field names, so that a caption written for one works for
// all. Titles and descriptions become plain text here, once; links and pictures become absolute.
import type { Atom, Json, Rdf, Rss } from 'feedsmith';
import { identityOf } from '../items/identity.ts';
import type { Fields, Item } from '../items/item.ts';
import { oneLine, plainText, tidyLines } from '../text/plain.ts';
import { mediaFields, type MediaCarrier } from './media.ts';
import { absolute, compact } from './records.ts';
import { readMoment } from './moments.ts';

export interface Found {
  title: string | undefined;
  home: string | null;
  items: Item[];
}

interface Entry {
  id?: string | undefined;
  link?: string | undefined;
  title?: string | undefined;
  description?: string | undefined;
  content?: string | undefined;
  published?: string | undefined;
  updated?: string | undefined;
  author?: { name?: string | undefined; link?: string | undefined } | undefined;
  categories?: (string | undefined)[] | undefined;
  more?: Fields;
}

/** Atom, RFC 4287. A summary is the description; without one the content is. */
export function fromAtom(feed: Atom.Feed<string>, address: string): Found {
  const feedBase = baseOf(feed, address);
  const feedAuthor = feed.authors?.[0];
  return {
    title: text(feed.title),
    home: absolute(linkOf(feed.links), feedBase) ?? null,
    items: (feed.entries ?? []).map((entry) => {
      const base = baseOf(entry, feedBase);
      const media = mediaFields(entry as MediaCarrier, base);
      // Section 4.2.1: without authors of its own, an entry has those of its source, then those of the feed.
      const author = entry.authors?.[0] ?? entry.source?.authors?.[0] ?? feedAuthor;
      return item(
        {
          id: entry.id,
          link: linkOf(entry.links) ?? (isLink(entry.id) ? entry.id : undefined),
          title: text(entry.title) ?? media.title,
          description: text(entry.summary) ?? media.description ?? text(entry.content),
          content: entry.summary || media.description ? text(entry.content) : undefined,
          published: entry.published ?? entry.updated,
          updated: entry.updated,
          author: author && { name: author.name, link: author.uri },
          categories: entry.categories?.map((category) => category.label ?? category.term),
          more: media.fields,
        },
        base,
      );
    }),
  };
}

/** RSS 2.0 and 0.9x. A guid is a link too unless it says it is not (RSS 2.0, `isPermaLink`). */
export function fromRss(feed: Rss.Feed<string>, base: string): Found {
  return {
    title: feed.title,
    home: absolute(feed.link, base) ?? null,
    items: (feed.items ?? []).map((entry) => {
      const media = mediaFields(entry as MediaCarrier, base);
      const guid = entry.guid?.value;
      const author = entry.authors?.[0] as string | { name?: string; email?: string } | undefined;
      const named = typeof author === 'string' ? mailboxName(author) : (author?.name ?? author?.email);
      return item(
        {
          id: guid,
          link: entry.link ?? (entry.guid?.isPermaLink !== false && isLink(guid) ? guid : undefined),
          title: entry.title ?? media.title,
          description: entry.description ?? media.description,
          content: entry.content?.encoded,
          published: entry.pubDate ?? entry.dc?.dates?.[0],
          author: named || entry.dc?.creators?.[0] ? { name: named ?? entry.dc?.creators?.[0] } : undefined,
          categories: entry.categories?.map((category) => category.name),
          more: media.fields,
        },
        base,
      );
    }),
  };
}

/** RSS 1.0, with Dublin Core for dates and people. */
export function fromRdf(feed: Rdf.Feed<string>, base: string): Found {
  return {
    title: feed.title,
    home: absolute(feed.link, base) ?? null,
    items: (feed.items ?? []).map((entry) =>
      item(
        {
          id: entry.rdf?.about,
          link: entry.link,
          title: entry.title,
          description: entry.description,
          content: entry.content?.encoded,
          published: entry.dc?.dates?.[0],
          author: entry.dc?.creators?.[0] ? { name: entry.dc.creators[0] } : undefined,
          more: mediaFields(entry as MediaCarrier, base).fields,
        },
        base,
      ),
    ),
  };
}

/** JSON Feed 1.1. */
export function fromJsonFeed(feed: Json.Feed<string>, base: string): Found {
  return {
    title: feed.title,
    home: absolute(feed.home_page_url, base) ?? null,
    items: (feed.items ?? []).map((entry) => {
      const author = entry.authors?.[0] ?? feed.authors?.[0];
      const attachment = entry.attachments?.[0];
      const more: Fields = {};
      const picture = absolute(entry.image ?? entry.banner_image, base);
      if (picture) more.picture = { url: picture };
      if (attachment?.url) more.file = compact({ url: absolute(attachment.url, base), type: attachment.mime_type });
      if (attachment?.duration_in_seconds) more.length = attachment.duration_in_seconds;
      return item(
        {
          id: entry.id === undefined ? undefined : String(entry.id),
          link: entry.url ?? entry.external_url,
          title: entry.title,
          description: entry.summary ?? entry.content_text ?? entry.content_html,
          content: entry.summary ? (entry.content_text ?? entry.content_html) : undefined,
          published: entry.date_published,
          updated: entry.date_modified,
          author: author && { name: author.name, link: author.url },
          categories: entry.tags,
          more,
        },
        base,
      );
    }),
  };
}

function item(entry: Entry, base: string): Item {
  const published = readMoment(entry.published);
  const updated = readMoment(entry.updated);
  const link = absolute(entry.link, base);
  const author = compact({
    name: clean(entry.author?.name),
    link: absolute(entry.author?.link, base),
  });
  const fields = compact({
    title: clean(entry.title) ?? '',
    link: link ?? '',
    description: entry.description === undefined ? '' : plainText(entry.description),
    content: entry.content === undefined ? undefined : plainText(entry.content),
    published: published === null ? undefined : iso(published),
    updated: updated === null ? undefined : iso(updated),
    id: entry.id?.trim(),
    author: Object.keys(author).length ? author : undefined,
    categories: entry.categories?.map(clean).filter((name) => name !== undefined),
    ...entry.more,
  });
  return {
    identity: identityOf({ ...entry, link, title: clean(entry.title) }),
    publishedAt: published,
    fields,
  };
}

function clean(value: string | undefined): string | undefined {
  if (value === undefined) return undefined;
  return oneLine(plainText(value)) || undefined;
}

/** A text construct (RFC 4287 section 3.1) as HTML: plain text is escaped so that reading it back keeps it as it was. */
function text(construct: { value?: string | undefined; type?: string | undefined } | undefined): string | undefined {
  if (construct === undefined) return undefined;
  const { value, type } = construct;
  if (value === undefined) return undefined;
  return type === undefined || type === 'text' ? tidyLines(value).replace(/&/g, '&amp;').replace(/</g, '&lt;') : value;
}

/** What relative links are resolved against: `xml:base` where it is said (RFC 4287 section 2), itself perhaps relative. */
function baseOf({ xml }: { xml?: { base?: string } | undefined }, around: string): string {
  return absolute(xml?.base, around) ?? around;
}

/** The alternate link is the entry's page (RFC 4287 section 4.2.7.2: without a rel it is alternate). */
function linkOf(links: Atom.Link<string>[] | undefined): string | undefined {
  const pages = links?.filter((link) => link.rel === undefined || link.rel === 'alternate') ?? [];
  return (pages.find((link) => !link.type || link.type === 'text/html') ?? pages[0])?.href;
}

function isLink(value: string | undefined): boolean {
  return value !== undefined && /^https?:\/\//i.test(value.trim());
}

/** RSS writes people as "mail@example.org (Name)". */
export function mailboxName(author: string): string {
  const text = author.trimEnd();
  const open = text.lastIndexOf('(');
  const name = text.slice(open + 1, -1);
  return open >= 0 && text.endsWith(')') && name !== '' && !name.includes(')') ? name : author;
}

function iso(moment: number): string {
  return new Date(moment).toISOString();
}
