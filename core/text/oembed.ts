// oEmbed: what a site says of a page of its own to those who embed it (oembed.com, version 1.0).
import { z } from 'zod';
import { oneLine } from './plain.ts';

/** The types of links under which a page names it, JSON before XML (oembed.com section 4, "Discovery"). */
export const OEMBED_TYPE = 'application/json+oembed';

/** The answer (section 2.3.4). Sites are loose about what they leave out and how they write numbers: only texts are read. */
const answerSchema = z.object({
  type: z.enum(['photo', 'video', 'link', 'rich']),
  version: z.union([z.literal('1.0'), z.literal(1)]),
  title: z.string().nullish(),
  author_name: z.string().nullish(),
  provider_name: z.string().nullish(),
  thumbnail_url: z.string().nullish(),
  /** Of a photo: its source. */
  url: z.string().nullish(),
});

/** What oEmbed says of a page; empty where it says nothing. */
export interface Embed {
  title: string;
  author: string;
  site: string;
  image: string | null;
}

/**
 * Reads an oEmbed answer in JSON.
 *
 * @param address of the answer, against which pictures are resolved
 * @returns undefined when it is none
 */
export function readOEmbed(text: string, address: string): Embed | undefined {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    return undefined;
  }
  const read = answerSchema.safeParse(json).data;
  if (!read) return undefined;
  const picture = (read.type === 'photo' && read.url) || read.thumbnail_url || '';
  return {
    title: oneLine(read.title ?? ''),
    author: oneLine(read.author_name ?? ''),
    site: oneLine(read.provider_name ?? ''),
    image: webAddress(picture, address),
  };
}

/** An address of the web; null for what is none. */
export function webAddress(text: string, base: string): string | null {
  if (text.trim() === '' || !URL.canParse(text.trim(), base)) return null;
  const { href, protocol } = new URL(text.trim(), base);
  return protocol === 'https:' || protocol === 'http:' ? href : null;
}
