// A feed of one's own: Atom (RFC 4287) and JSON Feed 1.1.
import { generateAtomFeed, generateJsonFeed } from 'feedsmith';
import { cutGraphemes } from '../text/graphemes.ts';
import { oneLine } from '../text/plain.ts';

/** A feed to be written. */
export interface OwnFeed {
  /** The same for ever, wherever the feed lies (RFC 4287 section 4.2.6). */
  id: string;
  title: string;
  /** Where it is read. */
  self: string;
  /** BCP 47 tag. */
  language: string;
  entries: readonly OwnFeedEntry[];
}

/** Something that was published. */
export interface OwnFeedEntry {
  id: string;
  url: string;
  text: string;
  /** Milliseconds since 1970 UTC. */
  at: number;
  picture?: string | undefined;
  /** Where it was published. */
  outlet?: string | undefined;
}

const TITLE = 100;
function titleOf(text: string): string {
  const line = oneLine(text);
  const cut = cutGraphemes(line, TITLE);
  return cut === line ? line : `${cut.trimEnd()}…`;
}

export const writeJsonFeed = ({ title, self, language, entries }: OwnFeed): string =>
  JSON.stringify(
    generateJsonFeed({
      title,
      feed_url: self,
      language,
      items: entries.map(({ id, url, text, at, picture, outlet }) => ({
        id,
        url,
        title: titleOf(text),
        content_text: text,
        date_published: new Date(at),
        ...(picture && { image: picture }),
        ...(outlet && { tags: [outlet] }),
      })),
    }),
  );

export const writeAtomFeed = ({ id, title, self, entries }: OwnFeed): string =>
  generateAtomFeed({
    id,
    title: { value: title },
    updated: new Date(entries[0]?.at ?? 0),
    links: [{ href: self, rel: 'self', type: 'application/atom+xml' }],
    authors: [{ name: title }],
    entries: entries.map((entry) => ({
      id: entry.id,
      title: { value: titleOf(entry.text) },
      updated: new Date(entry.at),
      published: new Date(entry.at),
      links: [{ href: entry.url, rel: 'alternate' }],
      content: { value: entry.text },
      ...(entry.outlet && { categories: [{ term: entry.outlet }] }),
    })),
  });
