import { OEMBED_TYPE, webAddress, type Embed } from './oembed.ts';
import { parseHtml } from './parse-html.ts';
import { oneLine } from './plain.ts';

/** What a page says of itself for those who link to it. */
export interface LinkPreview {
  title: string;
  description: string;
  /** The address of a picture; null without one. */
  image: string | null;
  /** The name of the whole site. */
  site: string;
  /** Who made it; empty where nobody says. */
  author: string;
  /** Whether the title was given for this, rather than taken from the window's. */
  titled: boolean;
  /** Where the site says more of it (oEmbed); null where it does not. */
  oembed: string | null;
}

/**
 * Reads a page's Open Graph data (ogp.me: `og:title`, `og:description`, `og:image`, `og:site_name`), and what HTML itself
 * says where a page has none: its title, its description and its author; and where oEmbed says more (oembed.com section 4).
 *
 * @param address the page's own, against which pictures are resolved
 */
export function readLinkPreview(html: string, address: string): LinkPreview {
  const said = new Map<string, string>();
  let title = '';
  let inTitle = false;
  let oembed: string | null = null;
  parseHtml(html, {
    onopentag(name, attributes) {
      if (name === 'title') inTitle = true;
      if (name === 'link' && /\balternate\b/i.test(attributes.rel ?? '') && attributes.type === OEMBED_TYPE)
        oembed ??= webAddress(attributes.href ?? '', address);
      if (name !== 'meta') return;
      const property = (attributes.property ?? attributes.name ?? '').toLowerCase();
      const content = attributes.content ?? '';
      // Of several pictures the first is the main one.
      if (property && content && !said.has(property)) said.set(property, content);
    },
    ontext(text) {
      if (inTitle) title += text;
    },
    onclosetag(name) {
      if (name === 'title') inTitle = false;
    },
  });
  const first = (...names: string[]) =>
    names.map((name) => said.get(name) ?? '').find((text) => text.trim() !== '') ?? '';
  return {
    title: oneLine(first('og:title') || title),
    description: oneLine(first('og:description', 'description')),
    image: webAddress(first('og:image:secure_url', 'og:image:url', 'og:image'), address),
    site: oneLine(first('og:site_name')),
    author: oneLine(first('author')),
    titled: first('og:title') !== '',
    oembed,
  };
}

/** What a page says itself goes before what oEmbed says of it. */
export function withEmbed(preview: LinkPreview, embed: Embed): LinkPreview {
  return {
    ...preview,
    // A page without Open Graph data has the title of its window, which names the site as well.
    title: (preview.titled ? preview.title : embed.title) || preview.title,
    image: preview.image ?? embed.image,
    site: preview.site || embed.site,
    author: preview.author || embed.author,
  };
}
