import { XMLValidator } from 'fast-xml-parser';
import { parseFeed as readAnyFeed, type Atom, type Json, type Rdf, type Rss } from 'feedsmith';
import type { Item } from '../items/item.ts';
import { oneLine, plainText } from '../text/plain.ts';
import { decode } from './decode.ts';
import { FeedError } from './feed-error.ts';
import { withoutEndlessPeople } from './people.ts';
import { feedLinks, type FeedLinks } from './links.ts';
import { fromAtom, fromJsonFeed, fromRdf, fromRss, type Found } from './entries.ts';

/** What Playa takes from a feed. Items stand as the feed orders them, each identity once. */
export interface ReadFeed {
  title: string;
  /** The page the feed belongs to. */
  home: string | null;
  format: 'atom' | 'rss' | 'rdf' | 'json';
  items: Item[];
  links: FeedLinks;
  /** Sentences about what was odd; the items were taken all the same. */
  warnings: string[];
}

/** A feed of more bytes than this is not read. The largest honest feeds stay well under it. */
export const FEED_LIMIT_BYTES = 5 * 1024 * 1024;

/**
 * Reads RSS 0.9x and 2.0, RSS 1.0, Atom (RFC 4287) or JSON Feed 1.1, with Media RSS.
 *
 * @param base the feed's own address, against which relative links are resolved
 * @param linkHeader the Link header it came with, if any
 * @throws FeedError when it is no feed, breaks off, declares entities or is too large; nothing is taken then, because
 *   half a feed would make items look as if they had vanished
 */
export function readFeed(bytes: Uint8Array, base: string, contentType = '', linkHeader = ''): ReadFeed {
  if (bytes.length > FEED_LIMIT_BYTES) throw tooLarge();
  const decoded = decode(bytes, contentType);
  const text = decoded.text.replace(/^\uFEFF/, '').trim();
  const warnings = decoded.warning ? [decoded.warning] : [];
  const xml = text.startsWith('<');
  if (xml) warnings.push(...checkXml(text));

  let read: ReturnType<typeof readAnyFeed>;
  try {
    read = readAnyFeed(xml ? withoutEndlessPeople(text) : text);
  } catch {
    throw new FeedError('not-a-feed', describeOther(text));
  }
  const found = entriesOf(read, base);

  const seen = new Set<string>();
  const items = found.items.filter((item) => !seen.has(item.identity) && seen.add(item.identity));
  if (items.length < found.items.length) {
    warnings.push(`${found.items.length - items.length} entries repeat the identifier of another and were left out.`);
  }
  const title = oneLine(plainText(found.title ?? '')) || base;
  return { title, home: found.home, format: read.format, items, links: feedLinks(text, base, linkHeader), warnings };
}

function entriesOf(read: ReturnType<typeof readAnyFeed>, base: string): Found {
  // feedsmith leaves dates as they were written; its types leave open what they are.
  switch (read.format) {
    case 'atom':
      return fromAtom(read.feed as Atom.Feed<string>, base);
    case 'rss':
      return fromRss(read.feed as Rss.Feed<string>, base);
    case 'rdf':
      return fromRdf(read.feed as Rdf.Feed<string>, base);
    case 'json':
      return fromJsonFeed(read.feed as Json.Feed<string>, base);
  }
}

/** The refusal of a feed over the limit, for whoever stops reading it on the way. */
export function tooLarge(): FeedError {
  return new FeedError(
    'too-large',
    `The feed is larger than ${FEED_LIMIT_BYTES / 1024 / 1024} MB. Playa stopped reading it.`,
  );
}

/** Refuses what could do harm or is only half there; returns warnings about what is merely sloppy. */
function checkXml(text: string): string[] {
  const doctype = /<!DOCTYPE[^[>]*(\[)?/i.exec(text.slice(0, 5000));
  if (doctype?.[1] && /<!ENTITY/i.test(text)) {
    throw new FeedError(
      'entities',
      'The feed declares entities of its own, which can be used to do harm. Playa does not read it.',
    );
  }
  const root = /<(?:[\w.-]+:)?(feed|rss|rdf)\b/i.exec(text);
  if (!root) throw new FeedError('not-a-feed', describeOther(text));
  if (!endsWith(text, root[1]!)) {
    throw new FeedError(
      'broken-off',
      'The feed breaks off before its end. Playa takes nothing from it and looks again later.',
    );
  }
  const valid = XMLValidator.validate(text);
  if (valid === true) return [];
  return [`The feed is not well-formed XML (line ${valid.err.line}: ${valid.err.msg}). Playa read what it could.`];
}

/** Whether a text ends with the closing tag of its root, and nothing but comments and white space behind it. */
function endsWith(text: string, root: string): boolean {
  let end = text.length;
  for (;;) {
    const rest = text.slice(0, end).trimEnd();
    if (!rest.endsWith('-->')) {
      const tag = rest.slice(rest.lastIndexOf('<'));
      return tag.length < 200 && new RegExp(`^</(?:[\\w.-]+:)?${root}\\s*>$`, 'i').test(tag);
    }
    // A comment ends at the first "-->" behind its beginning (XML 1.0 section 2.5), so it began at the last "<!--".
    const begun = rest.lastIndexOf('<!--');
    if (begun < 0) return false;
    end = begun;
  }
}

function describeOther(text: string): string {
  if (/^<!doctype html|^<html|<html[\s>]/i.test(text.slice(0, 1000)))
    return 'This address answers with a web page, not a feed.';
  if (/^[[{]/.test(text)) return 'This address answers with JSON that is not a JSON Feed.';
  if (text === '') return 'This address answers with nothing.';
  return 'This address does not answer with a feed that Playa knows (RSS, Atom or JSON Feed).';
}
