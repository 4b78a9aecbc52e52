// Lists of feeds as programs hand them to one another: OPML 2.0.
import { generateOpml, parseOpml } from 'feedsmith';

/** A feed in a list. */
export interface ListedFeed {
  name: string;
  url: string;
}

/** Why a text is no list of feeds, in a sentence. */
export class UnreadableOpml extends Error {
  override name = 'UnreadableOpml';
}

export const writeOpml = (title: string, feeds: readonly ListedFeed[], now: number): string =>
  generateOpml({
    head: { title, dateCreated: new Date(now) },
    body: { outlines: feeds.map(({ name, url }) => ({ text: name, title: name, type: 'rss', xmlUrl: url })) },
  });

interface Outline {
  text?: string | undefined;
  title?: string | undefined;
  xmlUrl?: string | undefined;
  outlines?: readonly Outline[] | undefined;
}

/**
 * The feeds of a list, those in folders among them, each address once.
 *
 * @throws UnreadableOpml
 */
export function readOpml(text: string): ListedFeed[] {
  let outlines: readonly Outline[];
  try {
    outlines = (parseOpml(text) as { body?: { outlines?: readonly Outline[] } }).body?.outlines ?? [];
  } catch {
    throw new UnreadableOpml('This is no list of feeds (OPML).');
  }
  const found = new Map<string, ListedFeed>();
  const walk = (some: readonly Outline[], depth: number) => {
    for (const outline of some) {
      const url = outline.xmlUrl?.trim();
      if (url && /^https?:\/\//i.test(url) && !found.has(url))
        found.set(url, { name: (outline.title ?? outline.text ?? url).trim(), url });
      if (outline.outlines && depth < 20) walk(outline.outlines, depth + 1);
    }
  };
  walk(outlines, 0);
  return [...found.values()];
}
